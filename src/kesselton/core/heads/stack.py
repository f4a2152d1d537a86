"""Many drums of one shell in one system, and the tension at which each sounds a given pitch."""

from __future__ import annotations

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.film.film_part import FilmPart, edge_leak, shell_load
from kesselton.core.acoustics.film.mass_matrix import mass_matrix, rubbing_matrix
from kesselton.core.acoustics.solver.partials import MAX_BREATH
from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.arrays import BoolArray, FloatArray, IndexArray
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import EdgeLoss

PLAIN, STEPPED = 6, 8
"""Head functions: fewer than for one drum, at most 1.5 cents off in these partials (theory 10)."""
MAX_HOLES = 3


def functions_of(head: Head) -> int:
    return STEPPED if head.additions else PLAIN


class Stack:
    """Many drums of one shell in one system, orders outermost.

    Parameters
    ----------
    template : the shell with any heads of the right size, for the orders wanted
    pairs : heads, one or two per entry
    owner : (C,) which entry each of the C stacked drums carries
    """

    def __init__(
        self,
        template: DrumSystem,
        pairs: Sequence[Sequence[Head]],
        owner: IndexArray,
        edge: EdgeLoss,
    ) -> None:
        orders, count, size = template.orders, len(owner), template.size
        radius = template.radius_m
        film = np.zeros((len(orders), len(pairs), size, size))
        rub = np.zeros_like(film)
        bend = np.zeros((len(pairs), size))
        loss = np.zeros((len(pairs), size))
        for index, heads in enumerate(pairs):
            for head, part in zip(heads, template.slices, strict=False):
                functions = part.stop - part.start
                bend[index, part] = head.bending_stiffness_nm
                loss[index, part] = head.loss_factor + edge.share
                for row, order in enumerate(orders):
                    film[row, index, part, part] = mass_matrix(head, radius, order, functions)
                    if head.rubs:
                        rub[row, index, part, part] = rubbing_matrix(head, radius, order, functions)
        holes = np.arange(template.moving, template.holes.stop)
        film[:, :, holes, holes] = template.film_mass[:, None, holes, holes]
        carried = None
        if template.moves:
            carried = np.zeros((len(orders), len(pairs), size))
            film[:, :, -1, -1] = template.shell_kg_per_m2
            for index, heads in enumerate(pairs):
                fitted = list(zip(heads, template.slices, strict=False))
                carried[:, index] = shell_load(orders, fitted, radius, film[:, index])
            carried = carried[:, owner].reshape(-1, size)
        self.count = count
        self._edge = edge
        family = np.repeat(np.arange(len(orders)), count)
        unit = template.unit_stiffness[:, family]
        wave2 = unit.sum(axis=0)
        self._bending = np.tile(bend[owner], (len(orders), 1)) * wave2**2
        self._system = template.stacked(
            family,
            FilmPart(
                self._bending,
                unit,
                film[:, owner].reshape(-1, size, size),
                np.tile(loss[owner], (len(orders), 1)),
                np.zeros((len(family), size)),
                rub[:, owner].reshape(-1, size, size) if rub.any() else None,
                not any(head.additions for heads in pairs for head in heads),
                carried,
            ),
        )
        far = [heads[1].base_density_kg_per_m2 if len(heads) > 1 else np.nan for heads in pairs]
        self.holes = template.holes
        self.plugs: FloatArray = template.film_mass[0, holes, holes]
        self.far_density: FloatArray = np.array(far)[owner]

    def at(self, tensions_n_per_m: FloatArray) -> DrumSystem:
        """The drums at tensions (C, ends)."""
        system = copy(self._system)
        leak = np.zeros(system.film.stiffness.shape)
        times = len(leak) // self.count
        for side, part in enumerate(system.slices[: tensions_n_per_m.shape[1]]):
            rate = edge_leak(tensions_n_per_m[:, side], system.radius_m, self._edge)
            leak[:, part] = np.tile(rate, times)[:, None]
        stiffness = self._bending + self.pull(tensions_n_per_m)
        system.film = system.film.with_tension(stiffness, leak)
        return system

    def pull(self, tensions_n_per_m: FloatArray) -> FloatArray:
        """Stiffness (rows, n) of tensions (C, ends)."""
        unit = self._system.unit_stiffness
        times = unit.shape[1] // self.count
        out = np.zeros(unit.shape[1:])
        for side in range(tensions_n_per_m.shape[1]):
            out += unit[side] * np.tile(tensions_n_per_m[:, side], times)[:, None]
        return out

    def held_at(self, omega: FloatArray) -> Held:
        """The stacked drums, of one order, made to sound at `omega` (C,) rad/s; loss left out.

        What shell and air do is worked out once for every frequency that occurs.
        """
        system = self._system
        on = np.arange(system.size)
        every, first, where = np.unique(omega, return_index=True, return_inverse=True)
        value, slope = system.matrices(first, every.astype(complex), 0.0)
        films = system.film.whole_mass
        air = value.real + (every**2)[:, None, None] * films[first]
        air[:, on, on] -= self._bending[first]
        where = where.reshape(-1)
        rest = air[where] - (omega**2)[:, None, None] * films
        rest[:, on, on] += self._bending
        mass = None
        if system.orifices:  # a hole may sound there instead of the heads
            moves = -0.5 * slope.real / every[:, None, None] - films[first]
            mass = moves[where] + films

        taut = self._system.unit_stiffness.sum(axis=0)[0] > 0.0
        head = rest[:, taut][:, :, taut]
        follow: FloatArray = np.zeros((self.count, int(np.sum(~taut)), int(np.sum(taut))))
        if not taut.all():
            across = rest[:, ~taut][:, :, taut]
            loose = rest[:, ~taut][:, :, ~taut]
            follow = np.asarray(-np.linalg.solve(loose, across), dtype=float)
            head = head + across.transpose(0, 2, 1) @ follow
        return Held(self, taut, head, follow, mass)


