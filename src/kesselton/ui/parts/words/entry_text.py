"""A reading as it is said in one breath: "C4", "3: 82 div", "1/2 turn", "0.8 Nm", "2: 1.5 mm"."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtWidgets import QLabel

from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.ui.parts.widgets.inputs import AddLine
from kesselton.ui.parts.words.reading_text import SHELL_KINDS, read_value

ROD = re.compile(r"^\s*(?:rod\s*)?(\d{1,2})\s*:\s*(.+)$", re.IGNORECASE)
UNITS = (
    ("dial", re.compile(r"(?:div|divs|divisions?)\.?$", re.IGNORECASE)),
    ("torque", re.compile(r"n\s*·?\s*m\.?$", re.IGNORECASE)),
    ("turns", re.compile(r"turns?$", re.IGNORECASE)),
    ("gap", re.compile(r"(?:mm|mil)\.?$", re.IGNORECASE)),
    ("lug_pitch", re.compile(r"(?:hz|cents?)\.?$", re.IGNORECASE)),
)
CELLS = re.compile(r"[\t;]|,(?!\d)")
"""What parts the cells of a line: a comma between figures is one of a decimal fraction."""
COUNTED = re.compile(r"^\s*(\d{1,2})\s*,\s*(\S.*)$")
"""Of a table with commas, where rods are counted from the first line to the last."""
NOTE = re.compile(r"^[a-h][♯♭#b]?-?\d", re.IGNORECASE)
WHOLE = re.compile(r"^\s*(?:drum|whole)\s*:?\s*(.+)$", re.IGNORECASE)


@dataclass(frozen=True)
class Said:
    """Kind of reading, rod (0 where none was named) and value."""

    kind: str
    rod: int
    value: float


def parse_entry(text: str, usual: str, a4_hz: float) -> Said:
    """What was said; a bare number is of the `usual` kind.

    Raises
    ------
    InputError
        If it is no reading.
    """
    rest, rod, kind = text.strip(), 0, ""
    if not rest:
        raise InputError(
            _("Nothing was entered."),
            _(
                "Enter C4, 262 Hz, 3: 82 div, 1/2 turn, 0.8 Nm or 1.5 mm; "
                "“drum F3” for the drum pitch."
            ),
        )
    whole = WHOLE.match(rest)
    if whole:
        return Said("fundamental", 0, read_value("fundamental", whole.group(1), a4_hz))
    at = ROD.match(rest)
    if at:
        rod, rest = int(at.group(1)), at.group(2).strip()
    for name, unit in () if usual in SHELL_KINDS else UNITS:
        if unit.search(rest):
            kind = name
            break
    if usual not in SHELL_KINDS and not kind and NOTE.match(rest):
        kind = "fundamental" if usual == "fundamental" and not rod else "lug_pitch"
    kind = kind or usual
    if kind == "lug_pitch" and usual == "fundamental" and not rod:
        kind = "fundamental"
    return Said(kind, rod, read_value(kind, rest, a4_hz))


def many_entries(text: str, rods: int = 0) -> list[str]:
    """Readings of a column, a row or a table of rod and value, one after another: "3: 82 div".

    A first line without a figure is a heading. With as many plain values as `rods`, they are of
    rod 1, 2, 3 and so on.
    """
    out: list[str] = []
    lines = [line for line in text.splitlines() if any(sign.isdecimal() for sign in line)]
    counted = [COUNTED.match(line) for line in lines]
    if [int(pairing[1]) if pairing else 0 for pairing in counted] == list(range(1, len(lines) + 1)):
        return [f"{one[1]}: {one[2]}" for one in counted if one]
    for line in lines:
        cells = [cell.strip().strip('"') for cell in CELLS.split(line) if cell.strip().strip('"')]
        if not cells:
            continue
        if len(cells) == 2 and cells[0].removeprefix("rod").strip().isdecimal():
            out.append(f"{cells[0]}: {cells[1]}")
        else:
            out += cells
    if rods and len(out) == rods and not any(ROD.match(text) for text in out):
        out = [f"{rod}: {one}" for rod, one in enumerate(out, start=1)]
    return out


def take_each(
    entries: list[str], line: AddLine, enter: Callable[[], object], fault: QLabel
) -> None:
    """Enter one after another; the first that cannot be taken stands in the line, and what is wrong
    with it beside it."""
    for number, entry in enumerate(entries):
        line.setText(entry)
        enter()
        if line.text():
            said = _("{count} of {all} taken.").format(count=number, all=len(entries))
            fault.setText(f"{said} {fault.text()}")
            return
