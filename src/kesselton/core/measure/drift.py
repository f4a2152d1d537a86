"""What becomes of a setting when it gets colder on stage, or after a day (theory 15)."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.errors import check_range
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import SHELL_MATERIALS
from kesselton.core.language import _
from kesselton.core.measure.rods import hoop_compliance
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.usable import CREEP_SHARE

EXPANSION_DOUBT, SWELLING_DOUBT = 0.25, 0.5
"""Shares by which a head's own expansion and swelling may be off (90 %); assumed."""
GIVE_DOUBT = 0.4
"""Share by which collar, lugs and film together may give more or less (90 %); the collar is assumed
and is half to four fifths of it."""
CREEP_DOUBT = 0.5
"""Share by which creep may be off (90 %); assumed."""
SLACKEST_N_PER_M = 1.0
CREEP_SHARE_PER_DECADE = 0.012
"""Tension a film head loses in a tenfold time after fitting, far below its creep limit; assumed."""
CREEP_BY_STRESS = 0.04
"""And what is added at the limit itself; assumed."""
SKIN_CREEP = 2.5
"""Skins give so much more; assumed."""
DAMPER = 0.10
"""A skin is also looked at in air damper by so much, where the stage's is not damper or drier: an
evening's change; assumed."""
SETTLED_H = 0.2
"""Hours after fitting from which the setting counts."""


@dataclass(frozen=True, eq=False)
class Drift:
    """What becomes of a setting.

    Attributes
    ----------
    label : "8 °C colder", "After 24 h"
    tensions_n_per_m, lug_pitches_hz, fundamental_hz : then
    lug_cents, fundamental_cents : changes, per head and of the whole drum
    lug_half_cents, fundamental_half_cents : half-widths of these, nine times in ten
    assumed : names of what was not said and counts here
    """

    label: str
    tensions_n_per_m: tuple[float, ...]
    lug_pitches_hz: tuple[float, ...]
    fundamental_hz: float
    lug_cents: tuple[float, ...]
    fundamental_cents: float
    lug_half_cents: tuple[float, ...]
    fundamental_half_cents: float
    assumed: tuple[str, ...] = ()


@dataclass(frozen=True)
class Strain:
    """How much longer film becomes than shell, and half the width of that (90 %)."""

    value: float
    half: float


def strain_between(drum: Drum, head: Head, stage: Air) -> Strain:
    """Strain of a head's film over that of the shell when the drum is carried to other air.

    Notes
    -----
    Theory eq. 58. Heat and damp are four terms, each with a doubt of its own; what the drum is made
    of and was not said widens them to all usual materials.
    """
    kelvin = stage.temperature_c - drum.air.temperature_c
    damp = stage.relative_humidity - drum.air.relative_humidity
    film, shell = head.substance, drum.shell.made_of
    expansion, swelling = shell.expansion_per_k, shell.swelling
    doubts = (shell.expansion_doubt, shell.swelling_doubt)
    if drum.shell.material is None:
        every = SHELL_MATERIALS.values()
        away = max(abs(m.expansion_per_k - expansion) for m in every if m.name != "acrylic")
        doubts = (max(doubts[0], away), doubts[1])
    value = (film.expansion_per_k.value - expansion) * kelvin
    value += (film.swelling.value - swelling) * damp
    half = math.hypot(
        EXPANSION_DOUBT * film.expansion_per_k.value * kelvin,
        doubts[0] * kelvin,
        SWELLING_DOUBT * film.swelling.value * damp,
        doubts[1] * damp,
    )
    return Strain(value, half)


def carried(drum: Drum, now: Prediction, stage: Air, sigmas: float = 0.0) -> Drum:
    """The drum in other air, set by what its tensions become.

    Parameters
    ----------
    sigmas : 0 for what is expected, 1 or -1 for the ends of the interval

    Notes
    -----
    Theory eq. 37: film and shell grow by a strain of their own, and film, collar and lugs give way
    to the difference as they do to the rods. The air changes as well.
    """
    moved = replace(drum, air=stage)
    for side, tension in zip(drum.sides, now.tensions_n_per_m, strict=True):
        head = drum.setting(side).head
        strain = strain_between(drum, head, stage)
        gain = -drum.shell.radius_m / hoop_compliance(drum, head)
        doubt = math.hypot(gain * strain.half, GIVE_DOUBT * gain * strain.value)
        gained = gain * strain.value + sigmas * doubt
        moved = moved.with_setting(
            side, drum.setting(side).at_tension(max(tension + gained, SLACKEST_N_PER_M))
        )
    return moved


