"""How sure a predicted partial is: half-width of the 90 % interval in cents."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.bessel import FloatArray
from kesselton.core.drum import Drum
from kesselton.core.partials import AIR, Partials

CENTS_PER_NEPER = 1200.0 / np.log(2.0)


@dataclass(frozen=True)
class Tolerances:
    """90 % half-widths of what goes in; all assumed, none measured yet."""

    film_mass: float = 0.03
    tension: float = 0.03
    reading_cents: float = 5.0
    radius_m: float = 0.0005
    model_lowest_cents: float = 60.0
    model_ring_cents: float = 15.0
    model_one_diameter_cents: float = 18.0
    model_other_cents: float = 10.0


DEFAULT = Tolerances()


def uncertainty_cents(drum: Drum, found: Partials, given: Tolerances = DEFAULT) -> FloatArray:
    """Half-width of the 90 % interval of every partial, (P,) cents.

    Notes
    -----
    Theory eq. 19: first-order sensitivities from the mode shapes, added as independent. A head set
    by its lug pitch has a tension that follows its mass, so most of both cancels. The model terms
    bound what the baffle leaves out (a free cylinder moves the lowest partial by 40 to 59 cents,
    the (1,1) by 5 to 17, opposed (0,1) by 3 to 13; own trial, not a published figure).
    """
    system = found.system
    omega = 2.0 * np.pi * found.frequency_hz
    shape2 = (found.shape**2).real
    total = np.zeros(len(found))
    stiff_all = np.zeros(len(found))
    for index, side in enumerate(drum.sides):
        part = system.slices[index]
        tension = system.ends[index].tension_n_per_m
        unit = system.unit_stiffness[index][found.row]
        stiff = 0.5 * tension * np.sum(shape2 * unit, axis=1) / omega**2  # d ln f / d ln T
        mass = (
            0.5
            * np.einsum(
                "ri,rij,rj->r",
                found.shape[:, part],
                system.film_mass[found.row][:, part, part],
                found.shape[:, part],
            ).real
        )
        if drum.setting(side).reading is not None:
            pinned = _film_share(found, part, mass)
            total += (CENTS_PER_NEPER * (stiff * pinned - mass) * given.film_mass) ** 2
            total += (2.0 * stiff * given.reading_cents) ** 2
        else:
            total += (CENTS_PER_NEPER * mass * given.film_mass) ** 2
            total += (CENTS_PER_NEPER * stiff * given.tension) ** 2
            stiff_all += stiff
    radius = given.radius_m / drum.shell.radius_m
    total += (CENTS_PER_NEPER * 2.0 * stiff_all * radius) ** 2
    out: FloatArray = np.sqrt(total + _model_cents(found, given) ** 2)
    return out


def _film_share(found: Partials, part: slice, mass: FloatArray) -> float:
    """Share of the film in the moving mass of a head's own (1,1)."""
    ones = np.flatnonzero((found.order == 1) & (found.rank == 1) & (found.branch != AIR))
    if len(ones) == 0:
        return 1.0
    own = np.sum(np.abs(found.shape[ones][:, part]) ** 2, axis=1)
    best = ones[int(np.argmax(own))]
    all_own = np.sum(np.abs(found.shape[best]) ** 2)
    weight = float(np.sum(np.abs(found.shape[best, part]) ** 2) / all_own)
    return float(min(1.0, 2.0 * mass[best] / weight))


def _model_cents(found: Partials, given: Tolerances) -> FloatArray:
    out = np.full(len(found), given.model_other_cents)
    out[found.order == 1] = given.model_one_diameter_cents
    out[found.order == 0] = given.model_ring_cents
    lowest = (found.order == 0) & (found.rank == 1) & (found.branch != "upper")
    out[lowest] = given.model_lowest_cents
    return out
