"""The table of all actions."""
