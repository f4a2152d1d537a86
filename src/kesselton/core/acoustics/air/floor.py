"""A drum that lies near a floor: its image in the floor, heard by both heads (theory eq. 23)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.air.free_air import END_REACH
from kesselton.core.acoustics.air.outside import (
    OPENING,
    AddedMass,
    AirWithMore,
    Ends,
    volumes,
)
from kesselton.core.arrays import ComplexArray, IndexArray

FLOOR_GAP_M = 0.05
"""Between the shell of a pedal bass drum and the floor; assumed."""
IMAGE_ERROR = 0.02
"""What the image leaves uncertain, as a share of the added mass; it adds up to 0.11 itself."""


@dataclass(frozen=True)
class OnFloor(AirWithMore):
    """Outside air of a lying drum over a rigid floor.

    Notes
    -----
    Each head is a source of volume, as far outside the shell as the cross term of the free
    cylinder shows; only motions without nodal diameter reach the floor and back. Against the first
    reflection of the boundary-element field (`tools/radiation_table/floor.py`) the added mass of
    the lowest partial is right to a fifth of what the floor adds when the drum stands close.
    """

    gap_ratio: float

    def mass_error(self, depth_ratio: float) -> float:
        """Share of the added mass that may be wrong for a real drum (90 %)."""
        return self.air.mass_error(depth_ratio) + IMAGE_ERROR

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`."""
        added_mass = self.air.added_mass(orders, ends, depth_ratio, ka, radiation)
        ring = np.flatnonzero(orders == 0)
        if len(ring) == 0:
            return added_mass
        down = 2.0 * (1.0 + self.gap_ratio)
        volume = [volumes(*end) for end in ends]
        here = self._heard(ka[ring], down, radiation)[..., None]
        own = []
        for block, v in zip(added_mass.own, volume, strict=True):
            block = block.copy()
            block[ring] += here * np.outer(v, v)[np.triu_indices(len(v))]
            own.append(block)
        if len(ends) == 1 or added_mass.cross is None:
            return AddedMass(tuple(own), added_mass.cross)
        both = np.outer(*volume)
        packed = ends[0] == ends[1]
        flat = both[np.triu_indices(len(both))] if packed else both.ravel()
        away = float(np.hypot(down, depth_ratio + END_REACH))
        cross = added_mass.cross.copy()
        # outward on both ends is against each other along the shell
        cross[ring] -= self._heard(ka[ring], away, radiation)[..., None] * flat
        return AddedMass(tuple(own), cross)

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`."""
        values = self.air.uniform(ends, carried, depth_ratio, ka, radiation).copy()
        down = 2.0 * (1.0 + self.gap_ratio)
        here = self._heard(ka, down, radiation)
        away = self._heard(ka, float(np.hypot(down, depth_ratio + END_REACH)), radiation)
        value = float(volumes(OPENING, 1)[0])
        start = 0
        for place, end in enumerate(ends):
            v = volumes(*end)
            pushed = here * carried[place] - away * (sum(carried) - carried[place])
            values[..., start : start + len(v)] += pushed[..., None] * (value * v)
            values[..., -1] += pushed * (value * value * carried[place])
            start += len(v)
        return values

    @staticmethod
    def _heard(ka: ComplexArray, distance: float, radiation: float) -> ComplexArray:
        """Mass per volume squared over a distance in radii, and its derivative by ka: (F, 2)."""
        cosine, sine = np.cos(ka * distance), np.sin(ka * distance)
        value = (cosine - 1j * radiation * sine) / (2.0 * distance)
        slope = -0.5 * (sine + 1j * radiation * cosine)
        return np.stack((value, slope), axis=1)
