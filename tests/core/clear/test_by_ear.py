"""Clearing without naming a pitch: what an ear answers is enough for the same solver."""

from __future__ import annotations

import math

import numpy as np
import pytest

from kesselton.core.clear.by_ear import (
    ALIKE,
    HIGHER,
    LOWER,
    UNSURE,
    expected_cents,
    heard_by_ear,
    reference,
)
from kesselton.core.clear.clearing import assess
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.core.clear.turning import plan_turns
from kesselton.core.errors import InputError
from tests.core.clear.test_clearing import with_rods

JUST_HEARD_CENTS = 8.0
"""Under it two taps sound alike to a technician; common practice in order."""


def cents(one: float, other: float) -> float:
    return 1200.0 * math.log2(one / other)


def spread(head: SimulatedHead) -> float:
    pitches = head.pitches()
    return cents(float(pitches.max()), float(pitches.min()))


def an_ear(apart: float, rng: np.random.Generator) -> str:
    """A second maker of answers: hears to a few cents, is sometimes not sure."""
    heard = apart + rng.normal(0.0, 4.0)
    if abs(heard) < 2.0 * JUST_HEARD_CENTS and rng.random() < 0.15:
        return UNSURE
    if abs(heard) < JUST_HEARD_CENTS:
        return ALIKE
    return HIGHER if heard > 0.0 else LOWER


@pytest.mark.parametrize("rods", [6, 8, 10])
def test_a_head_is_cleared_by_ear_alone(rods: int) -> None:
    drum = with_rods(rods)
    before, after = [], []
    for seed in range(4):
        rng = np.random.default_rng(seed)
        head = SimulatedHead(drum, "batter", random_faults(rods, rng, 0.10), seed)
        before.append(spread(head))
        clearing = Clearing()
        for _ in range(4):
            heard = head.pitches()
            for rod in range(1, rods + 1):
                said = an_ear(cents(float(heard[rod - 1]), float(heard[0])), rng)
                clearing = clearing.with_tap(heard_by_ear(clearing, rod, said, head.reference_hz))
            turns = np.array(plan_turns(assess(drum, clearing), clearing.step).turns)
            head.turn(turns)
            clearing = clearing.turned(tuple(turns.tolist()))
        after.append(spread(head))
    assert float(np.median(before)) > 25.0
    assert float(np.median(after)) < 12.0
    assert max(after) < 20.0


def test_the_first_rod_is_what_the_others_are_heard_against() -> None:
    clearing = Clearing()
    assert reference(clearing) is None
    first = heard_by_ear(clearing, 3, HIGHER, 220.0)
    assert (first.rod, first.value) == (3, 220.0)
    clearing = clearing.with_tap(first)
    higher, lower, alike, unsure = (
        heard_by_ear(clearing, 4, said, 999.0) for said in (HIGHER, LOWER, ALIKE, UNSURE)
    )
    assert higher.value > alike.value == unsure.value == 220.0 > lower.value
    assert alike.spread < unsure.spread
    assert cents(higher.value, 220.0) == pytest.approx(-cents(lower.value, 220.0))
    with pytest.raises(InputError, match="louder"):
        heard_by_ear(clearing, 4, "louder", 220.0)


def test_every_round_of_turning_leaves_less() -> None:
    clearing, seen = Clearing(), []
    for _ in range(8):
        seen.append(expected_cents(clearing))
        clearing = clearing.turned((0.1,) * 8)
    assert seen[0] == 60.0
    assert seen == sorted(seen, reverse=True)
    assert seen[-1] == 8.0
