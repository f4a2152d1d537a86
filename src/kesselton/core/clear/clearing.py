"""Measure once round, know what to turn: the state of every rod from readings (theory 19)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.solver.lug import tension_from_pitch
from kesselton.core.arrays import FloatArray, kept
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.clear.rim import Rim, rim_of
from kesselton.core.clear.rim_looks import Look, look_at, start_of
from kesselton.core.clear.rod_filter import EXTRA, OFFSETS, RodFit, filter_rods
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.measure.gauges import DialFit
from kesselton.core.measure.plan import bed_pattern
from kesselton.core.measure.rods import EDGE_FACTOR

COLLAR_LN, LUG_LN, HOOP_LN = 0.30, 0.30, 0.40
"""Doubt about collar, lugs and hoop before rounds taught them, ln; assumed."""
COLLARS = LUGS = np.linspace(-0.6, 0.6, 5)
HOOPS = np.linspace(-0.8, 0.8, 5)


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
        `response_doubt` is its standard deviation
    learned : for the next time on this drum
    wanted_n_per_m : mean tension wanted
    goal : (N,) turns at which the pattern is as wanted
    grain_cents : (N,) lug pitch that comes from film not alike both ways
    pitch_covariance : (N, N) of pitch_cents
    unseen_cents : unevenness these readings cannot show, one standard deviation at a rod
    joint : (N + EXTRA, N + EXTRA) of the turns and of what readings share
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
    joint: FloatArray

    @property
    def local_rows_cents(self) -> FloatArray:
        """(N, N) cents of pitch of the tension beside a rod, for a turn of each."""
        return 0.5 * CENTS * self.rim.local_rows / self.tension_n_per_m

    @property
    def pitch_rows_cents(self) -> FloatArray:
        """(N, N) cents of lug pitch for a turn of each."""
        return CENTS * self.rim.pitch_rows / self.tension_n_per_m


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
        raise InputError(
            _("No rods have been read yet."), _("Tap a rod, or enter the gauge reading.")
        )
    begun, ref_hz = start_of(drum, clearing, dial)
    thickness = drum.setting(clearing.side).head.film_thickness_m
    looks = [look_at(record, begun, ref_hz, dial, thickness) for record in clearing.rounds]
    base = rim_of(drum, clearing.side)
    taught = _learn(base, learned or Learned(), begun, clearing, looks)
    rim = _changed(base, taught.values)
    rows = {kind: rows[None] for kind, rows in _sees(rim).items()}
    fit = filter_rods(rows, np.array([rim.turn_n_per_m]), begun, clearing, looks)
    return _state(drum, clearing, rim, fit, taught)


def _learn(
    base: Rim, known: Learned, begun: float, clearing: Clearing, looks: list[Look]
) -> Learned:
    """What the rounds teach of collar, lugs and hoop: the likelihood on a grid of them."""
    grid = _grid(base)
    many = filter_rods(grid.rows, grid.per_turn, begun, clearing, looks)
    away = (grid.points - np.array(known.values)) / np.array(known.doubt)
    weight = many.log_likelihood - 0.5 * (away**2).sum(axis=1)
    weight = np.exp(weight - weight.max())
    weight /= weight.sum()
    taught = weight @ grid.points
    doubt = np.sqrt(weight @ (grid.points - taught) ** 2)
    return Learned(tuple(taught.tolist()), tuple(np.maximum(doubt, 0.05).tolist()))


def _state(drum: Drum, clearing: Clearing, rim: Rim, fit: RodFit, taught: Learned) -> RimState:
    """Turns of the rods as tensions and pitches beside them."""
    rods = drum.shell.rods
    turns, covariance = fit.mean[0, :rods], fit.covariance[0, :rods, :rods]
    mean = float(rim.edge_per_turn[0].real @ turns)
    if not mean > 1.0:
        raise InputError(
            _("By the turns since the last reading, this head is slack."),
            _("Bring all rods up and read them again, or start over."),
        )
    wanted = mean
    if clearing.target_hz is not None:
        wanted = tension_from_pitch(drum, clearing.side, clearing.target_hz)
    pattern = wanted_pattern(clearing, rods, drum.shell.beds_at)
    goal = np.asarray(np.linalg.solve(rim.local_rows, wanted * pattern), float)
    local = 0.5 * CENTS * np.log(np.maximum(rim.local_rows @ turns, 1.0) / (wanted * pattern))
    even = np.eye(rods) - 1.0 / rods
    rows = even @ (0.5 * CENTS * rim.local_rows / mean)
    doubt = np.sqrt(np.diag(rows @ covariance @ rows.T))
    grain = _grain_cents(rim, fit.mean[0, rods + 3 :])
    heard = 2.0 * rim.pitch_rows @ turns
    pitch = 0.5 * CENTS * np.log(np.maximum(heard, 1.0) / (2.0 * rim.pitch_rows @ goal)) + grain
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
        taught,
        wanted,
        goal,
        grain,
        _pitch_covariance(rim, mean, fit.covariance[0]),
        math.sqrt(float(np.mean(doubt**2))),
        fit.covariance[0],
    )


def _grain_cents(rim: Rim, grain: FloatArray) -> FloatArray:
    """(N,) lug pitch that comes from film not alike both ways."""
    angle = 2.0 * rim.angles
    out: FloatArray = 0.5 * CENTS * (grain[0] * np.cos(angle) + grain[1] * np.sin(angle))
    return out


def pitch_sees(rim: Rim, mean: float) -> FloatArray:
    """(N, N + EXTRA) cents of lug pitch for each unknown of the filter."""
    rods = rim.rods
    sees = np.zeros((rods, rods + EXTRA))
    sees[:, :rods] = CENTS * rim.pitch_rows / mean
    sees[:, rods + 3] = _grain_cents(rim, np.array([1.0, 0.0]))
    sees[:, rods + 4] = _grain_cents(rim, np.array([0.0, 1.0]))
    return sees


def dial_sees(rim: Rim, mean: float) -> FloatArray:
    """(N, N + EXTRA) cents of pitch that a dial shows for each unknown of the filter."""
    rods = rim.rods
    sees = np.zeros((rods, rods + EXTRA))
    sees[:, :rods] = 0.5 * CENTS * rim.dial_rows / mean
    sees[:, rods + OFFSETS["dial"]] = 0.5 * CENTS
    return sees


def _pitch_covariance(rim: Rim, mean: float, covariance: FloatArray) -> FloatArray:
    """(N, N) of the lug pitches, in cents."""
    sees = pitch_sees(rim, mean)
    out: FloatArray = sees @ covariance @ sees.T
    return out


@dataclass(frozen=True, eq=False)
class _Grid:
    """Every rim on the grid of what is not known: points (G, 3), rows per kind (G, N, N)."""

    points: FloatArray
    rows: dict[str, FloatArray]
    per_turn: FloatArray


@kept(32)
def _grid(base: Rim) -> _Grid:
    points = np.array(list(itertools.product(COLLARS, LUGS, HOOPS)))
    rims = [_changed(base, tuple(point)) for point in points.tolist()]
    seen = [_sees(rim) for rim in rims]
    rows = {kind: np.array([results[kind] for results in seen]) for kind in seen[0]}
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
        "lug_pitch": 2.0 * rim.pitch_rows,
        "second_partial": 2.0 * rim.second_rows,
        "dial": rim.dial_rows,
        "torque": rim.force_per_turn * rim.rods / (2.0 * math.pi * rim.radius_m * EDGE_FACTOR),
    }


def wanted_pattern(
    clearing: Clearing, rods: int, beds_at: tuple[float, float] | None = None
) -> FloatArray:
    """(rods,) tension wanted beside each rod over their mean."""
    if clearing.pattern == "beds":
        return np.array(bed_pattern(rods, beds_at))
    if clearing.pattern == "own":
        shares = np.array(clearing.wanted)
        out: FloatArray = shares / shares.mean()
        return out
    return np.ones(rods)
