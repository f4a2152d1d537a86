"""What the entries of a drum's log teach about that drum."""
