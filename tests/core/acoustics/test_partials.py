from __future__ import annotations

from dataclasses import replace
from unittest import mock

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.core import constants as const
from kesselton.core.acoustics.air.free_air import FreeAir, free_air
from kesselton.core.acoustics.air.hoop_rim import Rimmed
from kesselton.core.acoustics.air.outside import ScaledAir
from kesselton.core.acoustics.film.film_part import LOSSLESS
from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch, tensions
from kesselton.core.acoustics.solver.modes import count_below
from kesselton.core.acoustics.solver.partials import (
    Partials,
    air_round,
    fundamental_hz,
    partials,
)
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.shell import HOOPS, Shell
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.stroke import half_sine, levels_db
from kesselton.core.prediction.uncertainty import (
    CENTS_PER_NEPER,
    OUTSIDE_ALIKE,
    InputTolerances,
    error_budget,
    error_terms,
)
from kesselton.core.prediction.usable import head_range
from tests.conftest import SINGLE, THIN, make_drum

drums = st.builds(
    make_drum,
    diameter_m=st.floats(0.2, 0.8),
    depth_m=st.floats(0.08, 0.5),
    batter=st.sampled_from([SINGLE, Head("two", plies_m=(177.8e-6, 177.8e-6))]),
    resonant=st.sampled_from([SINGLE, THIN]),
    tensions=st.tuples(st.floats(400.0, 4000.0), st.floats(400.0, 4000.0)),
)


def given_tensions(drum: Drum) -> tuple[float, ...]:
    return tuple(drum.setting(side).tension_n_per_m or 0.0 for side in drum.sides)


def sorted_hz(found: Partials, top: float) -> np.ndarray:
    hz = found.frequency_hz
    return hz[hz < top]


@given(drums)
def test_turning_the_drum_over_swaps_the_heads_and_nothing_else(drum: Drum) -> None:
    one = partials(drum, given_tensions(drum))
    other = partials(drum.turned_over(), given_tensions(drum)[::-1])
    assert other.frequency_hz == pytest.approx(one.frequency_hz, rel=1e-8)
    assert other.t60_s == pytest.approx(one.t60_s, rel=1e-6)
    apart = np.min(np.diff(np.concatenate(([0.0], one.frequency_hz)))) > 1e-6
    if apart:
        assert other.batter_share == pytest.approx(1.0 - one.batter_share, abs=1e-4)


@given(drums, st.floats(0.5, 2.0))
def test_scaling_law(drum: Drum, factor: float) -> None:
    """Everything k times as long, areal density k times, tension the same k: frequency over k,
    if bending and viscous layers (which scale otherwise) are left out."""

    def flat(head: Head, scale: float) -> Head:
        return Head(
            "x", "textured_fibre", plies_m=(1e-5,),
            areal_density_kg_per_m2=0.3 * scale if head is SINGLE else 0.2 * scale,
        )  # fmt: skip

    def scaled(scale: float) -> Drum:
        return Drum(
            "x", "tom",
            Shell(0.31 * scale, 0.2 * scale, 8, contact_radius_m=0.15 * scale, mass_kg=4 * scale**3),
            HeadSetting(flat(SINGLE, scale), 1200.0 * scale),
            HeadSetting(flat(THIN, scale), 1500.0 * scale),
        )  # fmt: skip

    still = {name: replace(hoop, edge=LOSSLESS) for name, hoop in HOOPS.items()}
    with (
        mock.patch.object(const, "AIR_VISCOSITY_PA_S", 0.0),
        mock.patch.dict(HOOPS, still),  # a rim that gives way scales otherwise
    ):
        air = Rimmed(free_air(), 0.07)
        one = partials(scaled(1.0), (1200.0, 1500.0), 800.0, outside=air)
        pulls = (1200.0 * factor, 1500.0 * factor)
        other = partials(scaled(factor), pulls, 800.0 / factor, outside=air)
    assert other.frequency_hz[:20] * factor == pytest.approx(one.frequency_hz[:20], rel=1e-5)
    assert other.t60_s[:10] / factor == pytest.approx(one.t60_s[:10], rel=1e-4)


@given(drums)
def test_the_lowest_few_are_the_lowest_of_all(drum: Drum) -> None:
    everything = partials(drum, given_tensions(drum))
    few = partials(drum, given_tensions(drum), lowest=10)
    assert few.frequency_hz == pytest.approx(everything.frequency_hz[:10], rel=1e-7)
    assert np.all(np.diff(everything.frequency_hz) >= 0.0)
    assert everything.frequency_hz[-1] <= 2000.0
    assert np.all((everything.batter_share >= 0.0) & (everything.batter_share <= 1.0))


