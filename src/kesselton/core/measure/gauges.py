"""What a dial and turns say: calibration and line, each with its doubt."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.errors import InputError
from kesselton.core.instrument.gauge import DialPair
from kesselton.core.language import _

TYPICAL_PLY_M = 0.000254
DIAL_NOISE = 0.75
"""Reading of a dial, one standard deviation in divisions, set down with care; assumed."""
PITCH_NOISE_CENTS = 3.5
"""Lug pitch by ear or ear and meter, one standard deviation; assumed."""
BEYOND = 0.10
"""A calibration holds so far beyond the tensions it was made on, as a share of them; assumed."""
NEEDED_FOR_THICKNESS = 4


@dataclass(frozen=True, eq=False)
class DialFit:
    """reading = d0 - kappa / T + beta (h / h0 - 1), h0 = 10 mil (theory eq. 35).

    Attributes
    ----------
    terms : (2,) or (3,) d0, kappa and, where it could be told, beta
    covariance : of the terms
    noise : standard deviation of one reading, divisions
    residual : (N,) divisions, per pair
    low_n_per_m, high_n_per_m : tensions between which the fit holds
    thicknesses_m : (least, most) it was made on
    """

    terms: FloatArray
    covariance: FloatArray
    noise: float
    residual: FloatArray
    low_n_per_m: float
    high_n_per_m: float
    thicknesses_m: tuple[float, float]

    def _row(self, tension: float, thickness_m: float) -> FloatArray:
        row = [1.0, -1.0 / tension, thickness_m / TYPICAL_PLY_M - 1.0]
        return np.array(row[: len(self.terms)])

    def reading(self, tension_n_per_m: float, thickness_m: float) -> float:
        """Divisions at a tension."""
        return float(self._row(tension_n_per_m, thickness_m) @ self.terms)

    def slope(self, tension_n_per_m: float) -> float:
        """d reading / d ln T, divisions."""
        return float(self.terms[1]) / tension_n_per_m

    def spread(self, tension_n_per_m: float, thickness_m: float) -> float:
        """Standard deviation of a reading there: of the reading and of the fit."""
        row = self._row(tension_n_per_m, thickness_m)
        return math.sqrt(self.noise**2 + float(row @ self.covariance @ row))

    def by_terms(self, tension_n_per_m: float, thickness_m: float) -> FloatArray:
        """What the doubt about the fit does to a reading, per standard deviation of independent
        parts of it, (terms,)."""
        out: FloatArray = self._row(tension_n_per_m, thickness_m) @ np.linalg.cholesky(
            self.covariance
        )
        return out

    def tension(self, dial: float, thickness_m: float) -> float:
        """Tension at a reading.

        Raises
        ------
        InputError
            If the dial never shows that.
        """
        bare = dial - self._row(1e12, thickness_m) @ self.terms
        if bare >= 0.0:
            top = float(self._row(1e12, thickness_m) @ self.terms)
            raise InputError(
                _("This gauge does not reach {dial:g}: it ends near {top:.0f}.").format(
                    dial=dial, top=top
                ),
                _("Check that no pitch was entered as a gauge reading."),
                "dial",
            )
        return float(-self.terms[1] / bare)

    def holds(self, tension_n_per_m: float) -> bool:
        """True where the fit was made, or near."""
        low, high = self.low_n_per_m * (1.0 - BEYOND), self.high_n_per_m * (1.0 + BEYOND)
        return low <= tension_n_per_m <= high


def fit_dial(pairs: Sequence[DialPair]) -> DialFit:
    """Least squares over the pairs, every pair weighted by dial and pitch noise.

    Raises
    ------
    InputError
        If they do not suffice, or the dial would fall with tension.
    """
    if len(pairs) < 2:
        raise InputError(
            _("{word} of gauge reading and pitch is not enough.").format(
                word=_("One pair") if pairs else _("No pair")
            ),
            (
                _(
                    "Read a second head or tension. Until then use the gauge only "
                    "to compare rods of one head."
                )
            ),
            "pairs",
        )
    tension = np.array([p.tension_n_per_m for p in pairs])
    dial = np.array([p.dial for p in pairs])
    thick = np.array([p.thickness_m for p in pairs])
    if float(tension.max() / tension.min()) < 1.1:
        raise InputError(
            _("All pairs are at nearly the same tension."),
            _("Add one at least a whole step higher or lower."),
            "pairs",
        )
    different = len({round(t * 1e6, 1) for t in thick.tolist()}) > 1
    columns = [np.ones(len(pairs)), -1.0 / tension]
    if different and len(pairs) >= NEEDED_FOR_THICKNESS:
        columns.append(thick / TYPICAL_PLY_M - 1.0)
    rows = np.stack(columns, axis=1)
    # pitch noise moves the tension: 2 x cents, seen through a first fit of kappa
    terms = np.linalg.lstsq(rows, dial, rcond=None)[0]
    if terms[1] <= 0.0:
        raise InputError(
            _("In these pairs the gauge reading falls as tension rises."),
            _("Check that gauge reading and pitch are not swapped."),
            "pairs",
        )
    pitch = 2.0 * PITCH_NOISE_CENTS / CENTS_PER_NEPER
    for _unused in range(3):
        own = np.hypot(DIAL_NOISE, terms[1] / tension * pitch)
        weighted = rows / own[:, None]
        terms = np.linalg.lstsq(weighted, dial / own, rcond=None)[0]
    residual = dial - rows @ terms
    spare = len(pairs) - rows.shape[1]
    noise = DIAL_NOISE
    if spare > 0:
        seen = math.sqrt(float(np.sum((residual / own) ** 2)) / spare)
        noise = DIAL_NOISE * max(1.0, seen)
    covariance = np.linalg.inv(weighted.T @ weighted) * (noise / DIAL_NOISE) ** 2
    return DialFit(
        terms,
        covariance,
        noise,
        residual,
        float(tension.min()),
        float(tension.max()),
        (float(thick.min()), float(thick.max())),
    )


@dataclass(frozen=True, eq=False)
class TurnFit:
    """Pitch squared against turns past finger tight: f^2 = start + slope x turns.

    Attributes
    ----------
    start_hz2, slope_hz2 : hertz squared, and per turn
    covariance : (2, 2)
    turns, hz : (N,) the points
    """

    start_hz2: float
    slope_hz2: float
    covariance: FloatArray
    turns: FloatArray
    hz: FloatArray

    def pitch(self, turns: float) -> float:
        """Lug pitch at so many turns."""
        return math.sqrt(max(self.start_hz2 + self.slope_hz2 * turns, 0.0))

    def turns_to(self, hz: float) -> float:
        """Turns past finger tight at a lug pitch."""
        return (hz * hz - self.start_hz2) / self.slope_hz2

    def spread(self, hz: float) -> float:
        """Standard deviation of `turns_to`, turns."""
        turns = self.turns_to(hz)
        row = np.array([1.0, turns]) / self.slope_hz2
        pitch = 2.0 * hz * hz * PITCH_NOISE_CENTS / CENTS_PER_NEPER / self.slope_hz2
        return math.sqrt(float(row @ self.covariance @ row) + pitch**2 + TURN_NOISE**2)


TURN_NOISE = 0.03
"""How well a turn is read, one standard deviation; assumed."""


def fit_turns(points: Sequence[tuple[float, float]]) -> TurnFit:
    """The line through (turns, lug pitch in hertz) of one head on one drum.

    Raises
    ------
    InputError
        If there are not two different numbers of turns, or the pitch falls with turns.
    """
    if len({round(t, 3) for t, _unused in points}) < 2:
        raise InputError(
            _("Pitch vs. turns needs two different numbers of turns."),
            _("Turn every rod equally, read the pitch and enter both."),
            "turns",
        )
    turns = np.array([t for t, _unused in points], dtype=float)
    hz = np.array([f for _unused, f in points], dtype=float)
    order = np.argsort(turns, kind="stable")
    if np.any(np.diff(turns[order]) > 0.0) and float(np.polyfit(turns, hz**2, 1)[0]) <= 0.0:
        raise InputError(
            _("The pitch falls as the rods are tightened."),
            _("Turns count up from finger-tight: check the order."),
            "turns",
        )
    own = 2.0 * hz**2 * PITCH_NOISE_CENTS / CENTS_PER_NEPER
    own = np.hypot(own, TURN_NOISE * float(np.ptp(hz**2) / np.ptp(turns)))
    rows = np.stack((np.ones(len(turns)), turns), axis=1) / own[:, None]
    terms = np.linalg.lstsq(rows, hz**2 / own, rcond=None)[0]
    covariance: FloatArray = np.asarray(np.linalg.inv(rows.T @ rows), dtype=float)
    spare = len(turns) - 2
    if spare > 0:
        seen = float(np.sum(((hz**2) / own - rows @ terms) ** 2)) / spare
        covariance = covariance * max(1.0, seen)
    return TurnFit(float(terms[0]), float(terms[1]), covariance, turns, hz)
