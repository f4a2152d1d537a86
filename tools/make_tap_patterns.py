"""Where the tones of a tap stand over its lug pitch, on drums of all sizes.

    python -m tools.make_tap_patterns

writes core/data/tap_patterns.npz: one head over a shell with the other head muted, for heads,
depths and tensions that occur, and the same drums struck with both heads free, over their
fundamental (docs/theory.md, section 21). Every tone comes with its nodal diameters and how strongly
a tap 25 mm from the edge moves it. Half a minute.
"""

from __future__ import annotations

import itertools
from pathlib import Path

import numpy as np

from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.solver.lug import (
    ONE_DIAMETER,
    TONE_ORDERS,
    _lowest,
    _muted_system,
    tensions,
)
from kesselton.core.acoustics.solver.modes import solve
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell
from kesselton.core.prediction.stroke import strikes

DATA = Path(__file__).resolve().parents[1] / "src/kesselton/core/data"
DIAMETERS_IN = (10.0, 12.0, 14.0, 16.0, 20.0, 28.0)
DEPTH_RATIOS = (0.4, 0.8, 1.3, 2.0)
DENSITIES = (0.11, 0.30, 0.50)
STRESSES = (4e6, 12e6, 30e6)
HIGHEST, TONES, FROM_EDGE_M = 3.4, 18, 0.025


def pattern(drum: Drum) -> np.ndarray:
    """(3, TONES): ratio, nodal diameters, strength; by ratio, filled up with zeros."""
    tension = drum.batter.tension_n_per_m
    assert tension is not None
    first = _lowest(_muted_system(drum, "batter", tension, None, ONE_DIAMETER))
    system = _muted_system(drum, "batter", tension, None, TONE_ORDERS)
    top = min(2.0 * np.pi * HIGHEST * first, 0.95 * system.highest_omega)
    roots = solve(system, np.full(len(TONE_ORDERS), top))
    place = 1.0 - FROM_EDGE_M / system.radius_m
    part = system.slices[0]
    out = np.zeros((3, TONES))
    order = np.array(TONE_ORDERS)[roots.row]
    here = [
        abs(head_basis(int(m), part.stop).values(np.array(place)) @ x[part].real)
        for m, x in zip(order, roots.shape, strict=True)
    ]
    ratio = roots.frequency_hz / first
    sort = np.argsort(ratio)[:TONES]
    out[:, : len(sort)] = np.stack((ratio[sort], order[sort], np.array(here)[sort]))
    return out


def whole(drum: Drum) -> np.ndarray:
    """The same of both heads free, over the fundamental."""
    found = partials(drum, tensions(drum), 1500.0)
    first = found.frequency_hz[found.fundamental]
    ratio = found.frequency_hz / first
    here = np.abs(strikes(found, 0.3))
    keep = np.flatnonzero((ratio > 0.99) & (ratio < HIGHEST) & (found.branch != "air"))[:TONES]
    out = np.zeros((3, TONES))
    out[:, : len(keep)] = np.stack((ratio[keep], found.order[keep], here[keep]))
    return out


def main() -> None:
    """Solve all and write."""
    found, struck = [], []
    for inches, deep, heavy, stress in itertools.product(
        DIAMETERS_IN, DEPTH_RATIOS, DENSITIES, STRESSES
    ):
        diameter = inches * 0.0254
        head = Head("x", plies_m=(heavy / 1390.0,))
        shell = Shell(diameter, max(0.5 * deep * diameter, 0.05), 8)
        tension = stress * heavy / 1390.0
        drum = Drum("x", "tom", shell, HeadSetting(head, tension), None)
        drum = drum.with_setting("resonant", drum.batter)
        try:
            found.append(pattern(drum))
            for interval in (0.6, 1.0, 1.7):
                pair = drum.with_setting("resonant", drum.batter.at_tension(interval * tension))
                struck.append(whole(pair))
        except KesseltonError as error:
            print(inches, deep, heavy, stress, error)
    np.savez(
        DATA / "tap_patterns.npz",
        taps=np.array(found, dtype=np.float32),
        strokes=np.array(struck, dtype=np.float32),
    )
    print(len(found), len(struck), (DATA / "tap_patterns.npz").stat().st_size)


if __name__ == "__main__":
    main()
