"""Two heads against each other: one pull draws both, schools are meant in their own measure."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.errors import InputError
from kesselton.core.heads.apart import (
    ALIKE,
    BATTER_TIGHTER,
    BATTER_TURNED_HIGHER,
    INTERVALS,
    PULL,
    Apart,
    cents,
)
from kesselton.core.heads.brief import APART, Brief, typical_brief
from kesselton.core.heads.choose import choose
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.reading import Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.measure.head_to_head import at_apart, drawn_along, standing, together
from kesselton.core.measure.plan import hold_fundamental
from kesselton.core.measure.readings import Observation, estimate
from kesselton.core.measure.rods import tension_per_turn
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.uncertainty import error_budget

DRUMS = {entry.drum.kind: entry.drum for entry in demo_workshop().entries}
ROPE, SNARE = DRUMS["rope"], DRUMS["snare"]
TOM = next(entry.drum for entry in demo_workshop().entries if entry.drum.kind == "tom")
THIN = replace(ROPE.batter.head, name="thin", plies_m=(3.0e-4,))


def pull(drum: Drum) -> float:
    batter, resonant = tensions(drum)
    return math.log(resonant / batter)


def test_the_rope_drum_of_the_store_is_drawn_by_one_pull() -> None:
    assert ROPE.one_pull == pytest.approx(0.12)
    assert abs(pull(ROPE)) < 1e-3
    assert TOM.one_pull is None
    through = replace(TOM, shell=replace(TOM.shell, drawn="through"))
    assert through.one_pull == pytest.approx(0.09)
    assert replace(through, resonant=None).one_pull is None
    own = replace(ROPE, shell=replace(ROPE.shell, drawn="own"))
    assert own.one_pull is None
    with pytest.raises(InputError, match="tensioning"):
        replace(TOM.shell, drawn="string")


@pytest.mark.parametrize("side", ["batter", "resonant"])
def test_the_other_head_is_drawn_along_and_its_pitch_follows_from_its_mass(side: str) -> None:
    drum = together(ROPE, ROPE.with_setting("resonant", replace(ROPE.resonant, head=THIN)))
    assert abs(pull(drum)) < 1e-3  # the new head takes the pull there was
    before = standing(drum, tensions(drum), predict(drum).lug_pitches_hz)
    # lighter by 0.82 kg/m2 with air: by mass alone 350 cents at most
    assert 150.0 < before.cents < 400.0
    moved = drawn_along(drum, side, 150.0)
    assert abs(pull(moved)) < 1e-3
    assert predict(moved).lug_pitches_hz[drum.sides.index(side)] == pytest.approx(150.0, rel=1e-4)


def test_drawn_by_hand_within_friction_and_no_further() -> None:
    most = math.log1p(0.12)
    uneven = at_apart(ROPE, Apart(PULL, most), None)
    assert pull(uneven) == pytest.approx(most, abs=1e-3)
    assert pull(drawn_along(uneven, "batter", 120.0)) == pytest.approx(most, abs=1e-3)
    assert pull(at_apart(uneven, ALIKE, None)) == pytest.approx(0.0, abs=1e-3)
    with pytest.raises(InputError, match="friction holds 12 %"):
        at_apart(ROPE, cents(300.0), None)
    with pytest.raises(InputError, match="friction holds 12 %"):
        at_apart(ROPE, Apart(PULL, 0.2), None)
    with pytest.raises(InputError, match="nothing can move"):
        hold_fundamental(ROPE, "batter", 140.0, 90.0)


def test_whatever_is_changed_both_have_been_drawn() -> None:
    """A setting, both settings, a head, what draws it, a drum from elsewhere."""
    assert ROPE.resonant is not None
    strange = ROPE.with_setting("resonant", ROPE.resonant.at_pitch(164.81))
    changes = (
        ROPE.with_setting("batter", ROPE.batter.at_pitch(150.0)),
        ROPE.with_setting("resonant", ROPE.resonant.at_tension(2000.0)),
        strange,
        strange.with_setting("batter", ROPE.batter.at_pitch(120.0)),
        ROPE.with_setting("batter", replace(ROPE.batter, head=THIN)),
        replace(TOM, shell=replace(TOM.shell, drawn="through")),
    )
    for changed in changes:
        for before in (ROPE, TOM, None):
            found = together(before, changed)
            limit = math.log1p(found.one_pull or 0.0) + 2e-3
            assert abs(pull(found)) < limit
    led = together(ROPE, changes[1])
    assert tensions(led)[0] == pytest.approx(2000.0, rel=1e-3)
    assert together(TOM, replace(TOM, name="other")) == replace(TOM, name="other")


def test_readings_of_one_head_speak_of_both() -> None:
    one = [Observation(Reading("lug_pitch", 138.59, "batter"))]
    found = estimate(ROPE, one)
    assert found.known == (True, True)
    low, high = found.interval(1)
    assert low < found.tensions_n_per_m[0] < high
    # no wider than friction and the reading allow, no narrower than friction
    assert 0.09 < 0.5 * math.log(high / low) < 0.2
    free = estimate(replace(ROPE, shell=replace(ROPE.shell, drawn="own")), one)
    assert free.known == (True, False)
    both = [*one, Observation(Reading("lug_pitch", 164.81, "resonant"))]
    apart = estimate(ROPE, both)
    own = estimate(replace(ROPE, shell=replace(ROPE.shell, drawn="own")), both)
    closer = [math.log(e.tensions_n_per_m[1] / e.tensions_n_per_m[0]) for e in (apart, own)]
    assert 0.0 < closer[0] < closer[1]


def test_the_search_sets_such_a_drum_by_one_pull() -> None:
    workshop = demo_workshop()
    heads = [[o.head for o in offers(ROPE, workshop, side)] for side in ROPE.sides]
    found = choose(ROPE, typical_brief(ROPE), heads[0], [*heads[1], THIN])
    assert len(found) == len(heads[0]) * (len(heads[1]) + 1)
    tension = found.solved.tensions_n_per_m
    assert np.allclose(tension[:, 0], tension[:, 1], rtol=1e-5)
    light = [n for n, pair in enumerate(found.heads) if pair[1] == THIN and pair[0] != THIN]
    assert np.ptp(found.wishes.interval_cents) > 100.0
    fitted = found.fitted(light[0])
    assert abs(pull(fitted)) < 2e-3
    assert together(ROPE, fitted) == fitted
    with pytest.raises(InputError, match="their masses set the interval"):
        choose(ROPE, replace(typical_brief(ROPE), school="unison"), *heads)


@pytest.mark.parametrize("drum", [SNARE, TOM], ids=["snare", "tom"])
def test_batter_higher_is_tension_and_turns_not_a_pitch(drum: Drum) -> None:
    """A third looser below is, on a thin snare side, a far higher pitch (common practice)."""
    tighter = at_apart(drum, BATTER_TIGHTER, None)
    found = predict(tighter)
    stand = standing(tighter, found.tensions_n_per_m, found.lug_pitches_hz)
    assert stand.pull == pytest.approx(1.0 / 1.3, rel=1e-3)
    turned = at_apart(drum, BATTER_TURNED_HIGHER, None)
    thread = THREADS[drum.shell.rod_thread]
    turns = [
        t / tension_per_turn(turned, turned.setting(s).head, thread)
        for s, t in zip(turned.sides, tensions(turned), strict=True)
    ]
    assert turns[0] / turns[1] == pytest.approx(1.5, rel=2e-3)
    if drum is SNARE:
        assert stand.cents > 250.0
    else:  # equal films: ln 1.3 of tension is 227 cents, less what the air takes
        assert -240.0 < stand.cents < -150.0
    note = predict(drum).fundamental_hz
    held = at_apart(drum, BATTER_TIGHTER, note)
    assert predict(held).fundamental_hz == pytest.approx(note, rel=2e-3)
    assert pull(held) == pytest.approx(-math.log(1.3), abs=2e-3)


def test_the_search_knows_the_same_schools() -> None:
    brief = Brief(school="batter_higher")
    assert BATTER_TIGHTER in brief.apart(TOM)
    own = [Head("a", plies_m=(2.5e-4,)), Head("b", plies_m=(1.9e-4,))]
    found = choose(TOM, brief, own, own)
    ratio = found.solved.tensions_n_per_m[:, 1] / found.solved.tensions_n_per_m[:, 0]
    assert np.sum(np.isclose(ratio, 1.0 / 1.3, rtol=1e-4)) == 4  # of every pair once
    offered = {round(a.value) for tried in APART.values() for a in tried if a.measure == "pitch"}
    assert offered <= {round(value) for value in INTERVALS}
    assert len({round(-value) for value in INTERVALS} - set(map(round, INTERVALS))) == 0


def test_what_is_off_in_one_pull_is_off_in_both_heads() -> None:
    """The fundamental's ± by tension against drums drawn by hand: one error of the pull for both
    heads, and their difference anywhere friction lets it be."""
    drum = ROPE.with_setting("batter", ROPE.batter.at_tension(1500.0))
    drum = drum.with_setting("resonant", ROPE.resonant.at_tension(1500.0))
    assert drum.one_pull is not None
    found = predict(drum)
    at, rng = found.partials.fundamental, np.random.default_rng(41)
    sigma = 1.0 / 1.645
    off = rng.normal(0.0, 0.03 * sigma, 160)
    apart = rng.normal(0.0, math.log1p(drum.one_pull) * sigma, 160)
    cents = [
        cents_between(
            found.fundamental_hz,
            fundamental_hz(drum, (1500.0 * math.exp(o - 0.5 * a), 1500.0 * math.exp(o + 0.5 * a))),
        )
        for o, a in zip(off, apart, strict=True)
    ]
    stated = float(error_budget(drum, found.partials).tension[at])
    assert float(np.std(cents)) / sigma == pytest.approx(stated, rel=0.15)
    own = replace(drum, shell=replace(drum.shell, drawn="own"))
    assert float(error_budget(own, found.partials).tension[at]) < 0.8 * stated


def test_where_one_head_was_read_the_other_is_as_far_off_as_friction_lets_it_be() -> None:
    """One lug pitch read, the other head drawn along: what friction leaves between the two moves
    the note by more than the reading does."""
    even = ROPE.with_setting("batter", ROPE.batter.at_tension(1500.0))
    even = even.with_setting("resonant", ROPE.resonant.at_tension(1500.0))
    assert even.one_pull is not None
    read = lug_pitch(even, "batter", tensions(even))
    drum = drawn_along(even, "batter", read)
    found = predict(drum)
    rng = np.random.default_rng(43)
    cents = [
        cents_between(found.fundamental_hz, fundamental_hz(drum, (1500.0, 1500.0 * math.exp(a))))
        for a in rng.normal(0.0, math.log1p(even.one_pull) / 1.645, 160)
    ]
    stated = float(error_budget(drum, found.partials).total[found.partials.fundamental])
    held = float(np.mean(np.abs(cents) < stated))
    assert 0.85 < held < 0.97


def test_read_on_both_heads_friction_leaves_nothing_open() -> None:
    both = ROPE
    assert all(both.setting(side).reading is not None for side in both.sides)
    one = drawn_along(both, "batter", 140.0)
    assert one.resonant is not None
    assert one.resonant.reading is None
    known, open_ = (predict(drum) for drum in (both, one))
    at = known.partials.fundamental
    assert error_budget(both, known.partials).tension[at] < 5.0
    assert error_budget(one, open_.partials).tension[open_.partials.fundamental] > 30.0
