"""What several screens are made of."""
