"""Which of the lines of a tap is the (1,1) (theory 21)."""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, FloatArray, IndexArray, kept
from kesselton.core.data import table

RATIOS = np.array([1.0, 1.48, 1.55, 1.92, 2.08, 2.36, 2.59, 2.78])
"""(1,1), (2,1), (0,2), (3,1), (1,2), (4,1), (2,2), (5,1) over the (1,1) of a head with its air
(Fletcher and Rossing, The Physics of Musical Instruments, after Christian et al. 1984; memory)."""
BREADTH = 0.045
BELOW = (0.42, 0.78)
"""Where the (0,1) stands under the (1,1): lower over deep air, higher over a closed shell."""
CENTRE_BREADTH = 0.12
"""The same about where the model has it, ln f: the muffled other head is not quite still."""
PAIR, PAIR_UNKNOWN = 0.10, 0.05
"""The two of a pair are no further apart, ln f, on the most uneven head that is worth clearing;
where the drum is not known the (2,1) and (0,2) must not be taken for such a pair."""
ALIKE = 1.0
"""And decay alike, ln: a finger on the centre sets the (0,1) apart from them."""
NEAR_SD = 0.09
"""The model's expectation for a drum is so good, ln f, one standard deviation: from trials."""
TELLING, NEAREST = 4, 0.04
"""So many other rods say by their scatter how near the next one is, but no nearer than that, ln f:
rods are turned between one round and the next; assumed."""
WIDER = 1.5
"""By so much wider a tap is expected after one that was refused: a rod may stand far off the
others. From what they say to what the model says in two."""
TONE_SD, STRAY = 0.02, 0.2
"""How near a tone stands to where a drum has it, ln f (it is one of a pair); share of lines that
are of something else."""
FAR_SD, AT_LINE = 6.0, 0.05
"""Farther from a tone than so many of those nothing is of it; so near, ln f, a line is at it."""
FLOOR_DB = 36.0
"""A line so far under the loudest says next to nothing."""
MISSED = 1.8
"""What a tone that should be there and is not costs, in log likelihood."""
LOUD, DEAD, DEAD_KNOWN = 2.5, 4.0, 8.0
"""Log likelihood for 10 dB of level, and against a tone that dies e times sooner than the others,
as the (0,1) does under a finger: where the drum is not known and where it is; from trials on taps
of `benchmarks/taps2.py` that do not judge."""
LOWEST_RATIO, HIGHEST_RATIO = 0.35, 3.3
HIGHEST_LUG_HZ = 650.0
FARTHEST = 0.3
"""Nothing so far from the expectation, ln f, is taken where the drum is known, five half steps:
farther off nothing was learned."""
FAINTEST_DB = -30.0
"""Nor anything so far under the loudest line."""
ONE = 0.075
"""Lines so close, ln f, are one answer."""
STROKE_PRIOR, STROKE_PRIOR_KNOWN = -3.0, -9.0
"""Log of how often what was recorded is a stroke on the whole drum instead of a tap, where the drum
is not known and where it is; assumed."""
SECOND_FROM, SECOND_TO, SECOND_DB = 1.32, 1.60, -35.0
"""Where the (2,1) of any drum stands over its (1,1), and how far under the loudest it may be."""


@dataclass(frozen=True)
class Tones:
    """Where else a tap sounds, over its (1,1): the (0,1) between two bounds, the (2,1), and all
    above."""

    centre: tuple[float, float] = BELOW
    second: float = float(RATIOS[1])
    above: tuple[float, ...] = tuple(RATIOS[1:].tolist())

    @classmethod
    def of(cls, centre: float, second: float, above: tuple[float, ...]) -> Tones:
        """Of a drum that is known (`lug.tap_tones`)."""
        wide = math.exp(CENTRE_BREADTH)
        return cls((centre / wide, centre * wide), second, above)


TYPICAL_TONES = Tones()


@dataclass(frozen=True)
class Expected:
    """What is expected of a tap where the drum is known.

    Attributes
    ----------
    hz : its lug pitch
    sd : how good that is, ln f, one standard deviation
    tones : where the others stand
    """

    hz: float
    sd: float = NEAR_SD
    tones: Tones = TYPICAL_TONES

    def widened(self, times: float) -> Expected:
        """The same, so many times less good, no worse than the model's."""
        return replace(self, sd=min(NEAR_SD, times * self.sd))


def said_by_others(pitches_hz: Sequence[float]) -> tuple[float, float]:
    """Where the lug pitches of at least one other rod say that the next is, in hertz, and how well,
    ln f, one standard deviation: no better than by the model while they are few.

    Notes
    -----
    The predictive spread of Student's t (Gelman et al., Bayesian Data Analysis, 3.2; memory).
    """
    logs = [math.log(hz) for hz in pitches_hz]
    count, sd = len(logs), NEAR_SD
    if count >= TELLING:
        scatter = statistics.variance(logs) * (1.0 + 1.0 / count) * (count - 1) / (count - 3)
        sd = min(NEAR_SD, max(NEAREST, math.sqrt(scatter)))
    return math.exp(sum(logs) / count), sd


