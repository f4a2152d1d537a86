"""The drum and its parts, as they are noted."""
