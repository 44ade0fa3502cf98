"""Backdrop: what is behind, and whether it should be seen."""
