"""A drum's own line of turns and tension, from what its log says of turns and pitches (theory 84).

How far lugs and collars give and where finger tight lies differ from drum to drum far more than
from one fitting to the next, and least while one head stays on: all are unknowns with the doubt
they have before anything is noted, and every note of turns with a pitch narrows them.
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
from kesselton.core.language import _
from kesselton.core.measure.rods import give_of, tension_per_turn

OF_FITTING, OF_READING, TURN_READ = 0.074, 0.03, 0.05
"""What turns give, as a share: from fitting to fitting (how the collar took its shape and how it
sits), and from reading to reading of one fitting; and how well a turn is read; assumed."""
ROD_GIVE = math.hypot(OF_FITTING, OF_READING)
"""Both, where it is not known which fitting a reading is of."""
TENSION_LN = 0.02
"""How well a tension is known where a pitch was noted with the turns, one standard deviation."""
LEAST_FACTOR = 0.2


@dataclass(frozen=True, eq=False)
class TurnLine:
    """Turns past finger tight = take_up + factor x what the model says they would be.

    Attributes
    ----------
    per_turn : tension the model says one turn of every rod gains, N/m
    factor, take_up : of this drum with the head that lies on it
    covariance : (2, 2) of factor and take-up
    count, of_this_head : notes it comes from, and how many of them with the head that lies there
    """

    per_turn: float
    factor: float
    take_up: float
    covariance: FloatArray
    count: int
    of_this_head: int

    def turns_to(self, tension_n_per_m: float) -> float:
        """Turns past finger tight at a tension."""
        return self.take_up + self.factor * tension_n_per_m / self.per_turn

    def spread(self, tension_n_per_m: float) -> float:
        """Standard deviation of a reading of turns at a tension, turns."""
        plain = tension_n_per_m / self.per_turn
        row = np.array([plain, 1.0])
        line = float(row @ self.covariance @ row)
        return math.sqrt(line + (OF_READING * plain) ** 2 + TURN_READ**2)

    def gained(self, turns: float) -> float:
        """Tension gained by so many turns, N/m."""
        return turns * self.per_turn / self.factor


def learn_turns(
    drum: Drum, side: str, fittings: Sequence[Sequence[tuple[float, float]]] = ()
) -> TurnLine:
    """The line of a head; without any notes, what is assumed before.

    Parameters
    ----------
    fittings : notes of (turns past finger tight, tension in N/m) of each head that lay there, the
        last of the one that lies there now, empty if nothing was noted of it

    Raises
    ------
    InputError
        If a note cannot be.
    """
    give = give_of(drum)
    head = drum.setting(side).head
    per_turn = tension_per_turn(drum, head, THREADS[drum.shell.rod_thread])
    fittings = fittings or ((),)
    # unknowns: factor less one, take-up, and what each fitting adds to the factor
    many = 2 + len(fittings)
    doubts = (give.sd, give.take_up_sd, *[OF_FITTING] * len(fittings))
    rows, seen = [*(np.eye(many) / np.array(doubts)[:, None])], [0.0] * many
    for place, notes in enumerate(fittings):
        for turns, tension in notes:
            check_range(turns, 0.0, 20.0, _("Turns"), "turns", "turns")
            check_range(tension, 1.0, 1e5, _("Tension"), "N/m", "tension")
            plain = tension / per_turn
            row = np.zeros(many)
            row[[0, 1, 2 + place]] = plain, 1.0, plain
            noise = math.hypot(OF_READING * plain, TENSION_LN * plain, TURN_READ)
            rows.append(row / noise)
            seen.append((turns - give.take_up - plain) / noise)
    by = np.array(rows)
    every: FloatArray = np.linalg.inv(by.T @ by)
    result = every @ by.T @ np.array(seen)
    of_now = np.zeros((2, many))
    of_now[0, [0, -1]], of_now[1, 1] = 1.0, 1.0
    more, taken = (of_now @ result).tolist()
    factor = max(1.0 + more, LEAST_FACTOR)
    return TurnLine(
        per_turn,
        factor,
        give.take_up + taken,
        of_now @ every @ of_now.T,
        sum(map(len, fittings)),
        len(fittings[-1]),
    )
