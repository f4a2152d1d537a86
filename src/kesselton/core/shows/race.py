"""Clearing against the clock: the next reading or turn is the one that gains most a second.

Nothing here goes round by round: each reading is one, each turn is one, and after each of them it
is known how uneven the head would be if the curtain rose now (theory 98 to 100).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.clearing import RimState, assess, dial_sees, pitch_sees
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.clear.rim_looks import (
    HIDES,
    MODEL_SHARE,
    SECOND_ORDER,
    TYPICAL_DIVISIONS,
)
from kesselton.core.clear.rod_filter import TURN_SHARE
from kesselton.core.clear.turning import plan_turns
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.measure.gauges import DIAL_NOISE, DialFit

READ_S, TURN_S = 8.0, 8.0
"""A reading and a turn with everything around them, seconds; assumed, learned from repairs."""
STAGE_PITCH_CENTS = 7.0
"""Of a tap while a band plays, one standard deviation; from taps at 20 dB over it."""
DRAWS = 256
SURE, BESIDE = 0.9, 0.05
READ, TURN, ENOUGH = "read", "turn", "enough"
CLEAR_CENTS, FINE_CENTS = 10.0, 4.0
"""Rods that lie within the first, nine chances in ten, are clear (theory 19): one may stop. While
there is time it goes on, down to the second."""
LEAST_GAIN_CENTS = 0.15
"""Once the head is clear, a reading that gains less is not asked for; assumed."""
AHEAD = 0.5
"""A turn is made once it gains this much a second of what the best reading does: turns made later
are made on better knowledge, but the time may be over before; from trials on the simulated head."""


@dataclass(frozen=True, eq=False)
class Now:
    """What would be left if the curtain rose now.

    Attributes
    ----------
    spread_cents : largest less smallest lug pitch, with nine chances in ten not more
    expected_cents : the same in the mean
    worst_rod, worst_cents : the rod that is farthest out, and how far (above zero: sharp)
    """

    spread_cents: float
    expected_cents: float
    worst_rod: int
    worst_cents: float

    @property
    def clear(self) -> bool:
        """Whether one may stop."""
        return self.spread_cents <= CLEAR_CENTS


@dataclass(frozen=True, eq=False)
class Advice:
    """What to do next.

    Attributes
    ----------
    what : READ, TURN or ENOUGH
    rod : which one; 0 where it is enough
    kind : of the reading, "" where it is none
    turns : by how much, positive tightens
    now : what would be left if nothing more were done
    then_cents : the mean spread to expect when all that is planned is done
    state : what it rests on; None before anything is read
    """

    what: str
    rod: int
    kind: str
    turns: float
    now: Now
    then_cents: float
    state: RimState | None = None


def advise(
    drum: Drum,
    clearing: Clearing,
    left_s: float,
    kinds: tuple[str, ...] = ("dial",),
    dial: DialFit | None = None,
    seconds: tuple[float, float] = (READ_S, TURN_S),
) -> Advice:
    """The next reading or turn, by what is gained a second.

    Parameters
    ----------
    clearing : every single turn ends a round of it
    left_s : until the curtain rises
    kinds : of reading at hand, "dial", "lug_pitch" or both
    seconds : that a reading and a turn take

    Raises
    ------
    InputError
        If the times cannot be, or the readings do not belong to this drum.

    Notes
    -----
    Theory eqs. 98 to 100. The mean of the largest less the smallest of correlated pitches has no
    closed form; it is taken over draws that are the same for every choice, so choices are compared
    without noise. A turn is worth what all planned turns gain, shared by their number.
    """
    check_range(left_s, 0.0, 86400.0, _("Time left"), "s")
    for value, what in zip(seconds, (_("A reading"), _("A turn")), strict=True):
        check_range(value, 0.5, 600.0, what, "s")
    read_s, turn_s = seconds
    rods = drum.shell.rods
    if not any(r.taps for r in clearing.rounds):
        return Advice(READ, 1, kinds[0], 0.0, _unread(rods), np.nan)
    state = assess(drum, clearing, dial)
    draws = _draws(rods)
    now = _state_now(state, draws)
    planned = plan_turns(state, clearing.step)
    wanted = np.flatnonzero(planned.turns)
    after = _spread(planned.pitch_cents, _after_turns(state, planned.turns), draws)
    gain_turns = (now.expected_cents - after) / (max(len(wanted), 1) * turn_s)
    tries = [
        (*_best_reading(state, planned.turns, planned.pitch_cents, kind, draws), kind)
        for kind in kinds
    ]
    rod, gain_read, kind = max(tries, key=lambda item: item[1])
    gain_read /= read_s
    must_turn = gain_turns > 0.0 and left_s < len(wanted) * turn_s + read_s
    if left_s < min(read_s, turn_s):
        return Advice(ENOUGH, 0, "", 0.0, now, after, state)
    if len(wanted) and (must_turn or gain_turns > AHEAD * gain_read) and gain_turns > 0.0:
        first = _first_turn(state, planned.turns, draws)
        return Advice(TURN, first + 1, "", float(planned.turns[first]), now, after, state)
    worth = gain_read * read_s >= LEAST_GAIN_CENTS or not now.clear
    if now.spread_cents > FINE_CENTS and worth and not must_turn:
        return Advice(READ, rod, kind, 0.0, now, after, state)
    return Advice(ENOUGH, 0, "", 0.0, now, after, state)


def _state_now(state: RimState, draws: FloatArray) -> Now:
    """What would be left if the curtain rose now."""
    away = state.pitch_cents - state.pitch_cents.mean()
    every = _spreads(away, state.pitch_covariance, draws)
    # opposite rods share one lug pitch: the one beside which the tension is off is meant
    worst = int(np.argmax(np.abs(away) + BESIDE * np.abs(state.local_cents)))
    return Now(
        float(np.quantile(every, SURE)),
        float(every.mean()),
        worst + 1,
        float(away[worst]),
    )


def done(clearing: Clearing, rods: int, rod: int, turns: float) -> Clearing:
    """The clearing once a rod was turned: each turn ends its round."""
    results = [0.0] * rods
    results[rod - 1] = turns
    return clearing.turned(tuple(results))


def read(clearing: Clearing, reading: Reading, state: RimState | None) -> Clearing:
    """The clearing with a reading more, as sure as it can be on a stage.

    Parameters
    ----------
    state : before it was taken, None for the first. What the linear rim cannot say of an uneven
        head is told from the readings of a whole round elsewhere; here a round may be one reading.
    """
    noise = noise_cents(state, reading.kind)[reading.rod - 1] if state is not None else UNREAD_NOISE
    if reading.kind == "dial":
        noise *= TYPICAL_DIVISIONS / (0.5 * CENTS)
    taken = replace(reading, spread=max(reading.spread, float(noise)))
    same = (taken.kind, taken.rod)
    before = next((t for t in clearing.now.taps if (t.kind, t.rod) == same), None)
    if before is not None:  # the same once more: both count, by how sure they are
        sure = (before.spread**-2, taken.spread**-2)
        value = (sure[0] * before.value + sure[1] * taken.value) / sum(sure)
        taken = replace(taken, value=value, spread=sum(sure) ** -0.5)
    return clearing.with_tap(taken)


UNREAD_NOISE = 9.0
"""Of the first reading, cents: what the linear rim leaves of a head a half step uneven; assumed."""


def noise_cents(state: RimState, kind: str) -> FloatArray:
    """(N,) standard deviation of a reading at every rod, cents of pitch: of gauge or ear, and of
    what the linear rim cannot say while the head is uneven (theory 19)."""
    away = state.pitch_cents - state.pitch_cents.mean()
    model = MODEL_SHARE * np.abs(away)
    if kind == "dial":
        own: FloatArray = np.hypot(0.5 * CENTS * DIAL_NOISE / TYPICAL_DIVISIONS, model)
        return own
    uneven = HIDES * 2.0 * float(np.sqrt(np.mean(away**2))) / CENTS
    out: FloatArray = np.hypot(
        np.hypot(STAGE_PITCH_CENTS, 0.5 * CENTS * SECOND_ORDER * uneven**2), model
    )
    return out


def _unread(rods: int) -> Now:
    """Before anything is read: a half step between rods is usual (common practice)."""
    every = np.ptp(_draws(rods), axis=1) * UNREAD_CENTS
    return Now(float(np.quantile(every, SURE)), float(every.mean()), 0, 0.0)


UNREAD_CENTS = 35.0
"""One rod against the others before it is read, one standard deviation: extremes are about a half
step apart on six rods (common practice, no published source)."""


def _draws(rods: int) -> FloatArray:
    """(DRAWS, rods) the same every time."""
    out: FloatArray = np.random.default_rng(rods).standard_normal((DRAWS, rods))
    return out


def _spreads(mean: FloatArray, covariance: FloatArray, draws: FloatArray) -> FloatArray:
    """(DRAWS,) largest less smallest of pitches with this mean and covariance."""
    values, shapes = np.linalg.eigh(covariance)
    root = shapes * np.sqrt(np.maximum(values, 0.0))
    out: FloatArray = np.ptp(mean + draws @ root.T, axis=1)
    return out


def _spread(mean: FloatArray, covariance: FloatArray, draws: FloatArray) -> float:
    return float(_spreads(mean, covariance, draws).mean())


def _after_turns(state: RimState, turns: FloatArray) -> FloatArray:
    """(N, N) covariance of the pitches once rods are turned as exactly as a hand does."""
    rows = state.pitch_rows_cents
    out: FloatArray = state.pitch_covariance + rows @ np.diag((TURN_SHARE * turns) ** 2) @ rows.T
    return out


def _first_turn(state: RimState, turns: FloatArray, draws: FloatArray) -> int:
    """Of the turns that are planned, the one without which most would be left."""
    rows = state.pitch_rows_cents
    best, number = np.inf, int(np.flatnonzero(turns)[0])
    for rod in np.flatnonzero(turns):
        values = np.zeros(len(turns))
        values[rod] = turns[rod]
        left = _spread(state.pitch_cents + rows @ values, _after_turns(state, values), draws)
        if left < best:
            best, number = left, int(rod)
    return number


def _best_reading(
    state: RimState,
    turns: FloatArray,
    expected: FloatArray,
    kind: str,
    draws: FloatArray,
) -> tuple[int, float]:
    """The rod whose reading takes most off what is left after the turns, and how much, cents."""
    rods = state.rim.rods
    covariance = _after_turns(state, turns)
    before = _spread(expected, covariance, draws)
    rim, mean = state.rim, state.tension_n_per_m
    pitch = pitch_sees(rim, mean)
    sees = dial_sees(rim, mean) if kind == "dial" else pitch
    noise = noise_cents(state, kind)
    best, number = -np.inf, 1
    for rod in range(rods):
        seen = state.joint @ sees[rod]
        innovation = float(sees[rod] @ seen) + noise[rod] ** 2
        across = pitch @ seen
        left = _spread(expected, covariance - np.outer(across, across) / innovation, draws)
        gain = before - left
        if gain > best:
            best, number = gain, rod + 1
    return number, best
