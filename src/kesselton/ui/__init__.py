"""What the technician sees. Widgets only: no physics, no SQL, no settings."""
