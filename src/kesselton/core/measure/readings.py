"""Readings of every kind, and the tensions that several of them together say (theory 14)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.air.outside import OutsideAir
from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.reading import Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import _, begin
from kesselton.core.measure.gauges import PITCH_NOISE_CENTS, DialFit, TurnFit
from kesselton.core.measure.rods import (
    give_of,
    hoop_compliance,
    tension_per_turn,
    torque_nm,
)
from kesselton.core.measure.turn_line import ROD_GIVE, TURN_READ, TurnLine
from kesselton.core.measure.unstated import (
    COUNT,
    DIAL_SCALE_SD,
    FRICTION_SD,
    PLACE,
    pitch_slopes,
)

MODEL_CENTS = 1.5
"""What numerics leave open in a lug pitch at known tension, one standard deviation (theory 7)."""
WHOLE_DRUM_CENTS = 4.0
"""The same of a whole-drum pitch, with the glide of a soft stroke; assumed."""
UNEVEN_CENTS, UNEVEN_LN = 4.0, 0.012
"""How far one rod's pitch, and the tension under a dial, stand from the mean of a head that passes
for clear, one standard deviation; assumed."""
ROD_FRICTION = 0.15
"""Friction from rod to rod, beside what all of a drum share, one standard deviation; assumed."""
GAP_M = 0.0002
"""A hoop's gap by steel rule, one standard deviation; assumed."""
PRIOR_LN = 1.5
"""Before any reading a tension may be anything within a factor of e^1.5 of 1500 N/m."""
PRIOR_N_PER_M = 1500.0
CONTRADICTION = 3.3
"""Standard deviations two readings may lie apart before they are named."""
MAX_STEPS = 25
STEP_LN = 1e-3


@dataclass(frozen=True)
class Observation:
    """A reading with what it takes to make a tension of it.

    Attributes
    ----------
    fit : calibration that belongs to it: DialFit, TurnFit or TurnLine, None where there is none
    friction, thread : of a torque; thread also of turns
    """

    reading: Reading
    fit: DialFit | TurnFit | TurnLine | None = None
    friction: str = "lubricated"
    thread: str = "no12_24"


@dataclass(frozen=True, eq=False)
class Forward:
    """What a reading should be at given tensions: value, slopes by ln T of each head, noise.

    All in the unit in which the reading is judged: cents for pitches, natural logarithm for
    torque and turns, divisions for a dial, metres for a gap.

    Attributes
    ----------
    common : (unstated.COUNT,) what each unstated term does, per standard deviation
    """

    value: float
    slope: FloatArray
    noise: float
    seen: float
    common: FloatArray

    @property
    def spread(self) -> float:
        """Standard deviation of the reading: its own noise and all that was not stated."""
        return math.hypot(self.noise, *self.common.tolist())


Slopes = dict[tuple[object, ...], FloatArray]
"""What unstated terms do to pitches, by condition: worked out once in an estimate."""


