"""Both heads and the air solved together: roots, named partials, lug pitches."""
