"""The main window: starting, pages, top bar."""