def forward(
    drum: Drum,
    observation: Observation,
    tensions_n_per_m: tuple[float, ...],
    known: Slopes | None = None,
) -> Forward:
    """Model of a reading at tensions (batter, resonant).

    Parameters
    ----------
    known : slopes of pitches by unstated terms that were worked out before; grows

    Raises
    ------
    InputError
        If a dial has no calibration.
    """
    known = {} if known is None else known
    if observation.reading.kind in ("lug_pitch", "fundamental"):
        value, slope = _pitch(drum, observation, tensions_n_per_m)
        whole = observation.reading.kind == "fundamental"
        rod = WHOLE_DRUM_CENTS if whole else math.hypot(MODEL_CENTS, UNEVEN_CENTS)
        common = _pitch_common(drum, observation.reading, tensions_n_per_m, known)
        seen = CENTS * math.log(observation.reading.value)
        return Forward(value, slope, math.hypot(PITCH_NOISE_CENTS, rod), seen, common)
    index = (
        drum.sides.index(observation.reading.side) if observation.reading.side in drum.sides else -1
    )
    if index < 0:
        drum.setting(observation.reading.side)  # raises, naming what is missing
    head = drum.setting(observation.reading.side).head
    tension = tensions_n_per_m[index]
    slope, common = np.zeros(len(tensions_n_per_m)), np.zeros(COUNT)
    if observation.reading.kind == "dial":
        return _dial(observation, head, tension, slope, index)
    if observation.reading.kind == "torque":
        slope[index] = 1.0
        common[PLACE["friction"]] = FRICTION_SD
        wanted = torque_nm(drum, tension, THREADS[observation.thread], observation.friction)
        return Forward(
            math.log(wanted),
            slope,
            ROD_FRICTION,
            math.log(max(observation.reading.value, 1e-6)),
            common,
        )
    if observation.reading.kind == "turns" and isinstance(observation.fit, TurnFit):
        hz = _muted(drum, observation.reading.side, tensions_n_per_m)
        slope[index] = hz * hz / observation.fit.slope_hz2
        pitched = Reading("lug_pitch", hz, observation.reading.side)
        cents = _pitch_common(drum, pitched, tensions_n_per_m, known)
        common = cents * (2.0 * hz * hz / observation.fit.slope_hz2 / CENTS)
        return Forward(
            observation.fit.turns_to(hz),
            slope,
            observation.fit.spread(hz),
            observation.reading.value,
            common,
        )
    if observation.reading.kind == "turns" and isinstance(observation.fit, TurnLine):
        slope[index] = observation.fit.factor * tension / observation.fit.per_turn
        value = observation.fit.turns_to(tension)
        return Forward(
            value, slope, observation.fit.spread(tension), observation.reading.value, common
        )
    give = give_of(drum)
    if observation.reading.kind == "turns":
        value = tension / tension_per_turn(drum, head, THREADS[observation.thread])
        read, first = math.hypot(TURN_READ, give.take_up_sd), give.take_up
    else:
        value = hoop_compliance(drum, head) * tension
        read, first = GAP_M, 0.0
    slope[index] = value
    common[PLACE[f"give_{observation.reading.side}"]] = give.sd * value
    noise = math.hypot(ROD_GIVE * value, read)
    return Forward(first + value, slope, noise, observation.reading.value, common)


def _dial(
    observation: Observation, head: Head, tension: float, slope: FloatArray, index: int
) -> Forward:
    """Model of a dial reading; its calibration is wrong alike for all readings of it."""
    if not isinstance(observation.fit, DialFit):
        raise InputError(
            _("The gauge is not calibrated: its readings cannot be compared between heads."),
            _("Add two pairs in Gauges, or use it only to compare rods."),
            "dial",
        )
    fit, thickness = observation.fit, head.film_thickness_m
    slope[index] = fit.slope(tension)
    common = np.zeros(COUNT)
    common[PLACE["dial_scale"]] = DIAL_SCALE_SD * slope[index]
    terms = fit.by_terms(tension, thickness)
    common[PLACE["dial_0"] : PLACE["dial_0"] + len(terms)] = terms
    noise = math.hypot(fit.noise, UNEVEN_LN * float(slope[index]))
    return Forward(fit.reading(tension, thickness), slope, noise, observation.reading.value, common)


def _pitch_common(
    drum: Drum, reading: Reading, tensions: tuple[float, ...], known: Slopes
) -> FloatArray:
    """What unstated terms do to a pitch; it changes little with tension."""
    whole = reading.kind == "fundamental" or reading.other_head == "free"
    key = (reading.kind, "" if whole else reading.side, reading.other_head)
    if key not in known:

        def solve(other: Drum, outside: OutsideAir | None) -> float:
            if reading.kind == "fundamental":
                return fundamental_hz(other, tensions, outside)
            return lug_pitch(
                other, reading.side, tensions, reading.other_head, reading.centre, outside
            )

        sides = drum.sides if whole else (reading.side,)
        known[key] = pitch_slopes(drum, sides, reading.kind == "fundamental", solve)
    return known[key]


def _muted(drum: Drum, side: str, tensions: tuple[float, ...]) -> float:
    return lug_pitch(drum, side, tensions)


