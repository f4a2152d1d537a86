"""The closed cylinder whose ends move in head and cavity functions."""

from __future__ import annotations

import numpy as np

from kesselton.core.acoustics.bessel import bessel_j, cavity_basis, head_basis
from tools.radiation_table.bem import Body, FloatArray, Points, cylinder

HEADS, OPENINGS = 8, 5
"""Head functions J_m(k_n s) and cavity functions J_m(j'_q s) on each end, in this order."""
INSIDE = 40


def end_functions(points: Points, orders: int) -> FloatArray:
    """Values (orders, S, HEADS + OPENINGS) on points of an end; zero on the side."""
    values = np.zeros((orders, len(points.r), HEADS + OPENINGS))
    on_end = np.abs(points.nz) > 0.5
    r = points.r[on_end]
    for m in range(orders):
        cavity = cavity_basis(m, OPENINGS)
        values[m, on_end, :HEADS] = head_basis(m, HEADS).values(r)
        values[m, on_end, HEADS:] = bessel_j(m, r[:, None] * cavity.k) * cavity.scale
    return values


def drum_body(depth_ratio: float, orders: int, nodes: int = 10) -> Body:
    """A drum of radius 1 and shell depth `depth_ratio`, seen from outside."""
    end, side = cylinder(depth_ratio, nodes)
    chance = np.random.default_rng(1)
    inside = np.stack(
        (
            0.9 * np.sqrt(chance.random(INSIDE)),
            0.46 * depth_ratio * chance.random(INSIDE),
        ),
        axis=1,
    )
    return Body(end, side, lambda points: end_functions(points, orders), inside, orders)


def solve_cylinder(
    depth_ratio: float, ka: FloatArray, orders: int, nodes: int = 10, at_once: int = 40
) -> tuple[np.ndarray, float]:
    """Added mass of both parities, real part near field, imaginary part far field.

    Returns
    -------
    value : (2, K, orders, N, N) complex, symmetric parity first (both ends outward together)
    imbalance : largest difference between the resistance found on the surface and far away
    """
    body = drum_body(depth_ratio, orders, nodes)
    parts, imbalance = [], 0.0
    for some in np.array_split(ka, max(1, round(len(ka) / at_once))):
        pressure = body.solve(some)
        near = body.added_mass(pressure)
        near = 0.5 * (near + near.swapaxes(-1, -2))
        far = body.radiation(some, pressure)
        imbalance = max(imbalance, float(np.abs(near.imag + far).max()))
        parts.append(near.real - 1j * far)
    return np.concatenate(parts, axis=1), imbalance
