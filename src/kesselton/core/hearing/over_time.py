"""A sound over time and pitch, to be looked at."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from kesselton.core.arrays import FloatArray

LOWEST_HZ, HIGHEST_HZ = 30.0, 1600.0
SECONDS = 1.2
STEPS = 120
ROWS = 200
DEPTH_DB = 60.0
WINDOW_S = 0.11
"""Long enough to tell lines 12 Hz apart, short enough to show a decay of 0.1 s."""


@dataclass(frozen=True, eq=False)
class OverTime:
    """Level of a sound by pitch and time.

    Attributes
    ----------
    level : (rows, steps) from 0, 60 dB under the loudest, to 1; the first row is the lowest pitch,
        rows are equal steps of pitch from `low_hz` to `high_hz`, steps of time over `seconds`
    """

    level: FloatArray
    low_hz: float = LOWEST_HZ
    high_hz: float = HIGHEST_HZ
    seconds: float = SECONDS


def over_time(samples: FloatArray, rate_hz: float, start_s: float) -> OverTime:
    """A stroke that begins at `start_s`, as a short-time spectrum of a Hann window."""
    long = int(WINDOW_S * rate_hz)
    size = 1 << (2 * long - 1).bit_length()
    window = np.hanning(long)
    starts = (np.linspace(0.0, SECONDS, STEPS) + start_s) * rate_hz
    padded = np.concatenate((samples, np.zeros(long + 1)))
    begins = np.minimum(starts.astype(int), len(padded) - long - 1)
    frames = np.lib.stride_tricks.sliding_window_view(padded, long)[begins] * window
    power = np.abs(np.fft.rfft(frames, size, axis=1)) ** 2
    edges = np.geomspace(LOWEST_HZ, HIGHEST_HZ, ROWS + 1) * size / rate_hz
    rows = np.empty((ROWS, STEPS))
    for row, (low, high) in enumerate(pairwise(edges.tolist())):
        first, last = math.floor(low), max(math.ceil(high), math.floor(low) + 1)
        rows[row] = power[:, first:last].max(axis=1)
    level = 10.0 * np.log10(rows / max(float(rows.max()), 1e-30) + 1e-12)
    return OverTime(np.clip(1.0 + level / DEPTH_DB, 0.0, 1.0))