def _pitch(
    drum: Drum, observation: Observation, tensions: tuple[float, ...]
) -> tuple[float, FloatArray]:
    """Cents of a pitch and its slopes by ln T, by differences."""

    def cents(now: tuple[float, ...]) -> float:
        if observation.reading.kind == "fundamental":
            hz = fundamental_hz(drum, now)
        else:
            hz = lug_pitch(
                drum,
                observation.reading.side,
                now,
                observation.reading.other_head,
                observation.reading.centre,
            )
        return CENTS * math.log(hz)

    here = cents(tensions)
    slope = np.zeros(len(tensions))
    for index in range(len(tensions)):
        alone = (
            observation.reading.kind == "lug_pitch" and observation.reading.other_head == "muted"
        )
        if alone and drum.sides[index] != observation.reading.side:
            continue
        moved = tuple(t * math.exp(STEP_LN) if i == index else t for i, t in enumerate(tensions))
        slope[index] = (cents(moved) - here) / STEP_LN
    return here, slope


@dataclass(frozen=True, eq=False)
class Estimate:
    """Tensions that readings say together.

    Attributes
    ----------
    tensions_n_per_m : per head
    covariance : of ln T
    residual : (N,) standard deviations each reading lies off
    contradiction : indices of two readings that cannot both be right, or None
    known : per head, False where no reading speaks of it
    """

    tensions_n_per_m: tuple[float, ...]
    covariance: FloatArray
    residual: FloatArray
    contradiction: tuple[int, int] | None
    known: tuple[bool, ...]

    def interval(self, index: int) -> tuple[float, float]:
        """Tension of a head, nine times in ten."""
        half = SIGMAS_90 * math.sqrt(float(self.covariance[index, index]))
        tension = self.tensions_n_per_m[index]
        return tension * math.exp(-half), tension * math.exp(half)


def estimate(drum: Drum, readings: Sequence[Observation], prior_ln: float = PRIOR_LN) -> Estimate:
    """Weighted least squares over readings of all kinds, with a wide prior (theory eq. 36).

    Raises
    ------
    InputError
        If there are no readings, or a dial without calibration.
    ConvergenceError
        If the search does not settle.
    """
    if not readings:
        raise InputError(_("There are no readings."), _("Enter at least one."), "readings")
    solved = _solve(drum, readings, prior_ln)
    contradiction = _contradiction(drum, readings, solved) if len(readings) > 1 else None
    return replace(solved, contradiction=contradiction)


def _solve(drum: Drum, readings: Sequence[Observation], prior_ln: float) -> Estimate:
    count = len(drum.sides)
    prior = np.full(count, math.log(PRIOR_N_PER_M))
    x = np.concatenate((_start(drum, readings, prior), np.zeros(COUNT)))
    wide = np.concatenate((np.full(count, prior_ln), np.ones(COUNT)))
    middle = np.concatenate((prior, np.zeros(COUNT)))
    known: Slopes = {}
    bound = _one_pull(drum)
    taken = np.zeros(count)
    for _unused in range(MAX_STEPS):
        now = tuple(np.exp(x[:count]).tolist())
        forwards = [forward(drum, reading, now, known) for reading in readings]
        rows = np.array([np.concatenate((f.slope, f.common)) / f.noise for f in forwards])
        off = np.array([(f.seen - f.value - f.common @ x[count:]) / f.noise for f in forwards])
        rows = np.vstack((rows, np.diag(1.0 / wide)))
        off = np.concatenate((off, (middle - x) / wide))
        if bound is not None:
            rows, off = np.vstack((rows, bound)), np.append(off, -bound @ x)
        step = np.linalg.lstsq(rows, off, rcond=None)[0]
        # a noise that grows with the tension lets it swing about the answer: back by a part
        swings = taken * step[:count] < 0.0
        back = np.abs(taken) / np.where(swings, np.abs(taken) + np.abs(step[:count]), 1.0)
        taken = np.clip(np.where(swings, back, 1.0) * step[:count], -0.5, 0.5)
        x[:count] += taken
        x[count:] += step[count:]
        if float(np.abs(step[:count]).max()) < 1e-5:
            break
    else:
        raise ConvergenceError(
            _("The readings do not agree on one tension."), _("Remove doubtful ones and try again.")
        )
    covariance = np.linalg.inv(rows.T @ rows)[:count, :count]
    slopes = np.array([f.slope for f in forwards])
    heard = tuple(bool(np.any(np.abs(slopes[:, i]) > 1e-9)) for i in range(count))
    if bound is not None:  # what is known of one is known of the other
        heard = (any(heard),) * count
    residual = off[: len(readings)] - (rows @ step)[: len(readings)]
    return Estimate(tuple(np.exp(x[:count]).tolist()), covariance, residual, None, heard)


