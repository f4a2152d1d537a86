"""Kesselton: what a drum will do, before anything is unwrapped."""

__version__ = "0.1.0"
