"""Zeros against mpmath, overlaps against quadrature, ratios against the handbook table."""

from __future__ import annotations

import mpmath
import numpy as np
import pytest
from scipy.integrate import quad
from scipy.special import jv, jvp

from kesselton.core.acoustics.bessel import (
    annulus_overlap,
    annulus_slopes,
    bessel_j,
    bessel_slope,
    cavity_basis,
    head_basis,
    overlap,
    packing,
)
from kesselton.core.acoustics.film.mass_matrix import vacuum_frequencies
from kesselton.core.errors import InputError
from kesselton.core.instrument.head import Head


@pytest.mark.parametrize("order", range(9))
def test_zeros_against_mpmath(order: int) -> None:
    for count in (1, 2, 5, 16):
        assert head_basis(order, 16).k[count - 1] == pytest.approx(
            float(mpmath.besseljzero(order, count)), abs=1e-9
        )
        index = count if order == 0 else count - 1  # the first root of order 0 is the constant
        if index < 16:
            # mpmath counts zero as the first root of J_0'
            number = count + 1 if order == 0 else count
            assert cavity_basis(order, 17).k[index] == pytest.approx(
                float(mpmath.besseljzero(order, number, derivative=1)), abs=1e-9
            )


def test_ideal_ratios() -> None:
    """Any handbook table of the ideal membrane, e.g. Kinsler et al., Fundamentals of Acoustics,
    table 4.4.1 (from memory): 1, 1.593, 2.135, 2.295, 2.653, 2.917, as printed to three digits."""
    head = Head("x", plies_m=(2e-4,))
    found = sorted(
        f for m in range(5) for f in vacuum_frequencies(head, 0.2, 1000.0, m, bending=False)[:3]
    )
    printed = [1.0, 1.593, 2.135, 2.295, 2.653, 2.917]
    assert np.array(found[:6]) / found[0] == pytest.approx(printed, abs=7e-4)


@pytest.mark.parametrize("order", [0, 1, 4])
def test_overlaps_against_quadrature(order: int) -> None:
    head, cavity = head_basis(order, 4), cavity_basis(order, 4)

    def f(n: int, s: float) -> float:
        return float(jv(order, head.k[n] * s) * head.scale[n])

    ring = annulus_overlap(order, 4, 0.2, 0.7)
    assert ring[1, 2] == pytest.approx(
        quad(lambda s: f(1, s) * f(2, s) * s, 0.2, 0.7)[0], abs=1e-10
    )
    assert ring[2, 2] == pytest.approx(quad(lambda s: f(2, s) ** 2 * s, 0.2, 0.7)[0], abs=1e-10)
    assert annulus_overlap(order, 4, 0.0, 1.0) == pytest.approx(np.eye(4), abs=1e-12)
    expected = quad(lambda s: f(1, s) * jv(order, cavity.k[2] * s) * cavity.scale[2] * s, 0, 1)[0]
    assert overlap(order, 4, 4)[1, 2] == pytest.approx(expected, abs=1e-10)
    at_root = cavity.hankel(cavity.k[1:2])[0, 1]
    expected = quad(lambda s: jv(order, cavity.k[1] * s) ** 2 * cavity.scale[1] * s, 0, 1)[0]
    assert at_root == pytest.approx(expected, abs=1e-10)


@pytest.mark.parametrize("order", [0, 1, 5, 9])
def test_bessel_functions_against_scipy(order: int) -> None:
    x = np.concatenate((np.linspace(0.0, 60.0, 301), [150.0, 381.7]))
    assert bessel_j(order, x) == pytest.approx(jv(order, x), abs=1e-13)
    assert bessel_slope(order, x) == pytest.approx(jvp(order, x), abs=1e-13)
    assert bessel_j(-order, x) == pytest.approx(jv(-order, x), abs=1e-13)


def test_more_functions_than_there_are_zeros_is_an_error() -> None:
    with pytest.raises(InputError, match="17 functions with 2 nodal diameters"):
        head_basis(2, 17)


def test_packing_spreads_a_triangle() -> None:
    full = np.arange(16.0).reshape(4, 4)
    full = full + full.T
    assert np.array_equal(full[np.triu_indices(4)][packing(4)], full)


@pytest.mark.parametrize(
    ("order", "inner", "outer"), [(0, 0.86, 0.985), (1, 0.0, 0.5), (3, 0.3, 1.0)]
)
def test_slopes_on_an_annulus_by_quadrature(order: int, inner: float, outer: float) -> None:
    """Green's identity against the integral itself, and the whole head gives the identity."""
    count = 5
    basis = head_basis(order, count)
    s = np.linspace(max(inner, 1e-6), outer, 40001)
    values = basis.values(s)
    slope = np.gradient(values, s, axis=0, edge_order=2)
    inside = slope[:, :, None] * slope[:, None, :]
    inside += (order / s)[:, None, None] ** 2 * values[:, :, None] * values[:, None, :]
    whole = np.trapezoid(inside * s[:, None, None], s, axis=0) / np.outer(basis.k, basis.k)
    assert annulus_slopes(order, count, inner, outer) == pytest.approx(whole, abs=2e-5)
    assert annulus_slopes(order, count, 0.0, 1.0) == pytest.approx(np.eye(count), abs=1e-9)
