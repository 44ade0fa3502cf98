"""The lit field: lamps, screens, windows and sky, and what falls where."""
