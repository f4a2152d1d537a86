from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesselton.app.workshop.head_stock import constructions, offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import lug_pitch
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.arrays import size_of
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import Brief, typical_brief
from kesselton.core.heads.choose import CancelledError, Candidates, choose, nearest_brief
from kesselton.core.heads.criteria import KEYS
from kesselton.core.heads.curves import head_curves
from kesselton.core.heads.solved_before import BEFORE, SolvedBefore
from kesselton.core.heads.solved_pairs import SolvedPairs, Wishes, solve_pairs
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.stroke import pulse_of
from kesselton.core.prediction.usable import head_range
from tests.conftest import SINGLE, THIN, make_drum

ENTRIES = demo_workshop().entries
SNARE, TOM, FLOOR, BASS, CONCERT, FIELD = (entry.drum for entry in ENTRIES[:6])


def heads_for(drum: Drum, side: str) -> list[Head]:
    return [offer.head for offer in offers(drum, demo_workshop(), side) if not offer.own]


def chosen(drum: Drum, brief: Brief | None = None) -> Candidates:
    return choose(
        drum, brief or typical_brief(drum), heads_for(drum, "batter"), heads_for(drum, "resonant")
    )


@pytest.mark.parametrize("drum", [SNARE, TOM, BASS], ids=lambda d: d.name)
def test_lug_pitch_curves_agree_with_the_drum_solved_by_itself(drum: Drum) -> None:
    heads = heads_for(drum, "batter")[::4] + heads_for(drum, "resonant")[:1]
    curves = head_curves(drum, heads)
    for index, head in enumerate(heads):
        on = drum.with_setting("batter", replace(drum.batter, head=head))
        limits = head_range(on, "batter")
        low, high = limits.lowest.tension_n_per_m, limits.highest.tension_n_per_m
        for share in (0.15, 0.5, 0.85):
            tension = low * (high / low) ** share
            exact = lug_pitch(on, "batter", (tension, 1000.0))
            got = float(curves.pitch(np.array([index]), np.array([tension]))[0])
            assert 1200.0 * abs(math.log2(got / exact)) < 1.5, (head.name, share)
            back = float(curves.tension(np.array([index]), np.array([got]))[0])
            assert back == pytest.approx(tension, rel=1e-5)


@pytest.mark.parametrize("drum", [SNARE, TOM, BASS, CONCERT], ids=lambda d: d.name)
def test_many_pairs_at_once_agree_with_one_drum_at_a_time(drum: Drum) -> None:
    batters, resonants = heads_for(drum, "batter"), heads_for(drum, "resonant")
    target = predict(drum).fundamental_hz
    rng = np.random.default_rng(3)
    count = 24
    wishes = Wishes(
        rng.integers(0, len(batters), count),
        rng.integers(0, len(resonants), count),
        np.where(np.arange(count) % 4, rng.choice([-227.0, 0.0, 300.0, 500.0], count), np.nan),
        np.where(np.arange(count) % 4, np.nan, rng.choice([-0.26, 0.0, 0.2], count)),
        np.full(count, target),
        np.full(count, np.nan),
    )
    curves = head_curves(drum, list(dict.fromkeys([*batters, *resonants])))
    seen = 0
    for index, solved in solve_pairs(drum, batters, resonants, wishes, curves):
        for row, number in enumerate(index.tolist()):
            if not solved.settled[row] or solved.tensions_n_per_m[row].max() > 3e4:
                continue
            one = drum
            for side, head, tension in zip(
                drum.sides,
                (batters[wishes.batter[number]], resonants[wishes.resonant[number]]),
                solved.tensions_n_per_m[row].tolist(),
                strict=True,
            ):
                setting = replace(one.setting(side), head=head).at_tension(tension)
                one = one.with_setting(side, setting)
            exact = partials(one, tuple(solved.tensions_n_per_m[row].tolist()), 1200.0)
            seen += 1
            # 6 or 8 functions instead of 8 or 12, and the fundamental placed without its loss
            sounded = exact.frequency_hz[exact.fundamental]
            assert 1200.0 * abs(math.log2(sounded / target)) < 2.0
            for k in range(len(solved.order)):
                hz = float(solved.frequency_hz[row, k])
                same = exact.order == solved.order[k]
                if solved.head_share[row, k] < 0.3 or hz > 1000.0:
                    continue
                cents = 1200.0 * np.abs(np.log2(exact.frequency_hz[same] / hz))
                near = int(np.argmin(cents))
                assert cents[near] < 2.0
                assert solved.t60_s[row, k] == pytest.approx(exact.t60_s[same][near], rel=0.05)
                share = float(exact.batter_share[same][near])
                assert solved.batter_share[row, k] == pytest.approx(share, abs=0.05)
    assert seen > 10


