"""Whether what is advised can stand so: one check of the whole document."""
