"""Strokes recorded by others: where they lie, what careful fits say of them, how the program does."""
