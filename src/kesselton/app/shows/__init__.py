"""Shows and stage repairs in progress."""
