"""Rounds of clearing a head as JSON: kept with its drum, and read from the shell."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, fields
from typing import Any

from kesselton.core.drum import Drum
from kesselton.core.errors import InputError
from kesselton.core.gauge import DialPair
from kesselton.core.rounds import Clearing, Round, Tap
from kesselton.store.exchange import drum_from_data, drum_to_data, parse_object

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
    _known(data, {f.name for f in fields(Clearing)}, "")
    values = dict(data)
    try:
        values["rounds"] = tuple(
            _round(one, f"rounds[{i}]") for i, one in enumerate(data.get("rounds", [{}]))
        ) or (Round(),)
        for name in ("wanted", "learned"):
            values[name] = tuple(float(x) for x in data.get(name, ()))
        return Clearing(**values)
    except (TypeError, ValueError, AttributeError) as error:
        raise InputError(f"The rounds of clearing cannot be read: {error}.", REMEDY) from None


def _round(data: dict[str, Any], path: str) -> Round:
    _known(data, {"taps", "turns"}, path)
    taps = []
    for number, one in enumerate(data.get("taps", ())):
        _known(one, {f.name for f in fields(Tap)}, f"{path}.taps[{number}]")
        taps.append(Tap(str(one["kind"]), int(one["rod"]), float(one["value"]),
                        float(one.get("spread", 0.0))))  # fmt: skip
    return Round(tuple(taps), tuple(float(t) for t in data.get("turns", ())))


def _known(data: dict[str, Any], names: set[str], path: str) -> None:
    unknown = sorted(set(data) - names)
    if unknown:
        raise InputError(
            f"{unknown[0]!r} is not known here.", f"Known: {', '.join(sorted(names))}.", path
        )


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
    _known(data, {"format", "version", "drum", "clearing", "dial_pairs"}, where)
    for key, wanted in (("format", FORMAT), ("version", VERSION)):
        if data.get(key) != wanted:
            raise InputError(f"{where} says {key} {data.get(key)!r}.", f"Expected: {wanted}.", key)
    for key in ("drum", "clearing"):
        if key not in data:
            raise InputError(f"{where} has no {key}.", f'Put it under the name "{key}".', key)
    drum = drum_from_data(data["drum"], "The drum")
    clearing = clearing_from(data["clearing"])
    clearing.check(drum.shell.rods)
    try:
        pairs = tuple(DialPair(**one) for one in data.get("dial_pairs", ()))
    except TypeError:
        raise InputError(
            "The pairs of the dial are not as they should be.",
            "Each has dial, tension_n_per_m and thickness_m.",
            "dial_pairs",
        ) from None
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
