"""All microphones side by side in a setup's room."""
