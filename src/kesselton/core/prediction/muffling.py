"""What muffling does to every partial: mass and friction at its place."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.arrays import ComplexArray, FloatArray
from kesselton.core.instrument.muffler import Muffler

SPREAD = 7
"""Points across a muffler at which the motion is taken."""
RING_FROM, RING_TO = 0.84, 0.97
"""Where a loose ring lies, of the contact radius; assumed."""


@dataclass(frozen=True, eq=False)
class Lines:
    """Every partial as the two lines muffling makes of it.

    Attributes
    ----------
    omega : (P, 2) complex rad/s; a partial without nodal diameter has the same twice
    here : (P, 2) complex displacement at the stroke, modal mass 1 kg; 0 for the second line of a
        partial without nodal diameter
    """

    omega: ComplexArray
    here: ComplexArray


def muffled(
    order: np.ndarray,
    omega: ComplexArray,
    on_side: dict[str, ComplexArray],
    mufflers: tuple[Muffler, ...],
    radius_m: float,
    rods: int,
    stroke_place: float,
) -> Lines:
    """What mufflers do to partials.

    Parameters
    ----------
    order, omega : (P,) nodal diameters, complex rad/s without mufflers
    on_side : per side (P, functions) the shape there, modal mass 1 kg/m^2 (see `modes.Roots`)
    stroke_place : of the radius; the stroke falls on the batter in line with rod 1

    Notes
    -----
    Theory eq. 31: added mass and friction at the places of the mufflers couple the motions of all
    partials, cos and sin of each apart; their common problem is solved. Each new line goes to the
    old motion it shares most with.
    """
    motion = _Motions(order, on_side, radius_m)
    turn = _turn(motion, mufflers, rods)
    member = np.concatenate((np.arange(len(order)), np.flatnonzero(order > 0)))
    phase = np.concatenate((turn, turn[order > 0] + 0.5 * np.pi))
    added = np.eye(len(member), dtype=complex)
    for muffler in mufflers:
        if muffler.side not in on_side:
            continue
        muffler_kind = muffler.made
        radii, angles = _spot(muffler, radius_m, rods)
        # a phase of its own would make a strongly damped motion grow under friction
        value = motion.values(muffler.side, radii, angles, member, phase).real
        weight = muffler_kind.mass_kg * (1.0 - 1j * muffler_kind.slip) / value.shape[1]
        added += weight * value @ value.T
    squares, vectors = np.linalg.eig(np.linalg.solve(added, np.diag(omega[member] ** 2)))
    result = np.sqrt(squares)
    result = np.where(result.real < 0.0, -result, result)
    # modal mass of the new motions is 1 again
    scale = np.sqrt(np.sum(vectors * (added @ vectors), axis=0))
    vectors = vectors / scale
    struck = motion.values("batter", np.array([stroke_place]), np.zeros(1), member, phase)[:, 0]
    here = struck @ vectors
    place = _matched(np.abs(vectors) ** 2)
    lines = np.empty((len(order), 2), dtype=complex)
    heard = np.zeros((len(order), 2), dtype=complex)
    count = len(order)
    lines[:, 0] = lines[:, 1] = result[place[:count]]
    heard[:, 0] = here[place[:count]]
    lines[order > 0, 1] = result[place[count:]]
    heard[order > 0, 1] = here[place[count:]]
    return Lines(lines, heard)


class _Motions:
    """Displacement of partials anywhere on a head, modal mass 1 kg."""

    def __init__(
        self, order: np.ndarray, on_side: dict[str, ComplexArray], radius_m: float
    ) -> None:
        self.order = order
        self.sides = tuple(on_side)
        self._on_side = on_side
        self._norm = 1.0 / np.sqrt(square_area(order, radius_m))

    def radial(self, side: str, radii: FloatArray) -> ComplexArray:
        """(P, R) along a line through a loop."""
        shape = self._on_side[side]
        count = shape.shape[1]
        tables = {int(m): head_basis(int(m), count).values(radii) for m in np.unique(self.order)}
        basis = np.array([tables[int(m)] for m in self.order])  # (P, R, functions)
        out: ComplexArray = np.einsum("prf,pf->pr", basis, shape) * self._norm[:, None]
        return out

    def values(
        self,
        side: str,
        radii: FloatArray,
        angles: FloatArray,
        member: np.ndarray,
        phase: FloatArray,
    ) -> ComplexArray:
        """(members, R * A) of motions cos(m angle - phase) of partials `member`."""
        across = np.cos(self.order[member][:, None] * angles - phase[:, None])
        value = self.radial(side, radii)[member][:, :, None] * across[:, None, :]
        out: ComplexArray = value.reshape(len(member), -1)
        return out


def _spot(muffler: Muffler, radius_m: float, rods: int) -> tuple[FloatArray, FloatArray]:
    """Radii (of the contact radius) and angles at which a muffler lies."""
    muffler_kind = muffler.made
    if muffler_kind.reach_m == 0.0:
        around = np.array([step * np.pi / 16.0 for step in range(32)])
        across = np.array(
            [RING_FROM + (RING_TO - RING_FROM) * step / (SPREAD - 1) for step in range(SPREAD)]
        )
        return across, around
    half = 0.8 * muffler_kind.reach_m / radius_m
    steps = [2.0 * step / (SPREAD - 1) - 1.0 for step in range(SPREAD)]
    radii = np.array([min(abs(muffler.place + half * step), 1.0) for step in steps])
    wide = half / max(muffler.place, half)
    return radii, muffler.angle(rods) + wide * np.array([-0.7, 0.0, 0.7])


def _turn(motion: _Motions, mufflers: tuple[Muffler, ...], rods: int) -> FloatArray:
    """(P,) which way a partial's loop lies: where muffling takes hold of it most."""
    even, odd = np.zeros((2, len(motion.order)))
    for muffler in mufflers:
        if muffler.made.reach_m > 0.0 and muffler.side in motion.sides:
            hold = (
                muffler.made.mass_kg
                * np.abs(motion.radial(muffler.side, np.array([muffler.place])))[:, 0]
            )
            twice = 2.0 * motion.order * muffler.angle(rods)
            even += hold * np.cos(twice)
            odd += hold * np.sin(twice)
    return np.where(motion.order > 0, 0.5 * np.arctan2(odd, even), 0.0)


def _matched(share: FloatArray) -> np.ndarray:
    """For every old motion (row) the new one (column) that has most of it, each taken once."""
    left = share / share.sum(axis=1, keepdims=True)
    place = np.empty(len(left), dtype=np.intp)
    for _ in range(len(left)):
        row, column = np.unravel_index(int(np.argmax(left)), left.shape)
        place[row] = column
        left[row], left[:, column] = -1.0, -1.0
    return place
