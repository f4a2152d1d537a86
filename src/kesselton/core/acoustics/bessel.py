"""The two function families everything is expanded in, and their overlaps.

Head functions J_m(k_n s) vanish at the rim (s = r/a = 1); cavity functions J_m(j'_q s) have no
slope there. Both are scaled so that the integral of f(s)^2 s ds over 0..1 is one.

The zeros ship with the program and J_m of a few arguments is summed here: importing SciPy's special
functions would cost a third of a second before the first answer.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray, IndexArray, kept
from kesselton.core.data import table
from kesselton.core.errors import InputError
from kesselton.core.language import _

MAX_ORDER = 8
"""Highest number of nodal diameters that is solved."""
MAX_HEAD_FUNCTIONS = 16
"""Head functions per order in the tabulated outside air."""


MAX_CAVITY_FUNCTIONS = 120
"""Cavity functions per order whose roots ship with the program."""
MAX_TERMS = 2_000_000


def bessel_j(order: int, x: FloatArray) -> FloatArray:
    """J_m(x), same shape as x, to 1e-14 absolute.

    Notes
    -----
    The trapezoidal rule on Bessel's integral converges faster than any power once it has more
    points than x + m (Trefethen and Weideman, SIAM Review 56 (2014) 385, section 2, from memory).
    Where that is more work than importing SciPy, SciPy's jv is used.

    Examples
    --------
    >>> bessel_j(0, np.array([0.0, 2.404825557695773])).round(12)
    array([ 1., -0.])
    """
    x = np.asarray(x, dtype=float)
    if order < 0:
        return bessel_j(-order, x) * (-1.0) ** order
    points = int(np.abs(x).max(initial=0.0)) + order + 40
    if x.size * points > MAX_TERMS:
        from scipy.special import jv

        exact: FloatArray = jv(order, x)
        return exact
    # the integrand is even about the middle of the period: half of it is enough
    angle = (np.arange(points) + 0.5) * (np.pi / points)
    out: FloatArray = np.mean(np.cos(order * angle - x[..., None] * np.sin(angle)), axis=-1)
    return out


def bessel_slope(order: int, x: FloatArray) -> FloatArray:
    """J_m'(x), same shape as x."""
    return 0.5 * (bessel_j(order - 1, x) - bessel_j(order + 1, x))


@kept(1)
def _zeros() -> tuple[FloatArray, FloatArray]:
    """Zeros of J_m (orders, MAX_HEAD_FUNCTIONS) and of J_m' (orders, MAX_CAVITY_FUNCTIONS)."""
    with table("zeros.npz").open("rb") as stream:
        data = np.load(stream)
        return data["head"], data["cavity"]


def _some(zeros: FloatArray, order: int, count: int) -> FloatArray:
    if not (0 <= order < zeros.shape[0] and 0 < count <= zeros.shape[1]):
        raise InputError(
            _("{count} functions with {order} nodal diameters exceed the built-in tables.").format(
                count=count, order=order
            ),
            _("Use up to {shape} functions, {shape2} diameters.").format(
                shape=zeros.shape[1], shape2=zeros.shape[0] - 1
            ),
        )
    return zeros[order, :count]


@dataclass(frozen=True, eq=False)
class HeadBasis:
    """J_m(k_n s) for n = 1..N: zeros `k` (N,) and scale factors `scale` (N,)."""

    order: int
    k: FloatArray
    scale: FloatArray

    def values(self, s: FloatArray) -> FloatArray:
        """Function values at s = r/a; returns s.shape + (N,)."""
        return bessel_j(self.order, np.asarray(s)[..., None] * self.k) * self.scale

    def hankel(self, wavenumber: FloatArray) -> FloatArray:
        """Integral of f_n(s) J_m(K s) s ds over 0..1, K shape S -> S + (N,) (theory eq. 5)."""
        big_k = np.asarray(wavenumber, dtype=float)[..., None]
        gap = big_k**2 - self.k**2
        with np.errstate(divide="ignore", invalid="ignore"):
            far = self.k * bessel_slope(self.order, self.k) * bessel_j(self.order, big_k) / gap
        near = 0.5 * bessel_slope(self.order, self.k) ** 2
        out: FloatArray = np.where(np.abs(gap) < 1e-9 * self.k**2, near, far) * self.scale
        return out


