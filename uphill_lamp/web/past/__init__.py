"""What was done to a setup and when: each state can be looked at beside the present one, and brought back."""
