"""Rounds of clearing a head as JSON: kept with its drum, and read from the shell."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from typing import Any

from kesselton.core.drum import Drum
from kesselton.core.errors import InputError
from kesselton.core.gauge import DialPair
from kesselton.core.rounds import Clearing, Round, Tap
from kesselton.store.exchange import (
    check_against,
    check_format,
    drum_from_data,
    drum_to_data,
    parse_object,
)
from kesselton.store.schema import readings_schema

FORMAT = "kesselton/readings"
VERSION = 1
REMEDY = "Begin clearing this head again; what was read before is lost."


def clearings_to_text(clearings: tuple[Clearing, ...]) -> str:
    """One line of JSON."""
    made = {"clearings": [asdict(one) for one in clearings]}
    return json.dumps(made, ensure_ascii=False, allow_nan=False)


def clearings_from_text(text: str) -> tuple[Clearing, ...]:
    """Clearings of one drum from JSON text.

    Raises
    ------
    InputError
        If it holds none.
    """
    data = parse_object(text, "The rounds of clearing", "clearing")
    return tuple(clearing_from(one) for one in data.get("clearings", ()))


def clearing_from(data: Any) -> Clearing:
    """One clearing from JSON values.

    Raises
    ------
    InputError
        Naming what is not known or missing.
    """
    if not isinstance(data, dict):
        raise InputError("The rounds of clearing cannot be read.", REMEDY)
    values = dict(data)
    try:
        values["rounds"] = tuple(_round(one) for one in data.get("rounds", [{}])) or (Round(),)
        for name in ("wanted", "learned"):
            values[name] = tuple(float(x) for x in data.get(name, ()))
        return Clearing(**values)
    except (TypeError, ValueError, AttributeError) as error:
        raise InputError(f"The rounds of clearing cannot be read: {error}.", REMEDY) from None


def _round(data: dict[str, Any]) -> Round:
    taps = tuple(Tap(**one) for one in data.get("taps", ()))
    return Round(taps, tuple(float(turn) for turn in data.get("turns", ())))


@dataclass(frozen=True)
class Readings:
    """A readings file for the shell: the drum, its rounds, and pairs that calibrate the dial."""

    drum: Drum
    clearing: Clearing
    dial_pairs: tuple[DialPair, ...]


def read_readings(text: str, where: str = "The readings file") -> Readings:
    """Rounds with their drum from JSON text.

    Raises
    ------
    InputError
        With the name of the field, the value and what is known.
    """
    data = parse_object(text, where, "readings file")
    check_format(data, where, FORMAT, VERSION)
    check_against(data, readings_schema(), "")
    drum = drum_from_data(data["drum"], "The drum", checked=True)
    clearing = clearing_from(data["clearing"])
    clearing.check(drum.shell.rods)
    pairs = tuple(DialPair(**one) for one in data.get("dial_pairs", ()))
    return Readings(drum, clearing, pairs)


def readings_to_text(drum: Drum, clearing: Clearing) -> str:
    """A readings file."""
    data = {
        "format": FORMAT,
        "version": VERSION,
        "drum": drum_to_data(drum),
        "clearing": asdict(clearing),
    }
    return json.dumps(data, ensure_ascii=False, allow_nan=False, indent=1)
