"""The Heads stage."""