def test_the_best_pair_is_what_it_was_said_to_be_when_put_on() -> None:
    found = chosen(TOM)
    best = int(found.order()[0])
    fitted = found.fitted(best)
    answer = predict(fitted)
    assert answer.fundamental_hz == pytest.approx(found.measures.fundamental_hz[best], rel=2e-3)
    t60 = float(answer.partials.t60_s[answer.partials.fundamental])
    assert t60 == pytest.approx(found.measures.fundamental_t60_s[best], rel=0.03)
    assert answer.lug_pitches_hz == pytest.approx(found.solved.lug_pitches_hz[best], rel=1e-6)


def test_weights_rank_again_and_the_front_is_beaten_by_none() -> None:
    found = chosen(SNARE)
    weight = np.zeros(len(KEYS))
    weight[KEYS.index("bright")] = 1.0
    bright = found.order(weight)
    hz = found.measures.brightness_hz[bright]
    assert np.all(np.diff(hz) <= 1e-9)
    weight[KEYS.index("bright")], weight[KEYS.index("warm")] = 0.0, 1.0
    assert np.all(np.diff(found.measures.brightness_hz[found.order(weight)]) >= -1e-9)
    front = found.pareto("ring", "response").tolist()
    assert len(front) > 1
    x, y = (found.scores.score[KEYS.index(key)] for key in ("ring", "response"))
    for one in front:
        better = (x[found.feasible] >= x[one]) & (y[found.feasible] >= y[one])
        strictly = (x[found.feasible] > x[one]) | (y[found.feasible] > y[one])
        assert not np.any(better & strictly)


def test_every_setting_meets_the_target_and_stays_in_range() -> None:
    brief = replace(typical_brief(TOM), target="note", fundamental_hz=110.0, school="unison")
    found = chosen(TOM, brief)
    index = found.feasible
    assert len(index) > 20
    assert found.measures.fundamental_hz[index] == pytest.approx(110.0, rel=1e-3)
    pitches = found.solved.lug_pitches_hz[index]
    assert pitches[:, 0] == pytest.approx(pitches[:, 1], rel=1e-9)
    for number in index[::40].tolist():
        fitted = found.fitted(number)
        for place, side in enumerate(fitted.sides):
            limits = head_range(fitted, side)
            low, high = limits.lowest_pitch_hz, limits.highest_pitch_hz
            assert 0.998 * low <= pitches[index.tolist().index(number), place] <= 1.002 * high


def test_what_cannot_be_is_answered_with_the_nearest() -> None:
    brief = replace(typical_brief(TOM), target="note", fundamental_hz=700.0)
    found = chosen(TOM, brief)
    assert len(found.feasible) == 0
    missed = found.nearest()
    assert missed is not None
    assert missed[1] > 100.0
    assert "too high" in missed[2]
    nearer = nearest_brief(found)
    assert nearer is not None
    assert nearer.fundamental_hz is not None
    assert nearer.fundamental_hz < 700.0
    again = chosen(TOM, nearer)
    assert len(again.feasible) > 0 or (again.nearest() or (0, 999.0, ""))[1] < missed[1]


def test_a_search_can_be_stopped() -> None:
    calls = []

    def enough(done: int, of: int) -> bool:
        calls.append((done, of))
        return len(calls) < 2

    with pytest.raises(CancelledError):
        choose(
            TOM, typical_brief(TOM), heads_for(TOM, "batter"), heads_for(TOM, "resonant"), enough
        )
    assert len(calls) == 2


def test_a_drum_open_below_and_a_head_that_does_not_fit() -> None:
    below = replace(TOM, resonant=None)
    found = choose(below, typical_brief(below), heads_for(TOM, "batter"), [])
    assert len(found.feasible) > 5
    assert found.solved.lug_pitches_hz.shape[1] == 1
    answer = predict(found.fitted(int(found.order()[0])))
    best = int(found.order()[0])
    assert answer.fundamental_hz == pytest.approx(found.measures.fundamental_hz[best], rel=3e-3)
    large = [c.made_for(0.3) for c in constructions() if "ring" in c.name][:1]
    with pytest.raises(
        InputError,
        match=("The ring reaches 296 mm from the center, past the bearing edge at 151 mm"),
    ):
        choose(TOM, typical_brief(TOM), large, heads_for(TOM, "resonant"))


