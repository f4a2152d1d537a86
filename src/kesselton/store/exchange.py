"""Drum files: JSON in, a checked Drum out, and back."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, TypeVar

from kesselton.core.air import Air
from kesselton.core.drum import Drum, HeadSetting, Reading, Shell
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.head import Addition, Head
from kesselton.core.muffler import Muffler
from kesselton.store.schema import FORMAT, VERSION, drum_schema, head_schema

T = TypeVar("T")

MOST_BYTES = 1_000_000


def read_drum(text: str, where: str = "The drum file") -> Drum:
    """A drum from the text of a drum file.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    return drum_from_data(parse_object(text, where, "drum file"), where)


def parse_object(text: str, where: str, what: str) -> Any:
    """Parsed JSON, strictly: no name twice, no number that is none.

    Raises
    ------
    InputError
        Saying where it is not JSON.
    """
    if len(text) > MOST_BYTES:
        raise InputError(f"{where} is larger than a {what} can be.", "Choose another file.")
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_unique)
    except json.JSONDecodeError as error:
        raise InputError(
            f"{where} is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.",
            "Correct it there, or export it again.",
        ) from None
    except RecursionError:
        raise InputError(f"{where} is nested too deeply.", "Choose another file.") from None
    if not isinstance(data, dict):
        raise InputError(f"{where} is not an object with named values.", 'Start it with "{".')
    return data


def check_format(data: Any, where: str, wanted: str, version: int) -> None:
    """Refuse what is no file of a kind and version.

    Raises
    ------
    InputError
        With what it says instead.
    """
    if not isinstance(data, dict):
        raise InputError(f"{where} is not an object with named values.", 'Start it with "{".')
    if data.get("format") != wanted:
        raise InputError(
            f"{where} says format {data.get('format')!r}.", f"Expected: {wanted}.", "format"
        )
    if data.get("version") != version:
        raise InputError(
            f"{where} has version {data.get('version')!r}.",
            f"This program reads version {version}; a newer program may be needed.",
            "version",
        )


def drum_from_data(data: Any, where: str = "The drum file", checked: bool = False) -> Drum:
    """A drum from parsed JSON; with `checked` the schema was held against it before."""
    check_format(data, where, FORMAT, VERSION)
    if not checked:
        check_against(data, drum_schema(), "")
    shell = _at("shell", lambda: Shell(**data["shell"]))
    air = _at("air", lambda: Air(**data.get("air", {})))
    resonant = data["resonant"]
    return Drum(
        name=data["name"],
        kind=data["kind"],
        shell=shell,
        air=air,
        batter=_setting("batter", data["batter"]),
        resonant=None if resonant is None else _setting("resonant", resonant),
        mufflers=_at("mufflers", lambda: tuple(Muffler(**one) for one in data.get("mufflers", ()))),
    )


def head_from_data(data: dict[str, Any]) -> Head:
    """A head from its part of a drum file (checked before)."""
    values = dict(data)
    values["plies_m"] = tuple(values.get("plies_m", ()))
    values["additions"] = tuple(Addition(**add) for add in values.get("additions", ()))
    return Head(**values)


def heads_from_data(data: Any, path: str) -> list[Head]:
    """Heads from parsed JSON, checked against the schema of a drum file's heads.

    Raises
    ------
    InputError
        With the path of the first fault.
    """
    if not isinstance(data, list):
        raise InputError("The heads are not a list.", "Write [head, …].", path)
    found = []
    for index, one in enumerate(data):
        here = f"{path}[{index}]"
        check_against(one, head_schema(), here)
        found.append(_at(here, lambda one=one: head_from_data(one)))  # type: ignore[misc]
    return found


def _setting(side: str, data: dict[str, Any]) -> HeadSetting:
    head = _at(f"{side}.head", lambda: head_from_data(data["head"]))
    given = [key for key in ("tension_n_per_m", "lug_pitch_hz", "reading") if key in data]
    if len(given) != 1:
        raise InputError(
            "The head is set by " + (" and ".join(given) if given else "nothing") + ".",
            "Give exactly one of tension_n_per_m, lug_pitch_hz, reading.",
            side,
        )
    if "reading" in data:
        condition = {k: v for k, v in data["reading"].items() if k != "kind"}
        return HeadSetting(head, reading=_at(f"{side}.reading", lambda: Reading(**condition)))
    if "lug_pitch_hz" in data:
        return HeadSetting(head, reading=Reading(float(data["lug_pitch_hz"])))
    return HeadSetting(head, tension_n_per_m=float(data["tension_n_per_m"]))


def drum_to_data(drum: Drum) -> dict[str, Any]:
    """A drum as a drum file writes it, every value spelled out."""
    resonant = None if drum.resonant is None else _setting_data(drum.resonant)
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": drum.name,
        "kind": drum.kind,
        "shell": {
            "head_diameter_m": drum.shell.head_diameter_m,
            "contact_radius_m": drum.shell.contact_radius_m,
            "depth_m": drum.shell.depth_m,
            "rods": drum.shell.rods,
            "hoop": drum.shell.hoop,
            "shell_note_hz": drum.shell.shell_note_hz,
            "vent_diameter_m": drum.shell.vent_diameter_m,
            "rod_thread": drum.shell.rod_thread,
        },
        "air": {
            "temperature_c": drum.air.temperature_c,
            "relative_humidity": drum.air.relative_humidity,
            "pressure_pa": drum.air.pressure_pa,
        },
        "batter": _setting_data(drum.batter),
        "resonant": resonant,
        "mufflers": [
            {"kind": m.kind, "side": m.side, "place": m.place, "rod": m.rod} for m in drum.mufflers
        ],
    }


