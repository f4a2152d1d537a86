"""What a microphone inside the drum hears: the air between the heads as the partials drive it
(theory eq. 79)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.air.cavity import couplings
from kesselton.core.acoustics.bessel import cavity_basis, square_area
from kesselton.core.acoustics.solver.partials import Partials, decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.errors import check_range
from kesselton.core.language import _

BEHIND_M = 0.10
"""How far behind the struck head a microphone for the attack usually stands (assumed)."""
ASIDE = 0.3
"""Its distance from the axis over the contact radius (assumed)."""


def pressure_inside(partials: Partials, behind_m: float, aside: float) -> ComplexArray:
    """Sound pressure in the drum over the modal displacement at modal mass 1 kg, (P,) Pa/m.

    Parameters
    ----------
    behind_m : from the batter head along the axis
    aside : from the axis, over the contact radius; at the angle where a partial is strongest

    Raises
    ------
    InputError
        If the place is not in the drum.

    Notes
    -----
    Theory eq. 79: every duct function as both ends drive it, the plane wave as the holes and the
    shell do besides. Good while enough duct functions are kept: from a few centimeters behind the
    head on.
    """
    system = partials.system
    depth = system.depth_m
    check_range(behind_m, 0.0, depth, _("Microphone position"), "m")
    check_range(aside, 0.0, 1.0, _("Microphone position"), _("of the radius"))
    omega = 2.0 * np.pi * partials.frequency_hz + 1j * decay_rate(partials.t60_s)
    out = np.zeros(len(partials), dtype=complex)
    for order in np.unique(partials.order).tolist():
        mine = np.flatnonzero(partials.order == order)
        out[mine] = _of_order(partials, int(order), mine, omega[mine], behind_m, aside)
    out /= np.sqrt(square_area(partials.order, system.radius_m))
    return out


def _of_order(
    partials: Partials, order: int, mine: IndexArray, omega: ComplexArray, z: float, aside: float
) -> ComplexArray:
    """Pressure of the partials of one order over their unknowns, (F,)."""
    system = partials.system
    count, depth = system.cavities, system.depth_m
    basis = cavity_basis(order, count)
    roots = basis.k / system.radius_m
    shape = partials.shape[mine]
    moved = [
        shape[:, part] @ couplings(order, end.kind, end.functions, count)
        for part, end in zip(system.slices, system.ends, strict=True)
    ]
    if order == 0 and system.moves:  # the shell carries its heads along
        for place, carried in enumerate(system.carried):
            moved[place][:, 0] += float(carried) * shape[:, -1]
    kappa = np.sqrt((roots**2 - (omega[:, None] / system.c) ** 2).astype(complex))
    drive = moved[0] * _spread(kappa, 0.0, z, depth)
    if len(moved) > 1:
        drive = drive - moved[1] * _spread(kappa, depth, z, depth)
    if order == 0:
        plane = kappa[:, 0]
        for unknown, hole in zip(
            range(system.holes.start, system.holes.stop), system.orifices, strict=True
        ):
            drive[:, 0] -= shape[:, unknown] * _spread(plane, hole.place * depth, z, depth)
    here = basis.values(np.array([aside]))[0]
    out: ComplexArray = -system.rho * omega**2 * ((drive / kappa) @ here)
    return out


def _spread(kappa: ComplexArray, source: float, z: float, depth: float) -> ComplexArray:
    """cosh(kappa z<) cosh(kappa (L - z>)) / sinh(kappa L), without overflow."""
    low, high = min(source, z), max(source, z)
    near = 1.0 + np.exp(-2.0 * kappa * low)
    far = 1.0 + np.exp(-2.0 * kappa * (depth - high))
    whole = 1.0 - np.exp(-2.0 * kappa * depth)
    return np.asarray(0.5 * np.exp(-kappa * (high - low)) * near * far / whole, dtype=complex)


def power_inside(partials: Partials, energies_j: FloatArray) -> FloatArray:
    """Mean square of the pressure each partial gives a microphone inside at first, (P,) Pa^2.

    Parameters
    ----------
    energies_j : what a stroke leaves in every partial
    """
    behind = min(BEHIND_M, 0.5 * partials.system.depth_m)
    pressure = pressure_inside(partials, behind, ASIDE)
    swing = np.abs(2.0 * np.pi * partials.frequency_hz + 1j * decay_rate(partials.t60_s))
    out: FloatArray = np.abs(pressure) ** 2 * energies_j / swing**2  # half of (2 E / w^2)
    return out


def falls_s(power: FloatArray, decay: FloatArray, drop_db: float) -> float:
    """Seconds until lines of these powers at first, and decays in neper a second, are together
    `drop_db` lower."""
    alive = power > 0.0
    longest = drop_db * const.AUDIBLE_DECAY_NEPER / 60.0 / float(decay[alive].min())
    time = 1.5 * longest * np.linspace(0.0, 1.0, 400) ** 2  # denser at first
    level = 10.0 * np.log10(power @ np.exp(-2.0 * np.multiply.outer(decay, time)) / power.sum())
    if level[-1] > -drop_db:
        return math.inf
    return float(np.interp(drop_db, -level, time))
