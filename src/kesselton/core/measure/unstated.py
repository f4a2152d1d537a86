"""What nobody stated about a drum, and what it does to every reading at once (theory eq. 59).

The film of a head is a little heavier or lighter than its sheet says, the circle it bears on a
little wider: that moves all readings of the head together. Such terms are unknowns of their own,
each with the doubt it has before anything is read; readings of other kinds can narrow them.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from kesselton.core.acoustics.air.outside import OutsideAir, ScaledAir
from kesselton.core.acoustics.solver.partials import air_round, outside_air
from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_NEPER, SIGMAS_90
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.uncertainty import DEFAULT, GUESSED_DEPTH_M, GUESSED_PLIES

MASS_SD = DEFAULT.film_mass / SIGMAS_90
"""Film and coating by the data sheet; assumed."""
WEIGHED_MASS_SD = 0.006
"""A head that was weighed; assumed."""
FRICTION_SD = 0.20
"""Of a drum's rods against what is said of them; with what differs from rod to rod 25 % (Shigley,
section 8-8, from memory)."""
GIVE_SD = 0.22
"""Of collar and lugs together; assumed."""
DIAL_SCALE_SD = 0.024
"""Of the tensions a dial was calibrated by: they came from pitches of films nobody weighed."""

NAMES = (
    "mass_batter", "mass_resonant", "radius", "outside", "inside", "recoil",
    "friction", "give_batter", "give_resonant", "dial_scale", "dial_0", "dial_1", "dial_2",
)  # fmt: skip
"""Unknowns, each scaled so that its own standard deviation is one."""
COUNT = len(NAMES)
PLACE = {name: index for index, name in enumerate(NAMES)}
OF_PITCH = NAMES[:6]
STEP = 0.5
"""Standard deviations over which slopes are taken."""
Solve = Callable[[Drum, OutsideAir | None], float]


def pitch_slopes(drum: Drum, sides: tuple[str, ...], whole: bool, solve: Solve) -> FloatArray:
    """What each unknown does to a pitch, cents per standard deviation: (COUNT,).

    Parameters
    ----------
    sides : heads whose film counts
    whole : True where both heads and the shell move
    solve : pitch in hertz of a drum in given outside air
    """
    out = np.zeros(COUNT)
    here = solve(drum, None)
    for name in OF_PITCH:
        side = name.removeprefix("mass_")
        if (name.startswith("mass_") and side not in sides) or (name == "recoil" and not whole):
            continue
        other, outside = _moved(drum, name, STEP, whole)
        if other is not None:
            out[PLACE[name]] = CENTS_PER_NEPER * math.log(solve(other, outside) / here) / STEP
    return out


def _moved(
    drum: Drum, name: str, sigmas: float, whole: bool
) -> tuple[Drum | None, OutsideAir | None]:
    """The drum with one unknown moved; None where it has none."""
    shell = drum.shell
    if name.startswith("mass_"):
        side = name.removeprefix("mass_")
        setting = drum.setting(side)
        head = setting.head
        sd = MASS_SD if head.areal_density_kg_per_m2 is None else WEIGHED_MASS_SD
        if f"{side}_plies" in drum.guessed:
            sd = math.hypot(sd, GUESSED_PLIES / SIGMAS_90)
        heavy = head.base_density_kg_per_m2 * (1.0 + sigmas * sd)
        other = replace(head, areal_density_kg_per_m2=heavy)
        return drum.with_setting(side, replace(setting, head=other)), None
    if name == "radius":
        wider = shell.radius_m - sigmas * shell.radius_doubt_m / SIGMAS_90
        return replace(drum, shell=replace(shell, contact_radius_m=wider)), None
    if name == "outside":
        air = outside_air(drum) if whole or drum.resonant is None else air_round(drum)
        share = air.mass_error(shell.depth_m / shell.radius_m) / SIGMAS_90
        return drum, ScaledAir(air, 1.0 + sigmas * share)
    if name == "inside":
        inch = GUESSED_DEPTH_M / shell.depth_m if "depth" in drum.guessed else 0.0
        deeper = shell.depth_m * (1.0 + sigmas * math.hypot(DEFAULT.inside, inch) / SIGMAS_90)
        return replace(drum, shell=replace(shell, depth_m=deeper)), None
    moving, own = shell.moving_mass(drum.kind), shell.own_mass(drum.kind)[0]
    if moving is None:
        return None, None
    heavier = own * (1.0 + sigmas * moving[1] / SIGMAS_90)
    return replace(drum, shell=replace(shell, mass_kg=heavier)), None
