"""Frame: where the face falls in the picture."""