@given(drums)
def test_more_tension_is_higher(drum: Drum) -> None:
    low = partials(drum, given_tensions(drum), lowest=6)
    high = partials(drum, tuple(1.1 * t for t in given_tensions(drum)), lowest=6)
    assert np.all(high.frequency_hz > low.frequency_hz)


def test_every_mode_satisfies_the_equation_and_is_counted() -> None:
    found = partials(make_drum(), (1200.0, 1600.0))
    system = found.system
    omega = 2j * np.pi * found.frequency_hz / 1j + 1j * np.log(1000.0) / found.t60_s
    value, slope = system.matrices(found.row, omega)
    residual = np.abs(np.einsum("rij,rj->ri", value, found.shape)).max(axis=1)
    size = np.abs(np.einsum("rij,rj->ri", slope, found.shape)).max(axis=1) * np.abs(omega)
    assert np.all(residual < 1e-7 * size)
    rows = np.arange(3)
    top = np.full(3, 2.0 * np.pi * 700.0)
    below = [int(np.sum((found.order == m) & (found.frequency_hz < 700.0))) for m in rows]
    assert count_below(system, rows, top).tolist() == below


def test_basis_has_converged() -> None:
    """Twice the functions move no partial by a cent (table in docs/theory.md)."""
    from kesselton.core.acoustics.solver import partials as module

    for head in (
        SINGLE,
        Head("d", plies_m=(254e-6,), additions=(Addition("dot", 0.0, 0.05, 254e-6),)),
    ):
        drum = make_drum(batter=head)
        usual = partials(drum, (1200.0, 1600.0))
        sizes = module.basis_size
        try:
            module.basis_size = lambda *heads: 16  # type: ignore[assignment]
            fine = partials(drum, (1200.0, 1600.0))
        finally:
            module.basis_size = sizes
        cents = 1200.0 * np.log2(usual.frequency_hz / fine.frequency_hz)
        assert np.abs(cents).max() < 1.0


def test_open_drum_has_one_head_and_a_lower_voice() -> None:
    closed, opened = make_drum(), make_drum(resonant=None)
    found = predict(opened)
    assert set(found.partials.branch) <= {"single", "air"}
    assert len(found.tensions_n_per_m) == 1
    assert found.fundamental_hz < predict(closed).fundamental_hz
    assert np.all(found.partials.batter_share == 1.0)
    with pytest.raises(InputError, match="'drum' has one head only and cannot be turned over"):
        opened.turned_over()
    with pytest.raises(InputError, match="'drum' has no resonant head"):
        lug_pitch(opened, "resonant", (1200.0,))


@given(
    drums,
    st.sampled_from(["batter", "resonant"]),
    st.sampled_from(["muted", "free"]),
    st.sampled_from(["damped", "free"]),
)
def test_pitch_to_tension_is_the_inverse(drum: Drum, side: str, other: str, centre: str) -> None:
    pair = given_tensions(drum)
    hz = lug_pitch(drum, side, pair, other, centre)
    index = drum.sides.index(side)
    back = tension_from_pitch(drum, side, hz, other, centre, pair[1 - index])
    assert back == pytest.approx(pair[index], rel=1e-5)


def test_open_drum_inverse_and_free_pair() -> None:
    drum = make_drum(resonant=None)
    hz = lug_pitch(drum, "batter", (900.0,))
    assert tension_from_pitch(drum, "batter", hz) == pytest.approx(900.0, rel=1e-6)
    both = make_drum(tensions=(1100.0, 1700.0))
    readings = [lug_pitch(both, side, (1100.0, 1700.0), "free") for side in both.sides]
    asked = replace(
        both,
        batter=HeadSetting(SINGLE, reading=LugPitch(readings[0], "free")),
        resonant=HeadSetting(SINGLE, reading=LugPitch(readings[1], "free")),
    )
    assert tensions(asked) == pytest.approx((1100.0, 1700.0), rel=1e-4)


