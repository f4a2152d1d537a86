"""Drums that are not ideal: followed without a jump, refused in words, intervals that hold."""

from __future__ import annotations

from dataclasses import replace
from unittest import mock

import numpy as np
import pytest
from benchmarks.coverage import measure
from benchmarks.sweep import draw, sweep

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver import modes
from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz, partials
from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.errors import InputError
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.shell import Shell
from kesselton.core.measure.readings import Observation, Reading, estimate
from kesselton.core.prediction.prediction import predict
from tests.conftest import SINGLE, make_drum

DRUMS = {entry.drum.name: entry.drum for entry in demo_workshop().entries}
SNARE = DRUMS["Pit snare"]


def test_forty_drums_of_all_kinds_are_solved_or_refused_in_words() -> None:
    kinds, examples, _ = sweep(40, 11)
    assert not kinds, examples


@pytest.mark.parametrize("diameter", [0.0005, 0.001, 0.002])
def test_a_pinhole_does_not_name_a_drum_of_a_few_hertz(diameter: float) -> None:
    """14 x 8 in with tiny vents: 109 Hz, once named as 1.7 Hz."""
    drum = make_drum(0.3556, 0.2032)
    closed = predict(drum).fundamental_hz
    vented = replace(drum, shell=replace(drum.shell, vent_diameter_m=diameter))
    assert predict(vented).fundamental_hz == pytest.approx(closed, rel=0.01)
    assert fundamental_hz(vented, (1200.0, 1600.0)) == pytest.approx(closed, rel=0.01)


def test_the_fundamental_goes_on_without_a_jump_while_a_head_is_slackened() -> None:
    """The named line once jumped from 139 to 110 Hz between 138 and 140 N/m."""
    pulls = np.geomspace(110.0, 400.0, 40)
    named = [fundamental_hz(SNARE, (3313.0, float(t))) for t in pulls]
    steps = 1200.0 * np.abs(np.diff(np.log2(named)))
    assert steps.max() < 25.0
    for t in pulls[::13].tolist():
        found = partials(SNARE, (3313.0, t), 700.0)
        assert found.frequency_hz[found.fundamental] == pytest.approx(
            fundamental_hz(SNARE, (3313.0, t)), rel=1e-6
        )


def test_a_line_that_shares_the_note_is_named() -> None:
    found = partials(SNARE, (3313.0, 180.0), 700.0)
    assert found.rival.sum() == 1
    other = float(found.frequency_hz[found.rival][0])
    assert other > float(found.frequency_hz[found.fundamental])
    assert not partials(SNARE, (3313.0, 3216.0), 700.0).rival.any()


def test_a_lug_pitch_near_the_swing_of_the_air_is_its_own_inverse() -> None:
    """Two lines share the head there; 500 Hz on a 14 in snare once came back as 650."""
    for hz in (400.0, 460.0, 500.0):
        tension = tension_from_pitch(SNARE, "batter", hz)
        assert lug_pitch(SNARE, "batter", (tension, 3216.0)) == pytest.approx(hz, rel=1e-5)


def test_every_pitch_about_the_swing_of_the_air_has_its_tension_or_a_refusal() -> None:
    rng = np.random.default_rng(5)
    refused = 0
    for _ in range(60):
        drum = draw(rng)
        swing = 1.8412 * drum.air.sound_speed_m_per_s / (2.0 * np.pi * drum.shell.radius_m)
        hz = swing * float(rng.uniform(0.7, 1.1))
        try:
            tension = tension_from_pitch(drum, "batter", hz)
        except InputError:
            refused += 1
            continue
        pulls = (tension, 1000.0)[: len(drum.sides)]
        assert lug_pitch(drum, "batter", pulls) == pytest.approx(hz, rel=1e-4)
    assert 5 < refused < 40


def test_heavy_muffling_never_makes_a_line_grow() -> None:
    heavy = tuple(Muffler(kind, "batter", 0.6, rod) for kind, rod in
                  (("pillow", 1.0), ("hand", 2.0), ("cloth", 3.0), ("pillow", 4.5)))  # fmt: skip
    for drum in DRUMS.values():
        found = predict(replace(drum, mufflers=heavy))
        assert np.all(found.partials.t60_s > 0.0)
        assert np.all(np.isfinite(found.levels_db))


def test_intervals_hold_on_drums_that_differ_in_everything_unstated() -> None:
    """A small sample; `coverage90_...` in docs/benchmarks.md has the large one."""
    for name, (share, _, count) in measure(36, 17).items():
        assert count >= 30, name
        assert share >= 72.0, name


def test_what_readings_share_does_not_average_away() -> None:
    """Sixteen pitches of one head leave its film and its contact circle as unknown as one does; a
    dial beside them narrows it."""
    drum = DRUMS["Rack tom"]
    one = Observation(Reading("lug_pitch", 240.0))

    def half(*readings: Observation) -> float:
        low, high = estimate(drum, readings).interval(0)
        return float(np.log(high / low))

    assert 0.6 * half(one) < half(*[one] * 16) < half(one)
    measured = replace(drum, shell=replace(drum.shell, contact_radius_m=0.1509))
    low, high = estimate(measured, [one]).interval(0)
    assert float(np.log(high / low)) < half(one)


