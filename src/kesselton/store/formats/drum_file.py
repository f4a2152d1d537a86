"""Drum files: JSON in, a checked Drum out, and back."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from dataclasses import fields
from pathlib import Path
from typing import Any, TypeVar

from kesselton.core.errors import InputError
from kesselton.core.heads.brief import TOUCHES
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.shell import Beds, Shell
from kesselton.core.language import _
from kesselton.store.formats.models import (
    DRUM_FORMAT,
    VERSION,
    AdditionModel,
    AirModel,
    BedsModel,
    DrumFile,
    HeadModel,
    MufflerModel,
    ReadingModel,
    SettingModel,
    ShellModel,
    StrokeModel,
    WiresModel,
    schema_of,
)
from kesselton.store.io.atomic_file import write_file
from kesselton.store.io.bounded_reader import read_whole

T = TypeVar("T")
M = TypeVar("M")

MAX_BYTES = 1_000_000
MOST_SHOWN = 60
"""Letters of a value that is wrong, in a message."""


def read_drum(text: str, where: str = "The drum file") -> Drum:
    """A drum from the text of a drum file.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    return drum_from_data(parse_object(text, where, "drum file"), where)


def read_struck_drum(text: str, where: str = "The drum file") -> tuple[Drum, Stroke]:
    """A drum from the text of a drum file, and how the file says it is struck.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    file = _file_from_data(parse_object(text, where, "drum file"), where)
    stroke_model = file.stroke if isinstance(file.stroke, StrokeModel) else StrokeModel()
    beater = stroke_model.beater or TYPICAL_BEATER[file.kind]
    return drum_from_model(file), Stroke(
        stroke_model.place, beater, TOUCHES[stroke_model.touch].value
    )


def parse_object(text: str, where: str, what: str) -> Any:
    """Parsed JSON, strictly: no name twice, no number that is none.

    Raises
    ------
    InputError
        Saying where it is not JSON.
    """
    if len(text) > MAX_BYTES:
        raise InputError(
            _("{where} is too large for a {what}.").format(where=where, what=what),
            _("Choose another file."),
        )
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_unique)
    except json.JSONDecodeError as error:
        raise InputError(
            _("{where} is not JSON: line {lineno}, column {colno}: {msg}.").format(
                where=where, lineno=error.lineno, colno=error.colno, msg=error.msg
            ),
            _("Correct it there, or export it again."),
        ) from None
    except RecursionError:
        raise InputError(
            _("{where} is nested too deeply.").format(where=where), _("Choose another file.")
        ) from None
    except ValueError:  # Python's own limit, against numbers that take minutes to read
        raise InputError(
            _("{where} contains a number with thousands of digits.").format(where=where),
            _("Correct it there."),
        ) from None
    try:
        text.encode()
        json.dumps(data, ensure_ascii=False).encode()  # what was written as an escape
    except UnicodeEncodeError:
        raise InputError(
            _("{where} contains an invalid character.").format(where=where),
            _("Retype that name or note."),
        ) from None
    if not isinstance(data, dict):
        raise InputError(
            _("{where} is not a JSON object.").format(where=where), _('Start it with "{".')
        )
    return data


def check_format(data: Any, where: str, wanted: str, version: int) -> None:
    """Refuse what is no file of a kind and version.

    Raises
    ------
    InputError
        With what it says instead.
    """
    if not isinstance(data, dict):
        raise InputError(
            _("{where} is not a JSON object.").format(where=where), _('Start it with "{".')
        )
    if data.get("format") != wanted:
        raise InputError(
            _("{where} has format {get!r}.").format(where=where, get=data.get("format")),
            _("Expected: {wanted}.").format(wanted=wanted),
            "format",
        )
    if data.get("version") != version:
        raise InputError(
            _("{where} has version {get!r}.").format(where=where, get=data.get("version")),
            _("This program reads version {version}; you may need a newer one.").format(
                version=version
            ),
            "version",
        )


def read_model(data: Any, model: type[M], where: str = "") -> M:
    """Parsed JSON as a model of `store.formats.models`.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    import msgspec

    try:
        return msgspec.convert(data, model)
    except msgspec.ValidationError as error:
        check_against(data, schema_of(model), where)
        raise InputError(
            _("The file cannot be read: {error}.").format(error=error),
            _("Correct it there."),
            where,
        ) from None


