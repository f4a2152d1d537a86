"""Predictions and searches in worker threads."""
