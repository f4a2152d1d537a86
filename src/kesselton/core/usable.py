"""How far a head can go: limits below and above, each with its name (first form)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from kesselton.core.bessel import head_basis
from kesselton.core.drum import HOOPS, LOWEST_TENSION_N_PER_M, Drum
from kesselton.core.errors import InputError
from kesselton.core.lug import lug_pitch
from kesselton.core.outside import OutsideAir
from kesselton.core.uncertainty import CENTS_PER_NEPER

COLLAR_STRESS_PA = 1.5e6
"""Film stress that pulls a moulded collar free and the wrinkles out; assumed."""
STROKE_AMPLITUDE_M = 0.001
GLIDE_CENTS = 50.0
"""Glide a medium stroke of 1 mm may start with before the pitch blurs; assumed."""
CREEP_SHARE = 0.6
"""Share of the yield stress a head bears without stretching on; assumed."""
ROD_LOAD_N = 2500.0
"""Load one No. 12-24 rod takes from a hand key without galling; assumed."""


@dataclass(frozen=True)
class Limit:
    """A tension no head should go below or above, and why."""

    name: str
    label: str
    tension_n_per_m: float
    reason: str


@dataclass(frozen=True)
class HeadRange:
    """Usable range of one head: all limits, and the ones that count."""

    side: str
    lower: tuple[Limit, ...]
    upper: tuple[Limit, ...]
    lowest_pitch_hz: float
    highest_pitch_hz: float

    @property
    def lowest(self) -> Limit:
        """The lower limit that is met first when loosening."""
        return max(self.lower, key=lambda limit: limit.tension_n_per_m)

    @property
    def highest(self) -> Limit:
        """The upper limit that is met first when tightening."""
        return min(self.upper, key=lambda limit: limit.tension_n_per_m)


def glide_tension(drum: Drum, side: str, amplitude_m: float = STROKE_AMPLITUDE_M) -> float:
    """Tension added at the top of a stroke of `amplitude_m` in the (0,1) shape, N/m (eq. 20).

    References
    ----------
    H. M. Berger, J. Appl. Mech. 22 (1955) 465: stretching averaged over the surface (from memory).
    """
    head = drum.setting(side).head
    k = float(head_basis(0, 1).k[0])
    slope2 = (amplitude_m * k / drum.shell.radius_m) ** 2 * _J1_AT_FIRST_ZERO**2
    return 0.5 * head.substance.biaxial_stiffness(head.film_thickness_m) * slope2


_J1_AT_FIRST_ZERO = 0.5191474972894669  # J_1(j_01), Abramowitz and Stegun, table 9.5


def head_range(drum: Drum, side: str, outside: OutsideAir | None = None) -> HeadRange:
    """Usable range of a head on this drum, independent of how it is set now.

    Raises
    ------
    InputError
        When the lower limit lies above the upper: this head does not suit this drum.
    """
    setting = drum.setting(side)
    head, shell = setting.head, drum.shell
    thickness = head.film_thickness_m
    glide = 0.375 * CENTS_PER_NEPER * glide_tension(drum, side) / GLIDE_CENTS
    per_rod = shell.rods / (2.0 * math.pi * shell.radius_m)
    rope = drum.kind == "rope"
    hoop = HOOPS[shell.hoop]
    lower = (
        Limit(
            "collar",
            "collar",
            COLLAR_STRESS_PA * thickness,
            "below it the collar is not pulled free and the head wrinkles",
        ),
        Limit(
            "glide",
            "pitch glide",
            glide,
            f"below it a medium stroke starts more than {GLIDE_CENTS:g} cents sharp",
        ),
    )
    upper = (
        Limit(
            "film_stress",
            "film stress",
            CREEP_SHARE * head.substance.yield_pa.value * thickness,
            "above it the head goes on stretching",
        ),
        Limit(
            "rod_load",
            "rope load" if rope else "rod load",
            ROD_LOAD_N * per_rod,
            "above it a rod is turned by force",
        ),
        Limit(
            "hoop",
            "hoop",
            hoop.rod_load_n * per_rod,
            f"above it the {hoop.label} hoop bends between the rods",
        ),
    )
    found = HeadRange(side, lower, upper, 0.0, 0.0)
    low, high = found.lowest.tension_n_per_m, found.highest.tension_n_per_m
    if low >= high:
        raise InputError(
            f"The {side} head {head.name!r} has no usable range on this drum: {found.lowest.label} "
            f"asks for at least {low:.0f} N/m, {found.highest.label} allows {high:.0f} N/m.",
            "Choose another head or a stiffer hoop.",
            side,
        )
    return replace(
        found,
        lowest_pitch_hz=_muted_pitch(drum, side, max(low, LOWEST_TENSION_N_PER_M), outside),
        highest_pitch_hz=_muted_pitch(drum, side, high, outside),
    )


def _muted_pitch(drum: Drum, side: str, tension: float, outside: OutsideAir | None) -> float:
    pair = tuple(tension if s == side else 1000.0 for s in drum.sides)
    return lug_pitch(drum, side, pair, outside=outside)
