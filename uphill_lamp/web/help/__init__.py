"""Help and keys."""
