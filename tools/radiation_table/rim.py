"""What a hoop that stands above the head adds to the air outside.

    python -m tools.radiation_table.rim

The rim of a hoop rises round the head and the hoop stands out from the shell: a body of revolution
once more, solved by the boundary elements of the free cylinder at low frequency, where what it adds
is mass. Written to src/kesselton/core/data/rim.npz in three minutes (docs/theory.md, section 3a).
"""

from __future__ import annotations

import os

os.environ["OPENBLAS_NUM_THREADS"] = "1"

import multiprocessing
from pathlib import Path

import numpy as np

from tools.radiation_table.bem import Body, Panel, straight
from tools.radiation_table.cylinder import end_functions

DATA = Path(__file__).resolve().parents[2] / "src/kesselton/core/data"
ORDERS, KA = 9, 0.05
HEIGHTS = (0.0, 0.015, 0.03, 0.06, 0.1)
"""Of the rim above the head, over the contact radius."""
DEPTHS = (0.4, 0.8, 1.6)
OUTWARD = 1.1
"""How far hoop, lugs and rods stand out from the shell, spread evenly along it, over the height of
the rim."""
USED = 9
"""Head functions, then the uniform motion of the end."""


def rimmed_body(depth_ratio: float, height: float, orders: int, nodes: int = 10) -> Body:
    """A drum of radius 1 with rims `height` above its heads."""
    top = 0.5 * depth_ratio
    end = [
        Panel(straight((0.0, top), (0.4, top)), nodes),
        Panel(straight((0.4, top), (0.75, top)), nodes),
        Panel(straight((0.75, top), (0.92, top)), nodes),
        Panel(straight((0.92, top), (1.0, top), "stop"), nodes),
    ]
    still, out = [], 1.0 + OUTWARD * height
    if height > 0.0:
        middle = 0.5 * (1.0 + out)
        still = [
            Panel(straight((1.0, top), (1.0, top + height), "stop"), nodes),
            Panel(straight((1.0, top + height), (middle, top + height), "start"), nodes),
            Panel(straight((middle, top + height), (out, top + height), "stop"), nodes),
        ]
        top += height
    first = min(top, 0.4)
    still.append(Panel(straight((out, top), (out, top - first), "start"), nodes))
    rest = top - first
    pieces = int(np.ceil(rest / 0.7)) if rest > 1e-9 else 0
    for i in range(pieces):
        here, there = rest * (1 - i / pieces), rest * (1 - (i + 1) / pieces)
        still.append(Panel(straight((out, here), (out, there)), nodes))
    chance = np.random.default_rng(1)
    inside = np.stack(
        (0.9 * np.sqrt(chance.random(30)), 0.46 * depth_ratio * chance.random(30)), axis=1
    )

    def functions(points):  # type: ignore[no-untyped-def]
        values = end_functions(points, orders)
        # the rim has level faces too, and they are still
        values[:, (points.r > 1.0) | (points.z > 0.5 * depth_ratio + 1e-9)] = 0.0
        return values

    return Body(end, still, functions, inside, orders)


def one(job: tuple[float, float]) -> np.ndarray:
    """Mass (2, orders, USED, USED) of both parities, ends outward together first."""
    body = rimmed_body(*job, ORDERS)
    mass = body.added_mass(body.solve(np.array([KA])))[:, 0].real
    mass = 0.5 * (mass + mass.swapaxes(-1, -2))
    return np.asarray(mass[:, :, :USED, :USED])


def main() -> None:
    """Solve and write what the rim adds to self and cross terms, packed."""
    jobs = [(depth, height) for depth in DEPTHS for height in HEIGHTS]
    with multiprocessing.Pool(os.cpu_count()) as pool:
        mass = np.array(pool.map(one, jobs, chunksize=1))
    mass = mass.reshape(len(DEPTHS), len(HEIGHTS), *mass.shape[1:])
    write(mass)


def write(mass: np.ndarray) -> None:
    """Write `mass` (depths, heights, 2, orders, USED, USED)."""
    own, cross = 0.5 * (mass[:, :, 0] + mass[:, :, 1]), 0.5 * (mass[:, :, 0] - mass[:, :, 1])
    rows, cols = np.triu_indices(USED)
    added = np.stack((own, cross), axis=2)[..., rows, cols]
    added = added[:, 1:] - added[:, :1]
    np.savez(
        DATA / "rim.npz",
        depth_ratio=np.array(DEPTHS),
        height=np.array(HEIGHTS[1:]),
        added=added.astype(np.float32),
    )


if __name__ == "__main__":
    main()
