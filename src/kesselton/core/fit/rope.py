"""How much rope is drawn out to bring a rope drum to its pull (theory eq. 113)."""

from __future__ import annotations

import math

from kesselton.core.instrument.drum import Drum
from kesselton.core.measure.rods import hoop_compliance

ROPE_STIFFNESS_N = 50e3
"""Force over strain of a rope of 6 to 8 mm, laid or braided; assumed, good to a factor of two."""
PASSES = (0.5, 0.3, 0.2)
"""Shares of it on the first, second and third pass: much, then less; common practice, no published
source."""
RUNS_PER_EAR = 2


def rope_drawn_m(drum: Drum, tensions_n_per_m: tuple[float, ...]) -> float:
    """Rope that comes out at the splice between hand-tight and the wanted tensions, metres.

    Parameters
    ----------
    tensions_n_per_m : of the heads, batter first

    Notes
    -----
    Theory eq. 113: every run is shortened by what both hoops come down, as far as it lies in their
    way, and stretches under its share of the heavier pull.
    """
    shell = drum.shell
    runs = RUNS_PER_EAR * shell.rods
    run = math.hypot(shell.depth_m, 2.0 * math.pi * shell.radius_m / runs)
    along = shell.depth_m / run
    travel = sum(
        hoop_compliance(drum, drum.setting(side).head) * tension
        for side, tension in zip(drum.sides, tensions_n_per_m, strict=True)
    )
    pull = max(tensions_n_per_m) * 2.0 * math.pi * shell.radius_m / (runs * along)
    return runs * (travel * along + pull * run / ROPE_STIFFNESS_N)
