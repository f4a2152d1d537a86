"""The page Clear."""