def later(drum: Drum, now: Prediction, hours: float, sigmas: float = 0.0) -> Drum:
    """The drum `hours` after fitting: the heads have crept (theory eq. 38); `sigmas` 1 or -1 for
    the ends of the interval."""
    check_range(hours, 0.0, 24.0 * 3650.0, _("Time"), "h")
    decades = math.log10(max(hours, SETTLED_H) / SETTLED_H)
    older, less = drum, 1.0 - sigmas * CREEP_DOUBT
    for side, tension in zip(drum.sides, now.tensions_n_per_m, strict=True):
        older = older.with_setting(
            side,
            drum.setting(side).at_tension(
                tension * (1.0 - less * creep(drum, side, tension, decades))
            ),
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


def drifts(
    drum: Drum, now: Prediction, stage: Air | None = None, hours: float = 24.0
) -> list[Drift]:
    """In the air of the stage (None: 8 °C colder), and so many hours after fitting; a drum with a
    skin, where only the heat of the stage differs, also in damper air, which moves it most.

    Raises
    ------
    ConvergenceError
        If one of them was not solved.
    """
    air = drum.air
    there = stage or replace(air, temperature_c=air.temperature_c - 8.0)
    bare = fundamental_hz(drum, now.tensions_n_per_m)
    assumed = ("shell.material",) if drum.shell.material is None else ()
    results = [
        _drift(drum, now, bare, air_words(air, there), partial(carried, drum, now, there), assumed),
        _drift(
            drum,
            now,
            bare,
            _("After {hours:g} h").format(hours=hours),
            partial(later, drum, now, hours),
            (),
        ),
    ]
    skins = any(drum.setting(side).head.is_skin for side in drum.sides)
    if skins and abs(there.relative_humidity - air.relative_humidity) < 0.5 * DAMPER:
        damp = replace(air, relative_humidity=min(air.relative_humidity + DAMPER, 1.0))
        carry = partial(carried, drum, now, damp)
        results.append(_drift(drum, now, bare, air_words(air, damp), carry, assumed))
    return results


def air_words(here: Air, there: Air) -> str:
    """What changes on the way to other air: "8 °C colder, 20 % damper"."""
    kelvin = there.temperature_c - here.temperature_c
    damp = 100.0 * (there.relative_humidity - here.relative_humidity)
    results = []
    if kelvin != 0.0 or abs(damp) < 0.5:
        results.append(
            (_("{kelvin:g} °C colder") if kelvin <= 0.0 else _("{kelvin:g} °C warmer")).format(
                kelvin=abs(kelvin)
            )
        )
    if abs(damp) >= 0.5:
        results.append(
            (_("{damp:.0f} % more humid") if damp > 0.0 else _("{damp:.0f} % less humid")).format(
                damp=abs(damp)
            )
        )
    return ", ".join(results)


def _drift(
    drum: Drum,
    now: Prediction,
    bare_hz: float,
    label: str,
    result: Callable[[float], Drum],
    assumed: tuple[str, ...],
) -> Drift:
    """Middle and ends of one change; `result` gives the drum for each."""

    def solved(sigmas: float) -> tuple[tuple[float, ...], tuple[float, ...], float]:
        other = result(sigmas)
        tension = tensions(other)
        pitches = tuple(lug_pitch(other, side, tension) for side in other.sides)
        return tension, pitches, fundamental_hz(other, tension) / bare_hz

    tension, pitches, moved = solved(0.0)
    _unused, high, upper = solved(1.0)
    _unused, low, lower = solved(-1.0)
    return Drift(
        label,
        tension,
        pitches,
        now.fundamental_hz * moved,
        tuple(cents_between(a, b) for a, b in zip(now.lug_pitches_hz, pitches, strict=True)),
        cents_between(1.0, moved),
        tuple(0.5 * abs(cents_between(a, b)) for a, b in zip(low, high, strict=True)),
        0.5 * abs(cents_between(lower, upper)),
        assumed,
    )
