"""The Fit stage."""