def head_to_data(head: Head) -> dict[str, Any]:
    """A head as a drum file writes it."""
    return {
        "name": head.name,
        "material": head.material,
        "plies_m": list(head.plies_m),
        "areal_density_kg_per_m2": head.areal_density_kg_per_m2,
        "coating_kg_per_m2": head.coating_kg_per_m2,
        "additions": [
            {
                "kind": add.kind,
                "inner_radius_m": add.inner_radius_m,
                "outer_radius_m": add.outer_radius_m,
                "thickness_m": add.thickness_m,
            }
            for add in head.additions
        ],
        "port_diameter_m": head.port_diameter_m,
        "interlayer": head.interlayer,
        "edge_vents": head.edge_vents,
        "edge_vent_diameter_m": head.edge_vent_diameter_m,
    }


def _setting_data(setting: HeadSetting) -> dict[str, Any]:
    data: dict[str, Any] = {"head": head_to_data(setting.head)}
    if setting.reading is None:
        data["tension_n_per_m"] = setting.tension_n_per_m
    elif setting.reading == Reading(setting.reading.hz):
        data["lug_pitch_hz"] = setting.reading.hz
    else:
        data["reading"] = {
            "kind": "lug_pitch",
            "hz": setting.reading.hz,
            "other_head": setting.reading.other_head,
            "centre": setting.reading.centre,
        }
    return data


def drum_to_text(drum: Drum) -> str:
    """The text of a drum file."""
    return json.dumps(drum_to_data(drum), indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def load_drum(path: Path) -> Drum:
    """Read a drum file from disk.

    Raises
    ------
    InputError
        If it cannot be read or is not a drum file.
    """
    return read_drum(read_text(path, "drum file"), path.name)


def read_text(path: Path, what: str) -> str:
    """The text of a file no larger than such files can be.

    Raises
    ------
    InputError
        If it cannot be read.
    """
    try:
        if path.stat().st_size > MOST_BYTES:
            raise InputError(f"{path.name} is larger than a {what} can be.")
        return path.read_text(encoding="utf-8")
    except OSError as error:
        raise InputError(
            f"{path.name} cannot be read: {error.strerror}.", "Check the file and its permissions."
        ) from None
    except UnicodeDecodeError:
        raise InputError(
            f"{path.name} is not a text file.", f"Choose a {what}: it ends in .json."
        ) from None


def save_drum(drum: Drum, path: Path) -> None:
    """Write a drum file, whole or not at all.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    temporary = path.with_name(path.name + ".part")
    try:
        temporary.write_text(drum_to_text(drum), encoding="utf-8")
        temporary.replace(path)
    except OSError as error:
        temporary.unlink(missing_ok=True)
        raise KesseltonError(
            f"{path.name} cannot be written: {error.strerror}.", "Choose another place."
        ) from None


def _at(path: str, make: Callable[[], T]) -> T:
    """Run `make`, leading the path of any complaint with `path`."""
    try:
        return make()
    except InputError as error:
        own = error.path
        error.path = own if own.startswith(path) else f"{path}.{own}" if own else path
        raise


def _refuse_constant(name: str) -> float:
    raise InputError(f"{name} is not a number a drum can have.", "Give a finite number.")


def _unique(pairs: Iterable[tuple[str, Any]]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for key, value in pairs:
        if key in out:
            raise InputError(f"The name {key!r} stands twice.", "Keep one of them.", key)
        out[key] = value
    return out


def check_against(data: Any, schema: dict[str, Any], where: str) -> None:
    """Raise InputError for the first fault against the schema, in the user's words."""
    from jsonschema import Draft202012Validator
    from jsonschema.exceptions import best_match

    faults = list(Draft202012Validator(schema).iter_errors(data))
    # a key nobody knows explains a missing one beside it, so it comes first
    unknown = [fault for fault in faults if fault.validator == "additionalProperties"]
    fault = best_match(unknown or faults)
    if fault is None:
        return
    while fault.context:  # into the branch that is meant when null is an alternative
        inner = [e for e in fault.context if e.validator != "type" or e.path]
        if not inner:
            break
        fault = inner[0]
    path = ".".join(str(p) for p in ([where] if where else []) + list(fault.absolute_path))
    message, remedy = _words(fault.validator, fault.validator_value, fault.instance, fault)
    if fault.validator == "additionalProperties":
        path = f"{path}.{message}" if path else message
        known = ", ".join(fault.schema["properties"])
        raise InputError(f"The key {message!r} is not known here.", f"Known: {known}.", path)
    raise InputError(message, remedy, path)


def _words(rule: str, wanted: Any, value: Any, fault: Any) -> tuple[str, str]:
    """A schema fault as message and remedy."""
    schema = fault.schema
    shown = json.dumps(value, ensure_ascii=False) if not isinstance(value, dict | list) else "that"
    if rule in ("minimum", "maximum"):
        return (
            f"The value is {shown}.",
            f"Permitted: {schema['minimum']:g} to {schema['maximum']:g}.",
        )
    if rule == "required":
        missing = next(key for key in wanted if key not in value)
        return f"The value {missing!r} is missing.", "Add it."
    if rule == "enum":
        return f"The value is {shown}.", f"Known: {', '.join(map(str, wanted))}."
    if rule == "type":
        kinds = wanted if isinstance(wanted, str) else " or ".join(wanted)
        return f"The value is {shown}, which is of the wrong kind.", f"Expected: {kinds}."
    if rule == "additionalProperties":
        return next(key for key in value if key not in schema["properties"]), ""
    return f"The value is {shown}: {fault.message}.", f"Rule: {rule} {wanted}."
