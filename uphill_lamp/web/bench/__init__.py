"""The bench: pictures, readings, findings and the thing in hand."""
