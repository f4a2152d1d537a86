"""Fitting a head, step by step."""