@dataclass(frozen=True, eq=False)
class Held:
    """Drums that must sound at a given frequency: a linear problem for their tension.

    Attributes
    ----------
    taut : (n,) which unknowns belong to heads
    head, follow : D without tension (C, h, h), and what openings and holes do after the heads
    mass : (C, n, n) -D' / 2 w where there are holes
    """

    stack: Stack
    taut: BoolArray
    head: FloatArray
    follow: FloatArray
    mass: FloatArray | None

    def factor(self, pattern: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Factor (C,) on tensions `pattern` (C, ends) that lets the lowest mode sound there.

        Returns also the shapes (C, n).

        Notes
        -----
        D is linear in the tension: the largest eigenvalue (theory eq. 15).
        """
        root = 1.0 / np.sqrt(self.stack.pull(pattern)[:, self.taut])
        factors, vectors = np.linalg.eigh(-self.head * root[:, :, None] * root[:, None, :])
        shape = self._whole(root * vectors[:, :, -1])
        factor = factors[:, -1].copy()
        for place in range(2, 2 + MAX_HOLES):
            breath = np.flatnonzero(self._breath(shape) > 2.0 * MAX_BREATH)
            if len(breath) == 0:
                break
            factor[breath] = factors[breath, -place]
            moved = root[breath] * vectors[breath, :, -place]
            shape[breath] = self._whole(moved, breath)
        return factor, shape

    def _whole(self, moved: FloatArray, rows: IndexArray | None = None) -> FloatArray:
        """Shapes (R, n) from what the heads do."""
        follow = self.follow if rows is None else self.follow[rows]
        shape = np.zeros((len(moved), len(self.taut)))
        shape[:, self.taut] = moved
        shape[:, ~self.taut] = (follow @ moved[..., None])[..., 0]
        return shape

    def _breath(self, shape: FloatArray) -> FloatArray:
        """Share of the moving mass that is in holes, (C,)."""
        if self.mass is None:
            return np.zeros(len(shape))
        holes = self.stack.holes
        plugs = self.stack.plugs * shape[:, holes] ** 2
        whole = np.einsum("ci,cij,cj->c", shape, self.mass, shape)
        out: FloatArray = plugs.sum(axis=1) / np.maximum(np.abs(whole), 1e-30)
        return out
