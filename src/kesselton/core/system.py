"""The frequency-dependent problem D(w) x = 0 of a drum, order by order (docs/theory.md 3).

Unknowns are the displacements of both ends in head functions (cavity functions for an open end),
both counted positive from batter towards the far end. D is complex symmetric; its real part holds
stiffness, mass and the cavity, its imaginary part film loss and radiation. All orders share one
object so that a single call evaluates D for many (order, frequency) pairs at once.
"""

from __future__ import annotations

import itertools
import math
from copy import copy
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from kesselton.core.air import Air
from kesselton.core.bessel import (
    MAX_CAVITY_FUNCTIONS,
    FloatArray,
    cavity_basis,
    head_basis,
    overlap,
    packing,
)
from kesselton.core.film import mass_matrix
from kesselton.core.head import Head
from kesselton.core.outside import HEAD, OPENING, AddedMass, OutsideAir

ComplexArray = NDArray[np.complex128]
IndexArray = NDArray[np.intp]

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
    """One end of the drum: a head under tension, or an opening (head None)."""

    head: Head | None
    tension_n_per_m: float
    functions: int

    @property
    def kind(self) -> str:
        """What the outside air needs to know."""
        return OPENING if self.head is None else HEAD


@lru_cache(maxsize=256)
def _couplings(order: int, kind: str, functions: int, cavities: int) -> FloatArray:
    """Overlap (functions, cavities) of an end's functions with the cavity's."""
    if kind == HEAD:
        return overlap(order, functions, cavities)
    return np.eye(functions, cavities)


@lru_cache(maxsize=64)
def _zeros_squared(orders: tuple[int, ...], functions: int) -> FloatArray:
    """k_n^2 (orders, functions)."""
    return np.array([head_basis(m, functions).k ** 2 for m in orders])


@lru_cache(maxsize=64)
def _cavity_roots(orders: tuple[int, ...], cavities: int) -> FloatArray:
    """j'_q (orders, cavities)."""
    return np.array([cavity_basis(m, cavities).k for m in orders])


@lru_cache(maxsize=256)
def _film_masses(
    head: Head, radius_m: float, orders: tuple[int, ...], functions: int
) -> FloatArray:
    """Film mass matrices (orders, functions, functions)."""
    return np.array([mass_matrix(head, radius_m, m, functions) for m in orders])


@lru_cache(maxsize=64)
def _own_products(
    orders: tuple[int, ...], kind: str, functions: int, cavities: int
) -> ComplexArray:
    """What each cavity function does to one end, packed: (orders, cavities + 4, P).

    The last four rows are the sum over all further cavity functions, by powers of (ka)^2
    (theory eq. 11); packed means the upper triangle, see `packing`.
    """
    rows, cols = np.triu_indices(functions)
    tables = []
    for order in orders:
        coupling = _couplings(order, kind, functions, MAX_CAVITY_FUNCTIONS)
        root = cavity_basis(order, MAX_CAVITY_FUNCTIONS).k[cavities:]
        near = coupling[rows, :cavities] * coupling[cols, :cavities]
        far = coupling[rows, cavities:] * coupling[cols, cavities:]
        terms = ((1, 1.0), (3, 0.5), (5, 0.375), (7, 0.3125))
        tails = [far @ (factor / root**power) for power, factor in terms]
        tables.append(np.vstack([near.T, tails]))
    return np.array(tables, dtype=complex)


@lru_cache(maxsize=64)
def _cross_products(
    orders: tuple[int, ...], kinds: tuple[str, str], functions: tuple[int, int], cavities: int
) -> ComplexArray:
    """What each cavity function carries from one end to the other: (orders, cavities, n1 n2)."""
    tables = []
    for order in orders:
        first = _couplings(order, kinds[0], functions[0], cavities)
        second = _couplings(order, kinds[1], functions[1], cavities)
        tables.append((first.T[:, :, None] * second.T[:, None, :]).reshape(cavities, -1))
    return np.array(tables, dtype=complex)