@pytest.mark.parametrize(
    ("values", "complaint"),
    [
        ({"target": "note"}, "The target is a drum pitch, but none is entered"),
        ({"target": "feel", "fundamental_hz": 100.0}, "leave the pitch empty"),
        ({"target": "note", "fundamental_hz": 5.0}, "Use"),
        ({"school": "interval"}, "but no interval is entered"),
        ({"school": "unison", "interval_cents": 300.0}, "leave the interval empty"),
        ({"touch": "gentle"}, "feather"),
        ({"weights": {"ring": 9.0}}, "Use"),
    ],
)
def test_a_brief_that_contradicts_itself_says_so(values: dict[str, object], complaint: str) -> None:
    with pytest.raises(InputError) as caught:
        Brief(**values)  # type: ignore[arg-type]
    assert complaint in caught.value.one_line()


def test_a_brief_that_does_not_suit_the_drum_says_so() -> None:
    with pytest.raises(InputError, match="cannot use the beater"):
        chosen(TOM, replace(typical_brief(TOM), beater="pedal_felt"))
    below = replace(TOM, resonant=None)
    unison = replace(typical_brief(below), school="unison")
    with pytest.raises(InputError, match="no resonant head"):
        choose(below, unison, heads_for(TOM, "batter"), [])
    with pytest.raises(InputError, match="No batter head matches"):
        choose(TOM, typical_brief(TOM), [], heads_for(TOM, "resonant"))
    with pytest.raises(InputError, match="is not a criterion"):
        chosen(TOM, replace(typical_brief(TOM), weights={"loudness": 1.0}))


@settings(max_examples=20)
@given(st.sampled_from(list(BEATERS)), st.sampled_from(["feather", "light", "medium", "hard"]))
def test_harder_strokes_stay_for_less_time(beater: str, touch: str) -> None:
    harder, softer = (Brief(beater=beater, touch=t).stroke for t in ("very_hard", touch))
    assert pulse_of(harder, 1500.0, 0.15).push_s < pulse_of(softer, 1500.0, 0.15).push_s


def test_back_at_a_drum_or_with_another_wish_nothing_is_solved_again(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    from kesselton.core.heads import solved_pairs

    solved: list[int] = []
    block = solved_pairs._block

    def counted(*given: object) -> object:
        solved.append(1)
        return block(*given)  # type: ignore[arg-type]

    monkeypatch.setattr(BEFORE, "_blocks", {})
    monkeypatch.setattr(solved_pairs, "_block", counted)
    drum, brief = make_drum(), typical_brief(make_drum())
    heads = [SINGLE, THIN]
    first = choose(drum, brief, heads, heads)
    many = len(solved)
    assert many > 0
    other = replace(drum, name="another").with_setting("batter", HeadSetting(THIN, 900.0))
    again = choose(other, brief, heads, heads)
    live = choose(drum, replace(brief, room="live"), heads, heads)
    assert len(solved) == many
    np.testing.assert_array_equal(again.solved.omega, first.solved.omega)
    assert not np.array_equal(live.scores.total(), first.scores.total())
    warm = replace(drum, air=Air(30.0, 0.2))
    assert not np.array_equal(choose(warm, brief, heads, heads).solved.omega, first.solved.omega)
    assert len(solved) > many


def solved_once() -> SolvedPairs:
    nothing = Wishes(*(np.array([value]) for value in (0, -1, np.nan, np.nan, np.nan, 200.0)))
    drum = make_drum(resonant=None)
    return next(solve_pairs(drum, [SINGLE], [], nothing, head_curves(drum, [SINGLE])))[1]


def test_the_memory_lets_go_of_what_was_not_asked_for_longest() -> None:
    block = solved_once()
    memory = SolvedBefore(most=3 * size_of(block))
    one = (np.zeros(0, dtype=np.intp), block)
    memory.keep("first", (one,))
    memory.keep("second", (one, one))
    assert memory.get("first") is not None
    memory.keep("third", (one,))
    assert memory.get("second") is None
    assert memory.get("first") is not None
