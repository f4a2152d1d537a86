"""The page Set."""
