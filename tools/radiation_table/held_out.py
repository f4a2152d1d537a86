"""The shipped table against direct boundary elements, on whole drums at shapes not in the table.

    python -m tools.radiation_table.held_out

Every partial of a drum is solved with the table; then the outside air is solved directly, with more
nodes, at the drum's own shape and at the partials' own frequencies. The difference moves each
partial by half its share in the modal mass (first order, and the differences are small).
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from kesselton.core.acoustics.air.outside import AddedMass
from kesselton.core.acoustics.bessel import packing
from kesselton.core.acoustics.solver.partials import Partials
from kesselton.core.instrument.drum import Drum
from tools.radiation_table.cylinder import HEADS, solve_cylinder


class DirectAir:
    """Outside air solved directly at the values of ka that are asked for; real ka only."""

    ka_max = 12.0

    def __init__(self, orders: int, nodes: int = 14) -> None:
        self.orders, self.nodes = orders, nodes

    def added_mass(self, orders, ends, depth_ratio, ka, radiation=1.0):  # type: ignore[no-untyped-def]
        """See `OutsideAir.added_mass`; the slopes are not computed and are zero."""
        value, _ = solve_cylinder(depth_ratio, ka.real, self.orders, self.nodes)
        here = value[:, np.arange(len(ka)), orders]
        even, odd = here
        places = [np.arange(n) + (0 if kind == "head" else HEADS) for kind, n in ends]
        own = []
        for place in places:
            block = 0.5 * (even + odd)[:, place[:, None], place]
            own.append(self._with_slope(block[:, *np.triu_indices(len(place))]))
        cross = -0.5 * (even - odd)[:, places[0][:, None], places[-1]]
        if ends[0] == ends[1]:
            flat = cross[:, *np.triu_indices(len(places[0]))]
        else:
            flat = cross.reshape(len(ka), -1)
        assert packing(len(places[0])).max() + 1 == own[0].shape[2]
        return AddedMass(tuple(own), self._with_slope(flat))

    @staticmethod
    def _with_slope(value: np.ndarray) -> np.ndarray:
        return np.stack((value, np.zeros_like(value)), axis=1)


def differences(found: Partials, nodes: int = 14) -> tuple[np.ndarray, np.ndarray]:
    """Cents, and share of the decay rate, by which direct elements move each partial (P,)."""
    system, omega = found.system, 2.0 * np.pi * found.frequency_hz
    by_table = system.outside_mass(found.row, omega, found.shape)
    kept = system.outside
    try:
        system.outside = DirectAir(int(found.order.max()) + 1, nodes)  # type: ignore[assignment]
        direct = system.outside_mass(found.row, omega, found.shape)
    finally:
        system.outside = kept
    change = direct - by_table
    cents = -0.5 * change.real * 1200.0 / np.log(2.0)
    decay = -0.5 * omega * change.imag / (np.log(1000.0) / found.t60_s)
    return cents, decay


def plain(drum: Drum) -> Drum:
    """The drum without floor, recoil, holes and rings: these are not the table's, or take more
    functions than it holds."""
    assert drum.resonant is not None
    bare = [
        replace(s, head=replace(s.head, additions=(), port_diameter_m=0.0))
        for s in (drum.batter, drum.resonant)
    ]
    shell = replace(drum.shell, vent_diameter_m=0.0, mount="held")
    return replace(drum, kind="tom", shell=shell, batter=bare[0], resonant=bare[1])


def main() -> None:
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.acoustics.air.free_air import free_air
    from kesselton.core.acoustics.solver.lug import tensions
    from kesselton.core.acoustics.solver.partials import partials

    print("drum, depth/radius: partials to 500 Hz, largest cents, largest change of T60")
    for entry in demo_workshop().entries:
        drum = plain(entry.drum)
        ratio = drum.shell.depth_m / drum.shell.radius_m
        opened = replace(drum, resonant=None)
        for name, one in ((drum.name, drum), (f"{drum.name} open below", opened)):
            found = partials(one, tensions(one), 500.0, outside=free_air())
            cents, decay = differences(found)
            print(
                f"{name}, {ratio:.2f}: {len(found)}, {np.abs(cents).max():.3f} cents,"
                f" {100.0 * np.abs(decay).max():.3f} %",
                flush=True,
            )


if __name__ == "__main__":
    main()