def test_what_is_said_of_a_shell_narrows_and_what_is_not_is_named() -> None:
    drum = DRUMS["Concert bass"]
    assert set(drum.shell.assumed) == {
        "shell.material", "shell.mass_kg", "shell.mount", "shell.edge"
    }  # fmt: skip

    def half(one: Drum) -> float:
        found = predict(one)
        return float(found.uncertainty_cents[found.partials.fundamental])

    weighed = replace(drum, shell=replace(drum.shell, mass_kg=16.0))
    hung = replace(
        weighed, shell=replace(weighed.shell, mount="hung", edge="sharp", material="maple")
    )
    assert half(drum) > half(weighed) > half(hung)
    assert hung.shell.assumed == ()
    for values in ({"material": "glass"}, {"mount": "tree"}, {"edge": "blunt"}, {"mass_kg": -1.0}):
        with pytest.raises(InputError):
            Shell(0.3, 0.2, 8, **values)  # type: ignore[arg-type]
    orders = {"Pit snare": 4.0, "Rack tom": 3.2, "Floor tom": 5.5, "Concert bass": 16.0}
    for name, mass in orders.items():  # orders of the trade, as handed over
        guess, doubt = DRUMS[name].shell.own_mass(DRUMS[name].kind)
        assert guess / (1.0 + doubt) < mass < guess * (1.0 + doubt)
    assert SINGLE.base_density_kg_per_m2 > 0.3


def test_a_drum_whose_modes_cross_as_damping_grows_is_solved() -> None:
    """An open snare drum of the sweep, set very high: following its modes along a straight line
    went astray; in small steps they are found."""
    head = Head("thick", plies_m=(14 * 25.4e-6,), coating_kg_per_m2=0.04)
    shell = Shell(0.3556, 0.1846853557, 8, "flanged_2_3mm", vent_diameter_m=0.0127, material="aluminum",
                  mount="spurs", edge="sharp")  # fmt: skip
    drum = Drum(
        "high", "snare", shell, HeadSetting(head, 11319.525201), None, Air(0.29117, 0.31524)
    )
    found = predict(drum)
    assert np.all(np.isfinite(found.partials.frequency_hz))
    assert np.all(found.partials.t60_s > 0.0)


def test_a_search_that_ends_at_rest_is_none_that_came_home() -> None:
    """An open tom, set very high, asked for up to 1800 Hz: two searches met, were parted, and one of
    them fell to 0.2 Hz, where nothing moves and nothing dies."""
    shell = Shell(0.4064, 0.1666033022, 8, "flanged_2_3mm", vent_diameter_m=0.001, material="maple",
                  mass_kg=2.15996, edge="sharp")  # fmt: skip
    tight = HeadSetting(Head("single", plies_m=(190.5e-6,)), 10971.885089641142)
    drum = Drum("at rest", "tom", shell, tight, None, Air(1.9044647942895967, 0.6449908648722278))
    wide = partials(drum, tensions(drum), 2000.0)
    for ceiling in (1790.0, 1800.0, 1810.0):
        found = partials(drum, tensions(drum), ceiling)
        assert np.all(found.t60_s > 0.0)
        same, ring = (one.frequency_hz[one.t60_s > 0.03] for one in (found, wide))
        assert same == pytest.approx(ring[ring < ceiling], rel=1e-6)


def test_where_a_search_strays_in_one_order_that_order_alone_is_followed() -> None:
    """A pedal bass drum of the sweep, of which one order has a mode too few at first: the same
    lines as with every order followed from the undamped drum, sooner."""
    floating = Addition("floating", 0.157326, 0.198674, 0.000254)
    batter = Head("two-ply", plies_m=(177.8e-6, 177.8e-6), additions=(floating,))
    ring = Addition("ring", 0.173462, 0.198674, 177.8e-6)
    front = Head("front", plies_m=(254e-6,), additions=(ring,), port_diameter_m=0.092782)
    shell = Shell(0.4064, 0.4766990519, 6, "wood", vent_diameter_m=0.02, mount="legs", edge="sharp")
    setting = HeadSetting(front, 1000.0).at_pitch(184.6)
    drum = Drum(
        "strays", "bass", shell, HeadSetting(batter, 1764.9539462), setting, Air(21.70814, 0.44311)
    )
    pair = tensions(drum)
    with mock.patch.object(modes, "_followed", wraps=modes._followed) as followed:
        found = partials(drum, pair)
    assert [len(call.args[0].orders) for call in followed.call_args_list] == [1]

    def all_of_them(system: DrumSystem, highest: np.ndarray, references: int) -> modes.Roots:
        return modes._below(modes._followed(system, highest), highest)

    with mock.patch("kesselton.core.acoustics.solver.partials.solve", all_of_them):
        other = partials(drum, pair)
    assert found.order.tolist() == other.order.tolist()
    assert found.frequency_hz == pytest.approx(other.frequency_hz, rel=1e-7)
    assert found.t60_s == pytest.approx(other.t60_s, rel=1e-4)
