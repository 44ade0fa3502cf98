"""What the far side hears, as sound: a dry voice through the planned room, microphone and noise."""
