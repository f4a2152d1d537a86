"""The practice session."""
