"""Recorded strokes on real drums against careful fits (benchmarks/recorded): where they are installed.

Sounds: Debian packages hydrogen-drumkits, hydrogen-data and fluid-soundfont-gm; none of them is in
the project. The fits share no code with the ears of the program.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from benchmarks.recorded.found import INSTALL
from benchmarks.recorded.microphones import clipped, fan, hum, in_room, laptop
from benchmarks.recordings import cents, note_of, strokes

from kesselton.core.clear.taps.tap import hear
from kesselton.core.errors import InputError
from kesselton.core.hearing.strokes import hear_strokes

pytestmark = pytest.mark.skipif(
    next(strokes(("G",), ("tom",)), None) is None, reason=f"no recordings here: {INSTALL}"
)
EVERY = 3


def test_the_note_of_a_recorded_tom_is_told() -> None:
    told = within = held = tried = 0
    for _, fit, sound in list(strokes(("G", "N", "S"), ("tom",)))[::EVERY]:
        for off in (-120.0, 0.0, 120.0):
            tried += 1
            note = note_of(sound, fit["hz"] * 2.0 ** (off / 1200.0))
            if note is None:
                continue
            away = abs(cents(fit["hz"], note.hz))
            assert note.near
            assert away < 100.0
            told, within, held = told + 1, within + (away < 20.0), held + (away < note.half_cents)
    assert told >= 0.95 * tried
    assert within >= 0.9 * told
    assert held >= 0.85 * told


def test_a_plan_that_is_far_off_gets_no_note_that_is_near() -> None:
    for _, fit, sound in list(strokes(("G", "N"), ("tom",)))[::EVERY]:
        for off in (-500.0, -300.0, 300.0, 500.0):
            note = note_of(sound, fit["hz"] * 2.0 ** (off / 1200.0))
            assert note is None or not note.near
            assert note is None or abs(cents(fit["hz"], note.hz)) < 100.0


def test_a_worse_microphone_still_gives_the_note_and_says_what_is_wrong() -> None:
    rng = np.random.default_rng(8)
    kinds = {"clipped": clipped, "hum": hum(50.0), "no low end": laptop}
    told = tried = 0
    for _, fit, sound in list(strokes(("G", "N"), ("tom",)))[::EVERY]:
        for fault, worse in (*kinds.items(), ("", fan)):
            heard = hear_strokes(
                worse(in_room(sound, rng), sound.rate, rng), sound.rate, fit["hz"] * 1.03
            )[0]
            assert not fault or fault in heard.faults
            tried += 1
            if heard.note is not None:
                told += 1
                assert abs(cents(fit["hz"], heard.note.hz)) < 100.0
    assert told >= 0.8 * tried


def test_hum_beside_the_note_of_a_tom_is_not_taken_for_it() -> None:
    """Toms at 64 to 70 Hz under hum of 60.11 Hz: as strong as that is, it was named in their place."""
    rng = np.random.default_rng(11)
    low = [
        (fit, sound) for _, fit, sound in strokes(tuple("CFMBGNS"), ("tom",)) if fit["hz"] < 80.0
    ]
    for fit, sound in low[::2]:
        x = hum(60.11)(in_room(sound, rng), sound.rate, rng)
        note = hear_strokes(x, sound.rate, fit["hz"])[0].note
        assert note is not None
        assert abs(cents(fit["hz"], note.hz)) < 60.0


def test_a_whole_stroke_on_a_drum_nobody_knows_is_no_tap() -> None:
    taken = tried = 0
    for _, _, sound in list(strokes(("G", "N", "B", "F"), ("tom",)))[::EVERY]:
        tried += 1
        try:
            hear(sound.samples, sound.rate)
            taken += 1
        except InputError:
            pass
    assert taken <= math.ceil(0.02 * tried)
