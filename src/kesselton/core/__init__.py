"""The computation: frozen dataclasses and pure functions, no interface, no files of the user."""
