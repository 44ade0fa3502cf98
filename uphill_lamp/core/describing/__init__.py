"""Describing one's own room: what can be put there, copied, changed in kind, renamed, taken away, and where it comes to stand."""
