"""The published file formats: drums, briefs, sets, logs, readings."""
