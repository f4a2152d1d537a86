"""Sets: curves against whole solutions, plans against trying everything, what a set sounds like."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.usual_drums import USUAL, usual_drum
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.render import RATE_HZ, strike_samples
from kesselton.core.prediction.speaks import speaking
from kesselton.core.sets.model.chords import Frame, cents_of, frames, hz_of
from kesselton.core.sets.model.curve import drum_curves, present_interval
from kesselton.core.sets.model.kit import (
    Kit,
    Member,
    Seat,
    Wish,
    distance_m,
    members,
    ordered,
    usual_seat,
)
from kesselton.core.sets.search.choice import NEAREST_M, talk_db
from kesselton.core.sets.search.field import Field, Spot
from kesselton.core.sets.search.look import look
from kesselton.core.sets.search.planner import LEAST_STEP, Planner
from kesselton.core.sets.search.reasons import (
    helping_head,
    reasons,
    reasons_words,
    stretched,
    turns_between,
)
from kesselton.core.sets.search.whole import plan, set_to, solve
from kesselton.core.sets.together.balance import HOUSE_M, balance
from kesselton.core.sets.together.cures import cures
from kesselton.core.sets.together.groove import PATTERNS, groove, one_by_one, render_hits
from tests.conftest import make_drum

WORKSHOP = demo_workshop()
DRUMS = {entry.id: entry.drum for entry in WORKSHOP.entries}
PIT, STAGE, FIELD = (members(kit, DRUMS) for kit in WORKSHOP.kits)


def small(wish: Wish, drums: tuple[Drum, ...]) -> Planner:
    seats: tuple[Seat, ...] = ()
    for number, drum in enumerate(drums, start=1):
        seats = (*seats, usual_seat(number, drum, seats))
    found = [Member(drum, seat) for drum, seat in zip(drums, seats, strict=True)]
    return Planner(ordered(found), wish)


def toms(*inches: float) -> tuple[Drum, ...]:
    sizes = {size.diameter_in: size for size in USUAL["tom"].sizes}
    return tuple(usual_drum("tom", sizes[inch], f"{inch} in") for inch in inches)


# the drums


@pytest.mark.parametrize("number", sorted(DRUMS))
def test_a_curve_is_the_drum_itself(number: int) -> None:
    """Note, pitches and tensions against whole solutions, also between the points solved."""
    drum = DRUMS[number]
    (curve,) = drum_curves(drum, (present_interval(drum),))
    for share in (0.07, 0.31, 0.63, 0.94):
        low, high = curve.borne
        note = low + share * (high - low)
        one = curve.at(np.array([note]))
        pair = tuple(one.tensions_n_per_m[0].tolist())
        assert cents_of(fundamental_hz(drum, pair)) == pytest.approx(note, abs=2.5)
        for head, side in enumerate(drum.sides):
            hz = lug_pitch(drum, side, pair)
            assert cents_of(hz) == pytest.approx(cents_of(float(one.pitches_hz[0, head])), abs=3.0)


@pytest.mark.parametrize("number", [2, 3, 5])
def test_the_band_is_that_of_tuning(number: int) -> None:
    drum = DRUMS[number]
    (curve,) = drum_curves(drum, (present_interval(drum),))
    found = speaking(drum, tensions(drum))
    assert curve.band is not None
    assert found.low is not None
    assert found.high is not None
    ends = [cents_of(found.low.fundamental_hz), cents_of(found.high.fundamental_hz)]
    assert curve.band == pytest.approx(ends, abs=60.0)


def test_a_grip_moves_with_the_note_held_or_free() -> None:
    drum = DRUMS[2]
    field = Field.of(drum_curves(drum, (0.0, 100.0, 300.0, 500.0)))
    spot = Spot(field.curves[0].borne[0] + 700.0, 300.0)
    hz = 1.03 * float(field.at(spot).pitches_hz[0, 0])
    held = field.held(0, hz, spot.note)
    assert held.note == spot.note
    assert float(field.at(held).pitches_hz[0, 0]) == pytest.approx(hz, rel=2e-3)
    exact = set_to(drum, held, 440.0)
    assert cents_of(fundamental_hz(exact, tensions(exact))) == pytest.approx(held.note, abs=0.2)
    assert cents_of(lug_pitch(exact, "batter", tensions(exact))) == pytest.approx(
        cents_of(hz), abs=6.0
    )
    free = field.free(0, hz, spot)
    pitches = field.at(free).pitches_hz[0]
    assert float(pitches[1]) == pytest.approx(float(field.at(spot).pitches_hz[0, 1]), rel=3e-3)
    assert free.note > spot.note


def test_an_open_drum_and_a_rope_drum_follow_too() -> None:
    for drum in (make_drum(resonant=None), DRUMS[6]):
        (curve,) = drum_curves(drum, (present_interval(drum),))
        spot = Spot(sum(curve.borne) / 2.0, present_interval(drum))
        exact = set_to(drum, spot, 440.0)
        assert cents_of(fundamental_hz(exact, tensions(exact))) == pytest.approx(spot.note, abs=3.0)


def test_both_ends_of_a_curve_can_be_set() -> None:
    """From the present setting the search ran past the pitch the air across the shell has."""
    for size in USUAL["snare"].sizes:
        drum = usual_drum("snare", size)
        (curve,) = drum_curves(drum, (700.0,))
        for end in (0, -1):
            spot = Spot(float(curve.notes[end]), 700.0)
            made = set_to(drum, spot, 440.0, curve.pitches_hz[end].tolist())
            assert cents_of(fundamental_hz(made, tensions(made))) == pytest.approx(
                spot.note, abs=0.2
            )


# plans


def test_the_best_plan_is_that_of_trying_everything() -> None:
    wish = Wish(chord="major", school="third")
    for inches in ((14.0, 12.0), (16.0, 13.0, 10.0)):
        planner = small(wish, toms(*inches))
        cheapest = math.inf
        for frame in planner.frames():
            offers = planner.framed(frame)
            for rows in itertools.product(*(range(len(mine)) for mine, _ in offers)):
                chosen = [mine[k] for (mine, _), k in zip(offers, rows, strict=True)]
                notes = [
                    float(planner.choices[i].settings.notes[row]) for i, row in enumerate(chosen)
                ]
                if all(b >= a + LEAST_STEP for a, b in itertools.pairwise(notes)):
                    own = sum(float(own[k]) for (_, own), k in zip(offers, rows, strict=True))
                    if own < cheapest:  # pairs only add
                        cheapest = min(cheapest, planner.cost_of(frame, chosen))
        best = planner.best()
        assert best[0].cost == pytest.approx(cheapest, abs=1e-9)
        assert [one.cost for one in best] == sorted(one.cost for one in best)


def test_a_plan_puts_every_drum_on_the_chord() -> None:
    """Bass the root, floor tom the third, rack tom the fifth, relative to each other (common
    practice, no published source)."""
    (best, *_) = Planner(PIT, Wish(chord="major")).best()
    tones = {(one.note_cents - best.frame.root_cents) % 1200.0 for one in best.drums[:3]}
    near = {min(abs(t - x) for x in (0.0, 400.0, 700.0, 1200.0)) for t in tones}
    assert max(near) < 10.0
    assert best.fits
    notes = [one.note_cents for one in best.drums[:3]]
    assert notes == sorted(notes)
    assert best.drums[3].name == "Pit snare"  # stands apart: its batter head stays
    assert best.drums[3].moved_cents[0] == pytest.approx(0.0, abs=0.5)


@pytest.mark.parametrize("inches", [(14.0, 12.0), (16.0, 13.0, 10.0)])
def test_the_lowest_drum_has_the_root_unless_any_tone_will_do(inches: tuple[float, ...]) -> None:
    """Common practice, no published source."""
    rooted = small(Wish(chord="minor"), toms(*inches)).best()
    for best in rooted:
        lowest = min(drum.note_cents for drum in best.drums)
        over = (lowest - best.frame.root_cents + 600.0) % 1200.0 - 600.0
        assert abs(over) < 30.0  # as near as the steps of a drum come
        assert best.frame.nearest(0, lowest) == pytest.approx(lowest - over)
    free = small(Wish(chord="minor", bass="any"), toms(*inches)).best()
    assert free[0].cost <= rooted[0].cost + 1e-9


def test_all_notes_moved_together_are_the_same_chord() -> None:
    for chord in ("major", "fourths", "even"):
        for shift in (0.0, 130.0, 720.0):
            made = frames(Wish(chord=chord), 3, 0.0, 400.0)
            first = made[3]
            moved = replace(first, root_cents=first.root_cents + shift)
            notes = np.array([310.0, 905.0, 1404.0])
            assert moved.off(1, notes + shift) == pytest.approx(first.off(1, notes), abs=1e-9)


def test_what_is_locked_or_as_it_is_stays() -> None:
    locked = tuple(
        replace(one, seat=replace(one.seat, locked=one.name == "Rack tom")) for one in PIT
    )
    for one in Planner(locked, Wish(chord="any")).best():
        drum_list = next(drum for drum in one.drums if drum.name == "Rack tom")
        assert drum_list.as_is
        assert drum_list.moved_cents == pytest.approx((0.0, 0.0), abs=1.0)


def test_notes_of_the_pieces_are_kept_away_from_and_agreed_with() -> None:
    free = small(Wish(chord="major"), toms(14.0, 12.0)).best()[0]
    avoid = tuple(hz_of(one.note_cents) for one in free.drums)
    kept = small(Wish(chord="major", avoid_hz=avoid), toms(14.0, 12.0)).best()[0]
    for hz in avoid:
        gaps = [(one.note_cents - cents_of(hz) + 600.0) % 1200.0 - 600.0 for one in kept.drums]
        assert min(abs(gap) for gap in gaps) > 20.0
    agreed = small(Wish(chord="notes", notes=(0, 4, 7)), toms(14.0, 12.0)).best()[0]
    for one in agreed.drums:
        assert min(abs(one.note_cents % 1200.0 - 100.0 * n) for n in (0, 4, 7, 12)) < 10.0


def test_where_nothing_fits_the_nearest_is_told_with_its_price() -> None:
    drums = (DRUMS[5], *toms(10.0))  # fifths from a concert bass to a small tom: far too near
    planner = small(Wish(chord="fifths", root_hz=30.0), drums)
    best = planner.best()[0]
    assert not best.fits
    worst = stretched(best)
    assert worst is not None
    said = "; ".join(reasons_words(reasons(best.drums[worst], planner.members[worst])))
    assert "sweet spot" in said or "in chord" in said


def test_a_head_that_would_help_does() -> None:
    (tom,) = toms(12.0)
    member = Member(tom, Seat(1))
    planner = Planner((member,), Wish(chord="notes", notes=(8,)))
    high = planner.choices[0].curves[0].band
    assert high is not None
    one = replace(planner.best()[0].drums[0], note_cents=high[1] + 150.0, outside_cents=150.0)
    found = helping_head(one, member, Wish(), WORKSHOP.library, 440.0)
    assert found is None or found.outside_cents < 147.0
    if found is not None:
        head = next(h for h in WORKSHOP.library if h.name == found.head)
        fitted = tom.with_setting("batter", replace(tom.batter, head=head))
        (curve,) = drum_curves(fitted, (one.interval_cents,))
        assert curve.band is not None
        assert max(one.note_cents - curve.band[1], 0.0) == pytest.approx(
            found.outside_cents, abs=1.0
        )


def test_a_few_changes_help_one_after_the_other() -> None:
    planner = small(Wish(chord="major"), toms(16.0, 14.0, 12.0, 10.0))
    few = planner.few_changes()
    costs = [one.cost for one in few]
    assert costs == sorted(costs, reverse=True)
    assert all(one.as_is for one in few[0].drums)
    for number, one in enumerate(few):
        assert sum(not drum.as_is for drum in one.drums) == number
    assert few[-1].cost <= planner.best()[0].cost + 0.6 * few[0].cost
    turns = turns_between(planner.members[0].drum, (900.0, 1200.0), (1000.0, 1100.0))
    assert turns[0] > 0.0 > turns[1]


def test_the_same_set_planned_twice_is_the_same_plan() -> None:
    first, second = (Planner(STAGE, Wish(chord="any")).best() for _ in range(2))
    assert [one.cost for one in first] == [one.cost for one in second]


# wishes and sets that cannot be


@pytest.mark.parametrize(
    "values",
    [
        {"chord": "ninth"},
        {"chord": "intervals", "intervals": (0.0,)},
        {"chord": "notes"},
        {"notes": (12,)},
        {"avoid_hz": (1e9,)},
        {"root_hz": float("nan")},
        {"school": "loud"},
    ],
)
def test_wishes_that_cannot_be(values: dict[str, object]) -> None:
    with pytest.raises(InputError):
        Wish(**values)  # type: ignore[arg-type]


def test_sets_that_cannot_be() -> None:
    with pytest.raises(InputError, match="twice"):
        Kit(1, "a", (Seat(1), Seat(1)))
    with pytest.raises(InputError, match="name"):
        Kit(1, " ")
    with pytest.raises(InputError):
        Seat(1, x_m=99.0)
    with pytest.raises(InputError, match="no drum"):
        Planner((), Wish())


# what a set sounds like


def test_a_groove_is_the_sum_of_its_strokes() -> None:
    found = {i: predict(one.drum) for i, one in enumerate(PIT)}
    hits = one_by_one(PIT)
    alone = {i: strike_samples(found[i], replace(found[i].stroke, touch=1.0)) for i in (0, 1)}
    mixed = render_hits(found, hits, frozenset({2, 3}))
    gap = int(hits[1].at_s * RATE_HZ)
    made = np.zeros(len(mixed.samples))
    for start, samples in ((0, alone[0]), (gap, alone[1])):
        part = samples[: len(made) - start]
        made[start : start + len(part)] += part
    gain = float(made @ mixed.samples) / float(made @ made)
    assert mixed.samples == pytest.approx(gain * made, abs=1e-6)


def test_patterns_leave_room_and_a_muted_drum_is_not_heard() -> None:
    counts = {name: len(groove(STAGE, name)) for name in PATTERNS}
    assert counts["sparse"] < counts["medium"] < counts["dense"]
    found = {i: predict(one.drum) for i, one in enumerate(PIT)}
    hits = groove(PIT, "sparse")
    whole = render_hits(found, hits)
    without = render_hits(found, hits, frozenset({3}))
    assert whole.approximate  # wires are a likeness
    assert not without.approximate
    with pytest.raises(InputError, match="All drums are muted"):
        render_hits(found, hits, frozenset(range(4)))
    with pytest.raises(InputError):
        groove(PIT, "loud")


def test_the_near_head_is_the_louder_close_by() -> None:
    found = [predict(one.drum) for one in PIT]
    close = balance(PIT, found, "close")
    house = balance(PIT, found, "house")
    for near, far in zip(close, house, strict=True):
        assert near.batter_share > far.batter_share
    inside = balance(PIT, found, "inside")
    assert [math.isnan(one.level_db) for one in inside] == [False, True, True, True]
    with pytest.raises(InputError):
        balance(PIT, found, "roof")


def test_cures_are_what_they_say() -> None:
    """The first that is computed, done, quiets by what was promised."""
    from kesselton.core.sets.together.answering import answer, ready

    whole = solve(PIT, Wish(), 440.0)
    names = [one.name for one in PIT]
    pair = (names.index("Rack tom"), names.index("Pit snare"))
    away = distance_m(PIT[pair[0]].seat, PIT[pair[1]].seat)
    tom, snare = (whole.ready[n] for n in pair)
    stroke = whole.predictions[pair[0]].stroke
    made = cures(tom, snare, stroke, away, pair)
    kinds = {one.kind for one in made}
    assert {"interval", "note", "damp", "side", "strainer", "off"} == kinds
    before = answer(tom, snare, stroke, away, pair).wires_db
    for one in made:
        if one.kind in ("interval", "strainer") and one.changed is not None:
            done = ready(predict(one.changed, whole.predictions[one.drum].stroke))
            both = (done, snare) if one.drum == pair[0] else (tom, done)
            after = answer(*both, stroke, away, pair).wires_db
            assert before - after == pytest.approx(one.help_db, abs=1e-6)
    side = next(one for one in made if one.kind == "side")
    strainer = next(one for one in made if one.kind == "strainer")
    assert side.help_db < strainer.help_db  # tuning the snare side helps little


def test_what_is_seen_while_dragging() -> None:
    whole = solve(FIELD, WORKSHOP.kits[2].wish, 440.0)
    seen = look(whole.members, whole.fields, whole.spots, 440.0)
    assert [one.says for one in seen.columns] == ["", "", ""]
    top = whole.fields[0].borne(whole.spots[0].interval)[1]
    moved = (Spot(top, whole.spots[0].interval), *whole.spots[1:])
    assert look(whole.members, whole.fields, moved, 440.0).columns[0].says == "above"
    for beat in seen.beats:
        assert beat.beats_hz == pytest.approx(abs(beat.hz - beat.other_hz))


def test_a_set_that_cannot_be_worked_out_says_which_drum() -> None:
    # wires longer than the head
    from kesselton.core.instrument.wires import Wires

    names = [one.name for one in PIT]
    at = names.index("Pit snare")
    bad = replace(PIT[at], drum=replace(PIT[at].drum, wires=Wires(length_m=0.5)))
    with pytest.raises(InputError) as caught:
        solve((*PIT[:at], bad), Wish(), 440.0)
    assert caught.value.one_line().startswith("wires.length_m: Pit snare: Wires of 500")


def test_a_plan_of_all_kits_of_the_demo() -> None:
    for kit, found in zip(WORKSHOP.kits, (PIT, STAGE, FIELD), strict=True):
        made = plan(found, kit.wish, WORKSHOP.library, 440.0)
        assert made.plans
        assert len(made.helping) == len(made.plans)
        assert all(isinstance(one.frame, Frame) for one in made.plans)


def test_the_level_of_a_drum_falls_with_the_square_of_its_distance() -> None:
    """Two of the same tom, one twice as far from the same place: 6 dB; by hand from where they are."""
    (tom,) = toms(12.0)
    found = predict(tom)
    pair = [Member(tom, Seat(1)), Member(tom, Seat(2, 3.0))]
    half = 0.5 * tom.shell.depth_m
    heads = [[(one.seat.x_m, 0.0, 0.7 + half), (one.seat.x_m, 0.0, 0.7 - half)] for one in pair]
    said = balance(pair, [found, found], "house")
    share = said[0].batter_share
    away = [[math.dist(head, HOUSE_M) for head in of] for of in heads]
    # from the nearer drum's shares back to what each head sends, then on to the other drum
    sent = [share * away[0][0] ** 2, (1.0 - share) * away[0][1] ** 2]
    power = [sum(s / r**2 for s, r in zip(sent, of, strict=True)) for of in away]
    assert said[0].level_db == 0.0
    assert said[1].level_db == pytest.approx(10.0 * math.log10(power[1] / power[0]), abs=1e-6)
    assert said[1].batter_share == pytest.approx(sent[0] / away[1][0] ** 2 / power[1])


def test_what_one_drum_gets_from_another_falls_with_the_square_of_their_distance() -> None:
    planner = small(Wish(chord="fourths"), toms(12.0, 14.0))
    one, other = planner.choices[0], planner.choices[1]
    every = np.arange(3)
    near, far = (talk_db(one, other, every, every, away) for away in (1.0, 2.0))
    loud = far > -80.0
    assert loud.any()
    assert (near - far)[loud] == pytest.approx(20.0 * math.log10(2.0))
    closest = talk_db(one, other, every, every, 0.5 * NEAREST_M)
    assert closest == pytest.approx(talk_db(one, other, every, every, NEAREST_M))
