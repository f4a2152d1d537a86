"""The Clear stage."""
