"""Why a pair of heads stands where it stands: by which criteria, against which other pair."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.heads.choose import Candidates

TIED_POINTS = 1.0
"""Pairs no farther apart than this, of 100, are as good as each other; assumed."""
TOLD_POINTS = 0.5
"""Smaller differences in one criterion are not told."""
MOST_TOLD = 3


@dataclass(frozen=True)
class Why:
    """What decides the place of one pair, as points of 100 by criterion.

    Attributes
    ----------
    place : from 1, the best; 0 if the pair cannot be set so
    rival : index of the pair it is compared with: the second for the first, the first for all
        others; -1 where there is none
    ahead, behind : (row of CRITERIA, points) in which it gains or loses most against the rival
    lacks : (row, points) it loses most by against a pair that would fulfil everything
    rest : points of all criteria that are not named, so that everything adds up
    ties : how many other pairs lie within TIED_POINTS
    """

    place: int
    rival: int
    ahead: tuple[tuple[int, float], ...]
    behind: tuple[tuple[int, float], ...]
    lacks: tuple[tuple[int, float], ...]
    rest: float
    ties: int


def why(candidates: Candidates, number: int, weight: FloatArray | None = None) -> Why:
    """What decides where a pair stands.

    Parameters
    ----------
    number : index of the pair
    weight : (K,) of the criteria; None for those of the brief

    Notes
    -----
    Points are weighted scores over the sum of the weights, so that all differences add up to the
    difference of the totals.
    """
    scores = candidates.scores
    weights = scores.weight if weight is None else weight
    share = 100.0 * weights / max(float(weights.sum()), 1e-12)
    order = candidates.order(weights)
    places = np.flatnonzero(order == number)
    place = int(places[0]) + 1 if len(places) else 0
    others = order[order != number]
    rival = int(others[0]) if len(others) else -1
    apart = np.zeros(len(share))
    if rival >= 0:
        apart = share * (scores.score[:, number] - scores.score[:, rival])
    missing = share * (1.0 - np.clip(scores.score[:, number], 0.0, 1.0))
    missing[~np.isfinite(scores.value[:, number])] = 0.0
    total = 100.0 * scores.total(weights)
    near = np.abs(total[others] - total[number]) <= TIED_POINTS if len(others) else np.array([])
    ahead, behind = _most(apart), _most(-apart)
    named = sum(points for _row, points in ahead) - sum(points for _row, points in behind)
    rest = float(apart.sum()) - named
    return Why(place, rival, ahead, behind, _most(missing), rest, int(near.sum()) if place else 0)


def _most(points: FloatArray) -> tuple[tuple[int, float], ...]:
    """The largest few, largest first."""
    order = np.argsort(-points, kind="stable")[:MOST_TOLD]
    return tuple((int(row), float(points[row])) for row in order if points[row] >= TOLD_POINTS)
