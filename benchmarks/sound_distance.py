"""How far a computed stroke is from a recorded one, to the ear.

Mean difference in dB of spectra in 40 bands of equal width on the mel scale (S. S. Stevens, J.
Volkmann, E. B. Newman 1937; 2595 lg(1 + f/700) of D. O'Shaughnessy, from memory), of windows of
512, 2,048 and 8,192 samples at 48 kHz, over the first 1.2 s, levels matched over 0.4 s, nothing
deeper than 55 dB under the loudest. The best of several touches and places counts; it is told as a
multiple of the distance between two recorded strokes of one drum.
"""

from __future__ import annotations

from functools import cache

import numpy as np
from scipy.signal import resample_poly

RATE_HZ = 48000
WINDOWS = (512, 2048, 8192)
BANDS, LOW_HZ, HIGH_HZ = 40, 40.0, 6000.0
SECONDS, MATCHED_S = 1.2, 0.4
FLOOR_DB = 55.0


def spectra(samples: np.ndarray, rate_hz: float) -> list[np.ndarray]:
    """Of a stroke from its beginning: a picture (frames, bands) in dB of every window."""
    x = _at_rate(samples, rate_hz)[: int(SECONDS * RATE_HZ)]
    x = np.pad(x, (0, int(SECONDS * RATE_HZ) - len(x)))
    x = x / np.sqrt(np.mean(x[: int(MATCHED_S * RATE_HZ)] ** 2) + 1e-20)
    out = []
    for window in WINDOWS:
        padded = np.pad(x, (window // 2, window // 2))
        frames = np.lib.stride_tricks.sliding_window_view(padded, window)[:: window // 4]
        power = np.abs(np.fft.rfft(frames * np.hanning(window), axis=1)) ** 2 / window
        db = 10.0 * np.log10(power @ _bands(window).T + 1e-12)
        out.append(np.maximum(db, db.max() - FLOOR_DB))
    return out


def distance(one: list[np.ndarray], other: list[np.ndarray]) -> float:
    """Mean difference of two strokes, dB."""
    return float(np.mean([np.mean(np.abs(a - b)) for a, b in zip(one, other, strict=True)]))


def from_onset(samples: np.ndarray, rate_hz: float, within_s: float = 0.5) -> np.ndarray:
    """A recorded stroke from where it first comes within 26 dB of its peak, less a millisecond."""
    early = np.abs(samples[: int(within_s * rate_hz)])
    first = int(np.argmax(early > 0.05 * early.max()))
    return samples[max(first - int(0.001 * rate_hz), 0) :]


def _at_rate(samples: np.ndarray, rate_hz: float) -> np.ndarray:
    if round(rate_hz) == RATE_HZ:
        return samples
    return np.asarray(resample_poly(samples, RATE_HZ // 100, round(rate_hz) // 100))


@cache
def _bands(window: int) -> np.ndarray:
    """(bands, frequencies) triangles."""
    low, high = (2595.0 * np.log10(1.0 + f / 700.0) for f in (LOW_HZ, HIGH_HZ))
    edges = 700.0 * (10.0 ** (np.linspace(low, high, BANDS + 2) / 2595.0) - 1.0)
    hz = np.fft.rfftfreq(window, 1.0 / RATE_HZ)
    rising = (hz - edges[:-2, None]) / np.diff(edges)[:-1, None]
    falling = (edges[2:, None] - hz) / np.diff(edges)[1:, None]
    out = np.maximum(np.minimum(rising, falling), 0.0)
    # bands narrower than a bin take the nearest
    centre = edges[1:-1]
    for band in np.flatnonzero(out.sum(axis=1) < 0.5):
        out[band] = 0.0
        out[band, int(np.argmin(np.abs(hz - centre[band])))] = 1.0
    return out / out.sum(axis=1, keepdims=True)
