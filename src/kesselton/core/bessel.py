"""The two function families everything is expanded in, and their overlaps.

Head functions J_m(k_n s) vanish at the rim (s = r/a = 1); cavity functions J_m(j'_q s) have no
slope there. Both are scaled so that the integral of f(s)^2 s ds over 0..1 is one.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

MAX_ORDER = 8
"""Highest number of nodal diameters that is solved."""
MAX_HEAD_FUNCTIONS = 16
"""Head functions per order in the tabulated outside air."""


@dataclass(frozen=True, eq=False)
class HeadBasis:
    """J_m(k_n s) for n = 1..N: zeros `k` (N,) and scale factors `scale` (N,)."""

    order: int
    k: FloatArray
    scale: FloatArray

    def values(self, s: FloatArray) -> FloatArray:
        """Function values at s = r/a; returns s.shape + (N,)."""
        from scipy.special import jv

        out: FloatArray = jv(self.order, np.asarray(s)[..., None] * self.k) * self.scale
        return out

    def hankel(self, wavenumber: FloatArray) -> FloatArray:
        """Integral of f_n(s) J_m(K s) s ds over 0..1, K shape S -> S + (N,) (theory eq. 5)."""
        from scipy.special import jv, jvp

        big_k = np.asarray(wavenumber, dtype=float)[..., None]
        gap = big_k**2 - self.k**2
        with np.errstate(divide="ignore", invalid="ignore"):
            far = self.k * jvp(self.order, self.k) * jv(self.order, big_k) / gap
        near = 0.5 * jvp(self.order, self.k) ** 2
        out: FloatArray = np.where(np.abs(gap) < 1e-9 * self.k**2, near, far) * self.scale
        return out


@dataclass(frozen=True, eq=False)
class CavityBasis:
    """J_m(j'_q s) for q = 1..Q: roots `k` (Q,) (first 0 for m = 0) and scale factors (Q,)."""

    order: int
    k: FloatArray
    scale: FloatArray

    def hankel(self, wavenumber: FloatArray) -> FloatArray:
        """Integral of f_q(s) J_m(K s) s ds over 0..1, K shape S -> S + (Q,) (theory eq. 6)."""
        from scipy.special import jv, jvp

        big_k = np.asarray(wavenumber, dtype=float)[..., None]
        gap = self.k**2 - big_k**2
        with np.errstate(divide="ignore", invalid="ignore"):
            far = big_k * jv(self.order, self.k) * jvp(self.order, big_k) / gap
        near = 1.0 / self.scale**2
        out: FloatArray = np.where(np.abs(gap) < 1e-9, near, far) * self.scale
        return out


@lru_cache(maxsize=64)
def head_basis(order: int, count: int) -> HeadBasis:
    """Head functions of nodal-diameter number `order`, `count` of them."""
    from scipy.special import jn_zeros, jv

    k = jn_zeros(order, count)
    return HeadBasis(order, k, np.sqrt(2.0) / np.abs(jv(order + 1, k)))


@lru_cache(maxsize=64)
def cavity_basis(order: int, count: int) -> CavityBasis:
    """Cavity functions of nodal-diameter number `order`, `count` of them.

    For order 0 the first is the constant (root 0): the plane wave along the drum.
    """
    from scipy.special import jnp_zeros, jv

    if order == 0:
        k = np.concatenate(([0.0], jnp_zeros(0, count - 1))) if count > 1 else np.zeros(1)
        norm = 0.5 * jv(0, k) ** 2
    else:
        k = jnp_zeros(order, count)
        norm = 0.5 * (1.0 - (order / k) ** 2) * jv(order, k) ** 2
    return CavityBasis(order, k, 1.0 / np.sqrt(norm))


@lru_cache(maxsize=64)
def overlap(order: int, heads: int, cavities: int) -> FloatArray:
    """Overlap of head and cavity functions, shape (heads, cavities) (theory eq. 6)."""
    cavity = cavity_basis(order, cavities)
    return head_basis(order, heads).hankel(cavity.k).T * cavity.scale


@lru_cache(maxsize=32)
def packing(count: int) -> NDArray[np.intp]:
    """Index (count, count) that spreads a packed upper triangle over a symmetric matrix."""
    index = np.empty((count, count), dtype=np.intp)
    rows, cols = np.triu_indices(count)
    index[rows, cols] = index[cols, rows] = np.arange(len(rows))
    return index


def annulus_overlap(order: int, count: int, inner: float, outer: float) -> FloatArray:
    """Integral of f_n f_n' s ds over inner <= s <= outer, shape (N, N) (theory eq. 3).

    Notes
    -----
    Lommel's integrals in closed form, so a stepped density needs no quadrature.

    References
    ----------
    Watson, A Treatise on the Theory of Bessel Functions, 2nd ed. 1944, section 5.11 (from memory).
    """
    basis = head_basis(order, count)
    upper = _lommel(order, basis.k, outer)
    lower = _lommel(order, basis.k, inner) if inner > 0.0 else 0.0
    out: FloatArray = (upper - lower) * np.outer(basis.scale, basis.scale)
    return out


def _lommel(order: int, k: FloatArray, s: float) -> FloatArray:
    """Antiderivative at s of s J_m(k_i s) J_m(k_j s), zero at s = 0; shape (N, N)."""
    from scipy.special import jv

    j = jv(order, k * s)
    below = jv(order - 1, k * s)
    gap = k[:, None] ** 2 - k[None, :] ** 2
    mixed = s * (k[None, :] * np.outer(j, below) - k[:, None] * np.outer(below, j))
    np.fill_diagonal(gap, 1.0)
    out: FloatArray = mixed / gap
    np.fill_diagonal(out, 0.5 * s**2 * (j**2 - below * jv(order + 1, k * s)))
    return out
