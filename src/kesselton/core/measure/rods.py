"""Rods, hoop and collar: a turn, a torque, a gap at the hoop as tension (theory 13)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.threads import Thread
from kesselton.core.language import _


@dataclass(frozen=True)
class Give:
    """How the draw of one construction gives way, before a drum has taught its own; all assumed.

    Attributes
    ----------
    lug_n_per_m : stiffness of one lug with its rod and what holds the hoop
    collar_m2_per_n : way of the hoop per N/m of tension that goes into collar and edge
    take_up : turns past finger tight before the head is taut, and their standard deviation
    sd : standard deviation of the whole, as a share
    """

    lug_n_per_m: float
    collar_m2_per_n: float
    take_up: float
    take_up_sd: float
    sd: float


GIVES = {
    # A flange bends a little between rod and head; a cast hoop hardly; claws hang on the outside
    # of a wooden hoop, which rocks and is squeezed, over a taller collar: about one turn of a bass
    # drum does little (common practice, no published source).
    "flanged_1_6mm": Give(5.0e6, 3.0e-7, 0.06, 0.06, 0.22),
    "flanged_2_3mm": Give(5.5e6, 3.0e-7, 0.06, 0.06, 0.22),
    "die_cast": Give(7.0e6, 2.8e-7, 0.05, 0.05, 0.22),
    "wood": Give(2.0e6, 9.0e-7, 0.6, 0.2, 0.25),
    "rope": Give(1.0e6, 9.0e-7, 0.6, 0.2, 0.3),
}
LUG_FACTOR = {"separate": 1.0, "tube": 1.4}
"""On the stiffness of a lug: a tube carries the pull of both rods itself and spares the shell;
assumed."""
LUGS_NOT_SAID = 0.1
OF_SIZE = 0.5
"""The collar of a head twice as large gives twice this more: it is moulded taller; assumed."""
USUAL_RADIUS_M = 0.165
EDGE_FACTOR = 1.2
"""Force at the hoop over tension in the head: the film rubs on the bearing edge as it turns down
(exp(mu beta) with mu 0.12, beta a right angle); assumed."""


FRICTION = {"dry": 0.20, "lubricated": 0.15}
"""K of torque = K F d (Shigley, Mechanical Engineering Design, table 8-15; VDI 2230; memory)."""
TORQUE_SCATTER = 0.25
"""Friction scatters so much (Shigley, section 8-8, from memory), as one standard deviation."""


def torque_arm_m(diameter_m: float, friction: str) -> float:
    """K d of torque = K F d: metres between a rod's force and the torque on its head.

    Examples
    --------
    >>> round(torque_arm_m(0.0055, "lubricated"), 6)
    0.000825
    """
    if friction not in FRICTION:
        raise InputError(
            _("Friction is {friction!r}.").format(friction=friction),
            _("Options: {friction}.").format(friction=", ".join(FRICTION)),
            "friction",
        )
    return FRICTION[friction] * diameter_m


def preload_n(torque_nm: float, diameter_m: float, friction: str) -> float:
    """Force in a rod from the torque on its head."""
    return torque_nm / torque_arm_m(diameter_m, friction)


def rod_force_n(drum: Drum, tension_n_per_m: float) -> float:
    """Force in each rod that holds a tension, N.

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> round(rod_force_n(usual_drum("tom"), 3000.0))
    569
    """
    round_about = 2.0 * math.pi * drum.shell.radius_m
    return EDGE_FACTOR * round_about * tension_n_per_m / drum.shell.rods


def torque_nm(drum: Drum, tension_n_per_m: float, of: Thread, friction: str) -> float:
    """Torque on every rod that makes a tension, from the last tightening turn, N m."""
    check_range(tension_n_per_m, 0.0, 1e6, _("Tension"), "N/m")
    return torque_arm_m(of.diameter_m, friction) * rod_force_n(drum, tension_n_per_m)


def hoop_compliance(drum: Drum, head: Head) -> float:
    """How far the hoop goes down all round for 1 N/m of tension, m^2/N.

    Notes
    -----
    Theory eq. 34: the film itself, drawn in evenly, (1 - nu) a / E h; the collar; the lugs.
    """
    radius, give = drum.shell.radius_m, give_of(drum)
    substance = head.substance
    film = (1.0 - substance.poisson_ratio.value) * radius
    film /= substance.modulus_pa.value * head.film_thickness_m
    lugs = EDGE_FACTOR * 2.0 * math.pi * radius / (drum.shell.rods * give.lug_n_per_m)
    return film + give.collar_m2_per_n + lugs


def give_of(drum: Drum) -> Give:
    """What is assumed of a drum's lugs and collar, by its hoops, lugs and size."""
    shell = drum.shell
    give = GIVES[shell.hoop]
    stiff = LUG_FACTOR[shell.usual_lugs]
    larger = max(0.5 * shell.head_diameter_m / USUAL_RADIUS_M, 0.3)
    size = 1.0 + OF_SIZE * (larger - 1.0) if shell.hoop not in ("wood", "rope") else 1.0
    sd = give.sd if shell.lugs else math.hypot(give.sd, LUGS_NOT_SAID)
    return replace(
        give,
        lug_n_per_m=stiff * give.lug_n_per_m,
        collar_m2_per_n=size * give.collar_m2_per_n,
        sd=sd,
    )


def turns_past_finger_tight(drum: Drum, head: Head, tension: float, of: Thread) -> float:
    """Turns of every rod that a tension takes, before anything is learned."""
    return give_of(drum).take_up + tension / tension_per_turn(drum, head, of)


def tension_per_turn(drum: Drum, head: Head, of: Thread) -> float:
    """Tension gained when every rod is turned once, N/m: before anything is learned."""
    return of.pitch_m / hoop_compliance(drum, head)
