"""The two heads of a drum against each other: by pitch, by pull, by turns; and where one pull draws
both."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch, tensions
from kesselton.core.errors import InputError
from kesselton.core.heads.apart import PITCH, TURNS, Apart
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import _
from kesselton.core.measure.plan import at_interval, at_ratio
from kesselton.core.measure.rods import tension_per_turn
from kesselton.core.pitch import cents_between, ratio_of

ROUNDING = 1e-3
"""ln of a tension: pitches are kept to a hundredth of a hertz or so."""


@dataclass(frozen=True)
class Standing:
    """Resonant against batter: cents between the lug pitches, ratio of tensions, of turns past
    finger tight."""

    cents: float
    pull: float
    turns: float


def standing(
    drum: Drum, tensions_n_per_m: tuple[float, ...], lug_pitches_hz: tuple[float, ...]
) -> Standing:
    """How the two heads of a drum stand to each other, in all three measures."""
    pull = tensions_n_per_m[1] / tensions_n_per_m[0]
    cents = cents_between(lug_pitches_hz[0], lug_pitches_hz[1])
    return Standing(cents, pull, pull * math.exp(-_turn_pulls(drum)))


def _turn_pulls(drum: Drum) -> float:
    """ln of what a turn pulls on the resonant head over what it does on the batter."""
    thread = THREADS[drum.shell.rod_thread]
    batter, resonant = (tension_per_turn(drum, drum.setting(s).head, thread) for s in drum.sides)
    return math.log(resonant / batter)


def at_apart(drum: Drum, apart: Apart, note_hz: float | None) -> Drum:
    """The drum with its heads so far apart; with `note_hz` the whole drum sounds that note, without
    the batter head stays.

    Raises
    ------
    InputError
        If one pull draws both heads and cannot be so uneven, or the heads cannot be set so.
    """
    if apart.measure == PITCH and drum.one_pull is None:
        return at_interval(drum, apart.value, note_hz)
    if drum.resonant is None:
        raise InputError(_("{name!r} has no resonant head.").format(name=drum.name))
    if apart.measure == PITCH:
        pair = tensions(drum)
        hz = lug_pitch(drum, "batter", pair) * ratio_of(apart.value)
        share = math.log(tension_from_pitch(drum, "resonant", hz) / pair[0])
    else:
        share = apart.value + (_turn_pulls(drum) if apart.measure == TURNS else 0.0)
    refuse_apart(drum, share)
    return at_ratio(drum, share, note_hz)


def refuse_apart(drum: Drum, share: float) -> None:
    """Raise InputError if one pull draws both heads and friction cannot hold them so far apart.

    `share` is ln of the resonant head's tension over the batter's (theory eq. 77).
    """
    most = drum.one_pull
    if most is not None and not _holds(most, share):
        raise InputError(
            _(
                "One pull tightens both heads of {name!r}: their tensions "
                "would differ by {expm1:.0f} %, friction holds {most:.0f} %."
            ).format(name=drum.name, expm1=100.0 * math.expm1(abs(share)), most=100.0 * most),
            _("Set one head only, or choose heads of different mass."),
            "drawn",
        )


def drawn_along(drum: Drum, side: str, hz: float) -> Drum:
    """The drum with one head at a lug pitch and the other drawn along by the same pull.

    What lies between the two stays as it was, as far as friction holds it.
    """
    index = drum.sides.index(side)
    other = drum.sides[1 - index]
    pair = tensions(drum)
    share = _held(drum.one_pull or 0.0, math.log(pair[1 - index] / pair[index]))
    moved = drum.with_setting(side, drum.setting(side).at_pitch(hz))
    return _pulled(moved, other, tension_from_pitch(drum, side, hz) * math.exp(share))


def _pulled(drum: Drum, side: str, tension: float) -> Drum:
    """The drum with one head at a tension nobody read."""
    return drum.with_setting(side, drum.setting(side).at_tension(tension))


def together(before: Drum | None, drum: Drum) -> Drum:
    """A drum as it is after a change: where one pull draws both heads, both have been drawn.

    The head that was set leads; where a head was exchanged, the other; where both were set or it
    comes from elsewhere, they stay if friction holds them so, else the resonant follows the batter.
    """
    most = drum.one_pull
    if most is None:
        return drum
    pair = tensions(drum)
    stays = _holds(most, math.log(pair[1] / pair[0]))
    if before is None or before.one_pull is None or before.shell != drum.shell:
        return drum if stays else drawn_along(drum, "batter", lug_pitch(drum, "batter", pair))
    same = [before.setting(s).head == drum.setting(s).head for s in drum.sides]
    moved = [before.setting(s) != drum.setting(s) for s in drum.sides]
    if not any(moved) or (all(moved) and stays):
        return drum
    old = tensions(before)
    if all(moved):
        lead = 0
    elif all(same):
        lead = moved.index(True)
    else:  # the new head takes the pull there was
        lead = same.index(True)
        return _pulled(drum, drum.sides[1 - lead], old[1 - lead])
    share = _held(most, math.log(old[1 - lead] / old[lead]))
    return _pulled(drum, drum.sides[1 - lead], pair[lead] * math.exp(share))


def _holds(most: float, share: float) -> bool:
    """Whether friction holds two tensions so far apart, ln."""
    return abs(share) <= math.log1p(most) + ROUNDING


def _held(most: float, share: float) -> float:
    """The nearest to it that friction holds."""
    return max(-math.log1p(most), min(math.log1p(most), share))
