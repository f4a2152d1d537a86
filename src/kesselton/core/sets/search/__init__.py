"""Searching for the settings of a whole set."""
