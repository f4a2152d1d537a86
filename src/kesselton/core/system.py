"""The frequency-dependent problem D(w) x = 0 of a drum, order by order (docs/theory.md 3).

Unknowns are the displacements of both ends in head functions (cavity functions for an open end),
both counted positive from batter towards the far end. D is complex symmetric; its real part holds
stiffness, mass and the cavity, its imaginary part film loss and radiation. All orders share one
object so that a single call evaluates D for many (order, frequency) pairs at once.
"""

from __future__ import annotations

import itertools
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
from kesselton.core.outside import HEAD, OPENING, OutsideAir

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
    """features (F, 2, K) times tables[row] (F, K, P), one product per run of equal rows."""
    out = np.empty((*features.shape[:2], tables.shape[2]), dtype=complex)
    cuts = [0, *(np.flatnonzero(np.diff(row)) + 1).tolist(), len(row)]
    for start, stop in itertools.pairwise(cuts):
        block = features[start:stop].reshape(2 * (stop - start), -1) @ tables[row[start]]
        out[start:stop] = block.reshape(stop - start, 2, -1)
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
        own, cross = (None, None) if self.bare else self._cavity_functions(row, omega, ka)
        both = np.zeros((len(omega), 2, self.size, self.size), dtype=complex)
        done: dict[tuple[str, int], ComplexArray] = {}
        for end, part, mass in zip(self.ends, self.slices, outside.own, strict=True):
            key = (end.kind, end.functions)
            if key not in done:
                packed = turn @ mass
                if own is not None:
                    packed += _by_order(own, _own_products(self.orders, *key, self.cavities), row)
                done[key] = packed[:, :, packing(end.functions)]
            both[:, :, part, part] = done[key]
        if cross is not None and len(self.ends) == 2:
            first, second = self.slices
            kinds = (self.ends[0].kind, self.ends[1].kind)
            sizes = (self.ends[0].functions, self.ends[1].functions)
            mixed = _by_order(cross, _cross_products(self.orders, kinds, sizes, self.cavities), row)
            if outside.cross is not None:
                mixed += turn @ outside.cross
            mixed = mixed.reshape(len(omega), 2, *sizes)
            both[:, :, first, second] = mixed
            both[:, :, second, first] = mixed.transpose(0, 1, 3, 2)
        value, slope = both[:, 0], both[:, 1]
        heavy = wide * self.film_mass[row]
        slope -= 2.0 * heavy
        value -= wide * heavy
        value[:, self._diagonal, self._diagonal] += self.stiffness[row] * (
            1.0 + 1j * damping * self._loss
        )
        return value, slope

    def _cavity_functions(
        self, row: IndexArray, omega: ComplexArray, ka: ComplexArray
    ) -> tuple[ComplexArray, ComplexArray]:
        """Stiffness of each duct function and its derivative by w (theory eqs. 9 to 11).

        Returns
        -------
        own : (F, 2, cavities + 4), of an end on itself, the tail's powers last
        cross : (F, 2, cavities), from one end to the other
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
        own = np.empty((len(omega), 2, self.cavities + 4), dtype=complex)
        cross = np.empty((len(omega), 2, self.cavities), dtype=complex)
        own[:, 0, : self.cavities] = weight * g
        own[:, 1, : self.cavities] = dweight * g + (weight * down) * (reach * csch + g)
        cross[:, 0] = -weight * h
        cross[:, 1] = -dweight * h - (weight * down) * (reach * coth + h)
        powers = self.radius_m * (ka * ka)[:, None] ** np.arange(4)
        own[:, 0, self.cavities :] = weight * powers
        own[:, 1, self.cavities :] = (dweight * powers) * np.arange(1.0, 5.0)
        return own, cross

    def cavity_poles(self, below: float) -> tuple[FloatArray, FloatArray]:
        """Resonances of the closed cavity under `below` rad/s and how they pull on the ends.

        Returns
        -------
        omega : (orders, P), filled up with infinity
        pull : (orders, P, n), zero where filled up; near a pole the cavity is
            pull pull^T w^2 / (w^2 - omega^2)
        """
        found: list[list[tuple[float, FloatArray]]] = [[] for _ in self.orders]
        spring = self.rho * self.c**2 / self.depth_m
        steps = 0 if self.bare else int(below * self.depth_m / (np.pi * self.c)) + 1
        for step in range(steps):
            omegas = self.c * np.sqrt(self.cavity_roots**2 + (step * np.pi / self.depth_m) ** 2)
            signs = (1.0, -1.0 if step % 2 == 0 else 1.0)
            strength = np.sqrt(spring * (1.0 if step == 0 else 2.0))
            for row, index in zip(*np.nonzero(omegas < below), strict=True):
                parts = [
                    sign
                    * strength
                    * _couplings(self.orders[row], end.kind, end.functions, self.cavities)[:, index]
                    for sign, end in zip(signs, self.ends, strict=False)
                ]
                found[row].append((float(omegas[row, index]), np.concatenate(parts)))
        most = max((len(f) for f in found), default=0)
        omega = np.full((len(self.orders), most), np.inf)
        pulls = np.zeros((len(self.orders), most, self.size))
        for row, entries in enumerate(found):
            for index, (w, pull) in enumerate(entries):
                omega[row, index], pulls[row, index] = w, pull
        return omega, pulls
