"""A Kalman filter over the turns of the rods, for many rims at once (theory eqs. 44 to 46)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.clear.rim_looks import Look

PRIOR_TURN = 0.15
"""How far one rod may be out before anything is read, one standard deviation; assumed."""
PRIOR_MEAN = 0.06
"""Doubt about the mean tension before anything is read, as a share; assumed."""
TURN_SHARE = 0.15
"""A hand turns a rod so exactly, as a share; assumed. `STICK` is what friction keeps back."""
STICK = 0.008
GRAIN = 0.004
"""How far film that is not alike both ways may split the (1,1), of ln f^2; assumed."""
STANDS_OFF = 3.7
"""Standard deviations a reading may be off before it is named."""
AGAIN = 2
OFFSETS = {"dial": 0, "second_partial": 1, "torque": 2}
LEARN_FROM = 16.0
"""What was turned must show so far over the noise before friction is judged by it, squared."""
EXTRA = 5
"""Unknowns behind the turns of the rods: the offset of an uncalibrated dial, that of the second
partial (its ratio is the air's affair), that of a torque (its friction is alike at all rods, but
not known) and the two parts of the film's grain."""


@dataclass(frozen=True, eq=False)
class RodFit:
    """States of G rims: mean (G, size), covariance (G, size, size), log likelihood (G,).

    `outliers` and `response_ratio` are found where there is one rim only.
    """

    mean: FloatArray
    covariance: FloatArray
    log_likelihood: FloatArray
    outliers: tuple[int, ...]
    response_ratio: float | None
    response_doubt: float


@dataclass(frozen=True, eq=False)
class _Update:
    """One round's readings against the state before them."""

    h: FloatArray  # (G, L, size) slopes
    left: FloatArray  # (G, L) what the readings say beyond the state
    across: FloatArray  # h times covariance
    spread: FloatArray  # (G, L, L)
    noise: FloatArray  # (L, L)

    @property
    def gain(self) -> FloatArray:
        """(G, size, L)."""
        out = np.linalg.solve(self.spread, self.across).transpose(0, 2, 1)
        return np.asarray(out, float)

    @property
    def log_likelihood(self) -> FloatArray:
        """(G,) but for a constant."""
        whitened = np.linalg.solve(self.spread, self.left[..., None])[..., 0]
        out: FloatArray = -0.5 * (
            (self.left * whitened).sum(axis=1) + np.linalg.slogdet(self.spread)[1]
        )
        return out


def filter_rods(
    rows: dict[str, FloatArray],
    per_turn: FloatArray,
    begun: float,
    clearing: Clearing,
    looks: list[Look],
) -> RodFit:
    """The state of every rod after all rounds of readings and turns.

    Parameters
    ----------
    rows : per kind of reading (G, N, N), tension it sees at every rod per turn of every rod
    per_turn : (G,) tension of a turn of all rods
    begun : mean tension when the first round was read
    looks : the readings of every round
    """
    many, rods = rows["dial"].shape[:2]
    mean, covariance = _prior(per_turn, begun, rods)
    total = np.zeros(many)
    outliers: tuple[int, ...] = ()
    response: tuple[float | None, float] = (None, 0.0)
    turned: tuple[float, ...] = ()
    for number, (record, look) in enumerate(zip(clearing.rounds, looks, strict=True)):
        if len(look.kind):
            update = _update(_sight(rows, look), rods, mean, covariance, begun, look)
            if number:  # before anything was turned, a stiff rim cannot be told from one far out
                total = total + update.log_likelihood
            if many == 1 and turned:
                response = _response(update, np.array(turned)) or response
            gain = update.gain
            mean = mean + (gain @ update.left[..., None])[..., 0]
            covariance = covariance - gain @ update.across
            covariance = 0.5 * (covariance + covariance.transpose(0, 2, 1))
            if many == 1:
                outliers = _outliers(update, gain, covariance, look)
        turned = record.turns
        if turned:
            mean, covariance = _turn(mean, covariance, np.array(turned))
    return RodFit(mean, covariance, total, outliers, *response)


