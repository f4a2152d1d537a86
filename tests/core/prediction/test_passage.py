"""Beater and strike point for a passage."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.usual_drums import usual_drum
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.prediction.passage import (
    LEAST_NOTE_SHARE,
    PEDAL_PLACES,
    Struck,
    every_stroke,
    proposed,
    struck,
)
from kesselton.core.prediction.prediction import predict


@pytest.fixture(scope="module")
def concert() -> list[Struck]:
    return every_stroke(predict(usual_drum("concert_bass")))


def test_hard_in_the_center_is_articulate_and_soft_a_third_out_is_round(
    concert: list[Struck],
) -> None:
    """Short and dry in the center with a hard beater, full with a soft one off it: common practice,
    no published source."""
    sharp = proposed(concert, "articulate", "soft")[0]
    full = proposed(concert, "round", "loud")[0]
    assert BEATERS[sharp.stroke.beater].tip_s < BEATERS[full.stroke.beater].tip_s
    assert sharp.stroke.place < 0.1
    assert 0.2 < full.stroke.place < 0.6
    assert sharp.early_s < 0.6 * full.early_s
    assert sharp.bright_hz > full.bright_hz


@pytest.mark.parametrize("kind", ["snare", "tom", "bass", "rope"])
def test_what_is_proposed_still_sounds_of_the_drum(kind: str) -> None:
    strokes = every_stroke(predict(usual_drum(kind)))
    assert {item.stroke.beater for item in strokes} == {
        key for key, beater in BEATERS.items() if kind in beater.kinds
    }
    for attack in ("articulate", "round"):
        for level in ("soft", "loud"):
            best = proposed(strokes, attack, level)[0]
            assert best.note_share >= LEAST_NOTE_SHARE
            assert kind != "bass" or best.stroke.place in PEDAL_PLACES
    quiet, strong = (proposed(strokes, "round", level)[0].level_db for level in ("soft", "loud"))
    assert quiet <= strong


def test_a_stroke_is_measured_as_the_bench_measures_it() -> None:
    prediction = predict(usual_drum("tom"))
    now = struck(prediction, prediction.stroke)
    assert now.level_db == pytest.approx(prediction.level_spl_db)
    assert now.early_s == pytest.approx(prediction.decay.early_s)
    sound = 10.0 ** (prediction.levels_db / 10.0)
    mean = float(sound @ prediction.partials.frequency_hz / np.sum(sound))
    assert now.bright_hz == pytest.approx(mean, rel=1e-6)
    harder = struck(prediction, replace(prediction.stroke, touch=2.0 * prediction.stroke.touch))
    assert harder.level_db == pytest.approx(now.level_db + 6.02, abs=0.1)  # its vent takes a little
