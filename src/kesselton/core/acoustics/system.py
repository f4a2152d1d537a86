"""The frequency-dependent problem D(w) x = 0 of a drum, order by order (docs/theory.md 3).

Unknowns are the displacements of both ends in head functions (cavity functions for an open end),
both counted positive from batter towards the far end, and one more for every vent or port. D is
complex symmetric; its real part holds stiffness, mass and the cavity, its imaginary part the losses
(film, edge, viscous and thermal layers) and radiation. All orders share one object so that a single
call evaluates D for many (order, frequency) pairs at once.
"""

from __future__ import annotations

import itertools
import math
from copy import copy
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesselton.core.acoustics.bessel import head_basis, packing
from kesselton.core.acoustics.cavity import (
    Poles,
    cavity_functions,
    couplings,
    cross_products,
    duct_roots,
    own_products,
    resonances,
    wall_losses,
)
from kesselton.core.acoustics.film import mass_matrix, rubbing_matrix
from kesselton.core.acoustics.orifice import Orifice
from kesselton.core.acoustics.outside import (
    HEAD,
    OPENING,
    AddedMass,
    IndexArray,
    OutsideAir,
    volumes,
)
from kesselton.core.acoustics.vents import Breathing
from kesselton.core.arrays import ComplexArray, FloatArray
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.head import Head

OPENING_FUNCTIONS = 5
PLAIN_FUNCTIONS = 8
STEPPED_FUNCTIONS = 12
EXTRA_CAVITIES = 4


def basis_size(*heads: Head | None) -> int:
    """Head functions needed: more where density steps (convergence table in docs/theory.md)."""
    stepped = any(head is not None and head.additions for head in heads)
    return STEPPED_FUNCTIONS if stepped else PLAIN_FUNCTIONS


@dataclass(frozen=True)
class End:
    """One end of the drum: a head under tension, or an opening (head None).

    `edge_loss` is what the rim takes, as a share of the restoring force.
    """

    head: Head | None
    tension_n_per_m: float
    functions: int
    edge_loss: float = 0.0

    @property
    def kind(self) -> str:
        """What the outside air needs to know."""
        return OPENING if self.head is None else HEAD


@lru_cache(maxsize=64)
def _zeros_squared(orders: tuple[int, ...], functions: int) -> FloatArray:
    """k_n^2 (orders, functions)."""
    return np.array([head_basis(m, functions).k ** 2 for m in orders])


@lru_cache(maxsize=256)
def _film_masses(
    head: Head, radius_m: float, orders: tuple[int, ...], functions: int
) -> FloatArray:
    """Film mass matrices (orders, functions, functions)."""
    return np.array([mass_matrix(head, radius_m, m, functions) for m in orders])


def _by_order(features: ComplexArray, tables: ComplexArray, family: IndexArray) -> ComplexArray:
    """features (F, J, K) times tables[family] (F, K, P), one product per run of equal orders."""
    many = features.shape[1]
    out = np.empty((len(family), many, tables.shape[2]), dtype=complex)
    cuts = [0, *(np.flatnonzero(np.diff(family)) + 1).tolist(), len(family)]
    for start, stop in itertools.pairwise(cuts):
        block = features[start:stop].reshape(many * (stop - start), -1) @ tables[family[start]]
        out[start:stop] = block.reshape(stop - start, many, -1)
    return out


def _quadratic(x: FloatArray, matrix: ComplexArray, y: FloatArray) -> ComplexArray:
    """x^T A y for stacks (R, n), (R, n, k), (R, k)."""
    out: ComplexArray = np.einsum("ri,rij,rj->r", x, matrix, y)
    return out


