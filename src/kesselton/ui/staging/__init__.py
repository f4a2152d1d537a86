"""Before a show, in the night, and after it."""
