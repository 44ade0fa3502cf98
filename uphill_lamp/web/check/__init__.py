"""Check: takes of the real picture and sound, measured and held against the plan."""
