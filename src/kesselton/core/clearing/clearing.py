"""Measure once round, know what to turn: the state of every rod from readings (theory 19)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from kesselton.core.acoustics.lug import tension_from_pitch, tensions
from kesselton.core.arrays import FloatArray
from kesselton.core.clearing.clearing_records import Clearing, Round
from kesselton.core.clearing.rim import Rim, rim_of
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.measuring.gauges import DIAL_NOISE, PITCH_NOISE_CENTS, DialFit
from kesselton.core.measuring.plan import bed_pattern
from kesselton.core.measuring.rods import EDGE_FACTOR, TORQUE_SCATTER

PRIOR_TURN = 0.15
"""How far one rod may be out before anything is read, one standard deviation; assumed."""
PRIOR_MEAN = 0.06
"""Doubt about the mean tension before anything is read, as a share; assumed."""
TURN_SHARE = 0.15
"""A hand turns a rod so exactly, as a share; assumed. `STICK` is what friction keeps back."""
STICK = 0.008
MODEL_CENTS = 1.5
"""What the linear rim cannot say of a reading, one standard deviation; assumed."""
DIAL_MODEL = 0.004
"""The same of a dial, ln of tension: where it stands by a millimetre; assumed."""
MODEL_SHARE = 0.05
"""The same for a rod far out, as a share of how far; from trials on the simulated head."""
SECOND_ORDER = 1.2
"""What a pitch leaves the linear rim by, for the square of the unevenness, all in ln of tension;
from the modes on the whole field. Pitch shows a part of the unevenness only: 1 in HIDES."""
HIDES = 1.5
TYPICAL_DIVISIONS = 100.0
"""Divisions for a neper of tension before a dial is calibrated: about one for each per cent."""
SECOND_SPREAD = 4.0
COLLAR_LN, LUG_LN, HOOP_LN = 0.30, 0.30, 0.40
"""Doubt about collar, lugs and hoop before rounds taught them, ln; assumed."""
COLLARS = LUGS = np.linspace(-0.6, 0.6, 5)
HOOPS = np.linspace(-0.8, 0.8, 5)
GRAIN = 0.004
"""How far film that is not alike both ways may split the (1,1), of ln f^2; assumed."""
STANDS_OFF = 3.7
"""Standard deviations a reading may be off before it is named."""
AGAIN = 2
OFFSETS = {"dial": 0, "second": 1, "torque": 2}
LEARN_FROM = 16.0
"""What was turned must show so far over the noise before friction is judged by it, squared."""


@dataclass(frozen=True)
class Learned:
    """What rounds have taught of a rim: ln of collar, lug and hoop stiffness over what is assumed.

    `doubt` holds their standard deviations.
    """

    values: tuple[float, float, float] = (0.0, 0.0, 0.0)
    doubt: tuple[float, float, float] = (COLLAR_LN, LUG_LN, HOOP_LN)


@dataclass(frozen=True, eq=False)
class RimState:
    """What the readings say of every rod.

    Attributes
    ----------
    rim : with what was learned
    tension_n_per_m : mean tension
    turns : (N,) turns past take-up, mean of the estimate; covariance (N, N)
    local_cents : (N,) tension beside each rod against the wanted pattern, as cents of pitch
    local_doubt : (N,) standard deviations
    pitch_cents : (N,) lug pitch to expect at each rod against the wanted one
    outliers : rods whose readings stand off what any turning could explain
    response_ratio : share of the way asked for that the rods went, None before a second round;
        `response_doubt`
        is its standard deviation
    learned : for the next time on this drum
    wanted_n_per_m : mean tension wanted
    goal : (N,) turns at which the pattern is as wanted
    grain_cents : (N,) lug pitch that comes from film not alike both ways
    pitch_covariance : (N, N) of pitch_cents
    unseen_cents : unevenness these readings cannot show, one standard deviation at a rod
    """

    rim: Rim
    tension_n_per_m: float
    turns: FloatArray
    covariance: FloatArray
    local_cents: FloatArray
    local_doubt: FloatArray
    pitch_cents: FloatArray
    outliers: tuple[int, ...]
    response_ratio: float | None
    response_doubt: float
    learned: Learned
    wanted_n_per_m: float
    goal: FloatArray
    grain_cents: FloatArray
    pitch_covariance: FloatArray
    unseen_cents: float

    @property
    def local_rows_cents(self) -> FloatArray:
        """(N, N) cents of pitch of the tension beside a rod, for a turn of each."""
        return 0.5 * CENTS * self.rim.local_rows / self.tension_n_per_m

    @property
    def pitch_rows_cents(self) -> FloatArray:
        """(N, N) cents of lug pitch for a turn of each."""
        return CENTS * self.rim.pitch_rows / self.tension_n_per_m


@dataclass(frozen=True, eq=False)
class _Look:
    """Readings of a round as natural logarithms of tension: rows kind by kind."""

    kind: list[str]
    rod: list[int]
    value: FloatArray
    noise: FloatArray


def assess(
    drum: Drum,
    clearing: Clearing,
    dial: DialFit | None = None,
    learned: Learned | None = None,
) -> RimState:
    """Tension round the rim from all rounds of readings and turns.

    Parameters
    ----------
    dial : calibration of the dial, None to use its differences only
    learned : what earlier clearings of this head on this drum taught

    Raises
    ------
    InputError
        If nothing was read, or the readings do not belong to this drum.

    Notes
    -----
    Theory eqs. 44 to 46: a Kalman filter over the turns of the rods, run for every pair of turn
    scale and hoop stiffness on a grid; what the grid finds likely is what was learned.
    """
    rods = drum.shell.rods
    clearing.check(rods)
    if not any(r.taps for r in clearing.rounds):
        raise InputError("Nothing has been read yet.", "Tap a rod, or enter what the dial says.")
    begun, ref_hz = _begin(drum, clearing, dial)
    known = learned or Learned()
    looks = [
        _look(r, begun, ref_hz, dial, drum.setting(clearing.side).head.film_thickness_m)
        for r in clearing.rounds
    ]
    base = rim_of(drum, clearing.side)
    grid = _grid(base)
    many = _filter(grid.rows, grid.per_turn, begun, clearing, looks)
    away = (grid.points - np.array(known.values)) / np.array(known.doubt)
    weight = many.log_likelihood - 0.5 * (away**2).sum(axis=1)
    weight = np.exp(weight - weight.max())
    weight /= weight.sum()
    taught = weight @ grid.points
    doubt_ln = np.sqrt(weight @ (grid.points - taught) ** 2)
    rim = _changed(base, tuple(taught.tolist()))
    rows_ = {kind: rows[None] for kind, rows in _sees(rim).items()}
    fit = _filter(rows_, np.array([rim.turn_n_per_m]), begun, clearing, looks)
    turns, covariance = fit.mean[0, :rods], fit.covariance[0, :rods, :rods]
    grain = fit.mean[0, rods + 3 :]
    mean = float(rim.edge_per_turn[0].real @ turns)
    wanted = mean
    if clearing.target_hz is not None:
        wanted = tension_from_pitch(drum, clearing.side, clearing.target_hz)
    pattern = wanted_pattern(clearing, rods)
    goal = np.asarray(np.linalg.solve(rim.local_rows, wanted * pattern), float)
    local = 0.5 * CENTS * np.log(np.maximum(rim.local_rows @ turns, 1.0) / (wanted * pattern))
    even = np.eye(rods) - 1.0 / rods
    rows = even @ (0.5 * CENTS * rim.local_rows / mean)
    doubt = np.sqrt(np.diag(rows @ covariance @ rows.T))
    heard = 2.0 * rim.pitch_rows @ turns
    pitch = 0.5 * CENTS * np.log(np.maximum(heard, 1.0) / (2.0 * rim.pitch_rows @ goal))
    angle = 2.0 * rim.angles
    sees = np.zeros((rods, rods + 5))
    sees[:, :rods] = CENTS * rim.pitch_rows / mean
    sees[:, rods + 3] = 0.5 * CENTS * np.cos(angle)
    sees[:, rods + 4] = 0.5 * CENTS * np.sin(angle)
    pitch_covariance: FloatArray = sees @ fit.covariance[0] @ sees.T
    grain_cents: FloatArray = 0.5 * CENTS * (grain[0] * np.cos(angle) + grain[1] * np.sin(angle))
    pitch = pitch + grain_cents
    unseen = math.sqrt(float(np.mean(doubt**2)))
    return RimState(
        rim,
        mean,
        turns,
        covariance,
        local,
        doubt,
        pitch,
        fit.outliers,
        fit.response_ratio,
        fit.response_doubt,
        Learned(tuple(taught.tolist()), tuple(np.maximum(doubt_ln, 0.05).tolist())),
        wanted,
        goal,
        grain_cents,
        pitch_covariance,
        unseen,
    )


@dataclass(frozen=True, eq=False)
class _Grid:
    """Every rim on the grid of what is not known: points (G, 3), rows per kind (G, N, N)."""

    points: FloatArray
    rows: dict[str, FloatArray]
    per_turn: FloatArray


@lru_cache(maxsize=32)
def _grid(base: Rim) -> _Grid:
    points = np.array(list(itertools.product(COLLARS, LUGS, HOOPS)))
    rims = [_changed(base, tuple(point)) for point in points.tolist()]
    seen = [_sees(rim) for rim in rims]
    rows = {kind: np.array([one[kind] for one in seen]) for kind in seen[0]}
    return _Grid(points, rows, np.array([rim.turn_n_per_m for rim in rims]))


def _changed(base: Rim, ln: tuple[float, ...]) -> Rim:
    """The rim with collar, lugs and hoop stiffer by so much, ln."""
    collar, lug, hoop = (math.exp(x) for x in ln)
    return replace(
        base.stiffer(hoop),
        collar_m2_per_n=base.collar_m2_per_n / collar,
        lug_n_per_m=base.lug_n_per_m * lug,
    )


def _sees(rim: Rim) -> dict[str, FloatArray]:
    """Tension each kind of reading sees at every rod, per turn of every rod; of a torque, the
    tension that the rod's pull would be the share of."""
    return {
        "pitch": 2.0 * rim.pitch_rows,
        "second": 2.0 * rim.second_rows,
        "dial": rim.dial_rows,
        "torque": rim.force_per_turn * rim.rods / (2.0 * math.pi * rim.radius_m * EDGE_FACTOR),
    }


