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

import numpy as np

from kesselton.core.acoustics.air.air_part import AirPart
from kesselton.core.acoustics.air.cavity import (
    Poles,
    cavity_functions,
    couplings,
    duct_roots,
    resonances,
    wall_losses,
)
from kesselton.core.acoustics.air.orifice import Orifice
from kesselton.core.acoustics.air.outside import AddedMass, OutsideAir, volumes
from kesselton.core.acoustics.air.vents import Breathing
from kesselton.core.acoustics.bessel import packing
from kesselton.core.acoustics.film.film_part import End, FilmPart, film_part
from kesselton.core.acoustics.film.recoil import Recoil, face_mass
from kesselton.core.acoustics.solver.work import spend
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
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
    shell_mass_kg : what recoils along the axis; None where the shell is held still
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
        shell_mass_kg: float | None = None,
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
        cuts = np.cumsum([0, *(end.functions for end in ends)]).tolist()
        self.slices = [slice(*pair) for pair in itertools.pairwise(cuts)]
        self.moving: int = cuts[-1]
        self.holes = slice(self.moving, self.moving + len(self.orifices))
        self.moves = shell_mass_kg is not None and 0 in orders
        self.size = self.holes.stop + self.moves
        # volume over sqrt(2) pi a^2 is the unknown of a hole: as of an opening's first function
        face = self.rho * math.pi * radius_m**2
        plugs = [face * hole.moving_length_m / hole.area_m2 for hole in self.orifices]
        self.shell_kg_per_m2 = None
        if self.moves and shell_mass_kg is not None:
            self.shell_kg_per_m2 = face_mass(shell_mass_kg, radius_m)
        self.film = film_part(orders, ends, self.slices, radius_m, plugs, self.shell_kg_per_m2)
        self.cavities = max(end.functions for end in ends) + EXTRA_CAVITIES
        self.cavity_roots = duct_roots(orders, self.cavities) / radius_m
        self._wall_loss = wall_losses(self._order_of, self.cavity_roots, radius_m, depth_m, air)
        self._air_part = AirPart(
            orders,
            tuple(end.kind for end in ends),
            tuple(end.functions for end in ends),
            tuple(self.slices),
            self.cavities,
        )
        self.carried = tuple(end.head is not None for end in ends)
        planes = tuple(couplings(0, end.kind, end.functions, 1)[:, 0] for end in ends)
        self._recoil = Recoil(planes, self.carried) if self.moves else None
        self._breathing = self._make_breathing(planes) if self.orifices else None

    @property
    def stiffness(self) -> FloatArray:
        """(orders, n) tension and bending of the films, N/m^3."""
        return self.film.stiffness

    @property
    def unit_stiffness(self) -> FloatArray:
        """(ends, orders, n) the same of 1 N/m on each end."""
        return self.film.unit_stiffness

    @property
    def film_mass(self) -> FloatArray:
        """(orders, n, n) of films, of the air in holes and of the shell, kg/m^2."""
        return self.film.mass

    def _make_breathing(self, planes: tuple[FloatArray, ...]) -> Breathing:
        return Breathing(
            self.orifices,
            planes,
            tuple(volumes(end.kind, end.functions) for end in self.ends),
            self.radius_m,
            self.depth_m,
            self.air,
            float(self._wall_loss[0, 0]),
            self.carried if self.moves else None,
        )

    def stacked(self, family: IndexArray, film: FilmPart) -> DrumSystem:
        """Many drums in one: this shell and air under other heads.

        Parameters
        ----------
        family : (rows,) which of this system's orders each row has
        film : of all rows
        """
        part = self._of_rows(family)
        part.film = film
        return part

    def _of_rows(self, chosen: IndexArray | slice) -> DrumSystem:
        part = copy(self)
        part._family = self._family[chosen]
        part._order_of = self._order_of[chosen]
        part.orders = tuple(part._order_of.tolist())
        part.film = self.film.rows(chosen)
        part.cavity_roots = self.cavity_roots[chosen]
        part._wall_loss = self._wall_loss[chosen]
        return part

    def with_outside(self, outside: OutsideAir) -> DrumSystem:
        """The same drum in other air outside."""
        part = copy(self)
        part.outside = outside
        return part

    def lower_orders(self, count: int) -> DrumSystem:
        """The same drum with its first `count` orders only."""
        return self._of_rows(slice(count))

    def only_rows(self, chosen: IndexArray) -> DrumSystem:
        """The same drum with the orders of some rows only."""
        return self._of_rows(chosen)

    @property
    def highest_omega(self) -> float:
        """Where the outside air ends, rad/s."""
        return self.outside.ka_max * self.c / self.radius_m

    @property
    def zero_frequency_modes(self) -> IndexArray:
        """(orders,) motions without any restoring force: air swirling in an open shell end, and a
        drum that hangs free."""
        free = sum(end.functions for end in self.ends if end.head is None) + len(self.orifices)
        return np.array([max(free - (m == 0), 0) + self.moves for m in self.orders])

    def matrices(
        self, row: IndexArray, omega: ComplexArray, damping: float = 1.0
    ) -> tuple[ComplexArray, ComplexArray]:
        """D(w) and dD/dw, each (F, n, n) in N/m^3.

        Parameters
        ----------
        row : (F,) which of `orders`
        omega : (F,) complex rad/s
        damping : share of film loss and radiation that counts; 0 is the undamped drum

        Raises
        ------
        TooMuchWorkError
            If it is one more than there may be.
        """
        spend()
        omega = np.asarray(omega, dtype=complex)
        outside = self._outside(row, omega, damping)
        turn = self._turn(omega)
        # value and slope lie one behind the other, each in one piece
        both = np.empty((2, len(omega), self.size, self.size), dtype=complex).transpose(1, 0, 2, 3)
        cavity = None if self.bare else self._inside(row, omega, damping)
        self._air_part.fill(both, self._family[row], turn, outside, cavity)
        if self.size > self.moving:
            self._fill_rest(both, row, omega, damping, cavity)
        value, slope = both[:, 0], both[:, 1]
        self.film.add(value, slope, row, omega, damping)
        self._add_layers(value, slope, omega, damping)
        return value, slope

    def _add_layers(
        self, value: ComplexArray, slope: ComplexArray, omega: ComplexArray, damping: float
    ) -> None:
        """Add the viscous layers on both faces of the heads (theory eq. 25)."""
        on = np.arange(self.moving)
        thick = math.sqrt(2.0 * self.air.viscosity_pa_s * self.rho)
        layer = np.sqrt(omega) * (thick * (1.0 - 1j * damping))
        value[:, on, on] -= (omega * layer)[:, None]
        slope[:, on, on] -= (1.5 * layer)[:, None]

    def _fill_rest(
        self,
        both: ComplexArray,
        row: IndexArray,
        omega: ComplexArray,
        damping: float,
        cavity: ComplexArray | None,
    ) -> None:
        """Write what the air does to vents, ports and the shell into `both`."""
        both[:, :, self.moving :, :] = 0.0
        both[:, :, :, self.moving :] = 0.0
        ring = np.flatnonzero(self._order_of[row] == 0)
        if len(ring) == 0:
            return
        if self._recoil is not None and cavity is not None:
            column = self._recoil.inside(cavity[ring])
            column += self._turn(omega[ring]) @ self._uniform(omega[ring], damping)
            both[ring, :, -1, : self.moving] = column[..., :-1]
            both[ring, :, : self.moving, -1] = column[..., :-1]
            both[ring, :, -1, -1] = column[..., -1]
        if self._breathing is not None:
            rows = self._breathing.rows(omega[ring], damping)
            turned = rows.transpose(0, 1, 3, 2)
            others = np.r_[: self.moving, self.holes.stop : self.size]
            both[ring, :, self.holes, :] = rows
            both[
                ring[:, None, None, None],
                np.arange(2)[:, None, None],
                others[:, None],
                np.arange(self.holes.start, self.holes.stop),
            ] = turned[:, :, others]

    def _turn(self, omega: ComplexArray) -> ComplexArray:
        """From A and dA/dka to what they put into D and dD/dw: (F, 2, 2)."""
        scale = self.rho * self.radius_m * (2.0 if self.bare else 1.0)
        turn = np.zeros((len(omega), 2, 2), dtype=complex)
        turn[:, 0, 0] = -scale * omega * omega
        turn[:, 1, 0] = -2.0 * scale * omega
        turn[:, 1, 1] = turn[:, 0, 0] * (self.radius_m / self.c)
        return turn

    def _uniform(self, omega: ComplexArray, damping: float) -> ComplexArray:
        return self.outside.uniform(
            tuple((end.kind, end.functions) for end in self.ends),
            self.carried,
            self.depth_m / self.radius_m,
            omega * (self.radius_m / self.c),
            damping,
        )

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
        ring = np.flatnonzero(self._order_of[row] == 0)
        if self._recoil is not None and len(ring):
            felt = self._uniform(w[ring], 1.0)[:, 0]
            x = moved[ring]
            total[ring] += x[:, -1] * (
                2.0 * np.sum(felt[:, :-1] * x[:, : self.moving], axis=1) + felt[:, -1] * x[:, -1]
            )
        total *= self.rho * self.radius_m * (2.0 if self.bare else 1.0)
        if self._breathing is not None:
            place = np.arange(self.size)
            twice = np.where((place >= self.moving) & (place < self.holes.stop), 1.0, 2.0)
            heard = self._breathing.outside(w[ring], 1.0)
            total[ring] += _quadratic(moved[ring, self.holes], heard, moved[ring] * twice)
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
        carried = self.carried if self.moves else None
        omega, shape, number = resonances(
            self._families,
            ends,
            holes,
            carried,
            self.cavities,
            self.radius_m,
            self.depth_m,
            self.c,
            reach,
        )
        loss = np.take_along_axis(self._wall_loss, number[family], axis=1)
        pull = shape * math.sqrt(self.rho * self.c**2 / self.depth_m)
        return Poles(omega[family], pull[family], loss)
