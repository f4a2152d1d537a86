from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.core.errors import InputError
from kesselton.core.measure.inspection import Roundness, edge, roundness, verdicts


@given(st.floats(0.2, 0.7), st.floats(0.0002, 0.004), st.floats(0.0, math.pi), st.integers(4, 12))
def test_an_oval_is_found_with_its_place(mean: float, oval: float, turn: float, count: int) -> None:
    angles = np.arange(count) * math.pi / count
    diameters = mean + 0.5 * oval * np.cos(2.0 * (angles - turn))
    found = roundness(diameters.tolist(), 8)
    assert found.mean_m == pytest.approx(mean, rel=1e-9)
    assert found.oval_m == pytest.approx(2 * 0.5 * oval, rel=1e-6)
    apart = abs((found.widest_rod - 1.0) / 8 * 2 * math.pi - turn) % math.pi
    assert min(apart, math.pi - apart) < 1e-6


def test_gaps_become_waviness_with_places() -> None:
    place = np.arange(8) * 2.0 * math.pi / 8
    gaps = 0.0002 + 0.0002 * np.cos(2.0 * (place - place[1]))
    found = edge(gaps.tolist(), 8)
    assert found.waviness_m == pytest.approx(0.0004, rel=1e-6)
    assert found.amplitudes_m[2] == pytest.approx(0.0002)
    assert found.low_rods == (2.0, 6.0)
    assert found.high_rods == (4.0, 8.0)


@pytest.mark.parametrize(
    ("work", "complaint"),
    [
        (lambda: roundness([0.3, 0.3], 8), "2 readings are not enough"),
        (lambda: roundness([0.3, 12.0, 0.3], 8), "Diameter is out of range: 12 m"),
        (lambda: roundness([0.3, 0.36, 0.3], 8), "not one shell"),
        (lambda: edge([0.0, 0.0001, 0.0002], 8), "3 readings are not enough"),
        (lambda: edge([0.0, 0.0, 0.0, 5.0], 8), "Gap is out of range:"),
    ],
)
def test_readings_that_cannot_be_say_so(work: object, complaint: str) -> None:
    with pytest.raises(InputError, match=complaint):
        work()  # type: ignore[operator]


def circle(mean: float, oval: float) -> Roundness:
    return Roundness(mean, oval, 2.5, np.zeros(1))


def test_verdicts_in_words() -> None:
    """Advice is common practice, no published source."""

    def graves(*args: object) -> list[str]:
        return [v.severity for v in verdicts(*args)]  # type: ignore[arg-type]

    assert graves(circle(0.3556, 0.0002), None, None, None, False) == ["fine"]
    assert graves(circle(0.3556, 0.0015), None, None, None, False) == ["mind"]
    bad = verdicts(circle(0.3556, 0.004), None, 0.355, 0.3530, False)
    assert [v.severity for v in bad] == ["repair", "repair", "repair"]
    assert "next larger size" in bad[1].advice
    assert "Leave either to an edge specialist" in bad[2].advice
    assert "Some technicians" in bad[2].advice  # both schools are named
    skin = verdicts(circle(0.3556, 0.0002), None, None, 0.3530, True)
    assert skin[-1].what == "a skin adapts to the edge"
    flat = edge([0.0, 0.0, 0.0004, 0.0, 0.0, 0.0, 0.0, 0.0], 8)
    dent = verdicts(None, flat, None, None, False)[0]
    assert dent.severity == "repair"
    assert "rod 3" in dent.what
    assert "conservator" in dent.advice


def test_snare_beds_are_no_damage() -> None:
    """Two low places opposite each other are beds: entered they are left out and named, and where
    nobody entered them on a snare drum they are asked for, not complained of."""
    gaps = [0.0015, 0.0001, 0.00012, 0.0001, 0.0014, 0.0001, 0.0001, 0.00011]
    plain = verdicts(None, edge(gaps, 8), None, None, False)
    assert [v.severity for v in plain] == ["repair"]  # on a tom it is one
    asked = verdicts(None, edge(gaps, 8), None, None, False, (), 8)
    assert [v.severity for v in asked] == ["mind"]
    assert "enter them in Tuning, Shell;" in asked[0].advice
    beds = (1.0, 5.0)
    known = verdicts(None, edge(gaps, 8, beds), None, None, False, beds, 8)
    assert [v.severity for v in known] == ["fine", "fine"]
    assert "snare beds at rods 1 and 5" in known[1].what
    dented = [*gaps[:2], 0.0006, *gaps[3:]]  # and a dent beside them is still found
    worst = verdicts(None, edge(dented, 8, beds), None, None, False, beds, 8)
    assert worst[0].severity == "repair"
    assert "rod 3" in worst[0].what
    three = [0.0015, 0.0001, 0.0015, 0.0001, 0.0014, 0.0001, 0.0001, 0.0001]
    assert verdicts(None, edge(three, 8), None, None, False, (), 8)[0].severity == "repair"
