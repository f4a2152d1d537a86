"""Rods against handbooks."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS, thread
from kesselton.core.measure.rods import (
    give_of,
    preload_n,
    tension_per_turn,
    turns_past_finger_tight,
)
from kesselton.core.prediction.prediction import predict

LBF, INCH = 4.4482216, 0.0254
TOM = demo_workshop().entries[1].drum


def test_preload_of_a_worked_example() -> None:
    """Shigley, Mechanical Engineering Design, example 8-4 (from memory): 3/4 in, K = 0.2, a preload
    of 25 kip takes 3750 lbf in."""
    torque = 3750.0 * LBF * INCH
    assert preload_n(torque, 0.75 * INCH, "dry") == pytest.approx(25000.0 * LBF, rel=1e-6)
    lubricated = preload_n(torque, 0.75 * INCH, "lubricated")
    assert lubricated == pytest.approx(25000.0 * LBF * 0.20 / 0.15, rel=1e-6)
    with pytest.raises(InputError, match="oily"):
        preload_n(1.0, 0.005, "oily")


@pytest.mark.parametrize(
    ("name", "pitch_mm", "diameter_mm"),
    [
        ("no12_24", 1.0583, 5.486),  # ASME B1.1: No. 12, 0.2160 in, 24 to the inch (memory)
        ("no10_32", 0.7938, 4.826),  # ASME B1.1: No. 10, 0.1900 in (memory)
        ("m5", 0.8, 5.0),  # ISO 261, coarse (memory)
        ("m6", 1.0, 6.0),
        ("m8", 1.25, 8.0),
    ],
)
def test_threads(name: str, pitch_mm: float, diameter_mm: float) -> None:
    of = thread(name)
    assert of.pitch_m * 1e3 == pytest.approx(pitch_mm, abs=1e-3)
    assert of.diameter_m * 1e3 == pytest.approx(diameter_mm, abs=1e-3)
    with pytest.raises(InputError, match="is not a rod thread"):
        thread("m7")


def test_equal_small_turns_keep_a_head_clear() -> None:
    """Common practice, no published source: all rods by the same small turn; the spread of the rods
    in cents even shrinks, since the same tension is added to each."""
    step = 0.25 * tension_per_turn(TOM, TOM.batter.head, THREADS["no12_24"])
    rods = [1000.0 * (1.0 + e) for e in (0.04, -0.03, 0.0, 0.02, -0.02, -0.01)]

    def spread(tensions: list[float]) -> float:
        return 600.0 * math.log2(max(tensions) / min(tensions))

    before = spread(rods)
    for _ in range(3):
        rods = [t + step for t in rods]
        after = spread(rods)
        assert after < before
        before = after


def test_equal_tension_on_unlike_heads_is_not_unison() -> None:
    """Common practice, no published source."""
    snare = demo_workshop().entries[0].drum
    for side in snare.sides:
        snare = snare.with_setting(side, snare.setting(side).at_tension(2500.0))
    batter, side = predict(snare).lug_pitches_hz
    assert 1200.0 * np.log2(side / batter) > 300.0  # the lighter film
    alike = TOM.with_setting("resonant", TOM.batter.at_tension(1500.0))
    alike = alike.with_setting("batter", alike.batter.at_tension(1500.0))
    one, other = predict(alike).lug_pitches_hz
    assert abs(1200.0 * np.log2(one / other)) < 30.0


def test_a_turn_is_worth_what_trials_gave() -> None:
    """One turn of every rod: about two thousand N/m on ordinary toms (own trials in simulation)."""
    assert 1400.0 < tension_per_turn(TOM, TOM.batter.head, THREADS["no12_24"]) < 4000.0


def test_a_turn_is_worth_what_the_construction_makes_of_it() -> None:
    """Common practice, no published source: about one turn of a bass drum does little, a die-cast
    hoop follows at once; a tube lug is stiffer than separate ones; doubt is the larger the less is
    known."""

    def worth(drum: Drum) -> float:
        return tension_per_turn(drum, drum.batter.head, THREADS["no12_24"])

    def hooped(hoop: str, lugs: str | None = None) -> Drum:
        return replace(TOM, shell=replace(TOM.shell, hoop=hoop, lugs=lugs))

    assert (
        worth(hooped("die_cast")) > worth(hooped("flanged_2_3mm")) > worth(hooped("flanged_1_6mm"))
    )
    assert worth(hooped("die_cast", "tube")) > worth(hooped("die_cast", "separate"))
    bass = next(e.drum for e in demo_workshop().entries if e.drum.kind == "bass")
    after_one = turns_past_finger_tight(bass, bass.batter.head, 350.0, THREADS["quarter_20"])
    assert 0.7 < after_one < 1.4  # wrinkles are just out
    assert worth(bass) < 0.5 * worth(TOM)
    assert give_of(bass).sd > give_of(TOM).sd > give_of(hooped("flanged_1_6mm", "separate")).sd
