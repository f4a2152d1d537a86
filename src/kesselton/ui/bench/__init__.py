"""The drum on the bench: section, forms, ladder, readout."""