def _by_order(features: ComplexArray, tables: ComplexArray, row: IndexArray) -> ComplexArray:
    """features (F, J, K) times tables[row] (F, K, P), one product per run of equal rows."""
    many = features.shape[1]
    out = np.empty((len(row), many, tables.shape[2]), dtype=complex)
    cuts = [0, *(np.flatnonzero(np.diff(row)) + 1).tolist(), len(row)]
    for start, stop in itertools.pairwise(cuts):
        block = features[start:stop].reshape(many * (stop - start), -1) @ tables[row[start]]
        out[start:stop] = block.reshape(stop - start, many, -1)
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
        self._order_of = np.array(orders)
        self.size = sum(end.functions for end in ends)
        self.slices: list[slice] = []
        shape = (len(orders), self.size)
        self.stiffness = np.zeros(shape)  # tension and bending, per area, N/m^3
        self.unit_stiffness = np.zeros((len(ends), *shape))  # of 1 N/m on each end
        self.film_mass = np.zeros((*shape, self.size))
        loss = np.zeros(self.size)
        start = 0
        for side, end in enumerate(ends):
            part = slice(start, start + end.functions)
            self.slices.append(part)
            start += end.functions
            if end.head is None:
                continue
            loss[part] = end.head.loss_factor
            wave2 = _zeros_squared(orders, end.functions) / radius_m**2
            self.unit_stiffness[side, :, part] = wave2
            self.stiffness[:, part] = wave2 * (
                end.tension_n_per_m + end.head.bending_stiffness_nm * wave2
            )
            self.film_mass[:, part, part] = _film_masses(end.head, radius_m, orders, end.functions)
        self.cavities = max(end.functions for end in ends) + EXTRA_CAVITIES
        self.cavity_roots = _cavity_roots(orders, self.cavities) / radius_m
        self._diagonal = np.arange(self.size)
        self._loss = loss
        even = all(end.head is None or not end.head.additions for end in ends)
        self._even_mass = np.diagonal(self.film_mass[0]) if even else None
        self.lossy_stiffness = self.stiffness * (1.0 + 1j * loss)

    def lower_orders(self, count: int) -> DrumSystem:
        """The same drum with its first `count` orders only."""
        part = copy(self)
        part.orders = self.orders[:count]
        part._order_of = self._order_of[:count]
        part.stiffness = self.stiffness[:count]
        part.unit_stiffness = self.unit_stiffness[:, :count]
        part.film_mass = self.film_mass[:count]
        part.cavity_roots = self.cavity_roots[:count]
        part.lossy_stiffness = self.lossy_stiffness[:count]
        return part

    @property
    def highest_omega(self) -> float:
        """Where the outside air ends, rad/s."""
        return self.outside.ka_max * self.c / self.radius_m

    @property
    def still_motions(self) -> IndexArray:
        """(orders,) motions without any restoring force: air swirling in an open shell end."""
        openings = sum(end.functions for end in self.ends if end.head is None)
        return np.array([max(openings - (m == 0), 0) for m in self.orders])

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
        ka = omega * (self.radius_m / self.c)
        outside = self.outside.added_mass(
            self._order_of[row],
            tuple((end.kind, end.functions) for end in self.ends),
            self.depth_m / self.radius_m,
            ka,
            damping,
        )
        # -w^2 A and its derivative, from A and dA/dka
        scale = self.rho * self.radius_m * (2.0 if self.bare else 1.0)
        turn = np.zeros((len(omega), 2, 2), dtype=complex)
        turn[:, 0, 0] = -scale * omega * omega
        turn[:, 1, 0] = -2.0 * scale * omega
        turn[:, 1, 1] = turn[:, 0, 0] * (self.radius_m / self.c)
        # value and slope lie one behind the other, each in one piece
        both = np.empty((2, len(omega), self.size, self.size), dtype=complex).transpose(1, 0, 2, 3)
        if len(self.ends) == 2:
            self._fill_pair(both, row, turn, outside, self._cavity_functions(row, omega, ka))
        else:
            packed = turn @ outside.own[0]
            if not self.bare:
                table = self._own_table(0)
                packed += _by_order(self._cavity_functions(row, omega, ka)[:, :2], table, row)
            both[:] = packed[:, :, packing(self.size)]
        value, slope = both[:, 0], both[:, 1]
        on = self._diagonal
        stiff = self.stiffness[row] * (1.0 + 1j * damping * self._loss)
        if self._even_mass is None:
            heavy = wide * self.film_mass[row]
            slope -= 2.0 * heavy
            value -= wide * heavy
        else:
            heavy = omega[:, None] * self._even_mass
            slope[:, on, on] -= 2.0 * heavy
            stiff -= omega[:, None] * heavy
        value[:, on, on] += stiff
        return value, slope

    def _own_table(self, side: int) -> ComplexArray:
        end = self.ends[side]
        return _own_products(self.orders, end.kind, end.functions, self.cavities)

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
            blocks = _by_order(cavity, self._own_table(0), row)
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
                block = _by_order(cavity[:, :2], self._own_table(side), row)
                block += turn @ outside.own[side]
                both[:, :, part, part] = block[:, :, packing(sizes[side])]
            table = _cross_products(self.orders, kinds, sizes, self.cavities)
            mixed = _by_order(cavity[:, 2:, : self.cavities], table, row)
            cross = mixed.reshape(len(row), 2, *sizes)
        if outside.cross is not None:
            cross = cross + (turn @ outside.cross).reshape(len(row), 2, *sizes)
        both[:, :, first, second] = cross
        both[:, :, second, first] = cross.transpose(0, 1, 3, 2)

    def _cavity_functions(
        self, row: IndexArray, omega: ComplexArray, ka: ComplexArray
    ) -> ComplexArray:
        """Stiffness of each duct function and its derivative by w (theory eqs. 9 to 11).

        Returns
        -------
        (F, 4, cavities + 4): of an end on itself, value and derivative, with the powers of the
        tail last; then the same from one end to the other, which has no tail
        """
        wide = omega[:, None]
        weight = -self.rho * wide * wide
        dweight = -2.0 * self.rho * wide
        kappa2 = self.cavity_roots[row] ** 2 - (wide / self.c) ** 2
        kappa = np.sqrt(kappa2)
        decay = np.exp(-kappa * self.depth_m)
        below = 1.0 - decay * decay
        coth = 2.0 / below - 1.0
        csch = 2.0 * decay / below
        g = coth / kappa
        h = csch / kappa
        down = wide / (self.c**2 * kappa2)  # -(d kappa / d w) / kappa
        reach = self.depth_m * csch
        down *= weight
        out = np.zeros((len(omega), 4, self.cavities + 4), dtype=complex)
        out[:, 0, : self.cavities] = weight * g
        out[:, 1, : self.cavities] = dweight * g + down * (reach * csch + g)
        out[:, 2, : self.cavities] = -weight * h
        out[:, 3, : self.cavities] = -dweight * h - down * (reach * coth + h)
        ka2 = (ka * ka)[:, None]
        powers = np.empty((len(omega), 4), dtype=complex)
        powers[:, 0] = self.radius_m
        powers[:, 1:] = ka2
        np.multiply.accumulate(powers, axis=1, out=powers)
        out[:, 0, self.cavities :] = weight * powers
        out[:, 1, self.cavities :] = (dweight * powers) * np.arange(1.0, 5.0)
        return out

    def cavity_poles(self, below: float) -> tuple[FloatArray, FloatArray]:
        """Resonances of the closed cavity under `below` rad/s and how they pull on the ends.

        Returns
        -------
        omega : (orders, P), filled up with infinity
        pull : (orders, P, n), zero where filled up; near a pole the cavity is
            pull pull^T w^2 / (w^2 - omega^2)
        """
        if self.bare:
            return np.full((len(self.orders), 0), np.inf), np.zeros(
                (len(self.orders), 0, self.size)
            )
        # rounded up, so that a drum whose tension is being moved finds its resonances again
        reach = 1.1 ** math.ceil(math.log(below) / math.log(1.1))
        ends = tuple((end.kind, end.functions) for end in self.ends)
        omega, shape = _resonances(
            self.orders, ends, self.cavities, self.radius_m, self.depth_m, self.c, reach
        )
        return omega, shape * math.sqrt(self.rho * self.c**2 / self.depth_m)