@dataclass(frozen=True, eq=False)
class CavityBasis:
    """J_m(j'_q s) for q = 1..Q: roots `k` (Q,) (first 0 for m = 0) and scale factors (Q,)."""

    order: int
    k: FloatArray
    scale: FloatArray

    def values(self, s: FloatArray) -> FloatArray:
        """Function values at s = r/a; returns s.shape + (Q,)."""
        return bessel_j(self.order, np.asarray(s)[..., None] * self.k) * self.scale

    def hankel(self, wavenumber: FloatArray) -> FloatArray:
        """Integral of f_q(s) J_m(K s) s ds over 0..1, K shape S -> S + (Q,) (theory eq. 6)."""
        big_k = np.asarray(wavenumber, dtype=float)[..., None]
        gap = self.k**2 - big_k**2
        with np.errstate(divide="ignore", invalid="ignore"):
            far = big_k * bessel_j(self.order, self.k) * bessel_slope(self.order, big_k) / gap
        near = 1.0 / self.scale**2
        out: FloatArray = np.where(np.abs(gap) < 1e-9, near, far) * self.scale
        return out


@kept(64)
def head_basis(order: int, count: int) -> HeadBasis:
    """Head functions of nodal-diameter number `order`, `count` of them."""
    k = _some(_zeros()[0], order, count)
    return HeadBasis(order, k, np.sqrt(2.0) / np.abs(bessel_j(order + 1, k)))


@kept(64)
def cavity_basis(order: int, count: int) -> CavityBasis:
    """Cavity functions of nodal-diameter number `order`, `count` of them.

    For order 0 the first is the constant (root 0): the plane wave along the drum.
    """
    k = _some(_zeros()[1], order, count)
    slope = np.divide(order, k, out=np.zeros_like(k), where=k > 0.0)
    norm = 0.5 * (1.0 - slope**2) * bessel_j(order, k) ** 2
    return CavityBasis(order, k, 1.0 / np.sqrt(norm))


@kept(64)
def overlap(order: int, heads: int, cavities: int) -> FloatArray:
    """Overlap of head and cavity functions, shape (heads, cavities) (theory eq. 6)."""
    cavity = cavity_basis(order, cavities)
    return head_basis(order, heads).hankel(cavity.k).T * cavity.scale


@kept(32)
def packing(count: int) -> IndexArray:
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


def annulus_slopes(order: int, count: int, inner: float, outer: float) -> FloatArray:
    """Integral of the product of two functions' slopes over an annulus, each over its wave number,
    shape (N, N): the identity over the whole head.

    Notes
    -----
    Green's first identity on a function that solves Helmholtz's equation: k^2 times the overlap on
    the annulus, and what its two edges carry.
    """
    basis = head_basis(order, count)

    def edge(s: float) -> FloatArray:
        if s <= 0.0:
            return np.zeros((count, count))
        value = basis.scale * bessel_j(order, basis.k * s)
        slope = basis.scale * basis.k * bessel_slope(order, basis.k * s)
        return np.asarray(s * np.outer(value, slope), dtype=float)

    overlap = annulus_overlap(order, count, inner, outer)
    whole = overlap * basis.k**2 + edge(outer) - edge(inner)
    out: FloatArray = whole / np.outer(basis.k, basis.k)
    return out


def _lommel(order: int, k: FloatArray, s: float) -> FloatArray:
    """Antiderivative at s of s J_m(k_i s) J_m(k_j s), zero at s = 0; shape (N, N)."""
    j = bessel_j(order, k * s)
    below = bessel_j(order - 1, k * s)
    gap = k[:, None] ** 2 - k[None, :] ** 2
    mixed = s * (k[None, :] * np.outer(j, below) - k[:, None] * np.outer(below, j))
    np.fill_diagonal(gap, 1.0)
    out: FloatArray = mixed / gap
    np.fill_diagonal(out, 0.5 * s**2 * (j**2 - below * bessel_j(order + 1, k * s)))
    return out


def square_area(order: IndexArray, radius_m: float) -> FloatArray:
    """Integral over a head of the square of one function, m^2, by order.

    The functions have unit weight in s ds, so it is pi a^2, and twice that without nodal diameter.
    """
    return np.pi * radius_m**2 * np.where(np.asarray(order) == 0, 2.0, 1.0)
