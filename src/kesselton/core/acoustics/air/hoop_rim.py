"""The rims of the hoops, which stand in the air outside (theory eq. 53).

The air that flows round the edge of a head has to go round the rim of the hoop as well: more mass,
most for motions that are wide. The table holds boundary-element solutions at low frequency
(`tools/radiation_table/rim.py`).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from kesselton.core.acoustics.air.outside import HEAD, AddedMass, AirWithMore, Ends
from kesselton.core.acoustics.bessel import packing
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.data import table


@kept(1)
def _table() -> tuple[FloatArray, FloatArray, FloatArray]:
    """Shell depths and rim heights over the radius, and what the rim adds to self and cross terms:
    (depths, heights, 2, orders, pairs), packed over the head functions and the uniform motion."""
    with table("rim.npz").open("rb") as stream:
        data = np.load(stream)
        return data["depth_ratio"], data["height"], data["added"].astype(float)


@kept(64)
def _added(height: float, depth_ratio: float) -> FloatArray:
    """Self and cross terms (2, orders, n, n) that a rim adds, for outward motion.

    Notes
    -----
    Over the height the gain is a polynomial in its root, over the depth a straight line in
    1 / (1 + L / a), held beyond the ends of the table.
    """
    depths, heights, added = _table()
    x = 1.0 / (1.0 + np.clip(depth_ratio, depths[0], depths[-1]))
    nodes = 1.0 / (1.0 + depths)
    weight = np.array([np.interp(x, nodes[::-1], row) for row in np.eye(len(nodes))[:, ::-1]])
    gain = np.tensordot(weight, added, axes=1) / heights[:, None, None, None]
    root = np.sqrt(heights)
    fit = np.linalg.solve(root[:, None] ** np.arange(len(root)), np.eye(len(root)))
    powers = np.sqrt(min(height, float(heights[-1]))) ** np.arange(len(root)) @ fit
    packed = height * np.tensordot(powers, gain, axes=1)
    size = round((np.sqrt(8 * packed.shape[-1] + 1) - 1) / 2)
    return packed[..., packing(size)]


class _Gains(NamedTuple):
    """What rims add to self and cross terms, packed as `AddedMass` has them: (orders, P)."""

    own: tuple[FloatArray | None, ...]
    cross: FloatArray | None


def _between(first: int, second: int, added: FloatArray) -> FloatArray:
    """(orders, first, second) between head functions; nothing beyond those tabulated."""
    out = np.zeros((len(added), first, second))
    rows, cols = min(first, added.shape[1] - 1), min(second, added.shape[1] - 1)
    out[:, :rows, :cols] = added[:, :rows, :cols]
    return out


@kept(256)
def _gains(height: float, depth_ratio: float, ends: Ends) -> _Gains:
    own, cross = _added(height, depth_ratio)
    mine = tuple(
        _between(count, count, own)[:, *np.triu_indices(count)] if kind == HEAD else None
        for kind, count in ends
    )
    if len(ends) < 2 or any(gain is None for gain in mine):
        return _Gains(mine, None)
    # outward on both ends is against each other along the shell
    first, second = (count for _, count in ends)
    away = -_between(first, second, cross)
    alike = ends[0] == ends[1]
    flat = away[:, *np.triu_indices(first)] if alike else away.reshape(len(away), -1)
    return _Gains(mine, flat)


@kept(256)
def _uniform_gain(
    height: float, depth_ratio: float, ends: Ends, carried: tuple[bool, ...]
) -> FloatArray:
    """What rims add towards a shell that carries its heads along, (n + 1,)."""
    own, cross = _added(height, depth_ratio)[:, 0]
    parts, itself = [], 0.0
    for place, (kind, count) in enumerate(ends):
        gain = np.zeros(count)
        if kind == HEAD:
            felt = own[:, -1] * carried[place] - cross[:, -1] * (sum(carried) - carried[place])
            known = min(count, len(felt) - 1)
            gain[:known] = felt[:known]
            itself += float(felt[-1]) * carried[place]
        parts.append(gain)
    return np.append(np.concatenate(parts), itself)


@dataclass(frozen=True)
class Rimmed(AirWithMore):
    """Outside air of a drum whose hoops stand above its heads.

    Attributes
    ----------
    height : of the rim above the head, over the contact radius
    """

    height: float

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`; an open end has no hoop."""
        added_mass = self.air.added_mass(orders, ends, depth_ratio, ka, radiation)
        gains = _gains(self.height, depth_ratio, ends)
        raised: list[ComplexArray] = []
        for block, gain in zip(added_mass.own, gains.own, strict=True):
            if gain is not None and not any(block is values for values in raised):
                block[:, 0] += gain[orders]  # made for this call
                raised.append(block)
        if added_mass.cross is not None and gains.cross is not None:
            added_mass.cross[:, 0] += gains.cross[orders]
        return added_mass

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`."""
        values = self.air.uniform(ends, carried, depth_ratio, ka, radiation)
        values[:, 0] += _uniform_gain(self.height, depth_ratio, ends, carried)
        return values
