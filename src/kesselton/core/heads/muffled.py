"""What muffling laid on a pair of heads would bring it against what is asked: nothing to buy."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.heads.brief import Brief
from kesselton.core.heads.choose import Candidates
from kesselton.core.heads.criteria import KEYS, near, wanted_ring_s
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction, predict

AT_THE_EDGE, FURTHER_IN = 0.85, 0.7
"""Where pieces are laid, of the radius (common practice, no published source)."""


def _laid(kind: str, place: float, *rods: float) -> tuple[Muffler, ...]:
    return tuple(Muffler(kind, place=place, rod=rod) for rod in rods)


RING = (Muffler("ring", place=AT_THE_EDGE, rod=1.0),)
USUAL: dict[str, tuple[tuple[Muffler, ...], ...]] = {
    "snare": (
        _laid("tape", AT_THE_EDGE, 1.5), _laid("tape", AT_THE_EDGE, 1.5, 4.5),
        _laid("gel", AT_THE_EDGE, 1.5), RING,
    ),
    "tom": (
        _laid("tape", AT_THE_EDGE, 1.5), _laid("tape", AT_THE_EDGE, 1.5, 4.5),
        _laid("gel", AT_THE_EDGE, 1.5), _laid("gel", AT_THE_EDGE, 1.5, 4.5), RING,
    ),
    "bass": (
        _laid("tape", AT_THE_EDGE, 1.5, 4.5), _laid("cloth", FURTHER_IN, 1.5),
        _laid("pillow", FURTHER_IN, 1.5),
    ),
    "concert_bass": (
        _laid("cloth", AT_THE_EDGE, 1.5), _laid("cloth", FURTHER_IN, 1.5),
        _laid("cloth", FURTHER_IN, 1.5, 4.5), _laid("hand", FURTHER_IN, 1.5),
    ),
    "rope": (
        _laid("tape", AT_THE_EDGE, 1.5), _laid("cloth", AT_THE_EDGE, 1.5),
        _laid("hand", FURTHER_IN, 1.5),
    ),
}  # fmt: skip
"""What is tried on each kind of drum (common practice, no published source)."""


@dataclass(frozen=True)
class Muffled:
    """A pair with muffling on its batter head.

    Attributes
    ----------
    mufflers : what lies on it
    ring_s : how long its stroke seems to last, as `Measures.ring_s`
    cents : by how much the note moves
    """

    mufflers: tuple[Muffler, ...]
    ring_s: float
    cents: float


class Gain(NamedTuple):
    """Muffling, and the points of 100 a pair gains by its ring alone."""

    muffled: Muffled
    points: float


def muffled(candidates: Candidates, number: int) -> tuple[Muffled, ...]:
    """What usual muffling does to a pair.

    Parameters
    ----------
    number : index of the pair

    Raises
    ------
    KesseltonError
        If the drum with the pair on it cannot be solved.
    """
    drum, brief = candidates.fitted(number), candidates.brief
    plain = _at(drum, brief, ())
    stretch = float(candidates.measures.ring_s[number]) / _ring_s(plain)
    out = []
    for mufflers in USUAL[drum.kind]:
        heard = _at(drum, brief, mufflers)
        ring = stretch * _ring_s(heard)
        out.append(
            Muffled(mufflers, ring, cents_between(plain.fundamental_hz, heard.fundamental_hz))
        )
    return tuple(out)


def gains(
    candidates: Candidates,
    number: int,
    muffleds: Sequence[Muffled],
    weight: FloatArray | None = None,
) -> tuple[Gain, ...]:
    """Of what muffling does to a pair that which brings it nearer to the ring that is asked for,
    most points first.

    Parameters
    ----------
    muffleds : of `muffled`, for the same pair
    weight : (K,) of the criteria; None for those of the brief
    """
    weights = candidates.scores.weight if weight is None else weight
    share = 100.0 * float(weights[KEYS.index("ring")]) / max(float(weights.sum()), 1e-12)
    own, wanted = (
        float(candidates.measures.ring_s[number]),
        wanted_ring_s(candidates.drum, candidates.brief),
    )
    rings = np.array([own, *(option.ring_s for option in muffleds)]) / wanted
    points = share * (near(rings, 2.0)[1:] - near(rings[:1], 2.0))
    better = [Gain(option, float(p)) for option, p in zip(muffleds, points, strict=True) if p > 0.0]
    return tuple(sorted(better, key=lambda item: -item.points))


def _at(drum: Drum, brief: Brief, mufflers: tuple[Muffler, ...]) -> Prediction:
    return predict(replace(drum, mufflers=mufflers), brief.stroke)


def _ring_s(prediction: Prediction) -> float:
    """T60 of the partials weighted by the sound each gives."""
    sound = 10.0 ** (0.1 * prediction.levels_db)
    return float(sound @ prediction.struck_t60_s / sound.sum())
