"""Exercises for ears and hands, thresholds, progress."""