class DrumSystem:
    """D(w) for several orders of one drum.

    Parameters
    ----------
    orders : numbers of nodal diameters m, each once
    ends : the batter end and the far end; with one end alone the far end is a rigid wall
    radius_m, depth_m : contact radius and shell depth
    air, outside : the air, and what it does outside
    bare : True for one head without a shell, the same air on both sides
    orifices : vents and ports; they act on the motions without nodal diameter
    """

    def __init__(
        self,
        orders: tuple[int, ...],
        ends: tuple[End, ...],
        radius_m: float,
        depth_m: float,
        air: Air,
        outside: OutsideAir,
        bare: bool = False,
        orifices: tuple[Orifice, ...] = (),
    ) -> None:
        self.orders = orders
        self.ends = ends
        self.radius_m = radius_m
        self.depth_m = depth_m
        self.bare = bare
        self.air = air
        self.rho = air.density_kg_per_m3
        self.c = air.sound_speed_m_per_s
        self.outside = outside
        self.orifices = orifices if 0 in orders else ()
        self._families = orders
        self._family = np.arange(len(orders))
        self._order_of = np.array(orders)
        self.moving = sum(end.functions for end in ends)
        self.size = self.moving + len(self.orifices)
        self.slices: list[slice] = []
        shape = (len(orders), self.size)
        self.stiffness = np.zeros(shape)  # tension and bending, per area, N/m^3
        self.unit_stiffness = np.zeros((len(ends), *shape))  # of 1 N/m on each end
        self.film_mass = np.zeros((*shape, self.size))
        loss = np.zeros(shape)
        start = 0
        for side, end in enumerate(ends):
            part = slice(start, start + end.functions)
            self.slices.append(part)
            start += end.functions
            if end.head is None:
                continue
            loss[:, part] = end.head.loss_factor + end.edge_loss
            wave2 = _zeros_squared(orders, end.functions) / radius_m**2
            self.unit_stiffness[side, :, part] = wave2
            self.stiffness[:, part] = wave2 * (
                end.tension_n_per_m + end.head.bending_stiffness_nm * wave2
            )
            self.film_mass[:, part, part] = _film_masses(end.head, radius_m, orders, end.functions)
        for place, orifice in enumerate(self.orifices, start=self.moving):
            # volume over sqrt(2) pi a^2 is the unknown: the same as of an opening's first function
            plug = self.rho * orifice.moving_length_m / orifice.area_m2
            self.film_mass[:, place, place] = plug * math.pi * radius_m**2
        self.cavities = max(end.functions for end in ends) + EXTRA_CAVITIES
        self.cavity_roots = duct_roots(orders, self.cavities) / radius_m
        self._wall_loss = wall_losses(self._order_of, self.cavity_roots, radius_m, depth_m, air)
        self._breathing = self._make_breathing() if self.orifices else None
        self._diagonal = np.arange(self.size)
        self._loss = loss
        rubbing = [end.head is not None and end.head.rubs for end in ends]
        self._rubbing_mass = self._rubbing() if any(rubbing) else None
        self._even = all(end.head is None or not end.head.additions for end in ends)

    def _make_breathing(self) -> Breathing:
        kinds = [(end.kind, end.functions) for end in self.ends]
        return Breathing(
            self.orifices,
            tuple(couplings(0, *kind, 1)[:, 0] for kind in kinds),
            tuple(volumes(*kind) for kind in kinds),
            self.radius_m,
            self.depth_m,
            self.air,
            float(self._wall_loss[0, 0]),
        )

    def _rubbing(self) -> FloatArray:
        """Loss (orders, n, n) of rings that lie loose on their head, as a mass (theory eq. 25)."""
        out = np.zeros_like(self.film_mass)
        for part, end in zip(self.slices, self.ends, strict=True):
            if end.head is not None and end.head.rubs:
                for row, order in enumerate(self.orders):
                    out[row, part, part] = rubbing_matrix(
                        end.head, self.radius_m, order, end.functions
                    )
        return out

    def stacked(
        self,
        family: IndexArray,
        film_mass: FloatArray,
        loss: FloatArray,
        rubbing_mass: FloatArray | None,
        even: bool,
    ) -> DrumSystem:
        """Many drums in one: this shell and air under other heads, without tension yet.

        Parameters
        ----------
        family : (rows,) which of this system's orders each row has
        film_mass, loss, rubbing_mass : (rows, n, n), (rows, n), (rows, n, n) or None
        even : True if no head carries a dot or ring
        """
        part = copy(self)
        part.orders = tuple(self.orders[f] for f in family)
        part._family = family
        part._order_of = self._order_of[family]
        part.unit_stiffness = self.unit_stiffness[:, family]
        part.stiffness = np.zeros(loss.shape)
        part.cavity_roots = self.cavity_roots[family]
        part._wall_loss = self._wall_loss[family]
        part.film_mass, part._loss, part._rubbing_mass = film_mass, loss, rubbing_mass
        part._even = even
        return part

    def with_outside(self, outside: OutsideAir) -> DrumSystem:
        """The same drum in other air outside."""
        part = copy(self)
        part.outside = outside
        return part

    def lower_orders(self, count: int) -> DrumSystem:
        """The same drum with its first `count` orders only."""
        part = copy(self)
        part.orders = self.orders[:count]
        part._family = self._family[:count]
        part._order_of = self._order_of[:count]
        part.stiffness = self.stiffness[:count]
        part.unit_stiffness = self.unit_stiffness[:, :count]
        part.film_mass = self.film_mass[:count]
        part.cavity_roots = self.cavity_roots[:count]
        part._wall_loss = self._wall_loss[:count]
        if self._rubbing_mass is not None:
            part._rubbing_mass = self._rubbing_mass[:count]
        part._loss = self._loss[:count]
        return part

    @property
    def highest_omega(self) -> float:
        """Where the outside air ends, rad/s."""
        return self.outside.ka_max * self.c / self.radius_m

    @property
    def zero_frequency_modes(self) -> IndexArray:
        """(orders,) motions without any restoring force: air swirling in an open shell end."""
        free = sum(end.functions for end in self.ends if end.head is None) + len(self.orifices)
        return np.array([max(free - (m == 0), 0) for m in self.orders])

    def matrices(
        self, row: IndexArray, omega: ComplexArray, damping: float = 1.0
    ) -> tuple[ComplexArray, ComplexArray]:
        """D(w) and dD/dw, each (F, n, n) in N/m^3.

        Parameters
        ----------
        row : (F,) which of `orders`
        omega : (F,) complex rad/s
        damping : share of film loss and radiation that counts; 0 is the undamped drum
        """
        omega = np.asarray(omega, dtype=complex)
        wide = omega[:, None, None]
        outside = self._outside(row, omega, damping)
        # -w^2 A and its derivative, from A and dA/dka
        scale = self.rho * self.radius_m * (2.0 if self.bare else 1.0)
        turn = np.zeros((len(omega), 2, 2), dtype=complex)
        turn[:, 0, 0] = -scale * omega * omega
        turn[:, 1, 0] = -2.0 * scale * omega
        turn[:, 1, 1] = turn[:, 0, 0] * (self.radius_m / self.c)
        # value and slope lie one behind the other, each in one piece
        both = np.empty((2, len(omega), self.size, self.size), dtype=complex).transpose(1, 0, 2, 3)
        if len(self.ends) == 2:
            cavity = self._inside(row, omega, damping)
            self._fill_pair(both, row, turn, outside, cavity)
        else:
            packed = turn @ outside.own[0]
            if not self.bare:
                table = self._own_table(0)
                cavity = self._inside(row, omega, damping)
                packed += _by_order(cavity[:, :2], table, self._family[row])
            both[:, :, : self.moving, : self.moving] = packed[:, :, packing(self.moving)]
        if self.orifices:
            self._fill_holes(both, row, omega, damping)
        value, slope = both[:, 0], both[:, 1]
        on = self._diagonal
        stiff = self.stiffness[row] * (1.0 + 1j * damping * self._loss[row])
        if self._even:
            heavy = omega[:, None] * np.diagonal(self.film_mass, axis1=1, axis2=2)[row]
            slope[:, on, on] -= 2.0 * heavy
            stiff -= omega[:, None] * heavy
        else:
            heavy = wide * self.film_mass[row]
            slope -= 2.0 * heavy
            value -= wide * heavy
        if self._rubbing_mass is not None:
            rub = (1j * damping) * wide * self._rubbing_mass[row]
            value += wide * rub
            slope += 2.0 * rub
        # viscous layers on both faces of the heads (theory eq. 25)
        thick = math.sqrt(2.0 * self.air.viscosity_pa_s * self.rho)
        layer = np.sqrt(omega) * (thick * (1.0 - 1j * damping))
        stiff[:, : self.moving] -= (omega * layer)[:, None]
        slope[:, on[: self.moving], on[: self.moving]] -= (1.5 * layer)[:, None]
        value[:, on, on] += stiff
        return value, slope

    def _own_table(self, side: int) -> ComplexArray:
        end = self.ends[side]
        return own_products(self._families, end.kind, end.functions, self.cavities)

    def _fill_pair(
        self,
        both: ComplexArray,
        row: IndexArray,
        turn: ComplexArray,
        outside: AddedMass,
        cavity: ComplexArray,
    ) -> None:
        """Write what the air does to two ends, and from one to the other, into `both`."""
        first, second = self.slices
        sizes = (self.ends[0].functions, self.ends[1].functions)
        kinds = (self.ends[0].kind, self.ends[1].kind)
        alike = kinds[0] == kinds[1] and sizes[0] == sizes[1]
        if alike:  # every block is symmetric and all use one table
            spread = packing(sizes[0])
            blocks = _by_order(cavity, self._own_table(0), self._family[row])
            if outside.cross is not None:
                blocks[:, 2:] += turn @ outside.cross
            cross = blocks[:, 2:, spread]
            same = outside.own[0] is outside.own[1]
            both[:, :, first, first] = (blocks[:, :2] + turn @ outside.own[0])[:, :, spread]
            both[:, :, second, second] = (
                both[:, :, first, first]
                if same
                else (blocks[:, :2] + turn @ outside.own[1])[:, :, spread]
            )
        else:
            for side, part in enumerate(self.slices):
                block = _by_order(cavity[:, :2], self._own_table(side), self._family[row])
                block += turn @ outside.own[side]
                both[:, :, part, part] = block[:, :, packing(sizes[side])]
            table = cross_products(self._families, kinds, sizes, self.cavities)
            mixed = _by_order(cavity[:, 2:, : self.cavities], table, self._family[row])
            if outside.cross is not None:
                mixed += turn @ outside.cross
            cross = mixed.reshape(len(row), 2, *sizes)
        both[:, :, first, second] = cross
        both[:, :, second, first] = cross.transpose(0, 1, 3, 2)

    def _fill_holes(
        self, both: ComplexArray, row: IndexArray, omega: ComplexArray, damping: float
    ) -> None:
        """Write what the air does to vents and ports into `both`."""
        part = slice(self.moving, self.size)
        both[:, :, part, :] = 0.0
        both[:, :, :, part] = 0.0
        ring = np.flatnonzero(self._order_of[row] == 0)
        if len(ring) == 0 or self._breathing is None:
            return
        rows = self._breathing.rows(omega[ring], damping)
        both[ring, :, part, :] = rows
        both[ring, :, : self.moving, part] = rows[..., : self.moving].transpose(0, 1, 3, 2)

    def outside_mass(self, row: IndexArray, omega: FloatArray, shape: ComplexArray) -> ComplexArray:
        """Share of the outside air in the modal mass, (R,); negative imaginary: radiation.

        Parameters
        ----------
        row, omega, shape : of modes scaled as in `modes.Roots`; omega real, rad/s
        """
        w = omega.astype(complex)
        outside = self._outside(row, w, 1.0)
        moved = shape.real  # the phase of a mode differs little over the drum
        parts = [moved[:, part] for part in self.slices]
        total = np.zeros(len(row), dtype=complex)
        for x, own, end in zip(parts, outside.own, self.ends, strict=True):
            total += _quadratic(x, own[:, 0][:, packing(end.functions)], x)
        if outside.cross is not None:
            x, y = parts
            cross = outside.cross[:, 0]
            if cross.shape[1] == x.shape[1] * y.shape[1]:
                cross = cross.reshape(len(row), x.shape[1], y.shape[1])
            else:
                cross = cross[:, packing(x.shape[1])]
            total += 2.0 * _quadratic(x, cross, y)
        total *= self.rho * self.radius_m * (2.0 if self.bare else 1.0)
        if self._breathing is not None:
            ring = np.flatnonzero(self._order_of[row] == 0)
            twice = np.where(np.arange(self.size) < self.moving, 2.0, 1.0)
            heard = self._breathing.outside(w[ring], 1.0)
            total[ring] += _quadratic(moved[ring, self.moving :], heard, moved[ring] * twice)
        return total

    def _outside(self, row: IndexArray, omega: ComplexArray, damping: float) -> AddedMass:
        return self.outside.added_mass(
            self._order_of[row],
            tuple((end.kind, end.functions) for end in self.ends),
            self.depth_m / self.radius_m,
            omega * (self.radius_m / self.c),
            damping,
        )

    def _inside(self, row: IndexArray, omega: ComplexArray, damping: float) -> ComplexArray:
        return cavity_functions(
            omega,
            self.cavity_roots[row],
            self._wall_loss[row],
            self.radius_m,
            self.depth_m,
            self.air,
            damping,
        )

    def cavity_poles(self, below: float) -> Poles:
        """Resonances of the closed cavity under `below` rad/s and how they pull on the ends."""
        if self.bare:
            none = (len(self.orders), 0)
            return Poles(np.full(none, np.inf), np.zeros((*none, self.size)), np.zeros(none))
        # rounded up, so that a drum whose tension is being moved finds its resonances again
        reach = 1.1 ** math.ceil(math.log(below) / math.log(1.1))
        ends = tuple((end.kind, end.functions) for end in self.ends)
        holes = tuple(hole.place for hole in self.orifices)
        family = self._family
        omega, shape, number = resonances(
            self._families, ends, holes, self.cavities, self.radius_m, self.depth_m, self.c, reach
        )
        loss = np.take_along_axis(self._wall_loss, number[family], axis=1)
        pull = shape * math.sqrt(self.rho * self.c**2 / self.depth_m)
        return Poles(omega[family], pull[family], loss)