def drum_from_data(data: Any, where: str = "The drum file") -> Drum:
    """A drum from parsed JSON.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    return drum_from_model(_file_from_data(data, where))


def _file_from_data(data: Any, where: str) -> DrumFile:
    check_format(data, where, DRUM_FORMAT, VERSION)
    return read_model(data, DrumFile)


def drum_from_model(file: DrumFile, where: str = "") -> Drum:
    """The drum a drum file describes; `where` leads the path of a fault.

    Raises
    ------
    InputError
        With the path of what only the drum as a whole forbids.
    """

    def drum() -> Drum:
        return Drum(
            name=file.name,
            kind=file.kind,
            shell=_at("shell", lambda: _shell(file.shell)),
            air=_at("air", lambda: Air(**file.air.values())),
            batter=_setting("batter", file.batter),
            resonant=None if file.resonant is None else _setting("resonant", file.resonant),
            guessed=file.guessed,
            mufflers=_at("mufflers", lambda: tuple(Muffler(**m.values()) for m in file.mufflers)),
            wires=None if file.wires is None else _at("wires", file.wires.wires),
        )

    return _at(where, drum)


def head_from_model(model: HeadModel, path: str) -> Head:
    """A head from its part of a file.

    Raises
    ------
    InputError
        With the path of the fault.
    """
    return _at(path, model.head)


def head_from_data(data: Any, path: str = "") -> Head:
    """A head from parsed JSON, as a drum file writes it.

    Raises
    ------
    InputError
        With the path of the fault.
    """
    return head_from_model(read_model(data, HeadModel, path), path)


def _setting(side: str, model: SettingModel) -> HeadSetting:
    head = _at(f"{side}.head", model.head.head)
    names = ("tension_n_per_m", "lug_pitch_hz", "reading")
    given = [name for name in names if getattr(model, name) is not None]
    if len(given) != 1:
        raise InputError(
            _("The head is set by ") + (" and ".join(given) if given else "nothing") + ".",
            _("Give exactly one: tension_n_per_m, lug_pitch_hz or reading."),
            side,
        )
    if model.reading is not None:
        condition = model.reading.values()
        del condition["kind"]
        return HeadSetting(head, reading=_at(f"{side}.reading", lambda: LugPitch(**condition)))
    if model.lug_pitch_hz is not None:
        return HeadSetting(head, reading=LugPitch(model.lug_pitch_hz))
    return HeadSetting(head, tension_n_per_m=model.tension_n_per_m)


def _shell(model: ShellModel) -> Shell:
    beds = None if model.beds is None else Beds(**model.beds.values())
    return Shell(**{**model.values(), "beds": beds})


def _shell_model(shell: Shell) -> ShellModel:
    beds = None if shell.beds is None else BedsModel(**values_of(shell.beds))
    return ShellModel(**{**values_of(shell), "beds": beds})


def drum_to_model(drum: Drum) -> DrumFile:
    """A drum as a drum file holds it."""
    return DrumFile(
        format=DRUM_FORMAT,
        version=VERSION,
        name=drum.name,
        kind=drum.kind,
        shell=_shell_model(drum.shell),
        batter=_setting_model(drum.batter),
        resonant=None if drum.resonant is None else _setting_model(drum.resonant),
        air=AirModel(**values_of(drum.air)),
        mufflers=tuple(MufflerModel(**values_of(m)) for m in drum.mufflers),
        guessed=drum.guessed,
        wires=None if drum.wires is None else WiresModel(**values_of(drum.wires)),
    )


def head_to_model(head: Head) -> HeadModel:
    """A head as a drum file holds it."""
    additions = tuple(AdditionModel(**values_of(add)) for add in head.additions)
    return HeadModel(**{**values_of(head), "additions": additions})


def _setting_model(setting: HeadSetting) -> SettingModel:
    head, reading = head_to_model(setting.head), setting.reading
    if reading is None:
        return SettingModel(head, tension_n_per_m=setting.tension_n_per_m)
    if reading == LugPitch(reading.hz):
        return SettingModel(head, lug_pitch_hz=reading.hz)
    return SettingModel(head, reading=ReadingModel(**values_of(reading)))


def values_of(thing: Any) -> dict[str, Any]:
    """The fields of a dataclass by name, not deeper."""
    return {field.name: getattr(thing, field.name) for field in fields(thing)}


def to_data(model: Any) -> Any:
    """A model as JSON values."""
    import msgspec

    return msgspec.json.decode(msgspec.json.encode(model))


def drum_to_data(drum: Drum) -> dict[str, Any]:
    """A drum as a drum file writes it, every value spelled out."""
    data: dict[str, Any] = to_data(drum_to_model(drum))
    return data


def head_to_data(head: Head) -> dict[str, Any]:
    """A head as a drum file writes it."""
    data: dict[str, Any] = to_data(head_to_model(head))
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


def read_text(path: Path, what: str, most: int = MAX_BYTES) -> str:
    """The text of a file no larger than such files can be.

    Raises
    ------
    InputError
        If it cannot be read, is larger, or is no text.
    """
    try:
        return read_whole(path, what, most).decode()
    except UnicodeDecodeError:
        raise InputError(
            _("{name} is not a text file.").format(name=path.name),
            _("Choose a {what}: it ends in .json.").format(what=what),
        ) from None


def save_drum(drum: Drum, path: Path) -> None:
    """Write a drum file, whole or not at all.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    write_file(path, drum_to_text(drum).encode())


