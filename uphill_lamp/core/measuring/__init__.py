"""Figures of a picture or a sound as it is: arrays in, figures out, each with its tolerance, or why it is refused."""