class Naming(NamedTuple):
    """Which line is the strongest of the (1,1), which are of it, how sure that is, how likely the
    sound is a stroke on the whole drum, and whether there is a (2,1) to bear it out."""

    place: int
    own: BoolArray
    confidence: float
    whole: float
    borne_out: bool


@kept(1)
def _library() -> tuple[FloatArray, FloatArray]:
    """Ratios, nodal diameters and strengths (patterns, 3, tones) of taps over their (1,1), and of
    strokes with both heads free over their fundamental (`tools/make_tap_patterns.py`)."""
    with table("tap_patterns.npz").open("rb") as stream:
        data = np.load(stream)
        return data["taps"].astype(float), data["strokes"].astype(float)


def _pattern_of(tones: Tones) -> FloatArray:
    """(1, 3, tones) of a drum that is known."""
    centre = math.sqrt(tones.centre[0] * tones.centre[1])
    ratio = np.array([centre, 1.0, *(r for r in tones.above if r < HIGHEST_RATIO)])
    order = np.array([0.0, *np.ones(len(ratio) - 1)])
    return np.stack((ratio, order, np.ones(len(ratio))))[None]


def _likelihood(
    hz: FloatArray, level_db: FloatArray, first: FloatArray, patterns: FloatArray
) -> FloatArray:
    """Log likelihood (C, P) of lines (L,) if `first` (C,) are where patterns (P, 3, K) begin.

    Every line is one of the pattern's tones, or of something else, which may lie anywhere; a tone
    that a tap must start and that is not there counts against it.
    """
    ratio, order, strength = patterns[:, 0], patterns[:, 1], patterns[:, 2]
    real = ratio > 0.0
    tones = np.log(np.where(real, ratio, 1e3))
    share = np.where(real, np.where(order == 0.0, 0.25, 1.0), 0.0)
    share = share / share.sum(axis=1, keepdims=True)
    weight = np.clip((level_db + FLOOR_DB) / FLOOR_DB, 0.05, 1.0)
    place = np.log(hz / first[:, None])  # (C, L)
    dense, met = _met(place, tones, share)
    anywhere = 1.0 / math.log(HIGHEST_RATIO / LOWEST_RATIO)
    values = np.log((1.0 - STRAY) * dense + STRAY * anywhere) - math.log(anywhere)
    below = place < math.log(LOWEST_RATIO)
    within = ~below & (place < math.log(HIGHEST_RATIO))
    lines = np.where(within[:, None], values, np.where(below[:, None], 1.5 * math.log(STRAY), 0.0))
    out: FloatArray = np.sum(weight * lines, axis=2)
    farthest = 1.02 * hz.max()
    needed = real & (order >= 1.0) & (ratio < 2.3)
    cost = MISSED * np.where(ratio < 1.05, 2.0, np.minimum(strength, 1.0))
    reached = first[:, None, None] * ratio[None] < farthest
    out -= np.sum(np.where(needed[None] & reached & ~met, cost[None], 0.0), axis=2)
    return out


def _met(place: FloatArray, tones: FloatArray, share: FloatArray) -> tuple[FloatArray, BoolArray]:
    """Density (C, P, L) of lines at `place` (C, L), ln f, by tones (P, K) that are expected so
    often; which tones a line is at (C, P, K).

    Only of pairs that are near: of all there may be they are one in thirty.
    """
    count, width = tones.shape
    order = np.argsort(tones, axis=None)
    there, flat = tones.ravel()[order], place.ravel()
    low = np.searchsorted(there, flat - FAR_SD * TONE_SD)
    many = np.searchsorted(there, flat + FAR_SD * TONE_SD) - low
    line = np.repeat(np.arange(len(flat)), many)
    at = np.arange(len(line)) - np.repeat(np.cumsum(many) - many - low, many)
    gap = flat[line] - there[at]
    pattern, tone = np.divmod(order[at], width)
    first, line = np.divmod(line, place.shape[1])
    near = np.exp(-0.5 * (gap / TONE_SD) ** 2) / (TONE_SD * math.sqrt(2.0 * math.pi))
    shape = (len(place), count, place.shape[1])
    index = np.ravel_multi_index((first, pattern, line), shape)
    dense = np.bincount(index, near * share[pattern, tone], math.prod(shape))
    met: BoolArray = np.zeros((len(place), count, width), dtype=bool)
    close = np.abs(gap) <= AT_LINE
    met[first[close], pattern[close], tone[close]] = True
    return np.asarray(dense, dtype=float).reshape(shape), met


class _Chances(NamedTuple):
    """Lines that are tried (C,), the share of likelihood of each (C,), and of a whole stroke."""

    tried: IndexArray
    share: FloatArray
    whole: float


