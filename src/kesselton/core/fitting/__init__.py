"""Putting a head on, step by step."""
