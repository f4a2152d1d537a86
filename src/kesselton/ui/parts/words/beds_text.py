"""Snare beds in one line: "rod 1.5, 1.5 mm deep, 70 mm wide"."""

from __future__ import annotations

import re

from kesselton.core.errors import InputError
from kesselton.core.instrument.shell import Beds
from kesselton.core.language import _
from kesselton.core.units import format_length, parse_length

_SAID = re.compile(
    r"^\s*(?:rod\s*)?(?P<rod>\d+(?:[.,]\d+)?)"
    r"(?:\s*[;,]\s*(?P<depth>[^;,]+?)\s*(?:deep)?)?(?:\s*[;,]\s*(?P<width>[^;,]+?)\s*(?:wide)?)?\s*$",
    re.IGNORECASE,
)


def read_beds(text: str) -> Beds | None:
    """The beds; None for an empty line.

    Raises
    ------
    InputError
        If they cannot be.
    """
    if not text.strip():
        return None
    matching = _SAID.match(text)
    if matching is None:
        raise InputError(
            _("“{text}” does not describe snare beds.").format(text=text.strip()),
            _("Enter: rod 1.5, 1.5 mm deep, 70 mm wide; second bed opposite."),
        )
    usual = Beds()
    depth, width = matching["depth"], matching["width"]
    return Beds(
        float(matching["rod"].replace(",", ".")),
        parse_length(depth, "mm") if depth else usual.depth_m,
        parse_length(width, "mm") if width else usual.width_m,
    )


def write_beds(beds: Beds | None) -> str:
    """The same, as it is typed."""
    if beds is None:
        return ""
    depth, width = (format_length(value, True) for value in (beds.depth_m, beds.width_m))
    return _("rod {rod}, {depth} deep, {width} wide").format(
        rod=f"{beds.rod:g}", depth=depth, width=width
    )
