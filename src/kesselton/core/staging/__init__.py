"""Repair against the clock: what it takes, what is left out, what would be left if it ended now."""
