"""Heads and settings like a stroke: what the stroke was made with comes out near the top."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from kesselton.app.workshop.head_stock import shipped_heads
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import Brief, like_brief, typical_brief
from kesselton.core.heads.choose import choose, nearest_brief, out_of_reach
from kesselton.core.heads.criteria import KEYS
from kesselton.core.heads.like import Like, LikeLine, like_of
from kesselton.core.instrument.drum import Drum
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.prediction.prediction import predict
from kesselton.store.formats.brief_file import brief_to_data
from kesselton.store.formats.drum_file import read_model
from kesselton.store.formats.models import BriefFile

TOM = demo_workshop().entries[1].drum
HEADS = [
    head
    for head in shipped_heads()
    if head.material == "polyester_film"
    and not any(a.kind in ("ring", "port") for a in head.additions)
    and "snare" not in head.name
    and "port" not in head.name
]


def stroke_of(drum: Drum) -> Like:
    """By the prediction of the bench, which is not what the search solves with."""
    found = predict(drum, typical_brief(drum).stroke)
    p = found.partials
    lines = list(zip(p.frequency_hz.tolist(), p.t60_s.tolist(), found.levels_db.tolist(),
                     strict=True))  # fmt: skip
    return like_of("the other tom", found.fundamental_hz, lines)


def test_the_pair_a_stroke_was_made_with_is_among_the_nearest() -> None:
    """Three pairs at other intervals; each found again among some hundreds of settings."""
    named = {head.name: head for head in HEADS}
    for batter, below, cents in (
        ("two-ply 7 + 7 mil, clear", "single 10 mil, clear", 300.0),
        ("single 10 mil, coated", "single 7.5 mil, clear", 0.0),
        ("single 10 mil, clear", "single 10 mil, clear", 700.0),
    ):
        drum = TOM
        for side, head, hz in (
            ("batter", named[batter], 180.0), ("resonant", named[below], 180.0 * ratio_of(cents)),
        ):  # fmt: skip
            drum = drum.with_setting(side, replace(drum.setting(side), head=head).at_pitch(hz))
        like = stroke_of(drum)
        found = choose(TOM, like_brief(typical_brief(TOM), like), HEADS, HEADS)
        order = found.order().tolist()
        best = [(found.heads[n][0].name, found.heads[n][1].name) for n in order]
        place = best.index((batter, below))
        assert place < 0.03 * len(order), (batter, below, place, len(order))
        top = order[0]
        assert cents_between(like.fundamental_hz, found.measures.fundamental_hz[top]) == (
            pytest.approx(0.0, abs=1.0)
        )
        assert found.measures.fundamental_t60_s[top] == pytest.approx(like.t60_s, rel=0.15)
        assert out_of_reach(found) == []


def test_what_no_pair_reaches_is_said() -> None:
    like = stroke_of(TOM)
    lines = tuple(replace(line, t60_s=9.0) for line in like.lines)
    odd = tuple(
        replace(line, hz=line.hz * (1.0 if line.hz < 1.02 * like.fundamental_hz else 1.07))
        for line in like.lines
    )
    long = choose(TOM, like_brief(typical_brief(TOM), replace(like, lines=lines)), HEADS, HEADS)
    said = " ".join(out_of_reach(long))
    assert (
        "a decay of 9.00 s (at most 1.57 s) the decay of its overtones (506 % off at best)" in said
    )
    assert "the decay of its overtones" in said
    apart = choose(TOM, like_brief(typical_brief(TOM), replace(like, lines=odd)), HEADS, HEADS)
    plain = choose(TOM, like_brief(typical_brief(TOM), like), HEADS, HEADS)
    row = KEYS.index("like_partials")
    assert apart.scores.value[row].min() > 3.0 * plain.scores.value[row].min()


def test_a_note_that_cannot_be_reached_says_the_nearest() -> None:
    like = Like("a bell", 900.0, (LikeLine(900.0, 1.0, 0.0),))
    found = choose(TOM, like_brief(typical_brief(TOM), like), HEADS[:3], HEADS[:3])
    assert len(found.feasible) == 0
    nearest = nearest_brief(found)
    assert nearest is not None
    assert (nearest.target, nearest.like) == ("note", None)
    assert nearest.fundamental_hz is not None
    assert nearest.fundamental_hz < 900.0


def test_a_brief_with_a_stroke_is_kept_as_it_is() -> None:
    brief = like_brief(replace(typical_brief(TOM), density="busy"), stroke_of(TOM))
    text = json.dumps(brief_to_data(brief))
    assert read_model(json.loads(text), BriefFile).brief() == brief
    with pytest.raises(InputError, match="The target is a stroke, but none is selected"):
        Brief(target="stroke")
    with pytest.raises(InputError, match="requirements give a stroke"):
        replace(brief, target="feel")
    with pytest.raises(InputError, match="The stroke to match has 0 peaks"):
        like_of("nothing", 120.0, [(120.0, 1.0, -70.0)])


def test_only_what_was_said_to_count_counts() -> None:
    """With the ring's slider alone up, the order is that of the ring."""
    like = stroke_of(TOM)
    brief = like_brief(typical_brief(TOM), like)
    alone = {**dict.fromkeys(KEYS, 0.0), "like_ring": 5.0}
    found = choose(TOM, replace(brief, weights=alone), HEADS, HEADS)
    rings = [abs(found.measures.fundamental_t60_s[n] - like.t60_s) for n in found.order()]
    assert rings[0] < 0.05
    assert rings[0] <= min(rings) + 0.02
