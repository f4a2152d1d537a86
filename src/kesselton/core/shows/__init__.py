"""Shows and stage repairs: kit lists, ways out, order of turns against the clock."""
