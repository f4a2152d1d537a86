"""What every technician knows must come out. Common practice, no published source."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import predict
from tests.conftest import SINGLE, make_drum


def test_a_fourth_between_the_heads_at_the_same_fundamental() -> None:
    """Hold the lower (0,1), open the tensions to 16 : 9, and the lug pitches part by a fourth."""
    unison = make_drum(tensions=(1500.0, 1500.0))
    target = partials(unison, (1500.0, 1500.0), lowest=4)
    wanted = target.frequency_hz[target.fundamental]
    low, high = 500.0, 1500.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        found = partials(unison, (middle, middle * 16 / 9), lowest=4)
        if found.frequency_hz[found.fundamental] < wanted:
            low = middle
        else:
            high = middle
    pair = (middle, middle * 16 / 9)
    assert pair[0] < 1500.0 < pair[1]
    cents = cents_between(lug_pitch(unison, "batter", pair), lug_pitch(unison, "resonant", pair))
    assert cents == pytest.approx(498.0, abs=15.0)


def test_equal_tension_on_unlike_heads_is_no_unison() -> None:
    heavy = Head("two-ply", plies_m=(177.8e-6, 177.8e-6))
    drum = make_drum(batter=heavy, resonant=SINGLE, tensions=(1500.0, 1500.0))
    pitches = [lug_pitch(drum, side, (1500.0, 1500.0)) for side in drum.sides]
    assert cents_between(pitches[0], pitches[1]) > 100.0
    alike = make_drum(tensions=(1500.0, 1500.0))
    pitches = [lug_pitch(alike, side, (1500.0, 1500.0)) for side in alike.sides]
    assert cents_between(pitches[0], pitches[1]) == pytest.approx(0.0, abs=1e-6)


def test_two_lowest_modes_and_who_sounds() -> None:
    """Two (0,1): the lower with both heads together; the (1,1) nearly at each head's own pitch."""
    drum = make_drum(tensions=(1200.0, 2000.0))
    found = partials(drum, (1200.0, 2000.0))
    assert found.together(found.find(0, 1, "lower"))
    assert not found.together(found.find(0, 1, "upper"))
    for side, branch in (("batter", "lower"), ("resonant", "upper")):
        hz = found.frequency_hz[found.find(1, 1, branch)]
        own = lug_pitch(drum, side, (1200.0, 2000.0))
        assert abs(cents_between(own, hz)) < 15.0


def test_unison_rings_longest_and_two_plies_shorter() -> None:
    drum = make_drum()
    two = make_drum(batter=Head("two", plies_m=(177.8e-6, 177.8e-6)))
    hz = lug_pitch(drum, "batter", (1200.0, 1600.0))
    tension = tension_from_pitch(two, "batter", hz)
    single = partials(drum, (1200.0, 1600.0))
    double = partials(two, (tension, 1600.0))
    assert double.t60_s[double.find(2, 1, "lower")] < single.t60_s[single.find(2, 1, "lower")]


def test_a_dot_lowers_the_centre_modes_and_a_ring_the_edge_modes() -> None:
    dot = Head("dot", plies_m=(254e-6,), additions=(Addition("dot", 0.0, 0.05, 254e-6),))
    ring = Head("ring", plies_m=(254e-6,), additions=(Addition("ring", 0.11, 0.145, 254e-6),))
    plain = partials(make_drum(resonant=None), (1200.0,))

    def drop(head: Head, order: int) -> float:
        found = partials(make_drum(batter=head, resonant=None), (1200.0,))
        return cents_between(
            found.frequency_hz[found.find(order, 1)], plain.frequency_hz[plain.find(order, 1)]
        )

    assert drop(dot, 0) > 3.0 * drop(dot, 4) > 0.0
    assert drop(ring, 4) > drop(ring, 0) > 0.0


def test_decay_of_ordinary_toms_is_in_the_range_heard() -> None:
    """Toms 0.3 to 3 s in the (1,1) ring; the first model's baffle makes the (0,1) too short."""
    found = partials(make_drum(), (1200.0, 1600.0))
    ring = found.t60_s[found.find(1, 1, "lower")]
    assert 0.3 < ring < 3.0
    assert np.all(found.t60_s > 0.0)


@pytest.mark.parametrize(
    "change",
    [
        {"edge_vents": 8, "edge_vent_diameter_m": 0.002},
        {"additions": (Addition("dot", 0.0, 0.05, 127e-6),)},
        {"additions": (Addition("ring", 0.13, 0.145, 178e-6),)},
    ],
    ids=["vents", "dot", "ring"],
)
def test_built_in_control_sounds_shorter_than_the_plain_head(change: dict[str, object]) -> None:
    """At the same lug pitches: common practice, no published source."""
    from kesselton.app.workshop.usual_drums import usual_drum

    plain = usual_drum("tom")
    hz = predict(plain).lug_pitches_hz[0]
    head = replace(plain.batter.head, **change)  # type: ignore[arg-type]
    other = plain.with_setting("batter", replace(plain.batter, head=head).at_pitch(hz))
    rings = []
    for drum in (plain, other):
        found = predict(drum)
        sound = 10.0 ** (0.1 * found.levels_db)
        rings.append(float(sound @ found.struck_t60_s / sound.sum()))
    assert rings[1] < 0.95 * rings[0], rings
