"""Which of the lines of a tap is the (1,1) (theory 21)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesselton.core.arrays import FloatArray

BoolArray = NDArray[np.bool_]

NEAR = 0.033
"""Lines so close, in ln f, are the two of a pair."""
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
NEAR_SD = 0.073
"""The model's expectation for a drum is so good, ln f, one standard deviation: from trials."""


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


def name_lines(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, near_hz: float | None, tones: Tones
) -> tuple[int, BoolArray, float]:
    """Which line is the strongest of the (1,1), which are of it, and how sure that is.

    For every cluster taken as the (1,1): how well the others stand at a head's ratios, how strong
    it is, whether something strong lies below where nothing should, how far it is from what the
    model expects. On an uneven head the two of the pair stand so far apart that they come as two
    clusters: they are one answer.
    """
    groups = groups_of(hz)
    strength = np.array([energy[g].sum() for g in groups])
    middle = np.array([float(np.average(hz[g], weights=energy[g])) for g in groups])
    ring = np.array([float(np.average(decay[g], weights=energy[g])) for g in groups])
    weight = np.maximum(10.0 * np.log10(strength / strength.max()) + 45.0, 0.0) / 45.0
    score = np.empty(len(groups))
    typical = float(np.median(ring))
    expected = np.array(tones.above)
    wide = PAIR_UNKNOWN if near_hz is None else PAIR
    for i, f in enumerate(middle):
        pair = pair_of(middle, ring, i, wide)
        above = ~pair & (middle > f)
        ratio = np.log(middle[:, None] / f / expected)
        near = np.exp(-0.5 * (ratio / BREADTH) ** 2).max(axis=1)
        below = ~pair & (middle < f)
        share = middle / f
        allowed = (share > tones.centre[0]) & (share < tones.centre[1])
        fit = float((weight * near)[above].sum() - 0.5 * (weight * (1.0 - near))[above].sum())
        wrong = float(weight[below & ~allowed].sum()) + 0.4 * float(weight[below & allowed].sum())
        score[i] = 2.2 * fit - 4.0 * wrong + 3.0 * weight[i]
        score[i] -= 0.5 * abs(math.log(ring[i] / typical))
        if near_hz is not None:
            score[i] -= 0.5 * (math.log(f / near_hz) / NEAR_SD) ** 2
    chance = np.exp(score - score.max())
    chance /= chance.sum()
    together = pair_of(middle, ring, int(np.argmax(score)), wide)
    own = np.zeros(len(hz), dtype=bool)
    own[np.concatenate([g for g, of in zip(groups, together, strict=True) if of])] = True
    place = int(np.argmax(np.where(own, energy, -1.0)))
    return place, own, float(chance[together].sum())


def pair_of(middle: FloatArray, ring: FloatArray, i: int, wide: float) -> BoolArray:
    """Which clusters may be the two of a pair with one of them, itself included."""
    near = np.abs(np.log(middle / middle[i])) < wide
    out: BoolArray = near & (np.abs(np.log(ring / ring[i])) < ALIKE)
    return out


def groups_of(hz: FloatArray) -> list[FloatArray]:
    """Indices of lines that stand together, low to high."""
    cuts = np.flatnonzero(np.diff(np.log(hz)) > NEAR) + 1
    return list(np.split(np.arange(len(hz)), cuts))


def second_partial(hz: FloatArray, energy: FloatArray, pitch: float, tones: Tones) -> float | None:
    """The (2,1), if a strong line stands where it belongs."""
    there = np.abs(np.log(hz / pitch / tones.second)) < BREADTH
    if not there.any():
        return None
    strong = energy[there] > 0.02 * energy.max()
    if not strong.any():
        return None
    return float(np.average(hz[there], weights=energy[there]))
