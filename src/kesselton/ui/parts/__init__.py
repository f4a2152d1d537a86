"""Building blocks shared by all pages."""