def _chances(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, known: Expected | None
) -> _Chances:
    """How likely each line is the (1,1).

    Every line is tried as the (1,1), against the tones of this drum where it is known and of drums
    of all sizes where not, and as the fundamental of a drum whose heads are both free.
    """
    level = _level_db(energy)
    tried = np.flatnonzero(hz < HIGHEST_LUG_HZ)
    if len(tried) == 0:
        return _Chances(tried, np.zeros(0), 0.0)
    first = hz[tried]
    close = np.abs(np.log(first[:, None] / hz)) < PAIR_UNKNOWN
    loud = LOUD * np.log10((close * energy).sum(axis=1) / energy.sum())
    typical = float(np.average(np.log(decay), weights=np.maximum(level + 30.0, 1.0)))
    dead = (DEAD if known is None else DEAD_KNOWN) * np.maximum(np.log(decay[tried]) - typical, 0.0)
    taps, strokes = _library()
    mine = taps if known is None else _pattern_of(known.tones)
    score = _marginal(_likelihood(hz, level, first, mine)) + loud - dead
    if known is not None:
        score -= 0.5 * (np.log(first / known.hz) / known.sd) ** 2
    other = _marginal(_likelihood(hz, level, first, strokes)) + loud - dead
    other += STROKE_PRIOR if known is None else STROKE_PRIOR_KNOWN
    top = max(float(score.max()), float(other.max()))
    chance, whole = np.exp(score - top), float(np.exp(other - top).sum())
    together = float(chance.sum()) + whole
    return _Chances(tried, chance / together, whole / together)


def name_lines(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, known: Expected | None
) -> Naming:
    """Which line is the strongest of the (1,1), which are of it, and how sure that is."""
    chances = _chances(hz, decay, energy, known)
    return _likeliest(hz, decay, energy, chances, known is not None)


def name_each(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, known: Expected
) -> tuple[Naming, list[Naming]]:
    """What `name_lines` says where the drum is known, and every line that may be the (1,1) as if it
    were the one."""
    chances = _chances(hz, decay, energy, known)
    level = _level_db(energy)
    each = [
        _named(hz, decay, energy, chances, int(place), float(hz[place]), known=True)
        for place in chances.tried
        if abs(math.log(hz[place] / known.hz)) < FARTHEST and level[place] > FAINTEST_DB
    ]
    return _likeliest(hz, decay, energy, chances, known=True), each


def _likeliest(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, chances: _Chances, known: bool
) -> Naming:
    """On an uneven head the two of the pair stand apart: they are one answer."""
    if len(chances.tried) == 0:
        return Naming(int(np.argmax(energy)), np.ones(len(hz), dtype=bool), 0.0, 0.0, False)
    best = float(hz[chances.tried[np.argmax(chances.share)]])
    values = chances.tried[np.abs(np.log(hz[chances.tried] / best)) < ONE]
    strongest = int(values[np.argmax(energy[values])])
    return _named(hz, decay, energy, chances, strongest, best, known)


def _named(
    hz: FloatArray,
    decay: FloatArray,
    energy: FloatArray,
    chances: _Chances,
    place: int,
    about_hz: float,
    known: bool,
) -> Naming:
    """A line as the (1,1), with what lies about a frequency counted as one answer."""
    values = np.abs(np.log(hz[chances.tried] / about_hz)) < ONE
    over = hz / hz[place]
    second = (over > SECOND_FROM) & (over < SECOND_TO) & (_level_db(energy) > SECOND_DB)
    own = pair_of(hz, decay, place, PAIR if known else PAIR_UNKNOWN)
    return Naming(place, own, float(chances.share[values].sum()), chances.whole, bool(second.any()))


def _level_db(energy: FloatArray) -> FloatArray:
    out: FloatArray = 10.0 * np.log10(energy / energy.max() + 1e-12)
    return out


def _marginal(likelihood: FloatArray) -> FloatArray:
    """Over all patterns (C, P), each as likely as the next: (C,)."""
    top = likelihood.max(axis=1)
    out: FloatArray = top + np.log(np.mean(np.exp(likelihood - top[:, None]), axis=1))
    return out


def pair_of(middle: FloatArray, ring: FloatArray, i: int, wide: float) -> BoolArray:
    """Which clusters may be the two of a pair with one of them, itself included."""
    near = np.abs(np.log(middle / middle[i])) < wide
    out: BoolArray = near & (np.abs(np.log(ring / ring[i])) < ALIKE)
    return out


def second_partial(hz: FloatArray, energy: FloatArray, pitch: float, tones: Tones) -> float | None:
    """The (2,1), if a strong line stands where it belongs."""
    there = np.abs(np.log(hz / pitch / tones.second)) < BREADTH
    if not there.any():
        return None
    strong = energy[there] > 0.02 * energy.max()
    if not strong.any():
        return None
    return float(np.average(hz[there], weights=energy[there]))
