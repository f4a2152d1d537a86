"""Drums that are played together."""
