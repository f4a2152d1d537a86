"""The moving mass of a film, exactly as it is spread over the head."""

from __future__ import annotations

import numpy as np

from kesselton.core.acoustics.bessel import (
    MAX_HEAD_FUNCTIONS,
    annulus_overlap,
    annulus_slopes,
    head_basis,
)
from kesselton.core.arrays import FloatArray, kept
from kesselton.core.errors import check_range
from kesselton.core.instrument.head import ADDITION_LOSS, TURNING_LOSS, Head
from kesselton.core.language import _


def density_at(head: Head, radius_m: FloatArray) -> FloatArray:
    """Areal density, kg/m^2, at radii of any shape (theory eq. 2)."""
    r = np.asarray(radius_m, dtype=float)
    total = np.full(r.shape, head.base_density_kg_per_m2)
    for add in head.additions:
        mass = add.thickness_m * head.substance.density_kg_per_m3.value
        inside = (r >= add.inner_radius_m) & (r < add.outer_radius_m)
        total = total + np.where(inside, mass, 0.0)
    return total


@kept(512)
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


@kept(512)
def rubbing_matrix(head: Head, radius_m: float, order: int, count: int) -> FloatArray:
    """Loss of what lies loose on the head, (count, count), kg/m^2: to be multiplied by omega^2."""
    loss = np.zeros((count, count))
    for add in head.additions:
        share = ADDITION_LOSS[add.kind] * add.thickness_m * head.substance.density_kg_per_m3.value
        inner, outer = add.inner_radius_m / radius_m, min(add.outer_radius_m / radius_m, 1.0)
        if share > 0.0:
            loss = loss + share * annulus_overlap(order, count, inner, outer)
        turned = TURNING_LOSS[add.kind] * head.base_density_kg_per_m2
        if turned > 0.0:
            loss = loss + turned * annulus_slopes(order, count, inner, outer)
    loss.setflags(write=False)
    return loss


def vacuum_frequencies(
    head: Head,
    radius_m: float,
    tension_n_per_m: float,
    order: int,
    functions: int = MAX_HEAD_FUNCTIONS,
    bending: bool = True,
) -> FloatArray:
    """Frequencies in hertz of one head without any air, ascending, shape (functions,).

    Raises
    ------
    InputError
        If tension or radius is not positive.

    Notes
    -----
    Theory eqs. 3 and 4: Rayleigh and Ritz in Bessel functions, upper bounds that fall towards the
    truth as `functions` grows; about the lower half of them is converged.
    """
    check_range(tension_n_per_m, 1e-6, 1e9, _("Tension"), "N/m")
    check_range(radius_m, 1e-3, 10.0, _("Radius"), "m")
    wave2 = (head_basis(order, functions).k / radius_m) ** 2
    stiffness = tension_n_per_m * wave2
    if bending:
        stiffness = stiffness + head.bending_stiffness_nm * wave2**2
    root = 1.0 / np.sqrt(stiffness)
    inverse = np.linalg.eigvalsh(
        mass_matrix(head, radius_m, order, functions) * np.outer(root, root)
    )
    out: FloatArray = 1.0 / (2.0 * np.pi * np.sqrt(inverse[::-1]))
    return out
