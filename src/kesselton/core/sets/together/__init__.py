"""Drums beside each other: sympathetic resonance, levels, tempo."""
