"""Chords of a set: which notes its drums may take, and how far from a chord they are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.sets.model.kit import CHORD_TONES, STACKS, Wish

ROOT_STEP_CENTS = 10.0
EVEN_STEPS_CENTS = tuple(float(step) for step in range(200, 725, 25))
"""Between neighbouring drums where no pitch is meant; a whole step to a fifth (common practice)."""
FIRST_CENTS = 0.0
"""Cents count from C1, 32.70 Hz at A4 = 440 Hz."""


@dataclass(frozen=True)
class Frame:
    """A chord at one root.

    Attributes
    ----------
    chord : key of CHORDS
    root_cents : over C1
    tones : cents over the root; in any octave (`free`), or one for each drum from low to high
    rooted : the lowest drum takes the root
    """

    chord: str
    root_cents: float
    tones: tuple[float, ...]
    free: bool
    rooted: bool = False

    def tones_at(self, place: int) -> tuple[float, ...]:
        """Those the drum at a place may take."""
        if self.free:
            return (0.0,) if self.rooted and place == 0 else self.tones
        return (self.tones[min(place, len(self.tones) - 1)],)

    def notes(self, place: int, low: float, high: float) -> list[float]:
        """Notes in cents over C1 that the drum at a place, counted from the lowest, may take
        between two pitches."""
        if not self.free:
            note = self.root_cents + self.tones_at(place)[0]
            return [note] if low <= note <= high else []
        out = []
        for tone in self.tones_at(place):
            note = self.root_cents + tone
            note += CENTS_PER_OCTAVE * np.ceil((low - note) / CENTS_PER_OCTAVE)
            while note <= high:
                out.append(float(note))
                note += CENTS_PER_OCTAVE
        return sorted(out)

    def nearest(self, place: int, note: float) -> float:
        """The note of the chord a drum at a place comes nearest to."""
        return note - float(self.off(place, np.array([note]))[0])

    def off(self, place: int, notes: FloatArray) -> FloatArray:
        """How far notes (N,) of the drum at a place are over the chord's nearest, cents."""
        if not self.free:
            return np.asarray(notes - self.root_cents - self.tones_at(place)[0])
        half = 0.5 * CENTS_PER_OCTAVE
        over = np.asarray(notes)[:, None] - self.root_cents - np.array(self.tones_at(place))
        over = (over + half) % CENTS_PER_OCTAVE - half
        nearest = np.argmin(np.abs(over), axis=1)
        out: FloatArray = np.take_along_axis(over, nearest[:, None], axis=1)[:, 0]
        return out


def frames(wish: Wish, count: int, low: float, high: float, a4_hz: float = 440.0) -> list[Frame]:
    """Every chord at every root that is to be looked at, roots in steps of 10 cents.

    Parameters
    ----------
    count : drums in the chord
    low, high : the lowest notes the lowest drum can be given, cents over C1
    """
    out: list[Frame] = []
    chords = ("major", "minor", "fourths", "fifths") if wish.chord == "any" else (wish.chord,)
    given = None if wish.root_hz is None else cents_of(wish.root_hz, a4_hz)
    for chord in chords:
        if chord == "notes":
            # the notes are given, so the root is: nothing is to be moved
            tones = tuple(100.0 * note for note in wish.notes)
            out.append(Frame(chord, 0.0, tones, True))
        elif chord in CHORD_TONES:
            roots = _steps(0.0, CENTS_PER_OCTAVE - 1e-9) if given is None else [given]
            rooted = wish.bass == "root"
            out += [Frame(chord, root, CHORD_TONES[chord], True, rooted) for root in roots]
        else:
            roots = _steps(low, high) if given is None else [given]
            for tones in _laid(chord, wish, count):
                out += [Frame(chord, root, tones, False) for root in roots]
    return out


def _laid(chord: str, wish: Wish, count: int) -> list[tuple[float, ...]]:
    """Cents of each drum over the lowest, of a chord that gives every drum its own note."""
    if chord in STACKS:
        return [tuple(STACKS[chord] * place for place in range(count))]
    if chord == "even":
        return [tuple(step * place for place in range(count)) for step in EVEN_STEPS_CENTS]
    return [tuple(sorted(wish.intervals))]


def _steps(low: float, high: float) -> list[float]:
    first = ROOT_STEP_CENTS * np.ceil(low / ROOT_STEP_CENTS - 1e-9)
    steps: list[float] = np.arange(first, high + 1e-9, ROOT_STEP_CENTS).tolist()
    return steps


def cents_of(hz: float, a4_hz: float = 440.0) -> float:
    """Cents over C1 (45 half steps under A4).

    Examples
    --------
    >>> round(cents_of(880.0), 1)
    5700.0
    """
    return float(4500.0 + CENTS_PER_OCTAVE * np.log2(hz / a4_hz))


def hz_of(cents: float, a4_hz: float = 440.0) -> float:
    """Hertz of cents over C1.

    Examples
    --------
    >>> round(hz_of(0.0), 1)
    32.7
    """
    return float(a4_hz * 2.0 ** ((cents - 4500.0) / CENTS_PER_OCTAVE))


def chord_error_cents(
    notes: FloatArray, wanted: FloatArray, weights: FloatArray | None = None
) -> float:
    """How far notes are from a chord, wherever its root: root mean square of what is left of their
    differences after the best common shift.

    Parameters
    ----------
    notes, wanted : (D,) cents
    weights : (D,) how much each counts
    """
    weight = np.ones(len(notes)) if weights is None else np.asarray(weights, dtype=float)
    off = np.asarray(notes, dtype=float) - np.asarray(wanted, dtype=float)
    mean = float(np.sum(weight * off) / np.sum(weight))
    return float(np.sqrt(np.sum(weight * (off - mean) ** 2) / np.sum(weight)))
