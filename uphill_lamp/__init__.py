"""Uphill Lamp: what the far side sees and hears of you, why, and the cheapest move that mends it."""

__version__ = "0.2.0"
