"""What entries that scatter, and of which some may be wrong, say of a drum's offset (theory 82)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr

from kesselton.core.arrays import BoolArray, FloatArray

SCATTERS = np.geomspace(1.0, 32.0, 11)
"""Cents an entry may stand off from one to the next beside what was read, one standard deviation:
unevenness, a split film, the warmth of the hand."""
USUAL_SCATTER, SCATTER_BREADTH = 2.2, 0.9
"""What it usually is, and how far, ln, one standard deviation; assumed."""
WRONG, WRONG_CENTS = 0.06, 120.0
"""How often an entry is of something else (another drum, a head nobody noted, a partial for the
note), and how far it then stands off; assumed."""
MOST_WRONG, ALL_PAIRS = 2, 6
"""So many at once; of longer logs only pairs of what stands off farthest."""
NINE_IN_TEN = 0.9


@dataclass(frozen=True, eq=False)
class Offset:
    """The offset at the setting asked about.

    Attributes
    ----------
    cents, half_cents : mean, and how far it may be off nine times in ten
    scatter_cents : of one entry to the next, one standard deviation
    wrong : (N,) how likely each entry is of something else
    """

    cents: float
    half_cents: float
    scatter_cents: float
    wrong: FloatArray


def offset_words(by: FloatArray, here: FloatArray, seen: FloatArray, read_sd: FloatArray) -> Offset:
    """The offset, over how much entries may scatter and which may be wrong.

    Parameters
    ----------
    by : (N, U) what each unknown that stays does to each entry, cents per standard deviation
    here : (U,) the same at the setting asked about
    seen : (N,) cents heard above computed
    read_sd : (N,) what is off anew in each by what was read, cents
    """
    count = len(seen)
    stays = by @ by.T
    prior = float(here @ here)
    towards = by @ here
    logs, means, variances, scatters, wrongs = [], [], [], [], []
    for wrong in _which(by, seen, read_sd):
        far = np.where(wrong, WRONG_CENTS**2, 0.0)
        of_wrong = float(wrong.sum()) * math.log(WRONG / (1.0 - WRONG))
        for scatter in SCATTERS.tolist():
            covariance = stays + np.diag(read_sd**2 + scatter**2 + far)
            factor = np.linalg.cholesky(covariance)
            whitened = np.linalg.solve(factor, np.column_stack((seen, towards)))
            y, a = whitened[:, 0], whitened[:, 1]
            fits = -0.5 * float(y @ y) - float(np.log(np.diagonal(factor)).sum())
            usual = -0.5 * (math.log(scatter / USUAL_SCATTER) / SCATTER_BREADTH) ** 2
            logs.append(fits + usual + of_wrong)
            means.append(float(a @ y))
            variances.append(max(prior - float(a @ a), 0.0))
            scatters.append(scatter)
            wrongs.append(wrong)
    weight = np.exp(np.array(logs) - max(logs))
    weight /= weight.sum()
    mean = float(weight @ means)
    sd = np.sqrt(np.array(variances))
    half = _half_width(weight, np.array(means) - mean, sd)
    scatter = math.exp(float(weight @ np.log(scatters)))
    chances = weight @ np.array(wrongs, dtype=float).reshape(len(weight), count)
    return Offset(mean, half, scatter, chances)


def _which(by: FloatArray, seen: FloatArray, read_sd: FloatArray) -> list[BoolArray]:
    """Sets of entries that may be wrong: none, each, pairs."""
    count = len(seen)
    off = np.abs(seen) / np.sqrt(np.sum(by**2, axis=1) + read_sd**2)
    if count > 2:
        off = np.abs(seen - np.median(seen))
    near = np.argsort(off)[::-1][:ALL_PAIRS].tolist()
    sets = [c for many in range(min(MOST_WRONG, count) + 1) for c in combinations(near, many)]
    out = []
    for candidate in sets:
        wrong = np.zeros(count, dtype=bool)
        wrong[list(candidate)] = True
        out.append(wrong)
    return out


def _half_width(weight: FloatArray, mean: FloatArray, sd: FloatArray) -> float:
    """Half of the interval about zero that holds nine tenths of a mixture of normals."""
    sd = np.maximum(sd, 1e-6)

    def beyond(half: float) -> float:
        inside = ndtr((half - mean) / sd) - ndtr((-half - mean) / sd)
        return float(weight @ inside) - NINE_IN_TEN

    highest = float(np.max(np.abs(mean) + 4.0 * sd)) + 1.0
    return float(brentq(beyond, 0.0, highest, xtol=1e-3))


def evidence(by: FloatArray, seen: FloatArray, read_sd: FloatArray) -> float:
    """Log likelihood of entries, none of them wrong, over how much they may scatter."""
    stays = by @ by.T
    logs = []
    for scatter in SCATTERS.tolist():
        factor = np.linalg.cholesky(stays + np.diag(read_sd**2 + scatter**2))
        y = np.linalg.solve(factor, seen)
        usual = -0.5 * (math.log(scatter / USUAL_SCATTER) / SCATTER_BREADTH) ** 2
        logs.append(-0.5 * float(y @ y) - float(np.log(np.diagonal(factor)).sum()) + usual)
    return float(np.logaddexp.reduce(logs))
