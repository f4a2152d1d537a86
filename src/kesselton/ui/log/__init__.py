"""The page Log."""
