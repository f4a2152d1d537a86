"""A plan of a set: how each drum is set, and which of them clash (theory section 27)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.sets.model.chords import Frame, cents_of
from kesselton.core.sets.search.choice import Choice, same

CLEAR_OF_CENTS = 20.0
"""A note so near to the one it has now counts as not moved."""


@dataclass(frozen=True)
class Tuned:
    """One drum of a plan.

    Attributes
    ----------
    name : of the drum
    note_cents : over C1
    interval_cents : between its heads; nan for a drum open below
    pitches_hz, tensions_n_per_m : of its heads, batter first
    moved_cents : how far each head is moved
    off_chord_cents : how far its note is from the chord
    outside_cents : how far it is above (or, negative, below) where it speaks, 0 within
    as_is : it is not touched
    """

    name: str
    note_cents: float
    interval_cents: float
    pitches_hz: tuple[float, ...]
    tensions_n_per_m: tuple[float, ...]
    moved_cents: tuple[float, ...]
    off_chord_cents: float
    outside_cents: float
    shell_cents: float
    as_is: bool


@dataclass(frozen=True)
class Clash:
    """Two drums that sound rough together, or set each other talking, by number."""

    one: int
    other: int
    rough: float
    talk_db: float


@dataclass(frozen=True)
class Plan:
    """One way to tune a set; `cost` is what `drums` and `clashes` together cost."""

    frame: Frame
    drums: tuple[Tuned, ...]
    clashes: tuple[Clash, ...]
    cost: float

    @property
    def fits(self) -> bool:
        """Whether every drum of the chord is on it and speaks."""
        return all(
            abs(drum.off_chord_cents) < CLEAR_OF_CENTS and drum.outside_cents == 0.0
            for drum in self.drums
        )


def changed_between(before: Plan, after: Plan) -> int:
    """Which drum two plans set otherwise: the first of them."""
    return next(
        number
        for number, (old, new) in enumerate(zip(before.drums, after.drums, strict=True))
        if old.pitches_hz != new.pitches_hz
    )


def tuned(choice: Choice, row: int, off: float, a4_hz: float) -> Tuned:
    s = choice.settings
    note, cents = float(s.notes[row]), float(s.interval_cents[row])
    curve = next(c for c in choice.curves if same(c.interval_cents, cents))
    outside = 0.0
    if curve.band is not None:
        low, high = curve.band
        outside = note - high if note > high else note - low if note < low else 0.0
    moved = np.log2(s.pitches_hz[row] / s.pitches_hz[choice.now]) * CENTS_PER_OCTAVE
    shell = choice.member.drum.shell.shell_note_hz
    return Tuned(
        choice.member.name,
        note,
        cents,
        tuple(s.pitches_hz[row].tolist()),
        tuple(s.tensions_n_per_m[row].tolist()),
        tuple(moved.tolist()),
        off,
        outside if curve.band is not None else math.nan,
        math.nan if shell is None else note - cents_of(shell, a4_hz),
        bool(np.all(np.abs(moved) <= 1.0)),
    )
