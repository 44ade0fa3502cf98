"""How everything is connected: the cheapest chain that works from each device to the computer, what breaks, power, labels."""
