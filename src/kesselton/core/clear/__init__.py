"""Evening out a head: from lug pitches to the next turn."""
