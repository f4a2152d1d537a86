"""The drum on the bench: settings, readings, rounds of clearing."""
