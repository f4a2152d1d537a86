"""Strokes heard on the drum on the bench."""
