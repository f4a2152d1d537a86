"""A rod that was heard off while the one opposite was not.

The (1,1) of a head sounds opposite rods together, so a rim that only bends cannot read so: one of
the two readings is wrong, or the rod is off beside the tap alone. Which, another reading opposite
tells; then the rod that was heard is the one to turn.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from statistics import median

import numpy as np

from kesselton.core.clear.by_ear import ALIKE_CENTS, LEAST_CENTS, SPREAD, reference
from kesselton.core.clear.clearing import RimState
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.clear.rod_filter import STANDS_OFF
from kesselton.core.clear.turning import MAX_TURN, TurnPlan
from kesselton.core.instrument.reading import Reading
from kesselton.core.measure.gauges import PITCH_NOISE_CENTS
from kesselton.core.pitch import cents_between

OFF_CENTS = 5.0
"""Half of what lug pitches may lie apart on a clear head (common practice, no published source)."""
FIRM = 3.0
"""Standard deviations by which a pitch that was read stands off."""
BY_EAR_CENTS = SPREAD * LEAST_CENTS
"""The least spread of an answer "higher" or "lower": readings that are surer name a pitch."""


@dataclass(frozen=True)
class Heard:
    """A rod off the middle of its round: by so many cents, known to `spread` (one standard
    deviation)."""

    rod: int
    cents: float
    spread: float


def heard_off(clearing: Clearing) -> list[Heard]:
    """Rods of the round being read whose lug pitch is off the middle of all, the furthest first:
    by any answer of an ear, by more than its noise where a pitch was read."""
    taps = [tap for tap in clearing.now.taps if tap.kind == "lug_pitch"]
    if len(taps) < 3 or clearing.pattern == "own":
        return []
    middle = median(tap.value for tap in taps)
    off = []
    for tap in taps:
        cents, spread = cents_between(middle, tap.value), tap.spread or PITCH_NOISE_CENTS
        ear = _by_ear(tap)
        if abs(cents) > (OFF_CENTS if ear else max(OFF_CENTS, FIRM * spread)):
            off.append(Heard(tap.rod, cents, spread))
    return sorted(off, key=lambda item: -abs(item.cents))


def _by_ear(tap: Reading) -> bool:
    return tap.spread >= BY_EAR_CENTS - 1e-9 and tap.spread != ALIKE_CENTS


def opposite(rod: int, rods: int) -> int:
    """The rod across the head; 0 where there is none."""
    return 0 if rods % 2 else (rod - 1 + rods // 2) % rods + 1


def one_sided(clearing: Clearing, rods: int) -> list[Heard]:
    """Those of `heard_off` whose opposite was read too, and is not off the same way by half as
    much."""
    off = heard_off(clearing)
    taps = [tap for tap in clearing.now.taps if tap.kind == "lug_pitch"]
    middle = median(tap.value for tap in taps) if taps else 1.0
    read = {tap.rod: tap for tap in taps}
    alone = []
    for rod in off:
        across = read.get(opposite(rod.rod, rods))
        if across is None:
            continue
        there, spread = cents_between(middle, across.value), across.spread or PITCH_NOISE_CENTS
        apart = abs(rod.cents - there)
        firm = _by_ear(read[rod.rod]) or apart > STANDS_OFF * math.hypot(rod.spread, spread)
        if firm and apart > 0.5 * abs(rod.cents):
            alone.append(rod)
    return alone


def to_read_again(clearing: Clearing, rod: Heard, rods: int) -> int:
    """The rod whose reading tells whether one that is heard off alone is: the one opposite; itself
    where that is the one an ear compares with."""
    across, against = opposite(rod.rod, rods), reference(clearing)
    by_ear = rod.spread >= BY_EAR_CENTS - 1e-9
    return rod.rod if by_ear and against is not None and against.rod == across else across


def without(clearing: Clearing, rods: set[int]) -> Clearing:
    """The rounds without what was heard at these rods in the one being read."""
    taps = tuple(t for t in clearing.now.taps if t.kind != "lug_pitch" or t.rod not in rods)
    now = replace(clearing.now, taps=taps)
    return replace(clearing, rounds=(*clearing.rounds[:-1], now))


def with_own_turns(plan: TurnPlan, state: RimState, heard: list[Heard], step: float) -> TurnPlan:
    """The plan, with each of these rods turned by itself as far as it was heard off.

    Parameters
    ----------
    step : finest turn of the key; a rod that was heard off gets one at the least
    """
    turns, doubt = plan.turns.copy(), 0.0
    for rod in heard:
        i = rod.rod - 1
        asked = -rod.cents / float(state.local_rows_cents[i, i])
        steps = max(1, round(min(abs(asked), MAX_TURN) / step))
        turns[i] = float(np.sign(asked)) * steps * step
        doubt = max(doubt, rod.spread)
    return replace(plan, turns=turns, spread_cents=plan.spread_cents + doubt)
