"""Briefs as JSON: from the shell, and kept with their drum."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, fields
from pathlib import Path
from typing import Any

from kesselton.core.brief import Brief
from kesselton.core.drum import Drum
from kesselton.core.errors import InputError
from kesselton.core.gauge import Inspected
from kesselton.core.head import Head
from kesselton.store.exchange import (
    check_format,
    drum_from_data,
    heads_from_data,
    parse_object,
    read_text,
)

FORMAT = "kesselton/brief"
VERSION = 1


def brief_to_data(brief: Brief) -> dict[str, Any]:
    """A brief as a brief file writes it; what does not apply is left out."""
    values = {key: value for key, value in asdict(brief).items() if value not in (None, {})}
    return {"format": FORMAT, "version": VERSION, **values}


def brief_from_data(data: Any, where: str = "The brief") -> Brief:
    """A brief from parsed JSON.

    Raises
    ------
    InputError
        With the name of the field, the value and what is known.
    """
    check_format(data, where, FORMAT, VERSION)
    values = {key: value for key, value in data.items() if key not in ("format", "version")}
    known = [f.name for f in fields(Brief)]
    for key, value in values.items():
        if key not in known:
            raise InputError(
                f"The key {key!r} is not known here.", f"Known: {', '.join(known)}.", key
            )
        if key == "weights" and not isinstance(value, dict):
            raise InputError("The weights are not an object.", 'Write {"ring": 2}.', key)
        if key != "weights" and not isinstance(value, str | int | float):
            raise InputError(f"The value of {key} is {value!r}.", "Give one value.", key)
    return Brief(**values)


@dataclass(frozen=True)
class Order:
    """A brief file for the shell: the drum, what it must do, and the heads to choose from.

    `heads` (batter, resonant) is None for all that ship with the program.
    """

    drum: Drum
    brief: Brief
    heads: tuple[list[Head], list[Head]] | None


def read_order(text: str, where: str = "The brief file") -> Order:
    """A brief with its drum from JSON text.

    Raises
    ------
    InputError
        With the name of the field, the value and what is known.
    """
    data = parse_object(text, where, "brief file")
    if "drum" not in data:
        raise InputError(
            f"{where} has no drum.", 'Put the drum file under the name "drum".', "drum"
        )
    drum = drum_from_data(data["drum"], "The drum")
    heads = None
    if "heads" in data:
        given = data["heads"]
        if not isinstance(given, dict) or set(given) - {"batter", "resonant"}:
            raise InputError(
                "The heads are not an object of batter and resonant.",
                'Write {"batter": [head, …], "resonant": [head, …]}.',
                "heads",
            )
        heads = (
            heads_from_data(given.get("batter", []), "heads.batter"),
            heads_from_data(given.get("resonant", []), "heads.resonant"),
        )
    rest = {key: value for key, value in data.items() if key not in ("drum", "heads")}
    return Order(drum, brief_from_data(rest, where), heads)


def load_order(path: Path) -> Order:
    """Read a brief file from disk.

    Raises
    ------
    InputError
        If it cannot be read or is not a brief file.
    """
    return read_order(read_text(path, "brief file"), path.name)


def brief_to_text(brief: Brief) -> str:
    """One line of JSON."""
    return json.dumps(brief_to_data(brief), ensure_ascii=False, allow_nan=False)


def brief_from_text(text: str, where: str = "The brief") -> Brief:
    """A brief from JSON text.

    Raises
    ------
    InputError
        If it is not JSON, or not a brief.
    """
    return brief_from_data(parse_object(text, where, "brief"), where)


def inspected_to_text(found: Inspected) -> str:
    """What was measured on a bare shell, as one line of JSON."""
    return json.dumps(asdict(found), allow_nan=False)


def inspected_from_text(text: str) -> Inspected:
    """The same from JSON text.

    Raises
    ------
    InputError
        If it is not JSON, or has other names.
    """
    data = parse_object(text, "The inspection", "inspection")
    known = {f.name for f in fields(Inspected)}
    if set(data) - known:
        raise InputError(f"The inspection has unknown values {sorted(set(data) - known)}.")
    for name in ("diameters_m", "gaps_m"):
        data[name] = tuple(data.get(name, ()))
    return Inspected(**data)
