"""The page Shows, and a stage repair over the whole window."""
