"""Mains hum is taken out of a sound by what it is before the first stroke (theory 112)."""

from __future__ import annotations

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.taps.late_sound import HUM_HZ

LEAST_S, LONGEST_S, CLEAR_S = 0.25, 2.0, 0.01
"""So long it must be heard alone; no more of it is looked at, and nothing so near to the stroke."""
DRIFT_HZ, TRIED = 0.4, 81
"""The mains are off their frequency by no more; so many frequencies between are tried."""
TIMES = (1, 2, 3, 4, 5, 6)
"""Multiples of the mains, from the first without a gap."""
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
    offs = np.linspace(-DRIFT_HZ, DRIFT_HZ, TRIED)
    tried = [mains + off for mains in HUM_HZ for off in offs]
    mains = max(tried, key=lambda hz: _explained(_waves(when, hz), few))
    waves = _waves(time, mains)
    values = _fitted(waves, before)
    power = 0.5 * (values[0::2] ** 2 + values[1::2] ** 2)
    beside = _beside(before - waves @ values, rate_hz, mains)
    out = power > 10.0 ** (STANDS_OUT_DB / 10.0) * beside
    if not out.any():
        return sound
    taken = np.repeat(out, 2) * values
    return np.asarray(sound - _waves(np.arange(len(sound)) / rate_hz, mains) @ taken)


def _waves(time: FloatArray, mains: float) -> FloatArray:
    """(N, 2 K) cosine and sine of each multiple: powers of one turning number, since a recording
    has many frequencies tried on it."""
    turning = np.exp(2j * np.pi * mains * time)
    powers = np.cumprod(np.broadcast_to(turning[:, None], (len(time), len(TIMES))), axis=1)
    return powers.view(float)


def _fitted(waves: FloatArray, part: FloatArray) -> FloatArray:
    """(2 K) how much of each wave is in a part, by least squares."""
    ridge = 1e-9 * np.eye(waves.shape[1])
    return np.asarray(np.linalg.solve(waves.T @ waves + ridge, waves.T @ part), dtype=float)


def _explained(waves: FloatArray, part: FloatArray) -> float:
    """How much of the energy of a part its waves make: what is left is the rest."""
    return float((part @ waves) @ _fitted(waves, part))


def _beside(rest: FloatArray, rate_hz: float, mains: float) -> FloatArray:
    """(K) power of a line that what is left would make about each multiple, by the band beside."""
    size = len(rest)
    lines = 2.0 * np.abs(np.fft.rfft(rest * np.hanning(size))) ** 2 / (0.5 * size) ** 2
    hz = np.fft.rfftfreq(size, 1.0 / rate_hz)
    wide = max(12.0, 4.0 * rate_hz / size)
    return np.array([np.median(lines[np.abs(hz - k * mains) < wide]) for k in TIMES])
