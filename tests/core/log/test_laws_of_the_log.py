"""Weights, bounds and columns of what is made of a log, each against a closed form or by hand."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.hearing.likeness import (
    BRIGHT_OCTAVES,
    NOTE_CENTS,
    RING_LN,
    SIZE,
    SPECTRUM_ANGLE,
    fingerprint,
    unlike,
)
from kesselton.core.instrument.kept import Kept, KeptLine
from kesselton.core.log.conclusions import ALWAYS_OF, LEAST_CENTS, conclusions
from kesselton.core.log.own_note import RING_SCATTER, Computed, Point, own_note
from kesselton.core.pitch import ratio_of
from kesselton.store.formats.log_file import as_csv
from kesselton.store.workshop.lazy_rows import Stored, count_of, last_of

TOM = demo_workshop().entries[1].drum
MODEL = Computed(126.0, (("film batter", 6.0), ("outside", 8.0)), 1.2, 0.9)


def struck(hz: float = 120.0, t60_s: float = 1.0, second: float = 1.6) -> Kept:
    lines = (KeptLine(hz, 1.0, t60_s, 0.0), KeptLine(second * hz, 1.0, 0.5, -6.0))
    return Kept("2026-11-20T18:30", TOM, heard_hz=hz, lines=lines)


def test_one_step_of_each_kind_is_one_step_of_unlikeness() -> None:
    """A note 40 cents off, a ring e^0.3 longer, a third of an octave brighter, a spectrum turned."""
    plain = np.zeros(SIZE)
    plain[3] = 1.0
    others = np.tile(plain, (4, 1))
    others[0, 0] += NOTE_CENTS / 1200.0
    others[1, 1] += RING_LN
    others[2, 2] += BRIGHT_OCTAVES
    others[3, 3], others[3, 4] = math.cos(SPECTRUM_ANGLE), math.sin(SPECTRUM_ANGLE)
    assert unlike(tuple(plain), others) == pytest.approx([1.0] * 4)
    both = plain.copy()
    both[0] += 2.0 * NOTE_CENTS / 1200.0
    both[1] += RING_LN
    assert unlike(tuple(plain), both[None])[0] == pytest.approx(math.sqrt(5.0))


def test_a_fingerprint_is_note_ring_brightness_and_a_spectrum_of_length_one() -> None:
    found = fingerprint(struck(120.0, 1.5, 2.0))
    assert found is not None
    loud = 10.0 ** (-6.0 / 20.0)
    assert found[0] == pytest.approx(math.log2(120.0))
    assert found[1] == pytest.approx(math.log(1.5))
    assert found[2] == pytest.approx(loud / (1.0 + loud))  # one octave, by level
    assert math.hypot(*found[3:]) == pytest.approx(1.0)
    assert fingerprint(replace(struck(), lines=())) is None


def test_a_ring_is_learned_by_weights() -> None:
    """Normal prior from the model's factor, entries that scatter: the mean of both by precision."""
    rings = (0.3, 0.5, 0.1)
    points = [Point(f"2026-11-{day + 10}T18:30", 0.0, 1.0, ring, (0, 0), MODEL)
              for day, ring in enumerate(rings)]  # fmt: skip
    found = own_note(points, MODEL, (0, 0))
    assert found is not None
    assert found.ring is not None
    prior = (1.645 / math.log(1.9)) ** 2
    each = 1.0 / RING_SCATTER**2
    assert math.log(found.ring) == pytest.approx(sum(rings) * each / (prior + 3 * each), rel=1e-3)
    assert found.ring_half == pytest.approx(1.645 / math.sqrt(prior + 3 * each), rel=1e-3)
    assert found.ring_count == 3
    silent = own_note([replace(one, ring=None) for one in points], MODEL, (0, 0))
    assert silent is not None
    assert (silent.ring, silent.ring_half, silent.ring_count) == (None, 0.0, 0)


def first_days(cents: float, days: int = 2) -> list[Kept]:
    log = []
    for day in range(days):
        high, low = (200.0, 220.0), (200.0 * ratio_of(cents), 220.0 * ratio_of(cents))
        log.append(Kept(f"2026-0{day + 1}-01T10:00", TOM, "fitted", lug_pitches_hz=high))
        log.append(Kept(f"2026-0{day + 1}-02T10:00", TOM, "next_day", lug_pitches_hz=low))
    return log


