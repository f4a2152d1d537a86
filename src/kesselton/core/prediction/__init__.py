"""Pitch, decay, level and usable range of a described drum, with uncertainty."""
