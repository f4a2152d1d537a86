"""The shell that recoils: one more unknown, moved by films and air (theory eqs. 51 and 52).

A shell that hangs free moves along its axis against what its heads and the air do. Displacements
of the heads stay relative to the shell; its own motion X carries both heads along, and for the air
that is a uniform motion of both ends. Only motions without nodal diameter have a net force along
the axis.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from kesselton.core.acoustics.bessel import bessel_j, cavity_basis, head_basis
from kesselton.core.arrays import ComplexArray, FloatArray, kept
from kesselton.core.instrument.head import Head


@kept(256)
def uniform_mass(head: Head, radius_m: float, functions: int) -> FloatArray:
    """Film mass, kg/m^2, between each head function and the uniform motion, then of that on itself:
    (functions + 1,). The uniform motion is scaled as the functions are."""
    heads, flat = head_basis(0, functions), cavity_basis(0, 1)

    def within(s: float) -> FloatArray:
        """Integral of f_n sqrt(2) s ds, and of 2 s ds, from the center to s."""
        each = heads.scale * s * bessel_j(1, heads.k * s) / heads.k * float(flat.scale[0])
        return np.append(each, s * s)

    out = head.base_density_kg_per_m2 * within(1.0)
    for add in head.additions:
        extra = add.thickness_m * head.substance.density_kg_per_m3.value
        inner, outer = add.inner_radius_m / radius_m, min(add.outer_radius_m / radius_m, 1.0)
        out = out + extra * (within(outer) - within(inner))
    return out


class Recoil:
    """What the air does between a moving shell and the ends, for motions without nodal diameter.

    The unknown is sqrt(1/2) of the shell's displacement, so that a head moves with it as the first
    cavity function does.

    Parameters
    ----------
    planes : per end what its functions have of a plane wave, each (n,)
    carried : per end True if the shell carries it along: a head, not an opening
    """

    def __init__(self, planes: Sequence[FloatArray], carried: Sequence[bool]) -> None:
        self.carried = tuple(carried)
        self._planes = tuple(planes)

    def inside(self, cavity: ComplexArray) -> ComplexArray:
        """D and dD/dw (F, 2, n + 1) of the air inside: towards every function, then on itself.

        Parameters
        ----------
        cavity : (F, 4, cavities + 4) of rows without nodal diameter, see `cavity_functions`
        """
        own, across = cavity[:, :2, 0], cavity[:, 2:, 0]
        parts = []
        itself = np.zeros_like(own)
        for place, plane in enumerate(self._planes):
            there = np.zeros_like(own)
            for other, carried in enumerate(self.carried):
                if carried:
                    there = there + (own if other == place else across)
            parts.append(there[..., None] * plane)
            if self.carried[place]:
                itself = itself + there
        return np.concatenate((*parts, itself[..., None]), axis=2)


def face_mass(shell_mass_kg: float, radius_m: float) -> float:
    """Mass of the shell in the units of the equations, kg/m^2."""
    return shell_mass_kg / (math.pi * radius_m**2)
