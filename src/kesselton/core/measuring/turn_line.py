"""A drum's own line of turns and tension, from what its log says of turns and pitches (theory 84).

How far lugs and collars give and where finger tight lies differ from drum to drum far more than
from one fitting to the next: both are unknowns with the doubt they have before anything is noted,
and every note of turns with a pitch narrows them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS
from kesselton.core.measuring.rods import give_of, tension_per_turn

ROD_GIVE, TURN_READ = 0.08, 0.05
"""Take-up from reading to reading as a share, and how well a turn is read; assumed."""
TENSION_LN = 0.02
"""How well a tension is known where a pitch was noted with the turns, one standard deviation."""
LEAST_FACTOR = 0.2


@dataclass(frozen=True, eq=False)
class TurnLine:
    """Turns past finger tight = take_up + factor x what the model says they would be.

    Attributes
    ----------
    per_turn : tension the model says one turn of every rod gains, N/m
    factor, take_up : of this drum
    covariance : (2, 2) of factor and take-up
    count : notes it comes from
    """

    per_turn: float
    factor: float
    take_up: float
    covariance: FloatArray
    count: int

    def turns_to(self, tension_n_per_m: float) -> float:
        """Turns past finger tight at a tension."""
        return self.take_up + self.factor * tension_n_per_m / self.per_turn

    def spread(self, tension_n_per_m: float) -> float:
        """Standard deviation of a reading of turns at a tension, turns."""
        plain = tension_n_per_m / self.per_turn
        row = np.array([plain, 1.0])
        line = float(row @ self.covariance @ row)
        return math.sqrt(line + (ROD_GIVE * plain) ** 2 + TURN_READ**2)

    def gained(self, turns: float) -> float:
        """Tension gained by so many turns, N/m."""
        return turns * self.per_turn / self.factor


def learn_turns(drum: Drum, side: str, notes: Sequence[tuple[float, float]]) -> TurnLine:
    """The line of a head from notes of (turns past finger tight, tension in N/m); without any, what
    is assumed before.

    Raises
    ------
    InputError
        If a note cannot be.
    """
    give = give_of(drum)
    head = drum.setting(side).head
    per_turn = tension_per_turn(drum, head, THREADS[drum.shell.rod_thread])
    rows, seen = (
        [np.array([1.0 / give.sd, 0.0]), np.array([0.0, 1.0 / give.take_up_sd])],
        [0.0, 0.0],
    )
    for turns, tension in notes:
        check_range(turns, 0.0, 20.0, "Turns", "turns", "turns")
        check_range(tension, 1.0, 1e5, "Tension", "N/m", "tension")
        plain = tension / per_turn
        noise = math.hypot(ROD_GIVE * plain, TENSION_LN * plain, TURN_READ)
        rows.append(np.array([plain, 1.0]) / noise)
        seen.append((turns - give.take_up - plain) / noise)
    by = np.array(rows)
    covariance: FloatArray = np.linalg.inv(by.T @ by)
    more, taken = (covariance @ by.T @ np.array(seen)).tolist()
    factor = max(1.0 + more, LEAST_FACTOR)
    return TurnLine(per_turn, factor, give.take_up + taken, covariance, len(notes))