def wanted_pattern(clearing: Clearing, rods: int) -> FloatArray:
    """(rods,) tension wanted beside each rod over their mean."""
    if clearing.pattern == "beds":
        return np.array(bed_pattern(rods))
    if clearing.pattern == "own":
        shares = np.array(clearing.wanted)
        out: FloatArray = shares / shares.mean()
        return out
    return np.ones(rods)


def _begin(drum: Drum, clearing: Clearing, dial: DialFit | None) -> tuple[float, float]:
    """Mean tension when the first round was read, and the lug pitch that belongs to it."""
    pitches = [t.value for t in clearing.rounds[0].taps if t.kind == "pitch"]
    if not pitches:
        pitches = [t.value for r in clearing.rounds for t in r.taps if t.kind == "pitch"]
    if pitches:
        hz = math.exp(sum(math.log(p) for p in pitches) / len(pitches))
        return tension_from_pitch(drum, clearing.side, hz), hz
    dials = [t.value for t in clearing.rounds[0].taps if t.kind == "dial"]
    if dial is not None and dials:
        thickness = drum.setting(clearing.side).head.film_thickness_m
        return dial.tension(sum(dials) / len(dials), thickness), math.nan
    return tensions(drum)[drum.sides.index(clearing.side)], math.nan


def _look(
    one: Round, begun: float, ref_hz: float, dial: DialFit | None, thickness_m: float
) -> _Look:
    kinds, at, value, noise = [], [], [], []
    for tap in one.taps:
        kinds.append(tap.kind)
        at.append(tap.rod - 1)
        if tap.kind == "dial":
            own = tap.spread or DIAL_NOISE
            if dial is None:
                value.append(tap.value / TYPICAL_DIVISIONS)
                noise.append(own / TYPICAL_DIVISIONS)
            else:
                tension = dial.tension(tap.value, thickness_m)
                value.append(math.log(tension / begun))
                noise.append(math.hypot(own / dial.slope(tension), DIAL_MODEL))
            continue
        if tap.kind == "torque":
            value.append(math.log(tap.value))
            noise.append(tap.spread / tap.value if tap.spread else TORQUE_SCATTER)
            continue
        usual = PITCH_NOISE_CENTS if tap.kind == "pitch" else SECOND_SPREAD
        value.append(2.0 * math.log(tap.value / ref_hz))
        noise.append(2.0 * math.hypot(tap.spread or usual, MODEL_CENTS) / CENTS)
    values, noises = np.array(value), np.array(noise)
    of = np.array(kinds)
    uneven = 0.0
    for kind in set(kinds):
        away = values[of == kind] - values[of == kind].mean()
        noises[of == kind] = np.hypot(noises[of == kind], MODEL_SHARE * away)
        shows = {"pitch": HIDES, "dial": 1.0}.get(kind, 0.0)
        uneven = max(uneven, shows * float(np.sqrt(np.mean(away**2))))
    tones = (of == "pitch") | (of == "second")
    noises[tones] = np.hypot(noises[tones], SECOND_ORDER * uneven**2)
    return _Look(kinds, at, values, noises)


