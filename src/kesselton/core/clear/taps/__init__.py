"""Taps at a rod: onsets, decaying lines, which of them is the lug pitch, and how sure."""
