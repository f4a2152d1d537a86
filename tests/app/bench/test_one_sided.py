"""A head is never called clear against an answer: the rod opposite is asked again, then the rod
that was heard is turned."""

from __future__ import annotations

import numpy as np
import pytest

from kesselton.app.bench.clearing import Cleared, cleared, plain_pitch
from kesselton.core.clear.by_ear import ALIKE, HIGHER, LOWER, heard_by_ear
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.store.workshop.holdings import Entry, Workshop
from tests.core.clear.test_by_ear import an_ear, cents, spread
from tests.core.clear.test_clearing import with_rods

ANSWERS = {"A": ALIKE, "H": HIGHER, "L": LOWER}


def heard(said: str, checked: set[int] | None = None) -> Cleared:
    """One round by ear, a letter for each rod."""
    drum = with_rods(len(said))
    plain, clearing = plain_pitch(drum, "batter"), Clearing()
    for rod, letter in enumerate(said, start=1):
        clearing = clearing.with_tap(heard_by_ear(clearing, rod, ANSWERS[letter], plain))
    return cleared(Entry(1, drum), Workshop(""), clearing, checked or set())


def read(*pitches: float, checked: set[int] | None = None) -> Cleared:
    drum, clearing = with_rods(len(pitches)), Clearing()
    for rod, hz in enumerate(pitches, start=1):
        clearing = clearing.with_tap(at_rod("lug_pitch", rod, hz))
    return cleared(Entry(1, drum), Workshop(""), clearing, checked or set())


@pytest.mark.parametrize(
    ("said", "rod", "again"),
    [("AHAAAA", 2, 5), ("AAALAAAA", 4, 8), ("AAAHAA", 4, 4), ("AAAAAAAAAL", 10, 5)],
)
def test_one_rod_off_is_asked_for_opposite_and_then_turned(said: str, rod: int, again: int) -> None:
    """By symmetry a head sounds opposite rods together (theory 19); where rod 1 is opposite, which
    the others are compared with, the rod itself is asked again."""
    found = heard(said)
    assert found.ask_again == again
    assert f"{rod}" in found.ask_why
    sure = heard(said, {again})
    assert sure.ask_again == 0
    [(turned, turns)] = sure.asked
    assert turned == rod
    assert np.sign(turns) == (-1 if "H" in said else 1)


@pytest.mark.parametrize("said", ["AHAAHA", "AHHAHH", "AAAAAA", "AAAAA"])
def test_answers_that_agree_across_the_head_are_asked_once(said: str) -> None:
    assert heard(said).ask_again == 0
    assert bool(heard(said).asked) == ("H" in said)


def test_a_rod_without_one_opposite_is_turned_too() -> None:
    assert [rod for rod, _ in heard("AHAAA").asked] == [2]


def test_one_pitch_off_blames_one_rod() -> None:
    found = read(196, 202, 196, 196, 196, 196)
    assert found.ask_again == 5
    assert [rod for rod, _ in found.asked] == [2]
    again = read(196, 202, 196, 196, 196, 196, checked={5})
    assert [rod for rod, _ in again.asked] == [2]
    assert "2" in "".join(again.notes)
    assert "5" not in "".join((*found.notes, *again.notes))


def test_pitches_within_their_noise_are_not_asked_again() -> None:
    assert read(196, 196.4, 196, 196, 196, 196).ask_again == 0
    assert read(200, 201, 200, 199.5, 200.2, 200.9, 200, 199.6).ask_again == 0


@pytest.mark.parametrize("rods", [6, 8])
def test_asking_again_clears_a_head_as_well(rods: int) -> None:
    drum, after = with_rods(rods), []
    for seed in range(3):
        rng = np.random.default_rng(seed)
        head = SimulatedHead(drum, "batter", random_faults(rods, rng, 0.10), seed)
        clearing = Clearing()
        for _ in range(4):
            pitches, checked = head.pitches(), set[int]()
            left = list(range(1, rods + 1))
            while left:
                rod = left.pop(0)
                said = an_ear(cents(float(pitches[rod - 1]), float(pitches[0])), rng)
                clearing = clearing.with_tap(heard_by_ear(clearing, rod, said, head.reference_hz))
                if not left:
                    found = cleared(Entry(1, drum), Workshop(""), clearing, checked)
                    if found.ask_again:
                        checked.add(found.ask_again)
                        left.append(found.ask_again)
            turns = np.array(found.plan.turns)
            head.turn(turns)
            clearing = clearing.turned(tuple(turns.tolist()))
        after.append(spread(head))
    assert float(np.median(after)) < 12.0
    assert max(after) < 25.0
