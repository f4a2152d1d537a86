"""The set being edited."""
