"""How far a match of a heard line and a computed partial is to be trusted: learned from strokes
(theory 23)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import FloatArray, IndexArray
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.forest import forest

NAME = "match_doubt.npz"
NEAR_CENTS, AUDIBLE_DB = 80.0, -50.0
"""So near each other lines may be taken for one another; fainter partials are left out of that."""
FARTHEST = 40.0


class Laid(NamedTuple):
    """Lines (L) laid beside partials (P).

    Attributes
    ----------
    odds : (L, P) log of how likely a line is that partial against something else
    off : (L, P) cents from where the partial stands with its drum
    sd : (L, P) of that
    level_off_db, ring_off : (L, P) heard less computed, of T60 the logarithm
    heard, computed : (L,), (P,) cents
    level_db, ring, half_cents : (L,) of the lines, T60 as a logarithm
    computed_db, order, room, on_batter : (P,) of the partials: level, nodal diameters, lines it has
        room for, share of the batter
    fundamental : index
    shift : cents of the whole drum
    beyond : how much better the lines fit than by chance, per line
    """

    odds: FloatArray
    off: FloatArray
    sd: FloatArray
    level_off_db: FloatArray
    ring_off: FloatArray
    heard: FloatArray
    computed: FloatArray
    level_db: FloatArray
    ring: FloatArray
    half_cents: FloatArray
    computed_db: FloatArray
    order: IndexArray
    room: IndexArray
    on_batter: FloatArray
    fundamental: int
    shift: float
    beyond: float


def evidence(laid: Laid, pairs: Sequence[tuple[int, int]]) -> FloatArray:
    """(R, 33) what speaks for each pair of line and partial, and against it.

    Its odds, alone and against the best other partial of the line and the best other line of the
    partial; how far it is off in pitch, level and ring; what the line and the partial are; how
    crowded it is there, of lines and of partials; how well all lines fit; of all lines that are
    paired with this partial how many there are, how far their middle is off, how far they stand
    apart and differ in ring.
    """
    line, partial = (np.array(each, dtype=np.intp) for each in zip(*pairs, strict=True))
    at = (line, partial)
    odds = np.clip(laid.odds, -FARTHEST, FARTHEST)
    own = odds[at]
    explained = 1.0 - 1.0 / (1.0 + np.exp(odds).sum(axis=1))
    weight = 10.0 ** (laid.level_db / 20.0)
    audible = laid.computed_db > AUDIBLE_DB
    apart = np.abs(laid.computed[partial, None] - laid.computed)
    apart[np.arange(len(partial)), partial] = np.inf
    apart[:, np.logical_not(audible)] = np.inf
    beside = np.abs(laid.heard[line, None] - laid.heard)
    beside[np.arange(len(line)), line] = np.inf
    count = len(line)
    off, ring = laid.off[at], laid.ring[line]
    same = partial[:, None] == partial
    of_same = same.sum(axis=1)

    def width(values: FloatArray) -> FloatArray:
        most = np.where(same, values, -np.inf).max(axis=1)
        out: FloatArray = most - np.where(same, values, np.inf).min(axis=1)
        return out

    return np.column_stack(
        (
            own,
            own - _best_other(odds[line], partial),
            own - _best_other(odds[:, partial].T, line),
            np.log(explained[line]) - np.log1p(-explained[line] + 1e-9),
            off / laid.sd[at],
            off,
            np.abs(off),
            np.log(laid.sd[at]),
            laid.level_off_db[at],
            laid.ring_off[at],
            np.full(count, laid.shift),
            np.full(count, abs(laid.shift)),
            laid.level_db[line],
            ring,
            np.log(laid.half_cents[line]),
            laid.heard[line] - laid.computed[laid.fundamental] - laid.shift,
            laid.heard[line],
            laid.computed_db[partial],
            laid.order[partial],
            laid.room[partial],
            laid.on_batter[partial],
            partial == laid.fundamental,
            np.minimum(apart.min(axis=1), CENTS_PER_OCTAVE),
            (apart < NEAR_CENTS).sum(axis=1),
            np.minimum(beside.min(axis=1), CENTS_PER_OCTAVE)
            if len(laid.heard) > 1
            else [CENTS_PER_OCTAVE] * count,
            (beside < NEAR_CENTS).sum(axis=1),
            np.full(count, float(len(laid.heard))),
            np.full(count, laid.beyond),
            np.full(count, float(np.average(explained, weights=weight))),
            of_same,
            (same @ off) / of_same,
            width(off),
            width(ring),
        )
    ).astype(float)


def _best_other(odds: FloatArray, own: IndexArray) -> FloatArray:
    """(R,) the best of each row of (R, N) besides its own, at least that of something else."""
    rest = odds.copy()
    rest[np.arange(len(own)), own] = -math.inf
    out: FloatArray = np.maximum(rest.max(axis=1), 0.0)
    return out


def trust(values: FloatArray) -> FloatArray:
    """(R,) share of likelihood, by `evidence`, that each line is that partial."""
    return forest(NAME).share(values)
