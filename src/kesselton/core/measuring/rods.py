"""Rods, hoop and collar: a turn, a torque, a gap at the hoop as tension (theory 13)."""

from __future__ import annotations

import math

from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.threads import Thread

COLLAR_M2_PER_N = 3e-7
"""Compliance of the collar, displacement of the hoop per N/m of tension; assumed, to be learned."""
LUG_N_PER_M = 5e6
"""Stiffness of one lug with its rod; assumed, to be learned."""
EDGE_FACTOR = 1.2
"""Force at the hoop over tension in the head: the film rubs on the bearing edge as it turns down
(exp(mu beta) with mu 0.12, beta a right angle); assumed."""


FRICTION = {"dry": 0.20, "lubricated": 0.15}
"""K of torque = K F d (Shigley, Mechanical Engineering Design, table 8-15; VDI 2230; memory)."""
TORQUE_SCATTER = 0.25
"""Friction scatters so much (Shigley, section 8-8, from memory), as one standard deviation."""


def torque_arm_m(diameter_m: float, friction: str) -> float:
    """K d of torque = K F d: metres between a rod's force and the torque on its head."""
    if friction not in FRICTION:
        raise InputError(f"Friction is {friction!r}.", f"Known: {', '.join(FRICTION)}.", "friction")
    return FRICTION[friction] * diameter_m


def preload_n(torque_nm: float, diameter_m: float, friction: str) -> float:
    """Force in a rod from the torque on its head."""
    return torque_nm / torque_arm_m(diameter_m, friction)


def rod_force_n(drum: Drum, tension_n_per_m: float) -> float:
    """Force in each rod that holds a tension, N."""
    round_about = 2.0 * math.pi * drum.shell.radius_m
    return EDGE_FACTOR * round_about * tension_n_per_m / drum.shell.rods


def torque_nm(drum: Drum, tension_n_per_m: float, of: Thread, friction: str) -> float:
    """Torque on every rod that makes a tension, from the last tightening turn, N m."""
    check_range(tension_n_per_m, 0.0, 1e6, "Tension", "N/m")
    return torque_arm_m(of.diameter_m, friction) * rod_force_n(drum, tension_n_per_m)


def hoop_compliance(drum: Drum, head: Head) -> float:
    """How far the hoop goes down all round for 1 N/m of tension, m^2/N.

    Notes
    -----
    Theory eq. 34: the film itself, drawn in evenly, (1 - nu) a / E h; the collar; the lugs.
    """
    radius = drum.shell.radius_m
    substance = head.substance
    film = (1.0 - substance.poisson_ratio.value) * radius
    film /= substance.modulus_pa.value * head.film_thickness_m
    lugs = EDGE_FACTOR * 2.0 * math.pi * radius / (drum.shell.rods * LUG_N_PER_M)
    return film + COLLAR_M2_PER_N + lugs


def tension_per_turn(drum: Drum, head: Head, of: Thread) -> float:
    """Tension gained when every rod is turned once, N/m: before anything is learned."""
    return of.pitch_m / hoop_compliance(drum, head)
