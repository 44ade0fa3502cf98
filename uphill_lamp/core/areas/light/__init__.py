"""Light: what falls on the face, and how the camera meters it."""
