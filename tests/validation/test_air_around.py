"""Cavity and outside air against independent numerics and classic results."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.linalg import eig
from scipy.special import j1, struve

from kesselton.core.acoustics.air.outside import HEAD, OPENING, AddedMass, baffled_air
from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.film.film_part import End
from kesselton.core.acoustics.solver.modes import solve
from kesselton.core.acoustics.solver.partials import drum_system, partials
from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.head import Head
from tests.conftest import SINGLE, THIN, make_drum

# the masses of a 10 mil and a 3 mil head on films too thin to bend, which the elements leave out
LIMP = (
    Head("limp", plies_m=(1e-5,), areal_density_kg_per_m2=SINGLE.base_density_kg_per_m2),
    Head("limp", plies_m=(1e-5,), areal_density_kg_per_m2=THIN.base_density_kg_per_m2),
)


class Vacuum:
    """No outside air at all."""

    ka_max = 1e3

    @property
    def start(self) -> Vacuum:
        return self

    def mass_error(self, depth_ratio: float) -> float:
        return 0.0

    def added_mass(self, orders, ends, depth_ratio, ka, radiation=1.0):  # type: ignore[no-untyped-def]
        return AddedMass(tuple(np.zeros((len(ka), 2, n * (n + 1) // 2), complex) for _, n in ends))


@pytest.mark.parametrize("order", [0, 1, 2])
@pytest.mark.parametrize(
    ("depth", "tensions"), [(0.2032, (1200.0, 1600.0)), (0.09, (2500.0, 900.0))]
)
def test_two_heads_and_their_air_against_finite_elements(
    order: int, depth: float, tensions: tuple[float, float]
) -> None:
    """Pressure in the shell on bilinear elements, both films on linear ones: within 1 %."""
    radius, air = 0.1524, Air()
    expected = fem_drum(order, radius, depth, LIMP, tensions, air)[:5]
    ends = (End(LIMP[0], tensions[0], 12), End(LIMP[1], tensions[1], 12))
    system = DrumSystem((order,), ends, radius, depth, air, Vacuum())  # type: ignore[arg-type]
    found = solve(system, np.array([2.0 * np.pi * 1.05 * expected[-1]])).frequency_hz[:5]
    assert found == pytest.approx(expected, rel=0.01)
    # Richardson: the finer grid must come closer, or the agreement is luck
    coarse = fem_drum(order, radius, depth, LIMP, tensions, air, 12, 8)[:5]
    assert np.abs(expected / found - 1).max() < np.abs(coarse / found - 1).max()


def fem_drum(
    order: int, radius: float, depth: float, heads: tuple[Head, Head],
    tensions: tuple[float, float], air: Air, nr: int = 28, nz: int = 14,
) -> np.ndarray:  # fmt: skip
    """Hertz of two bending-free films over a rigid-walled cavity (no outside air), per order."""
    r, z = np.linspace(0.0, radius, nr + 1), np.linspace(0.0, depth, nz + 1)
    k_r, m_r = line_matrices(r, order, radial=True)
    k_z, m_z = line_matrices(z, 0, radial=False)
    rho, c = air.density_kg_per_m3, air.sound_speed_m_per_s
    stiff_air = np.kron(m_z, k_r) + np.kron(k_z, m_r)
    mass_air = np.kron(m_z, m_r) / c**2
    at_start, at_end = np.zeros(nz + 1), np.zeros(nz + 1)
    at_start[0], at_end[-1] = 1.0, 1.0
    pressure = np.arange((nr + 1) * (nz + 1))
    films = np.arange(1 if order else 0, nr)
    if order:
        pressure = pressure[pressure % (nr + 1) != 0]
    n_p, n_f = len(pressure), len(films)
    size = n_p + 2 * n_f
    stiff, mass = np.zeros((size, size)), np.zeros((size, size))
    stiff[:n_p, :n_p] = stiff_air[np.ix_(pressure, pressure)]
    mass[:n_p, :n_p] = mass_air[np.ix_(pressure, pressure)]
    for side, (where, sign) in enumerate(((at_start, 1.0), (at_end, -1.0))):
        part = slice(n_p + side * n_f, n_p + (side + 1) * n_f)
        couple = np.kron(where[:, None], m_r)[np.ix_(pressure, films)]
        density = heads[side].base_density_kg_per_m2
        stiff[part, part] = tensions[side] * k_r[np.ix_(films, films)]
        mass[part, part] = density * m_r[np.ix_(films, films)]
        stiff[part, :n_p] = sign * couple.T
        mass[:n_p, part] = -sign * rho * couple
    squares = eig(stiff, mass, right=False)
    good = np.isfinite(squares) & (np.abs(squares.imag) < 1e-6 * np.abs(squares) + 1e-3)
    omega = np.sqrt(np.sort(squares[good].real[squares[good].real > 100.0]))
    return omega / (2.0 * np.pi)


def line_matrices(x: np.ndarray, order: int, radial: bool) -> tuple[np.ndarray, np.ndarray]:
    """Stiffness and mass of linear elements, weighted by r (and m^2/r) if radial."""
    points, weights = np.polynomial.legendre.leggauss(4)
    n = len(x)
    k, m = np.zeros((n, n)), np.zeros((n, n))
    for i in range(n - 1):
        h = x[i + 1] - x[i]
        s = 0.5 * (points + 1.0)
        where = x[i] + h * s
        shape = np.array([1.0 - s, s])
        slope = np.array([-np.ones_like(s), np.ones_like(s)]) / h
        w = 0.5 * h * weights * (where if radial else 1.0)
        local = (slope * w) @ slope.T
        if radial and order:
            local += order**2 * (shape * (w / where**2)) @ shape.T
        k[i : i + 2, i : i + 2] += local
        m[i : i + 2, i : i + 2] += (shape * w) @ shape.T
    return k, m


def test_baffled_piston() -> None:
    """Rayleigh's piston: added mass 8a/(3 pi) at low frequency, and R = 1 - J1(2ka)/ka,
    X = H1(2ka)/ka at any (Kinsler et al., Fundamentals of Acoustics, section 7.5, from memory)."""
    ka = np.array([1e-3, 0.7, 2.0, 9.0])
    found = baffled_air().added_mass(np.zeros(4, dtype=int), ((OPENING, 1),), 1.0, ka + 0j)
    mass = found.own[0][:, 0, 0]
    assert mass[0].real == pytest.approx(8.0 / (3.0 * np.pi), rel=1e-5)
    assert -mass.imag * ka == pytest.approx(1.0 - j1(2 * ka) / ka, abs=2e-8)
    assert mass.real * ka == pytest.approx(struve(1, 2 * ka) / ka, abs=2e-8)


def test_derivative_of_the_table() -> None:
    air = baffled_air()
    ka, step = np.array([0.3, 1.25, 4.1]) + 0j, 1e-5
    orders = np.array([0, 1, 2])
    for end in ((HEAD, 6), (OPENING, 4)):
        low = air.added_mass(orders, (end,), 1.0, ka - step).own[0][:, 0]
        high = air.added_mass(orders, (end,), 1.0, ka + step).own[0][:, 0]
        slope = air.added_mass(orders, (end,), 1.0, ka).own[0][:, 1]
        assert slope == pytest.approx((high - low) / (2 * step), abs=1e-7)


def test_low_frequency_head_radiates_as_a_monopole() -> None:
    """Below ka = 1 the (0,n) radiate by their volume alone: A'' = ka V_n(0) V_n'(0)."""
    ka = 0.01
    found = baffled_air().added_mass(np.array([0]), ((HEAD, 3),), 1.0, np.array([ka + 0j]))
    volume = head_basis(0, 3).hankel(np.array([0.0]))[0]
    rows, cols = np.triu_indices(3)
    assert -found.own[0][0, 0].imag == pytest.approx(ka * volume[rows] * volume[cols], rel=1e-3)


