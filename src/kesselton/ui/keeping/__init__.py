"""Keeping what was set and heard, and looking back at it."""
