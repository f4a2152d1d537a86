"""Dialogs that belong to no page."""
