"""What the films of a drum put into D(w): stiffness, mass, losses, order by order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.air.outside import HEAD, OPENING
from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.film.mass_matrix import mass_matrix, rubbing_matrix
from kesselton.core.acoustics.film.recoil import uniform_mass
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import EdgeLoss

LOSSLESS = EdgeLoss(0.0, 0.0)


@dataclass(frozen=True)
class End:
    """One end of the drum: a head under tension, or an opening (head None).

    `edge` is what the rim takes.
    """

    head: Head | None
    tension_n_per_m: float
    functions: int
    edge: EdgeLoss = LOSSLESS

    @property
    def kind(self) -> str:
        """What the outside air needs to know."""
        return OPENING if self.head is None else HEAD


def edge_leak(tension: FloatArray | float, radius_m: float, edge: EdgeLoss) -> FloatArray:
    """Twice the decay rate by a rim that gives way, 1/s, alike for all partials (theory eq. 55)."""
    out: FloatArray = 2.0 * edge.mobility_m2_per_n_s * np.asarray(tension) / radius_m
    return out


@kept(64)
def _zeros_squared(orders: tuple[int, ...], functions: int) -> FloatArray:
    """k_n^2 (orders, functions)."""
    return np.array([head_basis(m, functions).k ** 2 for m in orders])


@kept(256)
def _film_masses(
    head: Head, radius_m: float, orders: tuple[int, ...], functions: int
) -> FloatArray:
    """Film mass matrices (orders, functions, functions)."""
    return np.array([mass_matrix(head, radius_m, m, functions) for m in orders])


@dataclass(frozen=True, eq=False)
class FilmPart:
    """Films under tension, for R rows (orders) of n unknowns and E ends.

    Attributes
    ----------
    stiffness : (R, n) tension and bending, per area, N/m^3
    unit_stiffness : (E, R, n) of 1 N/m on each end
    mass : (R, n, n) films, and the air that moves as a plug in holes
    loss : (R, n) share of the stiffness
    leak : (R, n) rad/s; over the frequency, a share of the stiffness that the rim carries off
    rubbing_mass : (R, n, n) of rings that lie loose (theory eq. 25), None without
    even : True if no head carries a dot or ring: then the masses are diagonal
    carried : (R, n) film mass between each unknown and the shell's own, the last; None where the
        shell cannot move
    """

    stiffness: FloatArray
    unit_stiffness: FloatArray
    mass: FloatArray
    loss: FloatArray
    leak: FloatArray
    rubbing_mass: FloatArray | None
    even: bool
    carried: FloatArray | None = None

    def rows(self, chosen: IndexArray | slice) -> FilmPart:
        """Some of its rows."""
        rubbing = None if self.rubbing_mass is None else self.rubbing_mass[chosen]
        return FilmPart(
            self.stiffness[chosen],
            self.unit_stiffness[:, chosen],
            self.mass[chosen],
            self.loss[chosen],
            self.leak[chosen],
            rubbing,
            self.even,
            None if self.carried is None else self.carried[chosen],
        )

    @property
    def whole_mass(self) -> FloatArray:
        """(R, n, n) with what the shell and the films are to each other."""
        if self.carried is None:
            return self.mass
        out = self.mass.copy()
        out[:, -1, :] += self.carried
        out[:, :, -1] += self.carried
        return out

    def with_tension(self, stiffness: FloatArray, leak: FloatArray) -> FilmPart:
        """The same films under other tensions."""
        return replace(self, stiffness=stiffness, leak=leak)

    def add(
        self,
        value: ComplexArray,
        slope: ComplexArray,
        row: IndexArray,
        omega: ComplexArray,
        damping: float,
    ) -> None:
        """Add K(1 + i eta) - w^2 M and its derivative to D and dD/dw, (F, n, n)."""
        on = np.arange(value.shape[-1])
        wide = omega[:, None, None]
        bare = self.stiffness[row]
        leaked = (1j * damping / omega)[:, None] * (bare * self.leak[row])
        slope[:, on, on] -= leaked / omega[:, None]
        stiff = bare * (1.0 + 1j * damping * self.loss[row]) + leaked
        if self.even:
            heavy = omega[:, None] * np.diagonal(self.mass, axis1=1, axis2=2)[row]
            slope[:, on, on] -= 2.0 * heavy
            stiff -= omega[:, None] * heavy
        else:
            heavy = wide * self.mass[row]
            slope -= 2.0 * heavy
            value -= wide * heavy
        if self.rubbing_mass is not None:
            rub = (1j * damping) * wide * self.rubbing_mass[row]
            value += wide * rub
            slope += 2.0 * rub
        value[:, on, on] += stiff
        if self.carried is not None:
            heavy = omega[:, None] * self.carried[row]
            pushed = omega[:, None] * heavy
            value[:, -1, :] -= pushed
            value[:, :, -1] -= pushed
            slope[:, -1, :] -= 2.0 * heavy
            slope[:, :, -1] -= 2.0 * heavy


def film_part(
    orders: tuple[int, ...],
    ends: Sequence[End],
    slices: Sequence[slice],
    radius_m: float,
    plugs_kg_per_m2: Sequence[float],
    shell_kg_per_m2: float | None = None,
) -> FilmPart:
    """Films of the ends, one unknown for every hole with the air that moves in it, and one for the
    shell if it can move."""
    moving = slices[-1].stop
    shell = 0 if shell_kg_per_m2 is None else 1
    size = moving + len(plugs_kg_per_m2) + shell
    shape = (len(orders), size)
    stiffness, loss, leak = np.zeros((3, *shape))
    unit = np.zeros((len(ends), *shape))
    mass = np.zeros((*shape, size))
    rubbing = np.zeros_like(mass)
    for side, (end, part) in enumerate(zip(ends, slices, strict=True)):
        if end.head is None:
            continue
        loss[:, part] = end.head.loss_factor + end.edge.share
        leak[:, part] = edge_leak(end.tension_n_per_m, radius_m, end.edge)
        wave2 = _zeros_squared(orders, end.functions) / radius_m**2
        unit[side, :, part] = wave2
        stiffness[:, part] = wave2 * (end.tension_n_per_m + end.head.bending_stiffness_nm * wave2)
        mass[:, part, part] = _film_masses(end.head, radius_m, orders, end.functions)
        if end.head.rubs:
            for row, order in enumerate(orders):
                rubbing[row, part, part] = rubbing_matrix(end.head, radius_m, order, end.functions)
    for place, plug in enumerate(plugs_kg_per_m2, start=moving):
        mass[:, place, place] = plug
    carried = None
    if shell_kg_per_m2 is not None:
        heads = [(end.head, part) for end, part in zip(ends, slices, strict=True) if end.head]
        mass[:, -1, -1] = shell_kg_per_m2
        carried = shell_load(orders, heads, radius_m, mass)
    rubs = any(end.head is not None and end.head.rubs for end in ends)
    even = all(end.head is None or not end.head.additions for end in ends)
    return FilmPart(stiffness, unit, mass, loss, leak, rubbing if rubs else None, even, carried)


def shell_load(
    orders: tuple[int, ...],
    heads: Sequence[tuple[Head, slice]],
    radius_m: float,
    mass: FloatArray,
) -> FloatArray:
    """Film mass between each unknown and the shell's, (R, n); that on itself goes into the last
    diagonal of `mass` (R, n, n)."""
    carried = np.zeros(mass.shape[:2])
    for row, order in enumerate(orders):
        if order == 0:
            for head, part in heads:
                loads = uniform_mass(head, radius_m, part.stop - part.start)
                carried[row, part] = loads[:-1]
                mass[row, -1, -1] += loads[-1]
    return carried