def _prior(per_turn: FloatArray, begun: float, rods: int) -> tuple[FloatArray, FloatArray]:
    """Before anything is read: every rod about alike."""
    many, size = len(per_turn), rods + EXTRA
    mean = np.zeros((many, size))
    mean[:, :rods] = (begun / per_turn)[:, None]
    covariance = np.zeros((many, size, size))
    covariance[:, :rods, :rods] = PRIOR_TURN**2 * np.eye(rods)
    covariance[:, :rods, :rods] += (PRIOR_MEAN * mean[:, 0])[:, None, None] ** 2
    covariance[:, rods:, rods:] = np.diag((25.0, 25.0, 100.0, GRAIN**2, GRAIN**2))
    return mean, covariance


def _sight(rows: dict[str, FloatArray], look: Look) -> FloatArray:
    """(G, L, size) tension each reading sees, and which of the further unknowns it carries."""
    many, rods = rows["dial"].shape[:2]
    angle = 4.0 * np.pi * np.arange(rods) / rods
    sees = np.zeros((many, len(look.kind), rods + EXTRA))
    for line, (kind, rod) in enumerate(zip(look.kind, look.rod, strict=True)):
        sees[:, line, :rods] = rows[kind][:, rod]
        if kind == "lug_pitch":
            sees[:, line, rods + 3 :] = math.cos(angle[rod]), math.sin(angle[rod])
        else:
            sees[:, line, rods + OFFSETS[kind]] = 1.0
    return sees


def _update(
    sees: FloatArray,
    rods: int,
    mean: FloatArray,
    covariance: FloatArray,
    begun: float,
    look: Look,
) -> _Update:
    noise = np.diag(look.noise**2)
    h, left = _linear(sees, rods, mean, begun, look.value)
    for _ in range(AGAIN):  # a rod far out: the logarithm is taken where the rod is
        there = mean + _gained(h, covariance, noise, left)
        h, here = _linear(sees, rods, there, begun, look.value)
        left = here - (h @ (mean - there)[..., None])[..., 0]
    across = h @ covariance
    return _Update(h, left, across, across @ h.transpose(0, 2, 1) + noise, noise)


def _response(update: _Update, turned: FloatArray) -> tuple[float | None, float] | None:
    """Share of the way asked for that the rods went, and its doubt; None where too little shows."""
    asked = update.h[0, :, : len(turned)] @ turned
    strength = float(asked @ np.linalg.solve(update.noise, asked))
    if strength <= LEARN_FROM:
        return None
    beyond = float(asked @ np.linalg.solve(update.noise, update.left[0])) / strength
    return 1.0 + beyond, math.hypot(strength**-0.5, TURN_SHARE)


def _outliers(
    update: _Update, gain: FloatArray, covariance: FloatArray, look: Look
) -> tuple[int, ...]:
    """Rods whose readings stand off what any turning could explain."""
    h, left = update.h[0], update.left[0]
    after = left - h @ gain[0] @ left
    rest = look.noise**2 - np.diag(h @ covariance[0] @ h.T)
    sure = rest > (0.3 * look.noise) ** 2
    score = np.where(sure, np.abs(after) / np.sqrt(np.maximum(rest, 1e-18)), 0.0)
    return tuple(sorted({look.rod[i] + 1 for i in np.flatnonzero(score > STANDS_OFF)}))


def _turn(
    mean: FloatArray, covariance: FloatArray, turned: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """After the rods were turned, as exactly as a hand does it."""
    rods = len(turned)
    mean, covariance = mean.copy(), covariance.copy()
    mean[:, :rods] += turned
    moved = (TURN_SHARE * turned) ** 2 + np.where(turned != 0.0, STICK**2, 0.0)
    covariance[:, :rods, :rods] += np.diag(moved)
    return mean, covariance


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
