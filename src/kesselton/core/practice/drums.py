"""Drums to practise on: ordinary ones, never two the same, solved like any other."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.simulated import Hidden, SimulatedHead
from kesselton.core.clear.taps.simulated_tap import tap_lines, tap_samples
from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell
from kesselton.core.instrument.wires import Wires
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.practice.question import Lines
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.prediction.render import Sound, edges, lines_of, matched, strike_samples
from kesselton.core.prediction.tone import OVERTONES

RATE_HZ = 48000
SIZES = (
    (10.0, 7.5, 6, 225.0),
    (12.0, 8.0, 6, 195.0),
    (13.0, 9.0, 6, 175.0),
    (14.0, 13.0, 8, 135.0),
    (16.0, 15.0, 8, 112.0),
)
"""Diameter and depth in inches, rods, lug pitch in hertz: usual toms (common practice)."""
DEPTH_CENTS, PITCH_CENTS, INTERVAL_CENTS = 0.12, 160.0, 150.0
PLIES_M = (0.0001905, 0.000254, 0.0003048)
TAP_S = 0.9
SILENCE_S = 0.05


def some_drum(rng: np.random.Generator, head: Head | None = None) -> Drum:
    """An ordinary drum: size, depth, heads and settings as they come."""
    diameter, depth, rods, hz = SIZES[int(rng.integers(len(SIZES)))]
    shell = Shell(
        diameter * METRE_PER_INCH,
        depth * METRE_PER_INCH * float(np.exp(DEPTH_CENTS * rng.standard_normal())),
        rods,
        "flanged_1_6mm",
    )
    batter_hz = hz * ratio_of(PITCH_CENTS * float(np.clip(rng.standard_normal(), -1.5, 1.5)))
    other_hz = batter_hz * ratio_of(
        INTERVAL_CENTS + INTERVAL_CENTS * float(np.clip(rng.standard_normal(), -1.0, 1.0))
    )
    ply = PLIES_M[int(rng.integers(len(PLIES_M)))]
    batter = head or Head(f"single {ply / 25.4e-6:.3g} mil", plies_m=(ply,))
    resonant = Head("single 10 mil", plies_m=(254e-6,))
    return Drum(
        "drum", "tom", shell,
        HeadSetting(batter, reading=LugPitch(batter_hz)),
        HeadSetting(resonant, reading=LugPitch(other_hz)),
    )  # fmt: skip


def some_snare(cents: float, wires: Wires) -> Drum:
    """A usual snare drum, its batter moved by so many cents, with such wires."""
    shell = Shell(14.0 * METRE_PER_INCH, 5.5 * METRE_PER_INCH, 8, "flanged_2_3mm")
    batter, side = Head("single 10 mil", plies_m=(254e-6,)), Head("3 mil", plies_m=(76.2e-6,))
    return Drum(
        "snare drum", "snare", shell,
        HeadSetting(batter, reading=LugPitch(262.0 * ratio_of(cents))),
        HeadSetting(side, reading=LugPitch(349.0)),
        wires=wires,
    )  # fmt: skip


def even_head(rng: np.random.Generator) -> SimulatedHead:
    """A clear head on an ordinary drum; nothing hidden, hands exact."""
    drum = some_drum(rng)
    hidden = Hidden((0.0,) * drum.shell.rods, hand=0.0, stick=0.0)
    return SimulatedHead(drum, "batter", hidden, int(rng.integers(2**31)))


def shifted(head: SimulatedHead, cents: float) -> None:
    """Turn all rods alike so that the lug pitch moves by so many cents, as nearly as it goes."""
    start, before = head.turns.copy(), float(head.pitches()[0])
    scale = ratio_of(2.0 * cents)
    for _ in range(4):
        head.turns = start * scale
        off = cents - cents_between(before, float(head.pitches()[0]))
        if abs(off) < 0.01:
            break
        scale *= ratio_of(2.0 * off)


def with_rod_off(head: SimulatedHead, rod: int, cents: float) -> float:
    """Turn one rod until its lug pitch stands so many cents off the mean of the others; what it
    came to be."""
    start = head.turns.copy()

    def off(turn: float) -> float:
        head.turns = start.copy()
        head.turns[rod - 1] += turn
        pitches = head.pitches()
        rest = np.delete(pitches, rod - 1)
        return cents_between(float(np.exp(np.log(rest).mean())), float(pitches[rod - 1]))

    value, two = 0.0, math.copysign(0.05, cents)
    at_one, at_two = off(value), off(two)
    for _ in range(12):
        if abs(at_two - cents) < 0.02 or at_two == at_one:
            break
        three = two + (cents - at_two) * (two - value) / (at_two - at_one)
        three = float(np.clip(three, -0.8 * start[rod - 1], 0.9))
        value, at_one, two = two, at_two, three
        at_two = off(two)
    return at_two


def tap_sound(
    head: SimulatedHead, rod: int, rng: np.random.Generator, damped: bool = True
) -> Sound:
    """A tap at a rod as sound."""
    samples = tap_samples(head, rod, rng, RATE_HZ, TAP_S, damped)
    begin = int(SILENCE_S * RATE_HZ)
    kept = samples[begin:] * edges(len(samples) - begin, RATE_HZ, 0.001)
    return Sound(matched(kept, RATE_HZ), RATE_HZ, False)


def tap_seen(label: str, head: SimulatedHead, rod: int, damped: bool = True) -> Lines:
    """Its lines."""
    hz, strength, _ = tap_lines(head, rod, damped)
    return _seen(label, hz, strength)


def stroke_sound(prediction: Prediction, stroke: Stroke | None = None) -> Sound:
    """A stroke as sound."""
    return Sound(matched(strike_samples(prediction, stroke), RATE_HZ), RATE_HZ, False)


def stroke_seen(label: str, prediction: Prediction, stroke: Stroke | None = None) -> Lines:
    """Its lines."""
    hz, _, amplitude, _ = lines_of(prediction, stroke or prediction.stroke)
    return _seen(label, hz, amplitude)


def tone_seen(label: str, hz: float) -> Lines:
    """The lines of a reference tone."""
    harmonics: FloatArray = hz * np.arange(1.0, len(OVERTONES) + 1.0)
    return _seen(label, harmonics, np.array(OVERTONES))


def struck(drum: Drum, place: float = 0.25, beater: str | None = None) -> Prediction:
    """A drum solved, for a stroke."""
    return predict(drum, Stroke(place, beater or TYPICAL_BEATER[drum.kind]))


def set_by(drum: Drum, batter_cents: float = 0.0, resonant_cents: float = 0.0) -> Drum:
    """A drum with its heads moved."""
    for side, cents in (("batter", batter_cents), ("resonant", resonant_cents)):
        setting = drum.setting(side)
        assert setting.reading is not None
        drum = drum.with_setting(side, setting.at_pitch(setting.reading.hz * ratio_of(cents)))
    return drum


def with_batter(drum: Drum, head: Head) -> Drum:
    """The drum with another batter head at the same lug pitch."""
    return drum.with_setting("batter", replace(drum.batter, head=head))


def _seen(label: str, hz: FloatArray, amplitude: FloatArray) -> Lines:
    size = np.abs(amplitude)
    level = 20.0 * np.log10(np.maximum(size, 1e-12) / max(float(size.max()), 1e-12))
    keep = (level > -45.0) & (hz > 30.0)
    return Lines(label, hz[keep], level[keep])
