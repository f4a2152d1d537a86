"""What to turn, given the state of every rod, and what one more reading would show (theory 19)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.clearing import RimState
from kesselton.core.clear.clearing_records import COARSEST_STEP, FINEST_STEP
from kesselton.core.clear.rim import Rim
from kesselton.core.clear.rod_filter import TURN_SHARE
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.measure.gauges import PITCH_NOISE_CENTS
from kesselton.core.measure.rods import EDGE_FACTOR

SLACK = 0.05
"""No rod is loosened under this share of the mean pull."""
MAX_TURN = 0.5
PITCH_WEIGHT = 3.0
UNSEEN_CENTS = 12.0
"""A cent of pitch weighs as much as one of tension where the tension is seen; where it is not, up
to so many times as much, for then pitch is all there is to go by."""
ENOUGH_CENTS, TOO_WIDE = 2.0, 60.0
"""Lug pitches further apart than this weigh so much more, cents of spread squared: what is asked
for is that all lie within ten."""
MOVE_CENTS2 = 100.0
"""A rod is turned only if that takes so much off the mean square, cents^2 summed over the rods."""


@dataclass(frozen=True, eq=False)
class TurnPlan:
    """What to turn now.

    Attributes
    ----------
    turns : (N,) per rod, in steps of the key; positive tightens
    all_turns : to be given to every rod afterwards so that the head comes to its pitch
    pitch_cents, local_cents : (N,) expected afterwards
    spread_cents : largest less smallest lug pitch to expect, with what is not known
    held_back : rods that stay where they are because they would go slack
    """

    turns: FloatArray
    all_turns: float
    pitch_cents: FloatArray
    local_cents: FloatArray
    spread_cents: float
    held_back: tuple[int, ...]


def plan_turns(state: RimState, step: float = 1.0 / 64.0) -> TurnPlan:
    """The turns that bring the rim nearest to the wanted pattern, with few rods moved.

    Parameters
    ----------
    step : finest turn the key is set by

    Raises
    ------
    InputError
        If the step is none a hand can make.

    Notes
    -----
    Theory eq. 47: the mean square of tension and pitch round the rim, what an inexact hand adds,
    and a price for every rod touched; descent over whole steps, rod by rod, then without one rod
    after another.
    """
    if not FINEST_STEP <= step <= COARSEST_STEP:
        raise InputError(
            _("A finest turn of {step:g} is out of range.").format(step=step),
            _("Use 1/4 to 1/500."),
        )
    rods = state.rim.rods
    wide = state.goal - state.turns
    common = float(state.rim.edge_per_turn[0].real @ wide) / state.rim.turn_n_per_m
    aside = common if abs(common) > 0.125 else 0.0
    error = state.turns - (state.goal - aside)
    local, pitch = state.local_rows_cents, state.pitch_rows_cents
    worth = min(math.hypot(1.0, state.unseen_cents / UNSEEN_CENTS), PITCH_WEIGHT)
    both = np.vstack((local, worth * pitch))
    rest = np.concatenate((np.zeros(rods), worth * state.grain_cents))
    own = (both**2).sum(axis=0)
    force = state.rim.force_per_turn
    least = SLACK * EDGE_FACTOR * 2.0 * math.pi * state.rim.radius_m * state.tension_n_per_m / rods
    steps = round(MAX_TURN / step)
    turns = np.zeros(rods)

    def cost(u: FloatArray) -> FloatArray:
        """Of many tries (K, N): (K,)."""
        after = (error + u) @ both.T + rest
        square = (after**2).sum(axis=1)
        wide = np.ptp(after[:, rods:], axis=1) / worth - ENOUGH_CENTS
        square += TOO_WIDE * np.maximum(wide, 0.0) ** 2
        touched = MOVE_CENTS2 * np.count_nonzero(u, axis=1)
        pull = (state.turns + u) @ force.T
        slack = np.maximum(least - pull, 0.0).sum(axis=1)
        out: FloatArray = square + TURN_SHARE**2 * (u * u) @ own + touched + 1e3 * slack
        return out

    grid: FloatArray = step * np.arange(-steps, steps + 1, dtype=float)
    _descend(cost, turns, grid, range(rods))
    _spare(cost, turns, grid)
    pull = force @ (state.turns + turns)
    held = tuple(int(i) + 1 for i in np.flatnonzero(pull < 1.5 * least))
    after = error + turns
    expected = pitch @ after + state.grain_cents
    covariance = state.pitch_covariance + pitch @ np.diag((TURN_SHARE * turns) ** 2) @ pitch.T
    even = np.eye(rods) - 1.0 / rods
    doubt = math.sqrt(float(np.trace(even @ covariance @ even)) / rods)
    return TurnPlan(
        turns,
        aside,
        expected,
        local @ after,
        float(np.ptp(expected)) + 2.0 * doubt,
        held,
    )


def turn_for(rim: Rim, tension_n_per_m: float, rod: int, cents: float) -> float:
    """Turn of one rod alone that moves the lug pitch there so far, in turns of its key.

    Notes
    -----
    Theory eq. 44: the pitch beside a rod by a turn of that rod, the others left as they are.
    """
    return cents * tension_n_per_m / (CENTS * float(rim.pitch_rows[rod - 1, rod - 1]))


def _descend(
    cost: Callable[[FloatArray], FloatArray],
    turns: FloatArray,
    grid: FloatArray,
    free: Iterable[int],
) -> float:
    """Best step for one rod after another of those that may be turned, until nothing improves."""
    best = float(cost(turns[None])[0])
    for _unused in range(20):
        before = best
        for rod in free:
            tries = np.tile(turns, (len(grid), 1))
            tries[:, rod] = grid
            values = cost(tries)
            if values.min() < best - 1e-9:
                best = float(values.min())
                turns[rod] = grid[int(values.argmin())]
        if before - best < 1e-9:
            break
    return best


def _spare(cost: Callable[[FloatArray], FloatArray], turns: FloatArray, grid: FloatArray) -> None:
    """Leave one rod alone after another where the others can do its work for less."""
    best = float(cost(turns[None])[0])
    spared = True
    while spared:
        spared = False
        for rod in np.flatnonzero(turns):
            without = turns.copy()
            without[rod] = 0.0
            others = [i for i in range(len(turns)) if i != rod]
            value = _descend(cost, without, grid, others)
            if value < best - 1e-6:
                best, spared = value, True
                turns[:] = without


def suggest(state: RimState, can: tuple[str, ...] = ("dial",)) -> tuple[str, int, float]:
    """The one reading more that would show most: kind, rod, and cents of doubt left after it.

    Parameters
    ----------
    can : kinds of reading at hand
    """
    rods = state.rim.rods
    even = np.eye(rods) - 1.0 / rods
    local = even @ state.local_rows_cents
    kinds = {
        "dial": (0.5 * CENTS * state.rim.dial_rows / state.tension_n_per_m, 4.5),
        "lug_pitch": (state.pitch_rows_cents, PITCH_NOISE_CENTS),
    }
    best = ("dial", 1, math.inf)
    for kind in can:
        rows, noise = kinds[kind]
        for rod in range(rods):
            h = rows[rod]
            gain = state.covariance @ h / (h @ state.covariance @ h + noise**2)
            left = state.covariance - np.outer(gain, h @ state.covariance)
            doubt = math.sqrt(float(np.trace(local @ left @ local.T)) / rods)
            if doubt < best[2] - 1e-6:
                best = (kind, rod + 1, doubt)
    return best
