"""What is heard of a drum, how sure it is, and how far it can go."""
