"""The page Tuning."""
