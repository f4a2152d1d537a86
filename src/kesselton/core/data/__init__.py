"""Tables that ship with the core."""

from __future__ import annotations

from pathlib import Path


def table(name: str) -> Path:
    """A table by file name."""
    return Path(__file__).parent / name
