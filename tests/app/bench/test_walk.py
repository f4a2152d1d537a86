"""The way round the rim, without a screen."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.bench.clearing import combined, in_cents
from kesselton.core.clear.clearing_records import Clearing, Round, at_rod
from kesselton.core.clear.walk import Walk


def read(*rods: int, kind: str = "lug_pitch") -> Clearing:
    taps = tuple(at_rod(kind, rod, 100.0 + rod) for rod in rods)
    return Clearing(rounds=(Round(taps),))


def test_the_next_rod_is_the_first_unread_then_the_one_read_longest_ago() -> None:
    assert read().reads("lug_pitch", 6) == 1
    assert read(1, 2, 4).reads("lug_pitch", 6) == 3
    assert replace(read(1, 2, 4), walk=Walk(skipped=(3,))).reads("lug_pitch", 6) == 5
    again = read(1, 2, 3, 4, 5, 6)
    for rod in (1, 2, 3):
        assert again.reads("lug_pitch", 6) == rod
        again = again.with_tap(at_rod("lug_pitch", rod, 120.0))
    assert again.reads("dial", 6) == 1


@given(st.permutations(range(1, 9)), st.sets(st.integers(1, 8)))
def test_every_rod_comes_once(order: list[int], skipped: set[int]) -> None:
    first = [rod for rod in order if rod not in skipped][:3]
    clearing, seen = replace(read(*first), walk=Walk(skipped=tuple(skipped))), set(first)
    while clearing.missing("lug_pitch", 8):
        rod = clearing.reads("lug_pitch", 8)
        assert rod not in seen | skipped
        seen.add(rod)
        clearing = clearing.with_tap(at_rod("lug_pitch", rod, 110.0))
    assert seen | skipped == set(range(1, 9))


@given(
    st.lists(
        st.tuples(st.integers(1, 8), st.floats(-0.5, 0.5)), max_size=8, unique_by=lambda x: x[0]
    ),
    st.sampled_from((0.0, 0.1)),
    st.data(),
)
def test_turns_made_are_those_that_were_not_left_and_back_is_back(
    asked: list[tuple[int, float]], common: float, data: st.DataObject
) -> None:
    walk, left = Walk().begins_turning(tuple(asked), common), set()
    while not walk.over:
        rod = walk.turns_now
        if data.draw(st.booleans()):
            left.add(rod)
            after = walk.leaves()
        else:
            after = walk.turns()
        assert after.steps_back() == walk
        walk = after
    made = walk.made(8)
    for rod in range(1, 9):
        own = 0.0 if rod in left else dict(asked).get(rod, 0.0)
        assert made[rod - 1] == own + (0.0 if 0 in left else common)
    assert walk.back_to_reading() == Walk()


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