@lru_cache(maxsize=64)
def _resonances(
    orders: tuple[int, ...],
    ends: tuple[tuple[str, int], ...],
    cavities: int,
    radius_m: float,
    depth_m: float,
    sound_speed_m_per_s: float,
    below: float,
) -> tuple[FloatArray, FloatArray]:
    """Resonances (orders, P) of the closed cavity, and their shape on the ends (orders, P, n)."""
    roots = _cavity_roots(orders, cavities) / radius_m
    size = sum(functions for _, functions in ends)
    found: list[list[tuple[float, FloatArray]]] = [[] for _ in orders]
    for step in range(int(below * depth_m / (np.pi * sound_speed_m_per_s)) + 1):
        omegas = sound_speed_m_per_s * np.sqrt(roots**2 + (step * np.pi / depth_m) ** 2)
        signs = (1.0, -1.0 if step % 2 == 0 else 1.0)
        strength = 1.0 if step == 0 else math.sqrt(2.0)
        for row, index in zip(*np.nonzero(omegas < below), strict=True):
            parts = [
                sign * strength * _couplings(orders[row], kind, functions, cavities)[:, index]
                for sign, (kind, functions) in zip(signs, ends, strict=False)
            ]
            found[row].append((float(omegas[row, index]), np.concatenate(parts)))
    most = max((len(f) for f in found), default=0)
    omega = np.full((len(orders), most), np.inf)
    shape = np.zeros((len(orders), most, size))
    for row, entries in enumerate(found):
        for index, (w, pull) in enumerate(entries):
            omega[row, index], shape[row, index] = w, pull
    return omega, shape
