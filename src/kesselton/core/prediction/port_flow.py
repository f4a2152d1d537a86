"""What a hole takes from a stroke: air that separates at its lip takes the more the harder it is
driven (theory eq. 78)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.solver.partials import Partials, decay_rate
from kesselton.core.arrays import FloatArray

SEPARATION = 2.0
"""Pressure lost in a sharp-edged hole over (1/2) rho u^2, out and in again: of the order of
1/C^2 - 1 with the contraction C of 0.6 (Ingard and Ising, J. Acoust. Soc. Am. 42, 1967, from
memory); assumed."""


def flow_rates(partials: Partials, energies_j: FloatArray) -> FloatArray:
    """How much faster each partial's amplitude falls at first, by flow through the holes, (P,) 1/s.

    Parameters
    ----------
    energies_j : what a stroke leaves in every partial

    Notes
    -----
    Theory eq. 78. Each partial by itself: what one of them moves through the hole makes it no
    harder for the others, which errs to the quiet side.
    """
    system = partials.system
    rate = np.zeros(len(partials))
    for place, hole in zip(
        range(system.holes.start, system.holes.stop), system.orifices, strict=True
    ):
        face = 2.0 * math.pi * system.radius_m**2 / hole.area_m2
        speed = face * np.abs(partials.shape[:, place]) * np.sqrt(energies_j)
        loss = 2.0 * SEPARATION * system.rho / (3.0 * math.pi) * hole.area_m2
        with np.errstate(divide="ignore", invalid="ignore"):
            taken = loss * speed**3 / (2.0 * energies_j)
        rate += np.where(energies_j > 0.0, taken, 0.0)
    return rate


def fall(decay: FloatArray, flow: FloatArray, time: FloatArray) -> FloatArray:
    """Amplitudes over those at first, at times (T,) for lines (L,): (L, T).

    dy/dt = -decay y - flow y^2: exponential in the end, faster at first.
    """
    gone = np.exp(-np.multiply.outer(decay, time))
    ratio = (flow / decay)[:, None]
    out: FloatArray = gone / (1.0 + ratio * (1.0 - gone))
    return out


def struck_t60_s(partials: Partials, energies_j: FloatArray) -> FloatArray:
    """Seconds from the stroke until each partial is 60 dB down, (P,)."""
    decay = decay_rate(partials.t60_s)
    ratio = flow_rates(partials, energies_j) / decay
    small = math.exp(-const.AUDIBLE_DECAY_NEPER)
    left = small * (1.0 + ratio) / (1.0 + small * ratio)
    out: FloatArray = -np.log(left) / decay
    return out
