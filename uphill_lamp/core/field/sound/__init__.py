"""What is heard: the room, the capsule, the way into the computer."""
