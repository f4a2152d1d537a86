"""The moving mass of a film, exactly as it is spread over the head."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from kesselton.core.bessel import FloatArray, annulus_overlap
from kesselton.core.head import Head


def density_at(head: Head, radius_m: FloatArray) -> FloatArray:
    """Areal density, kg/m^2, at radii of any shape (theory eq. 2)."""
    r = np.asarray(radius_m, dtype=float)
    total = np.full(r.shape, head.base_density_kg_per_m2)
    for add in head.additions:
        mass = add.thickness_m * head.substance.density_kg_per_m3.value
        inside = (r >= add.inner_radius_m) & (r < add.outer_radius_m)
        total = total + np.where(inside, mass, 0.0)
    return total


@lru_cache(maxsize=512)
def mass_matrix(head: Head, radius_m: float, order: int, count: int) -> FloatArray:
    """Film mass per area in the head functions, shape (count, count), kg/m^2 (theory eq. 3).

    The matrix is exact for piecewise constant density, not an average over the head.
    """
    mass = np.eye(count) * head.base_density_kg_per_m2
    for add in head.additions:
        extra = add.thickness_m * head.substance.density_kg_per_m3.value
        inner, outer = add.inner_radius_m / radius_m, min(add.outer_radius_m / radius_m, 1.0)
        mass = mass + extra * annulus_overlap(order, count, inner, outer)
    mass.setflags(write=False)
    return mass
