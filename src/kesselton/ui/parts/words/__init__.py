"""How quantities, heads and readings are worded."""
