"""Mains hum is taken out of a sound by what it is before the first stroke (theory 112)."""

from __future__ import annotations

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clearing.late_sound import HUM_HZ

LEAST_S, LONGEST_S, CLEAR_S = 0.25, 2.0, 0.01
"""So long it must be heard alone; no more of it is looked at, and nothing so near to the stroke."""
DRIFT_HZ, TRIED = 0.4, 81
"""The mains are off their frequency by no more; so many frequencies between are tried."""
TIMES = (1, 2, 3, 4, 5, 6)
STANDS_OUT_DB = 12.0
"""A multiple is taken out where it stands so far over what is left beside the hum."""


def without_mains(sound: FloatArray, rate_hz: float, begin: int) -> FloatArray:
    """A sound (N,) less the hum that is in it before the sample `begin`; itself where none is.

    Hum goes on as it was: amplitude and phase of each multiple are those of least squares before
    the stroke, at the frequency of the mains that leaves least there.
    """
    end = max(begin - int(CLEAR_S * rate_hz), 0)
    start = max(end - int(LONGEST_S * rate_hz), 0)
    before = sound[start:end]
    if end - start < LEAST_S * rate_hz or not float(np.abs(before).max(initial=0.0)) > 0.0:
        return sound
    step = max(int(rate_hz / 4000.0), 1)  # six times 60 Hz: one sample of many says enough
    time = np.arange(start, end) / rate_hz
    few, when = before[::step], time[::step]
    fits = [
        (_left(few, when, mains + off), mains + off)
        for mains in HUM_HZ
        for off in np.linspace(-DRIFT_HZ, DRIFT_HZ, TRIED)
    ]
    mains = min(fits)[1]
    waves = _waves(time, mains)
    found, *_rest = np.linalg.lstsq(waves, before, rcond=None)
    rest = before - waves @ found
    power = 0.5 * (found[0::2] ** 2 + found[1::2] ** 2)
    beside = np.array([_beside(rest, rate_hz, k * mains) for k in TIMES])
    out = power > 10.0 ** (STANDS_OUT_DB / 10.0) * beside
    if not out.any():
        return sound
    taken = np.repeat(out, 2) * found
    return np.asarray(sound - _waves(np.arange(len(sound)) / rate_hz, mains) @ taken)


def _waves(time: FloatArray, mains: float) -> FloatArray:
    """(N, 2 K) cosine and sine of each multiple."""
    turned = 2.0 * np.pi * mains * time[:, None] * np.array(TIMES)
    return np.stack((np.cos(turned), np.sin(turned)), axis=-1).reshape(len(time), -1)


def _left(part: FloatArray, time: FloatArray, mains: float) -> float:
    """What the hum at a frequency leaves of a part, in power."""
    waves = _waves(time, mains)
    found = np.linalg.solve(waves.T @ waves + 1e-9 * np.eye(waves.shape[1]), waves.T @ part)
    return float(np.mean((part - waves @ found) ** 2))


def _beside(rest: FloatArray, rate_hz: float, hz: float) -> float:
    """Power of a line that what is left would make about a frequency, by the band beside it."""
    windowed = rest * np.hanning(len(rest))
    size = len(rest)
    all_hz = np.fft.rfftfreq(size, 1.0 / rate_hz)
    there = np.abs(all_hz - hz) < max(12.0, 4.0 * rate_hz / size)
    lines = 2.0 * np.abs(np.fft.rfft(windowed)[there]) ** 2 / (0.5 * size) ** 2
    return float(np.median(lines)) if there.any() else 0.0
