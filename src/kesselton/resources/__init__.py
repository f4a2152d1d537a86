"""Fonts, icons, demo workshop, procedures: what ships beside the code."""

from __future__ import annotations

from pathlib import Path

HERE = Path(__file__).parent


def resource(name: str) -> Path:
    """A file that ships with the program.

    A plain path: `importlib.resources` brings tempfile, zipfile and random along, which cost the
    first window a tenth of a second.
    """
    return HERE / name


def text_of(name: str) -> str:
    """The text of one."""
    return resource(name).read_text(encoding="utf-8")
