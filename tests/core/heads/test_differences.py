from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import Candidates, choose
from kesselton.core.heads.criteria import CRITERIA, KEYS, reason, say
from kesselton.core.heads.differences import differences
from kesselton.core.heads.measures import stick_stiffness

WORKSHOP = demo_workshop()
SNARE, TOM = (entry.drum for entry in WORKSHOP.entries[:2])


@pytest.fixture(scope="module")
def found() -> Candidates:
    sides = [[o.head for o in offers(SNARE, WORKSHOP, side)] for side in SNARE.sides]
    return choose(SNARE, typical_brief(SNARE), sides[0][:5], sides[1][:3])


def test_nothing_differs_from_itself(found: Candidates) -> None:
    assert all(line.words == "" for line in differences(found.measures, 0, 0))


def test_differences_are_worded_the_way_they_go(found: Candidates) -> None:
    measures = found.measures
    low = int(np.argmin(measures.fundamental_hz))
    high = int(np.argmax(measures.fundamental_hz))
    up = {line.what: line.words for line in differences(measures, low, high)}
    down = {line.what: line.words for line in differences(measures, high, low)}
    assert up["drum pitch"].endswith("higher")
    assert down["drum pitch"].endswith("lower")
    assert up["drum pitch"].split()[0] == down["drum pitch"].split()[0]
    long = int(np.argmax(measures.ring_s))
    short = int(np.argmin(measures.ring_s))
    ring = {x.what: x.words for x in differences(measures, short, long)}["ring"]
    assert "longer" in ring or "times as long" in ring
    assert "wires" in up  # a snare drum has them


def test_small_differences_are_not_worth_a_word(found: Candidates) -> None:
    measures = replace(
        found.measures,
        ring_s=np.full(len(found), 0.5) * np.array([1.0, *[1.05] * (len(found) - 1)]),
        beat_depth=np.zeros(len(found)),
    )
    words = {line.what: line.words for line in differences(measures, 0, 1)}
    assert words["ring"] == ""
    assert words["beats"] == ""


def test_every_criterion_has_a_reason_in_words(found: Candidates) -> None:
    scores = found.scores
    for row, criterion in enumerate(CRITERIA):
        value = float(scores.value[row, 0])
        if not np.isfinite(value):
            continue
        text = reason(criterion, value, float(scores.wanted[row]), float(scores.score[row, 0]))
        assert text
        assert "nan" not in text
    ring = CRITERIA[KEYS.index("ring")]
    assert say(ring, 0.456) == "0.46 s"
    assert reason(ring, 0.4, 0.5, 0.9) == "0.40 s, target 0.50"
    response = CRITERIA[KEYS.index("response")]
    assert reason(response, -3.0, float("nan"), 0.9) == "−3.0 dB, among the highest"
    assert reason(response, -9.0, float("nan"), 0.1) == "−9.0 dB, among the lowest"


def test_scores_lie_between_nothing_and_all(found: Candidates) -> None:
    assert np.all((found.scores.score >= 0.0) & (found.scores.score <= 1.0))
    total = found.scores.total()
    assert np.all((total >= 0.0) & (total <= 1.0))
    assert np.all(found.scores.total(np.zeros(len(KEYS))) == 0.0)


def test_the_stick_feels_tension_over_the_logarithm_of_the_widths() -> None:
    """2 pi T / ln(a / r): the membrane between two circles (Laplace's equation)."""
    one = float(stick_stiffness(np.array(1000.0), 0.15, 0.005))
    assert one == pytest.approx(2 * np.pi * 1000.0 / np.log(30.0))
    assert float(stick_stiffness(np.array(2000.0), 0.15, 0.005)) == pytest.approx(2 * one)
