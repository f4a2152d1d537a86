"""The page Heads."""
