"""Partials of a recorded stroke: the note, its lines, and which partials they are."""
