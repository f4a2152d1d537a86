"""How loud each drum of a set is at places round it: by distance, and by which head is nearer
(theory section 28)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.partials import Partials
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.prediction.inside import power_inside
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import LISTENING_S, energies_j, sounding_j
from kesselton.core.sets.model.kit import PLACES, Member, on_side

PLAYER_M = (0.0, -0.25, 1.2)
HOUSE_M = (0.0, 8.0, 1.4)
OVERHEAD_M = (0.0, 0.4, 2.0)
CLOSE_M, FRONT_M = 0.05, 0.3
"""Above the batter head's edge, and before the far head of a drum that stands on its side."""


@dataclass(frozen=True)
class Heard:
    """One drum at one place.

    Attributes
    ----------
    level_db : under the loudest drum of the set there; nan where it is not
    batter_share : of the sound there, from the batter head
    """

    drum: int
    place: str
    level_db: float
    batter_share: float


def balance(
    members: Sequence[Member], predictions: Sequence[Prediction], place: str
) -> list[Heard]:
    """How loud the drums are at a place, each struck as its prediction says.

    Notes
    -----
    Theory eq. 97: each head a small source that sends alike to all sides, its strength by its share
    of the volume that moves; near a head as if all of it lay one radius away. A drum other than a
    bass drum stands level.
    """
    if place not in PLACES:
        raise InputError(
            _("{place!r} is not a listening position.").format(place=place),
            _("Options: {places}.").format(places=", ".join(PLACES)),
            "place",
        )
    levels, shares = [], []
    for member, prediction in zip(members, predictions, strict=True):
        if place == "inside":
            if not on_side(member.drum):
                levels.append(-math.inf)
                shares.append(math.nan)
                continue
            power = power_inside(
                prediction.partials,
                energies_j(prediction.partials, prediction.stroke, prediction.lines),
            )
            levels.append(float(power.sum()))
            shares.append(math.nan)
            continue
        heads = _heads(member)
        away = [_away(member, head, heads, place) for head in range(len(heads))]
        if any(math.isinf(x) for x in away):
            levels.append(-math.inf)
            shares.append(math.nan)
            continue
        power = sounding_j(prediction.partials, prediction.stroke, prediction.lines) / LISTENING_S
        split = _split(prediction.partials)
        radius = prediction.partials.system.radius_m
        parts = [
            float(np.sum(power * share)) / (max(gap, radius) ** 2)
            for share, gap in zip(split, away, strict=False)
        ]
        levels.append(sum(parts))
        shares.append(parts[0] / max(sum(parts), 1e-30))
    top = max((x for x in levels if x > 0.0), default=1.0)
    return [
        Heard(
            number,
            place,
            10.0 * math.log10(level / top) if level > 0.0 else math.nan,
            share,
        )
        for number, (level, share) in enumerate(zip(levels, shares, strict=True))
    ]


def _split(partials: Partials) -> list[np.ndarray]:
    """Share of each partial's sound that each head sends, by the square of its motion."""
    heads = [
        part
        for part, end in zip(partials.system.slices, partials.system.ends, strict=True)
        if end.head is not None
    ]
    moved = [np.sum(np.abs(partials.shape[:, part]) ** 2, axis=1) for part in heads]
    whole = np.maximum(np.sum(moved, axis=0), 1e-30)
    return [item / whole for item in moved]


def _heads(member: Member) -> list[tuple[float, float, float]]:
    """Where the middles of its heads are, batter first."""
    seat, drum = member.seat, member.drum
    half = 0.5 * drum.shell.depth_m
    if on_side(drum):  # the player behind it
        ends = [
            (seat.x_m, seat.y_m - half, seat.height_m),
            (seat.x_m, seat.y_m + half, seat.height_m),
        ]
    else:
        ends = [
            (seat.x_m, seat.y_m, seat.height_m + half),
            (seat.x_m, seat.y_m, max(seat.height_m - half, 0.0)),
        ]
    return ends[: len(drum.sides)]


def _away(member: Member, head: int, heads: list[tuple[float, float, float]], place: str) -> float:
    """Meters from a head to a place; inf where that place has none for such a drum."""
    fixed = {"player": PLAYER_M, "house": HOUSE_M, "overhead": OVERHEAD_M}
    if place in fixed:
        return math.dist(heads[head], fixed[place])
    depth = member.drum.shell.depth_m
    if place == "close":
        return CLOSE_M + (depth if head else 0.0)
    if not on_side(member.drum):
        return math.inf
    return FRONT_M + (0.0 if head else depth)
