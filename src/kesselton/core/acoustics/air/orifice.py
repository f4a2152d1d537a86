"""Vents and ports: holes through which the air in the drum breathes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core.instrument.drum import Drum

VENT_LENGTH_M = 0.009
"""Shell and grommet; assumed."""
PORT_LENGTH_M = 0.003
"""Reinforcing ring of a port in a head; assumed."""
FLANGED_END = 8.0 / (3.0 * math.pi)
"""End correction of a hole in a wide wall over its radius, one side (Rayleigh, Theory of Sound II,
section 312, from memory)."""


@dataclass(frozen=True)
class Orifice:
    """A round hole, or `count` alike: `place` along the shell from the batter head (0) to the far
    end (1)."""

    place: float
    radius_m: float
    length_m: float
    count: int = 1

    @property
    def moving_length_m(self) -> float:
        """Length of the plug of air that moves (theory eq. 26)."""
        return self.length_m + 2.0 * FLANGED_END * self.radius_m

    @property
    def area_m2(self) -> float:
        """Area of all of them."""
        return self.count * math.pi * self.radius_m**2


def orifices(drum: Drum) -> tuple[Orifice, ...]:
    """Every hole of a drum: the vent half-way down the shell, ports and edge vents in the heads."""
    results = []
    if drum.shell.vent_diameter_m > 0.0:
        results.append(Orifice(0.5, 0.5 * drum.shell.vent_diameter_m, VENT_LENGTH_M))
    for place, side in zip((0.0, 1.0), drum.sides, strict=False):
        head = drum.setting(side).head
        if head.port_diameter_m > 0.0:
            results.append(Orifice(place, 0.5 * head.port_diameter_m, PORT_LENGTH_M))
        if head.edge_vents:
            radius = 0.5 * head.edge_vent_diameter_m
            results.append(Orifice(place, radius, head.film_thickness_m, head.edge_vents))
    return tuple(results)
