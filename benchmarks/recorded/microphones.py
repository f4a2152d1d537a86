"""Recorded strokes as worse microphones in worse rooms have them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.signal import butter, sosfilt

from benchmarks.recorded.fits import onset
from benchmarks.recorded.found import Recording

BEFORE_S = 0.5
Worse = Callable[[np.ndarray, float, np.random.Generator], np.ndarray]


def in_room(sound: Recording, rng: np.random.Generator) -> np.ndarray:
    """The stroke with half a second of a quiet room before it, peak at 0.4."""
    x = sound.samples[onset(sound.samples, sound.rate) :][: int(1.9 * sound.rate)]
    x = 0.4 * x / float(np.abs(x).max())
    out = np.concatenate((np.zeros(int(BEFORE_S * sound.rate)), x))
    return out + room(len(out), sound.rate, rng) * 2e-4


def room(count: int, rate: float, rng: np.random.Generator) -> np.ndarray:
    """Noise of a room (N,): louder the lower, of rms 1."""
    white = rng.standard_normal(count)
    low = sosfilt(butter(1, 90.0, fs=rate, output="sos"), white) * 6.0 + 0.2 * white
    return np.asarray(low / np.sqrt(np.mean(low**2)))


def _rms(x: np.ndarray, rate: float) -> float:
    start = int(BEFORE_S * rate)
    return float(np.sqrt(np.mean(x[start : start + int(0.2 * rate)] ** 2)))


def low_gain(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
    """54 dB down, sixteen bits."""
    return np.asarray(np.round(x * 0.002 * 32768.0) / 32768.0)


def clipped(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
    """Ten times too much."""
    return np.asarray(np.clip(10.0 * x, -1.0, 1.0))


def hum(mains: float) -> Worse:
    """With overtones, 20 dB under the stroke."""

    def add(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
        time = np.arange(len(x)) / rate
        wave = sum(
            a * np.sin(2.0 * np.pi * mains * k * time + rng.uniform(0.0, 6.3))
            for k, a in ((1, 1.0), (2, 0.5), (3, 0.4))
        )
        return np.asarray(x + 0.1 * 1.4 * _rms(x, rate) * wave)

    return add


def fan(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
    """24 dB under the stroke."""
    return x + room(len(x), rate, rng) * _rms(x, rate) * 0.063


def with_other(other: np.ndarray, under_db: float, late_s: float = 0.0) -> Worse:
    """Something else that sounds, so many decibels under the stroke, so much later."""

    def add(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
        out = x.copy()
        begin = int((BEFORE_S + late_s) * rate)
        part = other[: max(len(out) - begin, 0)]
        loud = float(np.sqrt(np.mean(part[: int(0.2 * rate)] ** 2))) + 1e-9
        out[begin : begin + len(part)] += part / loud * _rms(x, rate) * 10.0 ** (-under_db / 20.0)
        return out

    return add


def laptop(x: np.ndarray, rate: float, rng: np.random.Generator) -> np.ndarray:
    """Nothing under 120 Hz (24 dB an octave), and a gain that follows the level."""
    cut = sosfilt(
        butter(4, 120.0, "highpass", fs=rate, output="sos"), x + 3e-4 * rng.standard_normal(len(x))
    )
    level = np.sqrt(sosfilt(butter(1, 3.0, fs=rate, output="sos"), cut**2).clip(1e-10))
    return np.asarray(0.3 * cut * np.minimum((0.05 / level) ** 0.6, 20.0))
