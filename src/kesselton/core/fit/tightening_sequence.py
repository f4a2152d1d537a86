"""In which order rods are turned: a star that keeps the pull balanced, or plainly across."""

from __future__ import annotations

import cmath
import math
from functools import lru_cache
from itertools import pairwise

from kesselton.core.constants import MAX_RODS, MIN_RODS
from kesselton.core.errors import InputError
from kesselton.core.language import N_, Worded, _

SEARCHED = 11
"""Odd numbers of rods up to which the best order is searched; beyond, a fixed step round."""
REASONS = Worded(
    {
        "star": N_("star: never two neighbors in a row, so the head stays level"),
        "across": N_("opposite pairs: next rod is always opposite, easiest to remember"),
    }
)


def star_order(rods: int) -> tuple[int, ...]:
    """Rods 1 to N in star order.

    Neighbours follow each other only where that cannot be avoided (four rods), and the pull of the
    rods already turned stays as balanced as it can be.

    Raises
    ------
    InputError
        If a drum cannot have so many rods.
    """
    _check(rods)
    if rods % 2 == 0:
        return _pairs(rods)
    if rods <= SEARCHED:
        return _searched(rods)
    step = rods // 2
    return tuple((i * step) % rods + 1 for i in range(rods))


def across_order(rods: int) -> tuple[int, ...]:
    """Rods 1 to N plainly across: 1, its opposite, 2, its opposite …

    Raises
    ------
    InputError
        If a drum cannot have so many rods.
    """
    _check(rods)
    half = rods // 2
    order: list[int] = []
    for rod in range(1, rods + 1):
        for number in (rod, (rod - 1 + half) % rods + 1):
            if number not in order:
                order.append(number)
    return tuple(order)


def _check(rods: int) -> None:
    if not MIN_RODS <= rods <= MAX_RODS:
        raise InputError(
            _("A drum with {rods} rods cannot be tightened in a star.").format(rods=rods),
            _("Use {min_rods} to {max_rods} rods.").format(min_rods=MIN_RODS, max_rods=MAX_RODS),
            "shell.rods",
        )


def _pairs(rods: int) -> tuple[int, ...]:
    """Opposite pairs, each pair begun as far from the rod before as may be."""
    half = rods // 2
    left = list(range(half))
    order: list[int] = []
    while left:
        choices = [
            (_awkward(pair + half * flip, order, rods), pair, flip)
            for pair in left
            for flip in (0, 1)
        ]
        _unused, pair, flip = min(choices)
        first = pair + half * flip
        order += [first, (first + half) % rods]
        left.remove(pair)
    return tuple(rod + 1 for rod in order)


def _awkward(first: int, done: list[int], rods: int) -> tuple[int, int, int]:
    """How little a rod is wanted next: beside the last one, crowded, far round."""
    if not done:
        return (0, 0, first)
    gap = min((first - done[-1]) % rods, (done[-1] - first) % rods)
    return (1 if gap == 1 else 0, _crowded(first, done, rods), first)


def _crowded(rod: int, done: list[int], rods: int) -> int:
    """How near the rods already turned are: fewer is better spread."""
    return -min(min((rod - d) % rods, (d - rod) % rods) for d in done)


def imbalance(order: tuple[int, ...], rods: int) -> tuple[float, float]:
    """Largest and mean pull left unbalanced while rods are turned in an order, in rods."""
    total, seen = 0j, []
    for rod in order:
        total += cmath.exp(2j * math.pi * (rod - 1) / rods)
        seen.append(abs(total))
    return max(seen), sum(seen) / len(seen)


def neighbours(order: tuple[int, ...], rods: int) -> int:
    """How often two neighbours follow each other."""
    return sum(1 for a, b in pairwise(order) if (a - b) % rods in (1, rods - 1))


@lru_cache(maxsize=16)
def _searched(rods: int) -> tuple[int, ...]:
    """The best order of all: fewest neighbours, then least largest, then least mean imbalance."""
    at = [cmath.exp(2j * math.pi * rod / rods) for rod in range(rods)]
    full = (1 << rods) - 1
    pull = [0.0] * (full + 1)
    for mask in range(full + 1):
        pull[mask] = round(abs(sum(at[r] for r in range(rods) if mask >> r & 1)), 9)
    best: dict[tuple[int, int], tuple[tuple[float, float, float], tuple[int, ...]]] = {
        (1, 0): ((0.0, pull[1], pull[1]), (0,))
    }
    for _more in range(rods - 1):
        step: dict[tuple[int, int], tuple[tuple[float, float, float], tuple[int, ...]]] = {}
        for (mask, last), (cost, path) in best.items():
            for rod in range(rods):
                if mask >> rod & 1:
                    continue
                now = mask | 1 << rod
                near = 1.0 if (rod - last) % rods in (1, rods - 1) else 0.0
                new = (cost[0] + near, max(cost[1], pull[now]), cost[2] + pull[now])
                known = step.get((now, rod))
                if known is None or new < known[0]:
                    step[now, rod] = (new, (*path, rod))
        best = step
    path = min(best.values())[1]
    return tuple(rod + 1 for rod in path)
