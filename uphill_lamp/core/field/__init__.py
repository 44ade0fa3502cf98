"""What several areas need of the physics: the lit field, the camera's answer to it, what is heard."""