@dataclass(frozen=True, eq=False)
class _Fit:
    """States of G rims: (G, size), (G, size, size), (G,)."""

    mean: FloatArray
    covariance: FloatArray
    log_likelihood: FloatArray
    outliers: tuple[int, ...]
    response_ratio: float | None
    response_doubt: float


def _filter(
    rows: dict[str, FloatArray],
    per_turn: FloatArray,
    begun: float,
    clearing: Clearing,
    looks: list[_Look],
) -> _Fit:
    """Kalman filter over rounds for G rims at once.

    The state is the turns of every rod, the offset of an uncalibrated dial, that of the second
    partial (its ratio is the air's affair), that of a torque (its friction is alike at all rods,
    but not known) and the two parts of the film's grain.
    """
    many, rods = rows["dial"].shape[:2]
    size = rods + 5
    angle = 4.0 * np.pi * np.arange(rods) / rods
    mean = np.zeros((many, size))
    mean[:, :rods] = (begun / per_turn)[:, None]
    covariance = np.zeros((many, size, size))
    covariance[:, :rods, :rods] = PRIOR_TURN**2 * np.eye(rods)
    covariance[:, :rods, :rods] += (PRIOR_MEAN * mean[:, 0])[:, None, None] ** 2
    covariance[:, rods:, rods:] = np.diag((25.0, 25.0, 100.0, GRAIN**2, GRAIN**2))
    total = np.zeros(many)
    outliers: list[int] = []
    response_ratio, response_doubt = None, 0.0
    for number, (one, look) in enumerate(zip(clearing.rounds, looks, strict=True)):
        if len(look.kind):
            sees = np.zeros((many, len(look.kind), size))
            for line, (kind, rod) in enumerate(zip(look.kind, look.rod, strict=True)):
                sees[:, line, :rods] = rows[kind][:, rod]
                if kind == "pitch":
                    sees[:, line, rods + 3 :] = math.cos(angle[rod]), math.sin(angle[rod])
                else:
                    sees[:, line, rods + OFFSETS[kind]] = 1.0
            noise = np.diag(look.noise**2)
            h, left = _linear(sees, rods, mean, begun, look.value)
            for _ in range(AGAIN):  # a rod far out: the logarithm is taken where the rod is
                there = mean + _gained(h, covariance, noise, left)
                h, here = _linear(sees, rods, there, begun, look.value)
                left = here - (h @ (mean - there)[..., None])[..., 0]
            across = h @ covariance
            spread = across @ h.transpose(0, 2, 1) + noise
            gain = np.linalg.solve(spread, across).transpose(0, 2, 1)
            whitened = np.linalg.solve(spread, left[..., None])[..., 0]
            if number:  # before anything was turned, a stiff rim cannot be told from one far out
                total -= 0.5 * ((left * whitened).sum(axis=1) + np.linalg.slogdet(spread)[1])
            if number and clearing.rounds[number - 1].turns and many == 1:
                asked = h[0, :, :rods] @ np.array(clearing.rounds[number - 1].turns)
                strength = float(asked @ np.linalg.solve(noise, asked))
                if strength > LEARN_FROM:
                    response_ratio = 1.0 + float(asked @ np.linalg.solve(noise, left[0])) / strength
                    response_doubt = math.hypot(strength**-0.5, TURN_SHARE)
            mean = mean + (gain @ left[..., None])[..., 0]
            covariance = covariance - gain @ across
            covariance = 0.5 * (covariance + covariance.transpose(0, 2, 1))
            if many == 1:
                after = left[0] - h[0] @ gain[0] @ left[0]
                rest = look.noise**2 - np.diag(h[0] @ covariance[0] @ h[0].T)
                sure = rest > (0.3 * look.noise) ** 2
                score = np.where(sure, np.abs(after) / np.sqrt(np.maximum(rest, 1e-18)), 0.0)
                outliers = sorted({look.rod[i] + 1 for i in np.flatnonzero(score > STANDS_OFF)})
        if one.turns:
            turned = np.array(one.turns)
            mean[:, :rods] += turned
            moved = (TURN_SHARE * turned) ** 2 + np.where(turned != 0.0, STICK**2, 0.0)
            covariance[:, :rods, :rods] += np.diag(moved)
    return _Fit(mean, covariance, total, tuple(outliers), response_ratio, response_doubt)


def _gained(
    h: FloatArray, covariance: FloatArray, noise: FloatArray, left: FloatArray
) -> FloatArray:
    across = h @ covariance
    spread = across @ h.transpose(0, 2, 1) + noise
    out: FloatArray = (across.transpose(0, 2, 1) @ np.linalg.solve(spread, left[..., None]))[..., 0]
    return out


def _linear(
    sees: FloatArray, rods: int, mean: FloatArray, begun: float, value: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Slopes (G, L, size) of the readings at a state and what they say beyond it (G, L)."""
    tension = (sees[..., :rods] @ mean[:, :rods, None])[..., 0]
    tension = np.maximum(tension, 0.1 * begun)
    h = sees.copy()
    h[..., :rods] /= tension[..., None]
    beyond = (sees[..., rods:] @ mean[:, rods:, None])[..., 0]
    return h, value - np.log(tension / begun) - beyond
