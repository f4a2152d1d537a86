"""What menu actions do."""