def _one_pull(drum: Drum) -> FloatArray | None:
    """Row of the least squares that holds both tensions together where one pull draws both heads
    (theory eq. 77)."""
    if drum.one_pull is None:
        return None
    row = np.zeros(2 + COUNT)
    row[:2] = np.array([-1.0, 1.0]) * SIGMAS_90 / math.log1p(drum.one_pull)
    return row


def _start(drum: Drum, readings: Sequence[Observation], prior: FloatArray) -> FloatArray:
    """ln T to begin with: a muted lug pitch if there is one, else what the dial says."""
    x = prior.copy()
    for index, side in enumerate(drum.sides):
        for reading in readings:
            if reading.reading.side != side:
                continue
            head = drum.setting(side).head
            if reading.reading.kind == "lug_pitch":
                x[index] = math.log(tension_from_pitch(drum, side, reading.reading.value))
                break
            if reading.reading.kind == "dial" and isinstance(reading.fit, DialFit):
                x[index] = math.log(
                    reading.fit.tension(reading.reading.value, head.film_thickness_m)
                )
    return x


def _contradiction(
    drum: Drum, readings: Sequence[Observation], solved: Estimate
) -> tuple[int, int] | None:
    """The two readings that lie farthest apart, if they cannot both be right.

    Two readings are set against each other along the line that the others leave free: each says a
    ln T of its head, with its own noise and what the unstated does to the one and not the other.
    """
    now = solved.tensions_n_per_m
    known: Slopes = {}
    forwards = [forward(drum, reading, now, known) for reading in readings]
    worst, pair = CONTRADICTION, None
    for i in range(len(readings)):
        for j in range(i + 1, len(readings)):
            a, b = forwards[i], forwards[j]
            both = np.abs(a.slope) * np.abs(b.slope)
            if float(both.max()) <= 1e-12:
                continue  # they speak of different heads
            side = int(np.argmax(both))
            say = [(f.seen - f.value) / f.slope[side] for f in (a, b)]
            apart = a.common / a.slope[side] - b.common / b.slope[side]
            own = (a.noise / a.slope[side], b.noise / b.slope[side])
            spread = math.hypot(*own, *apart.tolist())
            away = abs(say[0] - say[1]) / abs(spread)
            if away > worst:
                worst, pair = away, (i, j)
    return pair


def contradiction_words(
    readings: Sequence[Observation], pair: tuple[int, int], numbers: Sequence[int]
) -> str:
    """The two that cannot both be right, in words; `numbers` are theirs on the list of the drum."""
    first, second = (
        _("reading {numbers} ({in_full})").format(
            numbers=numbers[i], in_full=readings[i].reading.in_full
        )
        for i in pair
    )
    return _("{first} and {second} conflict: read both again and remove the wrong one.").format(
        first=begin(first), second=second
    )


def expected(
    drum: Drum, observation: Observation, tensions_n_per_m: tuple[float, ...]
) -> tuple[float, float]:
    """What a reading must be at tensions, in its own unit, and its half-width nine times in ten."""
    result = forward(drum, observation, tensions_n_per_m)
    half = SIGMAS_90 * result.spread
    if observation.reading.kind in ("lug_pitch", "fundamental"):
        return math.exp(result.value / CENTS), half
    if observation.reading.kind == "torque":
        return math.exp(result.value), math.exp(result.value) * half
    return result.value, half
