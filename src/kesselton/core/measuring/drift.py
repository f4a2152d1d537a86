"""What becomes of a setting when it gets colder on stage, or after a day (theory 15)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from kesselton.core.acoustics.lug import lug_pitch, tensions
from kesselton.core.acoustics.partials import fundamental_hz
from kesselton.core.errors import check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.measuring.rods import hoop_compliance
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.usable import CREEP_SHARE

SHELL_EXPANSION_PER_K = 8e-6
"""A plied wooden shell across its diameter, hardware along; assumed (wood along the grain about
5e-6, across 30e-6: Wood Handbook, chapter 4, from memory)."""
CREEP_SHARE_PER_DECADE = 0.012
"""Tension a film head loses in a tenfold time after fitting, far below its creep limit; assumed."""
CREEP_BY_STRESS = 0.04
"""And what is added at the limit itself; assumed."""
SKIN_CREEP = 2.5
"""Skins give so much more; assumed."""
SETTLED_H = 0.2
"""Hours after fitting from which the setting counts."""


@dataclass(frozen=True, eq=False)
class Drift:
    """What becomes of a setting.

    Attributes
    ----------
    label : "8 °C colder", "after 24 h"
    tensions_n_per_m, lug_pitches_hz, fundamental_hz : then
    lug_cents, fundamental_cents : changes, per head and of the whole drum
    """

    label: str
    tensions_n_per_m: tuple[float, ...]
    lug_pitches_hz: tuple[float, ...]
    fundamental_hz: float
    lug_cents: tuple[float, ...]
    fundamental_cents: float


def colder(drum: Drum, now: Prediction, by_k: float) -> Drum:
    """The drum at `by_k` kelvin less, set by what its tensions become.

    Notes
    -----
    Theory eq. 37: the film shrinks against the shell by a (alpha_f - alpha_s) per kelvin, and
    collar and lugs give way to it as they do to the rods. The air changes as well.
    """
    check_range(by_k, -60.0, 60.0, "Change of temperature", "K")
    cooler = replace(drum, air=replace(drum.air, temperature_c=drum.air.temperature_c - by_k))
    for side, tension in zip(drum.sides, now.tensions_n_per_m, strict=True):
        head = drum.setting(side).head
        shrinks = head.substance.expansion_per_k.value - SHELL_EXPANSION_PER_K
        drawn = drum.shell.radius_m * shrinks * by_k
        gained = drawn / hoop_compliance(drum, head)
        cooler = cooler.with_setting(
            side, drum.setting(side).at_tension(max(tension + gained, 1.0))
        )
    return cooler


def later(drum: Drum, now: Prediction, hours: float) -> Drum:
    """The drum `hours` after fitting: the heads have crept (theory eq. 38)."""
    check_range(hours, 0.0, 24.0 * 3650.0, "Time", "h")
    decades = math.log10(max(hours, SETTLED_H) / SETTLED_H)
    older = drum
    for side, tension in zip(drum.sides, now.tensions_n_per_m, strict=True):
        older = older.with_setting(
            side,
            drum.setting(side).at_tension(tension * (1.0 - creep(drum, side, tension, decades))),
        )
    return older


def creep(drum: Drum, side: str, tension_n_per_m: float, decades: float) -> float:
    """Share of its tension a new head loses over so many tenfold times."""
    head = drum.setting(side).head
    bearable = CREEP_SHARE * head.substance.yield_pa.value * head.film_thickness_m
    stress = min(tension_n_per_m / bearable, 1.5)
    rate = CREEP_SHARE_PER_DECADE + CREEP_BY_STRESS * stress**2
    if head.is_skin:
        rate *= SKIN_CREEP
    return min(0.9, rate * decades)


def drifts(drum: Drum, now: Prediction, by_k: float = 8.0, hours: float = 24.0) -> list[Drift]:
    """Colder (or warmer) by `by_k`, and so many hours after fitting.

    Raises
    ------
    ConvergenceError
        If one of them was not solved.
    """
    way = "colder" if by_k >= 0 else "warmer"
    found = []
    bare = fundamental_hz(drum, now.tensions_n_per_m)
    for label, other in (
        (f"{abs(by_k):g} °C {way}", colder(drum, now, by_k)),
        (f"after {hours:g} h", later(drum, now, hours)),
    ):
        tension = tensions(other)
        pitches = tuple(lug_pitch(other, side, tension) for side in other.sides)
        cents = tuple(cents_between(a, b) for a, b in zip(now.lug_pitches_hz, pitches, strict=True))
        moved = fundamental_hz(other, tension) / bare
        found.append(
            Drift(
                label,
                tension,
                pitches,
                now.fundamental_hz * moved,
                cents,
                cents_between(1.0, moved),
            )
        )
    return found
