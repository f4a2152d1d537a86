"""Heads and air solved: modes, partials, lug pitches."""
