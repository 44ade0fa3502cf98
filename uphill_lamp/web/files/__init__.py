"""Setups in and out as files."""
