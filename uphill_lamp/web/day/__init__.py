"""The day's light: a page of its own beside the stage Light."""
