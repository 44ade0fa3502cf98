"""Towns with their places and time zones, and what goes with a country: mains and money. Data as files, made by tools/cities.py."""