def test_impossible_settings_say_why() -> None:
    drum = make_drum()
    with pytest.raises(InputError, match="needs a tension"):
        tension_from_pitch(drum, "batter", 1900.0)
    tight = make_drum(batter=THIN, tensions=(9000.0, 1200.0))
    with pytest.raises(
        InputError,
        match=("A tension of 9000 N/m is too high for the batter head 'snare side 3 mil'"),
    ) as caught:
        predict(tight)
    assert caught.value.path == "batter.tension_n_per_m"
    assert "yields near 7620 N/m" in caught.value.remedy
    system = partials(make_drum(1.1, 0.5), (2000.0, 2000.0)).system
    with pytest.raises(InputError, match="too high for a drum"):
        system.matrices(np.array([0]), np.array([2.0 * np.pi * 9000.0 + 0j]))


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"depth_m": -0.2}, "shell.depth_m"),
        ({"head_diameter_m": 22.86}, "shell.head_diameter_m"),
        ({"rods": 3}, "shell.rods"),
        ({"hoop": "glass"}, "shell.hoop"),
        ({"depth_m": float("nan")}, "shell.depth_m"),
        ({"contact_radius_m": 0.3}, "shell.contact_radius_m"),
    ],
)
def test_impossible_shells_name_the_field(changes: dict[str, object], path: str) -> None:
    good: dict[str, object] = {"head_diameter_m": 0.3048, "depth_m": 0.2, "rods": 6}
    with pytest.raises(InputError) as caught:
        Shell(**{**good, **changes})  # type: ignore[arg-type]
    assert caught.value.path == path


def test_a_head_that_reaches_its_limits_is_refused() -> None:
    stiff = Head("board", plies_m=(3e-3,) * 4)
    soft = replace(
        make_drum(), shell=Shell(0.3048, 0.2, 4, hoop="rope"), batter=HeadSetting(stiff, 9000.0)
    )
    with pytest.raises(InputError, match="no usable range"):
        head_range(soft, "batter")


def test_usable_range_has_named_limits_in_order() -> None:
    drum = make_drum()
    found = head_range(drum, "batter")
    assert found.lowest_pitch_hz < found.highest_pitch_hz
    assert {limit.name for limit in found.lower} == {"collar", "glide"}
    assert {limit.name for limit in found.upper} == {
        "film_creep", "film_stress", "rod_load", "hoop"
    }  # fmt: skip
    borne = [[x.tension_n_per_m for x in part if x.borne] for part in (found.lower, found.upper)]
    assert found.lowest.tension_n_per_m == max(borne[0]) <= found.clear_from.tension_n_per_m
    assert found.highest.tension_n_per_m == min(borne[1]) >= found.keeps_to.tension_n_per_m
    moved = head_range(drum.with_setting("batter", drum.batter.at_tension(3000.0)), "batter")
    assert moved == found


def test_stroke_in_the_centre_leaves_the_diameters_silent() -> None:
    found = partials(make_drum(), (1200.0, 1600.0))
    centre = levels_db(found, Stroke(0.0))
    off = levels_db(found, Stroke(0.6, "nylon_tip"))
    assert np.all(centre[found.order > 0] < -200.0)
    assert centre.max() == off.max() == 0.0
    assert off[found.find(1, 1)] > -30.0
    soft = levels_db(found, Stroke(0.6, "felt_soft"))
    high = found.frequency_hz > 500.0
    assert soft[high].max() < off[high].max()
    # a half-sine pulse: pi/4 of its impulse at its own frequency, zero at three times that
    assert half_sine(np.array([0.0, np.pi / 0.001]), 0.001) == pytest.approx([1.0, np.pi / 4])
    assert abs(half_sine(np.array([3.0 * np.pi / 0.001]), 0.001)[0]) < 1e-12


@pytest.mark.parametrize("set_by", ["tension", "pitch"])
def test_uncertainty_follows_the_inputs(set_by: str) -> None:
    """Its derivatives are those of the solved model: film mass and tension by differences."""
    none = InputTolerances(0, 0, 0, 0, 0, 0, 0, 0)
    drum = make_drum()
    if set_by == "pitch":
        drum = drum.with_setting("batter", drum.batter.at_pitch(200.0))
        drum = drum.with_setting("resonant", drum.resonant.at_pitch(230.0))  # type: ignore[union-attr]
    base = predict(drum)

    def moved(change: float) -> np.ndarray:
        heavy = replace(
            SINGLE, areal_density_kg_per_m2=SINGLE.base_density_kg_per_m2 * (1 + change)
        )
        other = drum.with_setting("batter", replace(drum.batter, head=heavy))
        return predict(other).partials.frequency_hz[:8]

    per_share = CENTS_PER_NEPER * np.log(moved(0.005) / moved(-0.005)) / 0.01
    alone = replace(none, film_mass=0.03)
    both = error_budget(drum, base.partials, alone).film_mass[:8]
    # the batter alone moves it by no more than both heads together
    assert np.all(np.abs(per_share) * 0.03 <= both + 0.8)
    if set_by == "tension":
        carried = base.partials.batter_share[:8] > 0.97
        assert np.abs(per_share[carried]) * 0.03 == pytest.approx(both[carried], rel=0.06)
        tight = error_budget(drum, base.partials, replace(none, tension=0.02)).tension[:8]
        assert np.all(tight <= CENTS_PER_NEPER * 0.5 * 0.02 * 1.001)
    budget = error_budget(drum, base.partials)
    assert np.all(budget.total >= np.max([*vars(budget).values()], axis=0))
    assert np.all(budget.total[:8] < 40.0)


