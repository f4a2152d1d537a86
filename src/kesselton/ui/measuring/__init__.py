"""Readings and gauges."""
