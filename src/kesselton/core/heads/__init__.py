"""Choosing heads for a brief."""
