"""Which heads do what a brief asks."""
