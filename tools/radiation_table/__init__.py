"""Boundary elements for the air outside a closed cylinder; `python -m tools.radiation_table`."""
