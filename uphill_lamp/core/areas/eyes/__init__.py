"""Eyes: where the viewer feels looked at."""