def _at(path: str, make: Callable[[], T]) -> T:
    """Run `make`, leading the path of any complaint with `path`."""
    try:
        return make()
    except InputError as error:
        own = error.path
        if path and not own.startswith(path):
            error.path = f"{path}.{own}" if own else path
        raise


def _refuse_constant(name: str) -> float:
    raise InputError(
        _("{name} is not a valid number.").format(name=name), _("Give a finite number.")
    )


def _unique(pairs: Iterable[tuple[str, Any]]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for key, value in pairs:
        if key in out:
            raise InputError(
                _("The name {key!r} appears twice.").format(key=key), _("Keep one of them."), key
            )
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
        known = ", ".join(fault.schema["properties"])
        message = message if len(message) <= MOST_SHOWN else f"{message[:MOST_SHOWN]} …"
        path = f"{path}.{message}" if path else message
        raise InputError(
            _("Unknown key {message!r}.").format(message=message),
            _("Options: {known}.").format(known=known),
            path,
        )
    raise InputError(message, remedy, path)


def _words(rule: str, wanted: Any, value: Any, fault: Any) -> tuple[str, str]:
    """A schema fault as message and remedy."""
    schema = fault.schema
    shown = "that" if isinstance(value, dict | list) else json.dumps(value, ensure_ascii=False)
    shown = shown if len(shown) <= MOST_SHOWN else f"{shown[:MOST_SHOWN]} …"
    if rule in ("minimum", "maximum"):
        return (
            _("The value is {shown}.").format(shown=shown),
            _("Use {schema:g} to {schema2:g}.").format(
                schema=schema["minimum"], schema2=schema["maximum"]
            ),
        )
    if rule == "required":
        missing = next(key for key in wanted if key not in value)
        return _("The value {missing!r} is missing.").format(missing=missing), _("Add it.")
    if rule == "enum":
        return _("The value is {shown}.").format(shown=shown), _("Options: {map}.").format(
            map=", ".join(map(str, wanted))
        )
    if rule == "type":
        kinds = wanted if isinstance(wanted, str) else " or ".join(wanted)
        return _("The value {shown} has the wrong type.").format(shown=shown), _(
            "Expected: {kinds}."
        ).format(kinds=kinds)
    if rule == "anyOf":
        kinds = " or ".join(str(item.get("type", "object")) for item in wanted)
        return _("The value {shown} has the wrong type.").format(shown=shown), _(
            "Expected: {kinds}."
        ).format(kinds=kinds)
    if rule == "const":
        return _("The value is {shown}.").format(shown=shown), _("Expected: {wanted}.").format(
            wanted=wanted
        )
    if rule == "additionalProperties":
        return next(key for key in value if key not in schema["properties"]), ""
    if rule in ("minItems", "maxItems", "minLength", "maxLength"):
        many, most = len(value), rule.startswith("max")
        unit = "letters" if rule.endswith("Length") else "values"
        return _("There are {many} {unit}.").format(many=many, unit=unit), (
            _("Use up to {wanted}.") if most else _("Use from {wanted}.")
        ).format(wanted=wanted)
    return _("The value is {shown}.").format(shown=shown), "See docs/formats.md."
