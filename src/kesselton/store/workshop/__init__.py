"""The workshop file: one SQLite database, its backups and its index."""
