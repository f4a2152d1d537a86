"""Painted pictures of drums and rims."""