def test_the_air_terms_of_the_budget_are_those_of_the_solved_model() -> None:
    """Outside air made 2 % heavier, and inside air (depth kept, density and modulus) likewise."""

    class Heavier(FreeAir):
        def at_points(self, order, depth_ratio, pairs):  # type: ignore[no-untyped-def]
            own, cross = super().at_points(order, depth_ratio, pairs)
            return 1.02 * own, 1.02 * cross

    drum = make_drum(depth_m=0.25)
    one = partials(drum, (1200.0, 1600.0), lowest=8, outside=Rimmed(free_air(), 0.06))
    other = partials(drum, (1200.0, 1600.0), lowest=8, outside=Rimmed(Heavier(), 0.06))
    moved = 1200.0 * np.log2(one.frequency_hz / other.frequency_hz)
    share = one.system.outside.mass_error(1.6)
    budget = error_budget(drum, one)
    assert budget.outside * 0.02 / share == pytest.approx(np.abs(moved), abs=0.05, rel=0.05)
    # without any tolerance but that of the inside air, opposed (0,1) are the least certain
    assert budget.inside.argmax() == one.find(0, 1, "upper")


def test_air_outside_loads_the_pitch_a_head_was_set_by_as_well() -> None:
    """Heads set by their lug pitches in outside air made 2 % heavier: less of it is left in the
    fundamental than where tensions were set."""
    drum = make_drum(depth_m=0.25)
    drum = drum.with_setting("batter", drum.batter.at_pitch(150.0))
    drum = drum.with_setting("resonant", drum.setting("resonant").at_pitch(170.0))
    air = air_round(drum)
    heavier = ScaledAir(air, 1.02)
    here = partials(drum, tensions(drum, air), lowest=8, outside=air)
    other = fundamental_hz(drum, tensions(drum, heavier), heavier)
    moved = 1200.0 * np.log2(other / here.frequency_hz[here.fundamental])
    share = air.mass_error(drum.shell.depth_m / drum.shell.radius_m)
    stated = error_terms(drum, here)["outside"][here.fundamental]
    assert stated * 0.02 / share / OUTSIDE_ALIKE == pytest.approx(moved, rel=0.15)
    by_tension = fundamental_hz(drum, tensions(drum, air), heavier)
    assert abs(moved) < 0.8 * abs(
        1200.0 * np.log2(by_tension / here.frequency_hz[here.fundamental])
    )


def test_warm_air_and_thin_air() -> None:
    cold, thin = make_drum(), replace(make_drum(), air=Air(20.0, 0.5, 60000.0))
    one, other = predict(cold), predict(thin)
    assert other.fundamental_hz > one.fundamental_hz  # less air to carry along


def test_nothing_is_guessed_when_there_is_no_such_partial() -> None:
    found = partials(make_drum(), (1200.0, 1600.0), lowest=4)
    with pytest.raises(ConvergenceError, match=r"\(7,3\)"):
        found.find(7, 3)


def test_two_modes_that_losses_make_nearly_one_are_both_found() -> None:
    """A dot, and a ring that rubs: two (3,n) lie 2 Hz apart near 1215 Hz."""
    head = Head(
        "dot and ring",
        plies_m=(0.0003,),
        additions=(
            Addition("dot", 0.0, 0.0508, 177.8e-6),
            Addition("ring", 0.1397, 0.1651, 254e-6),
        ),
    )
    drum = make_drum(0.3556, 0.1397, head, THIN, (3781.4, 3270.57))
    found = partials(drum, (3781.4, 3270.57))
    close = (found.order == 3) & (found.rank == 3)
    assert int(close.sum()) == 2
    for index in range(len(found)):  # each is a root of its own
        w = 2.0 * np.pi * found.frequency_hz[index] + 1j * (
            const.AUDIBLE_DECAY_NEPER / found.t60_s[index]
        )
        value, _ = found.system.matrices(found.row[index : index + 1], np.array([w]))
        x = found.shape[index]
        assert np.linalg.norm(value[0] @ x) < 1e-5 * np.linalg.norm(np.abs(value[0]) @ np.abs(x))
    apart = np.abs(np.diff(np.sort(found.frequency_hz[close])))
    assert apart.min() > 0.1
