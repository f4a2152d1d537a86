"""The stage Set: drums that are played together."""
