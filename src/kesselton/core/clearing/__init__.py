"""Making a head alike all round."""
