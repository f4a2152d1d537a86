"""What a set is: drums, notes, chords, and the response of each drum over its notes."""
