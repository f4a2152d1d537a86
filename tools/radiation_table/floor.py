"""What a rigid floor under a lying drum does to the air its heads move together.

    python -m tools.radiation_table.floor

The floor is an image of the drum. By reciprocity the first reflection adds to the mass of the air

    dA = -2 * integral over the floor of p dp/dn,     n away from the drum,

with p the field of the free drum (docs/theory.md, section 7). Further reflections, of the order of
the square of the share printed, are left out; so is what the floor does to radiation, which it
doubles at most (two dipoles side by side).
"""

from __future__ import annotations

import numpy as np

from tools.radiation_table import bem
from tools.radiation_table.cylinder import drum_body

KA = 0.05
FAR = 12.0


def field(
    body: bem.Body, k: float, pressure: np.ndarray, r: np.ndarray, z: np.ndarray
) -> np.ndarray:
    """Pressure at points off the body, no nodal diameter, (0,1) of both ends, opposite parity."""
    points = np.stack((r, z), axis=1)
    probe = bem.Body(body.driven, body.still, body.functions, points, 1)
    on_pressure, on_drive = probe.assemble(np.array([k]))
    inside = slice(body.count, None)
    return on_pressure[1, 0, 0, inside] @ pressure + on_drive[1, 0, 0, inside, 0]


def extra_mass(depth_ratio: float, gap: float) -> float:
    """Share by which the floor raises the mass of the (0,1) moving together.

    Parameters
    ----------
    gap : between shell and floor, over the radius
    """
    body = drum_body(depth_ratio, 1)
    solved = body.solve(np.array([KA]))
    free = 2.0 * body.added_mass(solved)[1, 0, 0, 0, 0].real * np.pi * 2.0
    height = 1.0 + gap
    t, w = np.polynomial.legendre.leggauss(16)
    t, w = 0.5 * (t + 1.0), 0.5 * w
    x, wx = FAR * t**2, FAR * 2.0 * t * w  # denser below the drum
    xx, zz = (a.ravel() for a in np.meshgrid(x, x, indexing="ij"))
    weight = np.outer(wx, wx).ravel()
    step = 1e-3
    values = [
        field(body, KA, solved[1, 0, 0, :, 0], np.hypot(xx, height + d), zz).real
        for d in (-step, 0.0, step)
    ]
    slope = (values[2] - values[0]) / (2.0 * step)
    quarter = -2.0 * float(np.sum(weight * values[1] * slope))
    return 4.0 * quarter / free


if __name__ == "__main__":
    print("depth / radius, gap / radius: share of the outside mass of the (0,1) together")
    for depth_ratio in (0.7, 1.6, 2.2):
        for gap in (0.05, 0.15, 0.5):
            print(f"{depth_ratio:.1f} {gap:.2f}: {extra_mass(depth_ratio, gap):+.3f}", flush=True)
