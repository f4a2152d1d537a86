"""The drum and its parts, as described by the technician."""
