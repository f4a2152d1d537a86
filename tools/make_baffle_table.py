"""Compute the zeros of Bessel functions and the outside air of a baffled head or open shell end.

    python tools/make_baffle_table.py

writes src/kesselton/core/data/zeros.npz and baffle.npz: for every order m the Chebyshev
coefficients over 0 <= ka <= KA_MAX of the added-mass matrix A_nn'(ka) of docs/theory.md,
equation 8. A is an entire function of ka, so the coefficients fall
off geometrically; the script prints how far.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

import numpy as np

from kesselton.core.acoustics.bessel import (
    MAX_CAVITY_FUNCTIONS,
    MAX_HEAD_FUNCTIONS,
    MAX_ORDER,
    CavityBasis,
    HeadBasis,
    cavity_basis,
    head_basis,
)
from kesselton.core.arrays import FloatArray

KA_MAX = 24.0
DEGREE = 79
APERTURE_FUNCTIONS = 6
T_MAX = 640 * np.pi
OUT = Path(__file__).resolve().parents[1] / "src/kesselton/core/data/baffle.npz"


def gauss_panels(stop: float, panels: int, points: int = 8) -> tuple[FloatArray, FloatArray]:
    """Composite Gauss-Legendre nodes and weights on 0..stop."""
    x, w = np.polynomial.legendre.leggauss(points)
    edges = np.linspace(0.0, stop, panels + 1)
    half = 0.5 * np.diff(edges)[:, None]
    nodes = edges[:-1, None] + half * (1.0 + x)
    return nodes.ravel(), (half * w).ravel()


def added_mass(basis: HeadBasis | CavityBasis, ka: float, tail: FloatArray) -> np.ndarray:
    """A_nn'(ka) (N, N) complex: integral of V_n V_n' K dK / sqrt(K^2 - ka^2).

    With K^2 = ka^2 + t^2 above and K^2 = ka^2 - t^2 below the root is absorbed: K dK/sqrt = dt.
    """
    t, w = gauss_panels(T_MAX, 640)
    above = basis.hankel(np.sqrt(ka**2 + t**2))
    reactive = (above * w[:, None]).T @ above + tail
    t, w = gauss_panels(ka, 24)
    below = basis.hankel(np.sqrt(np.maximum(ka**2 - t**2, 0.0)))
    return reactive - 1j * ((below * w[:, None]).T @ below)


def mean_tail(basis: HeadBasis | CavityBasis) -> FloatArray:
    """What lies beyond T_MAX, from J_m^2 ~ 1/(pi K) on average."""
    from scipy.special import jv, jvp

    if isinstance(basis, HeadBasis):
        lead = basis.k * jvp(basis.order, basis.k) * basis.scale
        return np.outer(lead, lead) / (4.0 * np.pi * T_MAX**4)
    lead = jv(basis.order, basis.k) * basis.scale
    return np.outer(lead, lead) / (2.0 * np.pi * T_MAX**2)


def chebyshev(basis: HeadBasis | CavityBasis) -> np.ndarray:
    """Coefficients (DEGREE + 1, N (N + 1) / 2) of the upper triangle of A(ka)."""
    count = DEGREE + 1
    angle = (np.arange(count) + 0.5) * np.pi / count
    ka = 0.5 * KA_MAX * (1.0 + np.cos(angle))
    rows, cols = np.triu_indices(len(basis.k))
    tail = mean_tail(basis)
    samples = np.array([added_mass(basis, x, tail)[rows, cols] for x in ka])
    transform = np.cos(np.outer(np.arange(count), angle)) * 2.0 / count
    transform[0] *= 0.5
    return transform @ samples


def write_zeros() -> None:
    """Zeros of J_m and J_m' (the first root of J_0' is 0: the plane wave)."""
    from scipy.special import jn_zeros, jnp_zeros

    orders = range(MAX_ORDER + 1)
    cavity = [jnp_zeros(m, MAX_CAVITY_FUNCTIONS) for m in orders]
    cavity[0] = np.concatenate(([0.0], cavity[0][:-1]))
    head = [jn_zeros(m, MAX_HEAD_FUNCTIONS) for m in orders]
    np.savez(OUT.with_name("zeros.npz"), head=np.array(head), cavity=np.array(cavity))


def main() -> None:
    write_zeros()
    arrays: dict[str, np.ndarray] = {"ka_max": np.array(KA_MAX), "version": np.array(1)}
    for kind, make, size in (
        ("head", head_basis, MAX_HEAD_FUNCTIONS),
        ("aperture", cavity_basis, APERTURE_FUNCTIONS),
    ):
        tables = []
        for order in range(MAX_ORDER + 1):
            table = chebyshev(make(order, size))
            print(f"{kind} {order}: last coefficients {np.abs(table[-4:]).max():.1e}")
            tables.append(table)
        arrays[kind] = np.array(tables)
    digest = hashlib.sha256(b"".join(arrays[k].tobytes() for k in ("head", "aperture")))
    arrays["sha256"] = np.array(digest.hexdigest())
    OUT.parent.mkdir(exist_ok=True)
    np.savez(OUT, **arrays)
    print(f"{OUT.name}: {OUT.stat().st_size / 1e6:.2f} MB")


if __name__ == "__main__":
    main()
