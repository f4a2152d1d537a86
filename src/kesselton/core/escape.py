"""Text of strangers in files that other programs interpret: it stays text there."""

from __future__ import annotations

import re

FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""Cells that begin so are worked out by spreadsheets."""
NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
MARKS = re.compile(r"([\\`*_{}\[\]<>#|~!])")


def inert_cell(value: object) -> str:
    """A cell of a table that is a number or words, never a formula; `live_cell` takes it back."""
    text = str(value)
    if not isinstance(value, str) or NUMBER.match(text):
        return text
    return f"'{text}" if text.startswith((*FORMULA, "'")) else text


def live_cell(text: str) -> str:
    """What stood in a cell before it was made inert."""
    return text[1:] if text.startswith("'") else text


def pasted_cell(value: object) -> str:
    """The same on one line, for a table that is pasted.

    Examples
    --------
    >>> pasted_cell("=SUM(A1)")
    "'=SUM(A1)"
    """
    return inert_cell(" ".join(value.split()) if isinstance(value, str) else value)


def in_markdown(text: str) -> str:
    """Words as they are in Markdown, on one line."""
    return MARKS.sub(r"\\\1", " ".join(text.split()))
