"""Strokes at a tempo: the fall from one to the next is what the note's length and T60 make it."""

from __future__ import annotations

import pytest

from kesselton.core.errors import InputError
from kesselton.core.prediction.tempo import APART_DB, RUNS_TOGETHER_DB, falls


@pytest.mark.parametrize(("t60", "bpm"), [(0.5, 90.0), (1.2, 120.0), (3.0, 160.0)])
def test_a_stroke_falls_sixty_decibels_in_its_t60(t60: float, bpm: float) -> None:
    """Two eighths, or four sixteenths, are a quarter; a longer ring is left louder."""
    eighth, sixteenth = falls(t60, bpm)
    assert 2.0 * eighth.seconds == pytest.approx(4.0 * sixteenth.seconds) == pytest.approx(60 / bpm)
    assert sixteenth.db * t60 / sixteenth.seconds == pytest.approx(60.0)
    assert falls(2.0 * t60, bpm)[0].db == pytest.approx(0.5 * eighth.db)


def test_words_go_with_what_is_left() -> None:
    said = {one.words for t60 in (0.1, 0.9, 5.0) for one in falls(t60, 120.0)[1:]}
    assert said == {"clear", "dense", "muddy"}
    assert RUNS_TOGETHER_DB < APART_DB


@pytest.mark.parametrize("bpm", [0.0, 1000.0, float("nan")])
def test_no_tempo_is_said(bpm: float) -> None:
    with pytest.raises(InputError, match="Tempo"):
        falls(1.0, bpm)
