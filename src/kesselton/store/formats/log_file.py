"""Log entries as lines of JSON and as a table, out and in (docs/formats.md)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

import msgspec

from kesselton.core.errors import InputError
from kesselton.core.escape import inert_cell
from kesselton.core.instrument.kept import MARKS, Attached, Kept, KeptLine
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.store.formats.drum_file import (
    drum_from_model,
    drum_to_model,
    read_model,
    values_of,
)
from kesselton.store.formats.models import (
    LOG_FORMAT,
    VERSION,
    AttachedModel,
    KeptLineModel,
    LogEntry,
    LogReadingModel,
)

PLAIN = (
    "on", "event", "side", "what_for", "verdict", "music", "player", "room", "marks", "signs",
    "fits",    "beater", "place", "touch", "lug_pitches_hz", "tensions_n_per_m", "computed_hz",
    "computed_half_cents", "heard_hz", "heard_half_cents", "left_out", "wires", "shows", "hours",
    "sets",
)  # fmt: skip
"""Fields that are in the file as they are here."""


def entry_to_model(kept: Kept) -> LogEntry:
    """An entry as a file holds it."""
    return LogEntry(
        format=LOG_FORMAT,
        version=VERSION,
        drum=drum_to_model(kept.drum),
        readings=tuple(LogReadingModel(**values_of(reading)) for reading in kept.readings),
        lines=tuple(KeptLineModel(**values_of(line)) for line in kept.lines),
        attached=tuple(AttachedModel(**values_of(attachment)) for attachment in kept.attached),
        **{name: getattr(kept, name) for name in PLAIN},
    )


def entry_from_model(model: LogEntry) -> Kept:
    """The same back.

    Raises
    ------
    InputError
        If something in it cannot be.
    """
    return Kept(
        drum=drum_from_model(model.drum),
        readings=tuple(Reading(**reading.values()) for reading in model.readings),
        lines=tuple(KeptLine(**line.values()) for line in model.lines),
        attached=tuple(Attached(**attached_model.values()) for attached_model in model.attached),
        **{name: getattr(model, name) for name in PLAIN},
    )


def entry_text(kept: Kept) -> str:
    """One line of JSON."""
    return msgspec.json.encode(entry_to_model(kept)).decode()


def entry_of(text: str) -> Kept:
    """An entry from its line.

    Raises
    ------
    InputError
        Naming what cannot be.
    """
    try:
        model = msgspec.json.decode(text, type=LogEntry)
    except msgspec.ValidationError:
        model = read_model(msgspec.json.decode(text), LogEntry)  # which words the fault
    except (msgspec.DecodeError, RecursionError) as error:
        raise InputError(
            _("Not a log entry: {error}.").format(error=error), _("Export the log again.")
        ) from None
    return entry_from_model(model)


def entries_of(text: str, where: str) -> list[Kept]:
    """The entries of a file of JSON lines. Lines end at "\\n" alone: what else a text holds that
    looks like the end of one (U+2028, U+0085) is text.

    Raises
    ------
    InputError
        Naming the line that cannot be.
    """
    out = []
    for number, line in enumerate(text.split("\n"), start=1):
        if line.strip():
            try:
                out.append(entry_of(line))
            except InputError as error:
                raise InputError(
                    _("{where}, line {number}: {message}").format(
                        where=where, number=number, message=error.message
                    ),
                    error.remedy,
                    error.path,
                ) from None
    return out


def as_lines(entries: Iterable[Kept]) -> str:
    """JSON lines, oldest first."""
    return "".join(f"{entry_text(entry)}\n" for entry in entries)


def as_csv(entries: Sequence[Kept]) -> str:
    """A table of what can be said in a cell; words stay words there."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        ("on", "drum", "event", "batter_head", "resonant_head", "batter_lug_pitch_hz",
         "resonant_lug_pitch_hz", "computed_hz", "heard_hz", "what_for", "verdict", "music",
         "player", "room", *MARKS, "signs", "note_fits", "beater", "temperature_c",
         "relative_humidity", "wires", "shows", "hours", "attached", "sets")
    )  # fmt: skip
    for entry in entries:
        drum = entry.drum
        heads = [drum.batter.head.name, drum.resonant.head.name if drum.resonant else ""]
        pitches = [f"{hz:.2f}" for hz in entry.lug_pitches_hz]
        marks = dict(entry.marks)
        cells: list[Any] = [
            entry.on, drum.name, entry.event, *heads, *(pitches + ["", ""])[:2],
            "" if entry.computed_hz is None else f"{entry.computed_hz:.2f}",
            "" if entry.heard_hz is None else f"{entry.heard_hz:.2f}",
            entry.what_for, entry.verdict, entry.music, entry.player, entry.room,
            *(marks.get(mark, "") for mark in MARKS), ", ".join(entry.signs),
            entry.fits,
            entry.beater, f"{drum.air.temperature_c:g}", f"{drum.air.relative_humidity:g}",
            entry.wires, f"{entry.shows:g}", f"{entry.hours:g}",
            ", ".join(a.name for a in entry.attached),
            ", ".join(entry.sets),
        ]  # fmt: skip
        writer.writerow([inert_cell(cell) for cell in cells])
    return out.getvalue()
