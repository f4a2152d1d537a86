"""A set as it stands while its notes are dragged: what leaves its band, what clashes, where."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.sets.model.chords import cents_of
from kesselton.core.sets.model.curve import Settings
from kesselton.core.sets.model.kit import Member
from kesselton.core.sets.model.roughness import dissonance
from kesselton.core.sets.search.choice import LOUDEST, SHELL_CENTS
from kesselton.core.sets.search.field import Field, Spot

ROUGH_FROM = 0.06
"""Roughness of two lines that is marked; 0.18 is the most there is."""
BEATS_TO_HZ = 20.0
"""Faster ones are no longer told one by one (Zwicker and Fastl, section 11, from memory)."""
ON_SHELL_CENTS = 30.0
MOST_CLASHES = 3
QUIETEST_DB = -40.0


@dataclass(frozen=True, eq=False)
class Column:
    """One drum where it stands.

    Attributes
    ----------
    spot : its note and interval
    pitches_hz, tensions_n_per_m : of its heads
    hz, level_db : of the loudest partials, level under the loudest
    borne, band : cents over C1; band None where it speaks nowhere
    shell_cents : its shell's note, nan if that is not known
    says : "above", "below", "nowhere", "shell", "far" or "" where all is well
    """

    spot: Spot
    pitches_hz: FloatArray
    tensions_n_per_m: FloatArray
    hz: FloatArray
    level_db: FloatArray
    borne: tuple[float, float]
    band: tuple[float, float] | None
    shell_cents: float
    says: str


@dataclass(frozen=True)
class Beat:
    """Two partials of two drums that are rough together: hertz of each, how often they beat."""

    one: int
    other: int
    hz: float
    other_hz: float
    rough: float

    @property
    def beats_hz(self) -> float:
        """How often a second."""
        return abs(self.other_hz - self.hz)


@dataclass(frozen=True, eq=False)
class Look:
    """All columns, and the pairs that clash most."""

    columns: tuple[Column, ...]
    beats: tuple[Beat, ...]


def look(
    members: Sequence[Member], fields: Sequence[Field], spots: Sequence[Spot], a4_hz: float
) -> Look:
    """The set with its drums at some notes and intervals; nothing is solved, so it is quick."""
    settings = [field.at(spot) for field, spot in zip(fields, spots, strict=True)]
    columns = [_column(*four, a4_hz) for four in zip(members, fields, spots, settings, strict=True)]
    beats = []
    for i, j in itertools.combinations(range(len(members)), 2):
        beat = _beat(i, j, columns[i], columns[j])
        if beat.rough >= ROUGH_FROM and beat.beats_hz <= BEATS_TO_HZ:
            beats.append(beat)
    beats.sort(key=lambda beat: -beat.rough)
    return Look(tuple(columns), tuple(beats[:MOST_CLASHES]))


def _column(member: Member, field: Field, spot: Spot, settings: Settings, a4_hz: float) -> Column:
    sound = settings.sounding_j[0]
    level = 10.0 * np.log10(np.maximum(sound / max(float(sound.max()), 1e-30), 1e-9))
    keep = np.flatnonzero(level > QUIETEST_DB)
    shell = member.drum.shell.shell_note_hz
    note = math.nan if shell is None else cents_of(shell, a4_hz)
    band = field.band(spot.interval)
    return Column(
        spot,
        settings.pitches_hz[0],
        settings.tensions_n_per_m[0],
        settings.hz[0][keep],
        level[keep],
        field.borne(spot.interval),
        band,
        note,
        _says(spot.note, band, note),
    )


def _says(note: float, band: tuple[float, float] | None, shell: float) -> str:
    if band is None:
        return "nowhere"
    if note > band[1] + 3.0:
        return "above"
    if note < band[0] - 3.0:
        return "below"
    if abs(note - shell) < ON_SHELL_CENTS:
        return "shell"
    return "far" if abs(note - shell) > SHELL_CENTS else ""


def _beat(i: int, j: int, column: Column, other: Column) -> Beat:
    """The two partials of two drums that are roughest together."""
    mine = np.argsort(-column.level_db)[:LOUDEST]
    theirs = np.argsort(-other.level_db)[:LOUDEST]
    hz, other_hz = column.hz[mine], other.hz[theirs]
    weak = np.minimum.outer(
        10.0 ** (column.level_db[mine] / 20.0), 10.0 ** (other.level_db[theirs] / 20.0)
    )
    rough = weak * dissonance(hz[:, None], other_hz[None, :])
    a, b = np.unravel_index(int(np.argmax(rough)), rough.shape)
    return Beat(i, j, float(hz[a]), float(other_hz[b]), float(rough[a, b]))
