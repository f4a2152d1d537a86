"""What the last head says about the next, and what muffling does for the one there is.

Which head a sign asks for is common practice, no published source; muffling is checked against the
drum with it, predicted by itself.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import constructions
from kesselton.app.workshop.usual_drums import USUAL, usual_drum
from kesselton.core.heads.advice import SIGNS, advice, next_brief
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import Candidates, cautions, choose
from kesselton.core.heads.criteria import KEYS
from kesselton.core.heads.muffled import gains, muffled
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.prediction.prediction import predict


def heads_for(drum: Drum, side: str) -> list[Head]:
    return [one.made_for(drum.shell.radius_m) for one in constructions() if one.suits(drum, side)]


def found_for(drum: Drum, sign: str = "", **wishes: str) -> Candidates:
    brief = replace(typical_brief(drum), **wishes)
    if sign:
        brief = next_brief(brief, sign)
    return choose(drum, brief, heads_for(drum, "batter"), heads_for(drum, "resonant")[:2])


@pytest.mark.parametrize("kind", USUAL)
@pytest.mark.parametrize("sign", [sign for sign, one in SIGNS.items() if one.instead])
def test_ranking_follows_the_advice_or_the_advice_says_it_cannot(kind: str, sign: str) -> None:
    drum, one = usual_drum(kind), SIGNS[sign]
    heads = heads_for(drum, "batter")
    possible = any(one.follows(head) for head in heads)
    said = advice(typical_brief(drum), sign, heads)
    assert said == (one.advice if possible else one.instead)
    if possible:
        found = found_for(drum, sign)
        best = found.heads[int(found.order()[0])][0]
        assert one.follows(best), (best.name, said)


def test_a_second_sign_begins_where_the_first_did() -> None:
    brief = typical_brief(usual_drum("tom"))
    assert next_brief(brief, "taped").durability == brief.durability
    assert next_brief(brief, "pits").weights.get("control") is None


@pytest.fixture(scope="module")
def live_tom() -> Candidates:
    return found_for(usual_drum("tom"), room="live")


def test_muffling_brings_the_ring_where_the_predicted_drum_has_it(live_tom: Candidates) -> None:
    number = int(live_tom.order()[0])
    told = muffled(live_tom, number)
    best = gains(live_tom, number, told)
    assert best
    assert [one.points for one in best] == sorted((one.points for one in best), reverse=True)
    drum, stroke = live_tom.fitted(number), live_tom.brief.stroke
    plain = predict(drum, stroke)
    for one in told:
        laid = predict(replace(drum, mufflers=one.mufflers), stroke)
        apart = one.ring_s / float(live_tom.measures.ring_s[number])
        early = laid.decay.early_s / plain.decay.early_s  # by the whole sound, another way
        assert apart < 1.0
        assert abs(np.log(apart / early)) < np.log(1.6), (one.mufflers, apart, early)
        cents = 1200.0 * np.log2(laid.fundamental_hz / plain.fundamental_hz)
        assert one.cents == pytest.approx(cents, abs=1e-6)


def test_points_of_muffling_are_those_the_ring_scores(live_tom: Candidates) -> None:
    number = int(live_tom.order()[0])
    weight = live_tom.scores.weight.copy()
    weight[KEYS.index("ring")] = 0.0
    told = muffled(live_tom, number)
    assert gains(live_tom, number, told, weight) == ()
    own, wanted = (
        float(live_tom.measures.ring_s[number]),
        float(live_tom.scores.wanted[KEYS.index("ring")]),
    )
    for gain in gains(live_tom, number, told):  # nearer to what is asked, on a scale of ratios
        assert abs(np.log(gain.muffled.ring_s / wanted)) < abs(np.log(own / wanted))


def test_a_narrow_margin_is_not_taken_without_a_word_and_over_the_limit_not_at_all() -> None:
    found = found_for(usual_drum("snare"), feel="firm", density="busy")
    margin = 1.0 - found.measures.stress_share.max(axis=1)
    assert np.all(margin[found.feasible] >= 0.0)
    narrow = [n for n in found.feasible.tolist() if margin[n] < 0.10]
    assert narrow
    assert all(cautions(found, n) for n in narrow)
    wide = [n for n in found.feasible.tolist() if margin[n] > 0.3]
    assert not any(cautions(found, n) for n in wide)
