"""The full-screen lamp."""
