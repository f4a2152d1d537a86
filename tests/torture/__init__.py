"""Harnesses that try to break the program; short seeded runs of them are tests."""
