"""The page Practice."""
