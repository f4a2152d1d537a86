"""What a heard line may be that was told no partial: the head with its wires lying on it, the
shell, or something in the room (theory 23)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from kesselton.core.arrays import BoolArray, FloatArray
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.errors import KesseltonError
from kesselton.core.hearing.matching import Matching
from kesselton.core.hearing.stroke_lines import StrokeLine
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.wires import lying

WIRES, SHELL, ROOM = "wires", "shell", "room"
NEAR_CENTS = 12.0
"""So near to the note of the shell a line may be of it."""
LINE_CENTS, FAR_SD = 12.0, 2.45
"""What a line stands off where the head sounds with its wires on it, one standard deviation, and
where it is of something else; from strokes on two drums, pairs split."""
CLEARLY = 4.0
"""Log likelihood by which lines must fit that better than the head without: 6 to 39 of 24 soft
strokes, at most 0.1 of 24 that throw the wires off."""
DRUM_CENTS, DRUM_SD = np.arange(-24.0, 25.0, 4.0), 14.0
"""How far the drum as a whole may stand off its plan there, and does, one standard deviation."""
NULL_CENTS = tuple(sign * away for away in (70.0, 100.0, 130.0, 160.0, 190.0) for sign in (-1, 1))
"""All lines shifted so far must fit worse."""
UNDER_CENTS = 300.0
"""Nothing of a drum sounds so far under the lowest partial that was computed of it."""
OUTRINGS = 3.0
"""Nor so many times longer than the one that was computed to ring longest; T60 is stated within a
factor of about two."""


def may_be(
    lines: Sequence[StrokeLine], matching: Matching, prediction: Prediction
) -> tuple[tuple[str, ...], ...]:
    """For each line what it may be, besides a partial: of `WIRES`, `SHELL` and `ROOM`; nothing for
    one that was told, or that may be of some rung or other.

    Notes
    -----
    Where wires lie is asked of all lines together, against the head without them and the same lines
    shifted: with two dozen lines of a drum some stand near anything.
    """
    if not lines:
        return ()
    hz = np.array([line.hz for line in lines])
    ring = np.array([line.t60_s for line in lines])
    free = np.array([match.partial is None for match in matching.matches], dtype=bool)
    p, note = prediction.partials, prediction.drum.shell.shell_note_hz
    loaded = _with_wires_hz(prediction)
    wired = free & _on_wires(hz, p.frequency_hz, loaded)
    shell = [
        note is not None and abs(cents_between(note, item)) < NEAR_CENTS for item in hz.tolist()
    ]
    lowest = min([*p.frequency_hz.tolist(), *loaded.tolist()])
    under = CENTS_PER_NEPER * np.log(hz / lowest) - min(matching.shift_cents, 0.0) < -UNDER_CENTS
    foreign = under | (ring > OUTRINGS * float(np.max(p.t60_s)))
    itself = matching.fundamental_hz is not None  # else it may be another drum, or set otherwise
    kinds = ((WIRES, wired), (SHELL, free & shell), (ROOM, free & ~wired & foreign & itself))
    return tuple(tuple(name for name, so in kinds if so[line]) for line in range(len(lines)))


def _with_wires_hz(prediction: Prediction) -> FloatArray:
    """Where the drum sounds with its wires lying on the head; nowhere if none lie there."""
    laid = prediction.drum.lying_wires
    if laid is None:
        return np.zeros(0)
    try:
        return lying(prediction.partials, laid).frequency_hz
    except KesseltonError:
        return np.zeros(0)  # said where the wires are shown; lines stay without a name


def _on_wires(hz: FloatArray, bare: FloatArray, loaded: FloatArray) -> BoolArray:
    """Which lines stand where the head sounds with wires on it, if all of them together fit that
    better than the head without, and than by chance."""
    none = np.zeros(len(hz), dtype=bool)
    if len(loaded) == 0:
        return none
    at, with_them, without = (CENTS_PER_NEPER * np.log(f) for f in (hz, loaded, bare))
    fit, shift = _best(at, with_them)
    by_chance = max(_best(at + away, with_them)[0] for away in NULL_CENTS)
    if fit - _best(at, without)[0] < CLEARLY or fit < by_chance:
        return none
    gap = _gaps(at, with_them + shift)
    out: BoolArray = (gap < FAR_SD * LINE_CENTS) & (gap < _gaps(at, without + shift))
    return out


def _gaps(at: FloatArray, there: FloatArray) -> FloatArray:
    """(L,) cents from each line to the nearest."""
    out: FloatArray = np.abs(at[:, None] - there).min(axis=1)
    return out


def _best(at: FloatArray, there: FloatArray) -> tuple[float, float]:
    """How well lines fit, in log likelihood, with the drum as a whole where they fit best; cents it
    is off."""
    gap = np.abs(at[:, None, None] - there[:, None] - DRUM_CENTS).min(axis=1)
    each = np.maximum(-0.5 * (gap / LINE_CENTS) ** 2, -0.5 * FAR_SD**2)
    fits = each.sum(axis=0) - 0.5 * (DRUM_CENTS / DRUM_SD) ** 2
    best = int(np.argmax(fits))
    return float(fits[best]), float(DRUM_CENTS[best])
