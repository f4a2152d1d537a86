"""Hoop, film and modes of the rim against discretisations that share nothing with them."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from skfem import Basis, ElementTriP2, ElementVector, Functional, MeshTri, asm, condense, solve
from skfem.helpers import ddot, sym_grad, trace
from skfem.models.elasticity import linear_elasticity

from kesselton.core.clear.rim import (
    HARMONICS,
    PITCH_SEES,
    SECOND_SEES,
    Rim,
    dial_sees,
    edge_film_stiffness,
    field,
    rim_of,
    ring_stiffness,
)
from kesselton.core.clear.simulated import Hidden, SimulatedHead
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS
from kesselton.core.measure.rods import tension_per_turn
from tests.conftest import make_drum


def with_rods(rods: int, hoop: str = "flanged_1_6mm", **values: object) -> Drum:
    drum = make_drum(**values)  # type: ignore[arg-type]
    return replace(drum, shell=replace(drum.shell, rods=rods, hoop=hoop))


def straight_ring(bend: float, twist: float, radius: float, order: int, many: int = 240) -> float:
    """Stiffness per length of a ring of straight grid beams, loaded by a cosine across its plane.

    The textbook grid element: deflection and slope by E I, twist by G J (any text on matrix
    methods, from memory).
    """
    angle = 2.0 * math.pi * np.arange(many) / many
    place = radius * np.stack((np.cos(angle), np.sin(angle)), axis=1)
    whole = np.zeros((3 * many, 3 * many))
    for i in range(many):
        j = (i + 1) % many
        along = place[j] - place[i]
        length = float(np.hypot(*along))
        c, s = along / length
        a, b, d = 12 * bend / length**3, 6 * bend / length**2, bend / length
        # w, twist about the beam, slope about its normal
        k = np.zeros((6, 6))
        k[np.ix_([0, 2, 3, 5], [0, 2, 3, 5])] = [
            [a, -b, -a, -b], [-b, 4 * d, b, 2 * d], [-a, b, a, b], [-b, 2 * d, b, 4 * d],
        ]  # fmt: skip
        k[np.ix_([1, 4], [1, 4])] = twist / length * np.array([[1, -1], [-1, 1]])
        turn = np.eye(6)
        for node in (0, 3):
            turn[node + 1 : node + 3, node + 1 : node + 3] = [[c, s], [-s, c]]
        at = [3 * i, 3 * i + 1, 3 * i + 2, 3 * j, 3 * j + 1, 3 * j + 2]
        whole[np.ix_(at, at)] += turn.T @ k @ turn
    load = np.zeros(3 * many)
    load[::3] = np.cos(order * angle) * 2.0 * math.pi * radius / many
    moved = np.linalg.lstsq(whole, load, rcond=1e-11)[0][::3]
    return 1.0 / float(2.0 * np.mean(moved * np.cos(order * angle)))


@pytest.mark.parametrize("order", [2, 3, 4, 6])
def test_the_ring_against_straight_beams(order: int) -> None:
    bend, twist, radius = 1350.0, 140.0, 0.178
    ours = ring_stiffness(bend, twist, 0.0, radius)[order]
    assert ours == pytest.approx(straight_ring(bend, twist, radius, order), rel=0.01)


def test_a_ring_does_not_resist_being_moved_whole() -> None:
    assert ring_stiffness(1800.0, 5.0, 0.02, 0.15)[:2].tolist() == [0.0, 0.0]


@pytest.mark.parametrize("order", [0, 1, 2, 3, 5])
def test_the_film_against_plane_finite_elements(order: int) -> None:
    """The edge drawn in by a cosine and held along its circle: stress at the edge and inside."""
    nu, eh, radius = 0.38, 1.143e6, 0.15
    mesh = MeshTri.init_circle(4).scaled(radius)
    basis = Basis(mesh, ElementVector(ElementTriP2()))
    mu = eh / (2.0 * (1.0 + nu))
    lame = eh * nu / (1.0 - nu**2)  # plane stress
    stiff = asm(linear_elasticity(lame, mu), basis)
    dofs = basis.get_dofs()
    fixed = basis.zeros()
    x, y = basis.doflocs
    theta = np.arctan2(y, x)
    edge = dofs.flatten()
    component = np.zeros(len(fixed), dtype=int)
    component[basis.nodal_dofs[1]] = 1
    component[basis.facet_dofs[1]] = 1
    out = np.where(component == 0, np.cos(theta), np.sin(theta))
    fixed[edge] = (np.cos(order * theta) * out)[edge]
    moved = solve(*condense(stiff, basis.zeros(), x=fixed, D=edge))

    @Functional
    def held(w: object) -> np.ndarray:
        strain = sym_grad(w["u"])  # type: ignore[index]
        return lame * trace(strain) ** 2 + 2.0 * mu * ddot(strain, strain)

    energy = 0.5 * held.assemble(basis, u=basis.interpolate(moved))
    share = 2.0 if order == 0 else 1.0
    theirs = (
        2.0 * energy / (math.pi * radius * share)
    )  # energy = half of stress times way, all round
    ours = edge_film_stiffness(eh, nu, radius)[order]
    assert ours == pytest.approx(theirs, rel=0.01)  # the mesh is a polygon


def test_the_field_is_what_the_edge_says_and_in_balance() -> None:
    rim = rim_of(with_rods(8), "batter")
    patterns = np.zeros(HARMONICS + 1, dtype=complex)
    patterns[:4] = 1500.0, 40.0 + 10j, -30.0, 20j
    angle = np.linspace(0.0, 2.0 * np.pi, 40, endpoint=False)
    rr, _, _ = field(rim, patterns, np.ones(40), angle)
    n = np.arange(HARMONICS + 1)
    assert rr == pytest.approx((np.exp(1j * np.outer(angle, n)) @ patterns).real, rel=1e-9)
    h, s, t = 1e-5, np.array([0.6]), np.array([0.7])

    def at(ds: float, dt: float) -> tuple[float, float, float]:
        return tuple(float(v[0]) for v in field(rim, patterns, s + ds, t + dt))  # type: ignore[return-value]

    rr0, tt0, rt0 = at(0.0, 0.0)
    by_r = (at(h, 0.0)[0] - at(-h, 0.0)[0]) / (2 * h)
    by_t = (at(0.0, h)[2] - at(0.0, -h)[2]) / (2 * h)
    assert by_r + by_t / 0.6 + (rr0 - tt0) / 0.6 == pytest.approx(0.0, abs=0.05)
    by_r = (at(h, 0.0)[2] - at(-h, 0.0)[2]) / (2 * h)
    by_t = (at(0.0, h)[1] - at(0.0, -h)[1]) / (2 * h)
    assert by_r + by_t / 0.6 + 2.0 * rt0 / 0.6 == pytest.approx(0.0, abs=0.05)


def test_all_rods_alike_give_the_tension_of_a_turn() -> None:
    """The rim and the mean-tension model of theory 13 are one, but for what lies between rods."""
    for rods, hoop in ((6, "flanged_1_6mm"), (8, "flanged_2_3mm"), (10, "die_cast")):
        drum = with_rods(rods, hoop, diameter_m=0.3556)
        per_turn = tension_per_turn(drum, drum.batter.head, THREADS["no12_24"])
        assert rim_of(drum, "batter").turn_n_per_m == pytest.approx(per_turn, rel=0.01)


def test_influence_of_a_rod_is_as_in_the_trials() -> None:
    """Self 1340 to 1990 N/m a turn; a die-cast hoop of ten rods takes its neighbours with it
    (figures of our own trial; common practice: "die-cast, expect neighbours to move")."""
    thin = rim_of(with_rods(6), "batter").local_rows
    stiff = rim_of(with_rods(10, "die_cast", diameter_m=0.3556), "batter").local_rows
    assert 1300.0 < stiff[0, 0] < thin[0, 0] < 2050.0
    assert abs(thin[0, 1] / thin[0, 0]) < 0.06
    assert 0.2 < stiff[0, 1] / stiff[0, 0] < 0.4
    for rows in (thin, stiff):  # equal rods: a circulant
        assert rows[1] == pytest.approx(np.roll(rows[0], 1))


def test_pitch_alone_has_rank_three() -> None:
    for rods in (6, 8, 10):
        rim = rim_of(with_rods(rods), "batter")
        assert np.linalg.matrix_rank(rim.pitch_rows, tol=1.0) == 3
        assert np.linalg.matrix_rank(rim.dial_rows, tol=1.0) == rods
        if rods % 2 == 0:  # opposite rods read alike, whatever each one's tension
            half = rods // 2
            assert rim.pitch_rows[0] == pytest.approx(rim.pitch_rows[half])


def test_what_a_dial_sees_of_each_pattern() -> None:
    seen = dial_sees(0.38)
    assert seen[1:6] == pytest.approx([1.60, 0.76, 0.52, 0.39, 0.30], abs=0.03)  # our own trial


def test_splitting_by_the_whole_field() -> None:
    """First order by the modes on the whole field: only cos 2m theta splits a pair."""
    drum = with_rods(8, tensions=(1200.0, 1500.0))
    head = SimulatedHead(drum, "batter", Hidden((0.0,) * 8), 1)
    even = np.zeros(HARMONICS + 1, dtype=complex)
    even[0] = 1200.0
    base, _ = head.modes.solve(head.rim, even, head.hidden)
    assert base[1] == pytest.approx(head.reference_hz, rel=1e-3)
    for pattern, pair, share in ((2, slice(1, 3), PITCH_SEES), (4, slice(3, 5), SECOND_SEES)):
        uneven = even.copy()
        uneven[pattern] = 12.0
        hz, _ = head.modes.solve(head.rim, uneven, head.hidden)
        moved = np.log(hz / base) / 0.01
        assert moved[pair] == pytest.approx([-share, share], abs=0.008)
    uneven = even.copy()
    uneven[3] = 12.0  # an odd pattern: invisible
    hz, _ = head.modes.solve(head.rim, uneven, head.hidden)
    assert np.abs(np.log(hz[1:3] / base[1:3])).max() < 1e-4


def test_a_rod_that_is_slack_pulls_nothing() -> None:
    drum = with_rods(8, tensions=(800.0, 1500.0))
    head = SimulatedHead(drum, "batter", Hidden((-0.3, 0.1) + (0.0,) * 6), 1)
    force = head.forces()
    assert force.min() >= 0.0
    assert np.argmin(force) == 0
    assert isinstance(head.rim, Rim)
