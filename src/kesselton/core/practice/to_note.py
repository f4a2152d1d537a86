"""Tuning a head to a note one has sung: all rods alike, by ear, no gauge until the end."""

from __future__ import annotations

import numpy as np

from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import _
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.practice.drums import even_head, shifted, tap_sound
from kesselton.core.prediction.render import Sound

NEAREST_CENTS, FARTHEST_CENTS = 120.0, 320.0
"""How far off the head is to begin with; assumed."""
LEAST_TURN, MOST_TURN = 1.0 / 256.0, 0.5


class NoteBench:
    """A clear head that is not there, some way off a note.

    Parameters
    ----------
    seed : the same head again
    note_hz : sung or heard; the head is brought to it in the octave that is nearest to its size
    """

    def __init__(self, seed: int, note_hz: float) -> None:
        check_range(note_hz, 20.0, 5000.0, _("The note"), "Hz", "note_hz")
        rng = np.random.default_rng([seed, 5])
        self.head = even_head(rng)
        octaves = round(cents_between(note_hz, self._hz) / CENTS_PER_OCTAVE)
        self.target_hz = note_hz * 2.0**octaves
        off = float(rng.uniform(NEAREST_CENTS, FARTHEST_CENTS)) * float(rng.choice((-1.0, 1.0)))
        shifted(self.head, cents_between(self._hz, self.target_hz * ratio_of(off)))
        self._rng = rng
        self.turns = 0

    @property
    def _hz(self) -> float:
        return float(self.head.pitches()[0])

    @property
    def off_cents(self) -> float:
        """Of the head over the note; shown only at the end."""
        return cents_between(self.target_hz, self._hz)

    def tap(self) -> Sound:
        """Hear a rod; all are alike."""
        return tap_sound(self.head, 1, self._rng)

    def turn(self, turns: float) -> None:
        """Turn all rods alike; positive tightens.

        Raises
        ------
        InputError
            If no hand turns so.
        """
        if not LEAST_TURN <= abs(turns) <= MOST_TURN:
            raise InputError(
                _("A turn of {turns:g} is out of range.").format(turns=turns),
                _("Use 1/256 to 1/2."),
            )
        self.head.turn(np.full(self.head.rim.rods, turns))
        self.turns += 1