@pytest.mark.parametrize(
    "order_rank",
    [(0, 1, "lower"), (0, 1, "upper"), (1, 1, "lower"), (0, 2, "lower"), (1, 2, "upper")],
)
def test_decay_by_radiation_against_the_far_field(order_rank: tuple[int, int, str]) -> None:
    """Power balance: what the near field takes from a mode is what passes a far hemisphere."""
    lossless = Head("x", plies_m=(254e-6,))
    drum = make_drum(batter=lossless, resonant=lossless)
    found = partials(drum, (1200.0, 1600.0), outside=baffled_air())
    i = found.find(*order_rank)
    system, omega = found.system, 2.0 * np.pi * found.frequency_hz[i]
    order = int(found.order[i])
    sines, weights = np.polynomial.legendre.leggauss(60)
    angle = 0.25 * np.pi * (sines + 1.0)
    k = omega / system.c * system.radius_m
    total = 0.0
    for part, end in zip(system.slices, system.ends, strict=True):
        field = head_basis(order, end.functions).hankel(k * np.sin(angle)) @ found.shape[i, part]
        total += float(np.sum(0.25 * np.pi * weights * np.abs(field) ** 2 * np.sin(angle)))
    rate = system.rho * omega**2 * system.radius_m**2 / (2.0 * system.c) * total
    expected = found.radiated_share[i] * np.log(1000.0) / found.t60_s[i]
    # the mode is taken as undamped in the far field: good to the square of its damping
    assert rate == pytest.approx(expected, rel=0.05)


def test_open_shell_rings_like_a_flanged_pipe() -> None:
    """A heavy, tight head closes the shell; the air then sounds as a stopped pipe whose open end
    lies 0.8217 a outside (flanged; Nomura, Yamamura, Inawashiro 1960, from memory)."""
    wall = Head("x", plies_m=(3e-3,), areal_density_kg_per_m2=5.0)
    drum = make_drum(0.2, 0.6, wall, None, (59000.0, 0.0))
    system = drum_system(drum, (59000.0,), (0,), baffled_air())
    roots = solve(system, np.array([2.0 * np.pi * 200.0]))
    quarter = system.c / (4.0 * (0.6 + 0.8217 * 0.1))
    near = roots.frequency_hz[np.argmin(np.abs(roots.frequency_hz - quarter))]
    assert near == pytest.approx(quarter, rel=0.01)
