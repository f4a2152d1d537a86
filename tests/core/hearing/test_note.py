"""The note of a stroke, told apart from its partials; and what is wrong with a sound. What is struck
here is made in this file; recorded strokes are in tests/validation/test_recordings.py."""

from __future__ import annotations

import contextlib
import math

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from kesselton.core.clear.taps.tap_sound import onsets
from kesselton.core.clear.taps.whole_stroke import is_whole_stroke
from kesselton.core.errors import InputError
from kesselton.core.hearing.note import Note, note_of_stroke, pooled_note
from kesselton.core.hearing.sound_faults import (
    CLIPPED,
    HUM,
    NO_LOW_END,
    QUIET,
    SECOND,
    faults_of,
)
from kesselton.core.hearing.strokes import hear_strokes

RATE = 44100
BEGIN = RATE // 2
LINES = (
    (112.0, 1.6, 1.0),
    (178.0, 0.7, 0.8),
    (183.0, 0.6, 0.5),
    (262.0, 0.4, 0.5),
    (351.0, 0.3, 0.4),
)


def stroke(glide: float = 0.0, hz: float = 112.0, noise: float = 1e-4) -> np.ndarray:
    """Half a second of a room, louder the lower, and then a drum: its note begins sharp by a share
    that falls with the square of its swing."""
    rng = np.random.default_rng(2)
    time = np.arange(int(2.4 * RATE)) / RATE
    ring = np.maximum(time - BEGIN / RATE, 0.0)
    sound = np.zeros(len(time))
    fast = 2.0 * math.log(1000.0) / LINES[0][1]
    run = ring + glide * -np.expm1(-fast * ring) / fast
    for f, t60, loud in LINES:
        wave = np.sin(2.0 * np.pi * f * hz / 112.0 * run)
        sound += loud * np.exp(-math.log(1000.0) / t60 * ring) * wave * (ring > 0.0)
    room = sosfilt(butter(1, 90.0, fs=RATE, output="sos"), rng.standard_normal(len(time)))
    return 0.2 * sound + noise * (5.0 * room + 0.2 * rng.standard_normal(len(time)))


def cents(a: float, b: float) -> float:
    return 1200.0 * math.log2(b / a)


@pytest.mark.parametrize("glide", [0.0, 40.0, 150.0])
@pytest.mark.parametrize("off", [-120.0, 0.0, 120.0])
def test_the_note_is_where_it_comes_to_rest(glide: float, off: float) -> None:
    share = math.expm1(glide / 1731.2)
    note = note_of_stroke(stroke(share)[BEGIN:], RATE, 112.0 * 2.0 ** (off / 1200.0))
    assert note is not None
    assert note.near
    assert abs(cents(112.0, note.hz)) < max(2.0, note.half_cents)
    assert note.half_cents < 12.0
    fast = 2.0 * math.log(1000.0) / LINES[0][1]
    early = glide * math.exp(-fast * 0.05)
    assert cents(note.hz, note.early_hz) == pytest.approx(early, abs=4.0 + 0.1 * glide)
    assert note.t60_s == pytest.approx(1.6, rel=0.1)


@pytest.mark.parametrize("off", [-700.0, -400.0, 400.0, 700.0])
def test_a_note_far_from_the_plan_is_told_as_that_or_not_at_all(off: float) -> None:
    note = note_of_stroke(stroke()[BEGIN:], RATE, 112.0 * 2.0 ** (off / 1200.0))
    assert note is None or (not note.near and abs(cents(112.0, note.hz)) < 10.0)


def test_noise_and_hum_have_no_note() -> None:
    rng = np.random.default_rng(4)
    time = np.arange(RATE) / RATE
    hiss = rng.standard_normal(RATE) * np.exp(-4.0 * time)
    assert note_of_stroke(0.2 * hiss, RATE, 112.0) is None
    hums = 0.2 * np.sin(2.0 * np.pi * 100.0 * time) + 0.01 * hiss
    assert note_of_stroke(hums, RATE, 105.0) is None


def told(hz: float, half: float = 4.0, near: bool = True) -> Note:
    return Note(hz, half, hz * 1.02, 1.5, math.nan, near, 0.9)


def test_strokes_that_agree_are_taken_together_and_others_are_not() -> None:
    both = pooled_note([told(112.0), told(112.4), told(150.0, near=False)])
    assert both is not None
    assert 112.0 < both.hz < 112.4
    assert math.isnan(both.first_t60_s)
    assert pooled_note([told(112.0), told(150.0)]) is None
    assert pooled_note([]) is None


def of(sound: np.ndarray) -> tuple[str, ...]:
    return faults_of(sound, RATE, BEGIN, len(sound), onsets(sound, RATE))


def test_what_is_wrong_with_a_sound_is_told() -> None:
    clean = stroke()
    time = np.arange(len(clean)) / RATE
    assert of(clean) == ()
    assert of(np.clip(20.0 * clean, -0.9, 0.9)) == (CLIPPED,)
    assert QUIET in of(clean + 0.03 * np.random.default_rng(1).standard_normal(len(clean)))
    assert QUIET in of(0.004 * clean)
    assert of(clean + 0.02 * np.sin(2.0 * np.pi * 50.0 * time)) == (HUM,)
    thin = sosfilt(butter(4, 140.0, "highpass", fs=RATE, output="sos"), clean)
    assert of(thin) == (NO_LOW_END,)
    again = clean.copy()
    again[RATE // 3 :] += clean[: -(RATE // 3)]
    assert SECOND in of(again)


def test_a_rattle_in_the_ring_is_no_stroke_of_its_own() -> None:
    sound = stroke()
    at = BEGIN + RATE // 2
    sound[at : at + 2000] += 0.02 * np.random.default_rng(3).standard_normal(2000)
    assert len(hear_strokes(sound, RATE, 112.0)) == 1


@pytest.mark.parametrize("seed", range(40))
def test_whatever_sounds_is_heard_or_refused_in_words(seed: int) -> None:
    """Tones, bursts, steps, silence, noise, of any length and rate; no warning either."""
    rng = np.random.default_rng(seed)
    rate = int(rng.choice([8000, 11025, 22050, 44100, 96000]))
    time = np.arange(int(math.exp(rng.uniform(math.log(0.13), 1.0)) * rate)) / rate
    sound = np.zeros(len(time))
    for _ in range(rng.integers(0, 4)):
        ring = np.maximum(time - time[rng.integers(0, len(time))], 0.0)
        hz = math.exp(rng.uniform(math.log(5.0), math.log(rate / 2.1)))
        wave = np.sin(2.0 * np.pi * hz * ring) * np.exp(-rng.choice([0.1, 10.0, 100.0]) * ring)
        sound += rng.choice([1.0, 0.01]) * wave
    kind = rng.integers(0, 6)
    if kind == 1:
        sound += rng.standard_normal(len(time)) * rng.choice([1e-6, 0.3])
    elif kind == 2:
        sound = np.sign(sound)
    elif kind == 3:
        sound[rng.integers(0, len(time))] = 1.0
    elif kind == 4:
        sound = np.clip(50.0 * sound, -1.0, 1.0)
    elif kind == 5:
        sound[: len(time) // 2] = 0.0
    with contextlib.suppress(InputError):
        hear_strokes(sound, rate, math.exp(rng.uniform(math.log(15.0), math.log(900.0))))
    start = int(rng.integers(0, len(time) - 10))
    is_whole_stroke(sound, rate, start, math.exp(rng.uniform(3.0, 7.0)), bool(seed % 2))
