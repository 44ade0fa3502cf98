"""What every area stands on: vectors, the pinhole, where things are, the camera's response."""