@pytest.mark.parametrize(
    ("cents", "code"),
    [(-LEAST_CENTS - 0.1, "first_day_drops"), (-LEAST_CENTS + 0.1, "first_day_holds"),
     (LEAST_CENTS + 0.1, "first_day_rises"), (LEAST_CENTS - 0.1, "first_day_holds")],
)  # fmt: skip
def test_a_first_day_is_told_beyond_its_bound(cents: float, code: str) -> None:
    found = {one.code: one for one in conclusions(first_days(cents), TOM)}
    assert code in found
    if code != "first_day_holds":
        assert found[code].values["cents"] == pytest.approx(abs(cents))
    assert not any(
        one.code.startswith("first_day") for one in conclusions(first_days(cents, 1), TOM)
    )


def test_always_muffled_is_four_in_five_of_four_at_least() -> None:
    from kesselton.core.instrument.muffler import Muffler

    taped = replace(TOM, mufflers=(Muffler("tape", "batter", 0.8),))

    def told(with_tape: int, without: int) -> bool:
        drums = [taped] * with_tape + [replace(TOM, mufflers=())] * without
        log = [Kept(f"2026-11-{day + 10}T10:00", drum) for day, drum in enumerate(drums)]
        return any(one.code == "always_muffled" for one in conclusions(log, TOM))

    assert told(ALWAYS_OF, 0)
    assert told(4, 1)
    assert not told(ALWAYS_OF - 1, 0)
    assert not told(3, 1)


def test_every_column_of_the_log_as_a_table_is_what_it_is_called() -> None:
    kept = replace(
        struck(), event="retuned", what_for="act two", verdict="open", music="march", player="A. B.",
        room="pit", fits="right", beater="stick", wires="fourth notch", shows=3.0, hours=7.5,
        computed_hz=118.25, lug_pitches_hz=(201.5, 240.25), sets=("evening", "matinee"),
        marks=(("warmth", 1),), signs=("pits", "dead"),
    )  # fmt: skip
    (row,) = csv.DictReader(io.StringIO(as_csv([kept])))
    expected = {
        "on": kept.on, "drum": TOM.name, "event": "retuned", "batter_head": TOM.batter.head.name,
        "batter_lug_pitch_hz": "201.50", "resonant_lug_pitch_hz": "240.25",
        "computed_hz": "118.25", "heard_hz": "120.00", "what_for": "act two", "verdict": "open",
        "music": "march", "player": "A. B.", "room": "pit", "warmth": "1", "signs": "pits, dead",
        "note_fits": "right", "beater": "stick", "wires": "fourth notch", "shows": "3",
        "hours": "7.5", "sets": "evening, matinee", "attached": "",
        "temperature_c": f"{TOM.air.temperature_c:g}",
        "relative_humidity": f"{TOM.air.relative_humidity:g}",
    }  # fmt: skip
    assert {name: row[name] for name in expected} == expected
    assert TOM.resonant is not None
    assert row["resonant_head"] == TOM.resonant.head.name
    alone = replace(
        kept, drum=replace(TOM, resonant=None), lug_pitches_hz=(201.5,), computed_hz=None
    )
    (row,) = csv.DictReader(io.StringIO(as_csv([alone])))
    assert (row["resonant_head"], row["resonant_lug_pitch_hz"], row["computed_hz"]) == ("", "", "")


def test_last_rows_are_fetched_once_and_no_more_than_asked_for() -> None:
    asked: list[str] = []

    def everything() -> tuple[int, ...]:
        asked.append("all")
        return tuple(range(10))

    def last(count: int) -> tuple[int, ...]:
        asked.append(f"last {count}")
        return tuple(range(10))[-count:]

    rows = Stored(everything, last, lambda: 10)
    assert count_of(rows) == 10
    assert last_of(rows, 3) == (7, 8, 9)
    assert last_of(rows, 2) == (8, 9)
    assert asked == ["last 3"]
    assert last_of(rows, 5) == (5, 6, 7, 8, 9)
    assert last_of(rows, 4) == (6, 7, 8, 9)
    assert asked == ["last 3", "last 5"]
    assert last_of(rows, None) == tuple(range(10))
    assert last_of(rows, 3) == (7, 8, 9)
    assert asked == ["last 3", "last 5", "all"]
    assert last_of((1, 2, 3), 2) == (2, 3)
    plain = Stored(everything)
    assert count_of(plain) == 10
    assert last_of(plain, 1) == (9,)
