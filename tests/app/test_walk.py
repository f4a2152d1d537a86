"""The way round the rim, without a screen."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.clearing import combined, in_cents
from kesselton.app.clearing_sequence import ClearingSequence
from kesselton.core.clearing.clearing_records import Clearing, Round, at_rod


def read(*rods: int, kind: str = "lug_pitch") -> Clearing:
    taps = tuple(at_rod(kind, rod, 100.0 + rod) for rod in rods)
    return Clearing(rounds=(Round(taps),))


def test_the_next_rod_is_the_first_unread_then_the_one_read_longest_ago() -> None:
    walk = ClearingSequence()
    assert walk.reads(read(), 6) == 1
    assert walk.reads(read(1, 2, 4), 6) == 3
    assert replace(walk, skipped=frozenset({3})).reads(read(1, 2, 4), 6) == 5
    again = read(1, 2, 3, 4, 5, 6)
    for rod in (1, 2, 3):
        assert walk.reads(again, 6) == rod
        again = again.with_tap(at_rod("lug_pitch", rod, 120.0))
    assert walk.by("dial").reads(again, 6) == 1
    assert walk.picks(5).reads(again, 6) == 5


@given(st.permutations(range(1, 9)), st.sets(st.integers(1, 8)))
def test_every_rod_comes_once(order: list[int], skipped: set[int]) -> None:
    walk = replace(ClearingSequence(), skipped=frozenset(skipped))
    first = [rod for rod in order if rod not in skipped][:3]
    clearing, seen = read(*first), set(first)
    while walk.missing(clearing, 8):
        rod = walk.reads(clearing, 8)
        assert rod not in seen | skipped
        seen.add(rod)
        clearing = clearing.with_tap(at_rod("lug_pitch", rod, 110.0))
    assert seen | skipped == set(range(1, 9))


def test_turning_goes_by_the_order_and_ends_in_reading() -> None:
    walk = ClearingSequence().has_read(last=True)
    assert walk.turning
    assert walk.now(read(1), 6, (4, 2)) == 4
    walk = replace(walk, turned=1)
    assert walk.now(read(1), 6, (4, 2)) == 2
    assert walk.by("dial").turning  # a rod is turned already: it is gone on with
    assert not replace(walk, turned=0).by("dial").turning
    assert walk.next_round() == ClearingSequence()
    left = ClearingSequence().has_read(last=True).leaves((4, 2))
    assert (left.turned, left.left) == (1, {4})
    assert left.steps_back((4, 2)) == ClearingSequence().has_read(last=True)
    assert left.picks(3).left == frozenset()


def test_readings_of_a_rod_are_weighed_by_their_doubt() -> None:
    now = Round((at_rod("lug_pitch", 2, 200.0, 1.0),))
    both = combined(now, at_rod("lug_pitch", 2, 200.0 * 2 ** (4.0 / 1200.0), 2.0))
    cents = in_cents(Round((at_rod("lug_pitch", 1, 200.0), both)), "lug_pitch", None, 2.5e-4)
    assert abs(cents[2] - cents[1] - 0.8) < 1e-9  # a fifth of the way: weights 1 and 1/4
    assert abs(both.spread - 0.8**0.5) < 1e-12
    assert combined(now, at_rod("lug_pitch", 3, 201.0, 1.0)) == at_rod("lug_pitch", 3, 201.0, 1.0)
    assert combined(now, at_rod("lug_pitch", 2, 220.0, 1.0)) == at_rod("lug_pitch", 2, 220.0, 1.0)
    torque = Round((at_rod("torque", 1, 0.4),))
    assert combined(torque, at_rod("torque", 1, 0.6)) == at_rod("torque", 1, 0.6)
