"""Sound: how clear the voice is at the other end."""
