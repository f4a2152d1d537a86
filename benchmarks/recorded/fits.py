"""Careful fits to a recorded stroke, within a window of pitch that was set by eye.

    python -m benchmarks.recorded.fits

writes benchmarks/recorded/table.json anew. Nothing here is shared with the ears of the program: a
band is cut out by a Butterworth filter and made complex by Hilbert's transform; its phase gives the
pitch at rest and after 50 ms, the level of it both decays. How sure a fit
is, two other looks say: the peak of a late spectrum, and the other strokes on the same drum.
"""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
from scipy.signal import butter, hilbert, resample_poly, sosfiltfilt

from benchmarks.recorded.found import recording

TABLE = Path(__file__).with_name("table.json")
LOW_RATE = 2000
NARROW, WIDE = 0.12, 0.3
"""Half widths of bands over their middles."""
REST_S, DECAY_S, FIRST_S, EARLY_S = 0.3, 0.15, 0.02, 0.05
"""A spectrum is late from then on, a late decay read from then on, its first decay from then on for
0.1 s, and its early pitch then."""
EARLY_SPAN = 40
"""Samples to either side."""
FLOOR_DB, DEEPEST_DB, SHORTEST_S, LONGEST_S = 8.0, 42.0, 0.15, 1.8
AGREE_CENTS, EVEN_DB = 12.0, 2.5


def onset(x: np.ndarray, rate: float) -> int:
    """Where a stroke begins: a twentieth of its greatest power."""
    power = np.convolve(x**2, np.ones(max(int(0.002 * rate), 1)), "same")
    return int(np.argmax(power > 0.05 * power.max()))


def late_peak(y: np.ndarray, low: float, high: float, begin_s: float) -> float:
    """Peak of the spectrum of what sounds after a while, Hz."""
    part = y[int(begin_s * LOW_RATE) : int((begin_s + 0.7) * LOW_RATE)]
    part = part * np.hanning(len(part))
    size = 1 << 17
    power = np.abs(np.fft.rfft(part, size)) ** 2
    hz = np.fft.rfftfreq(size, 1.0 / LOW_RATE)
    inside = np.flatnonzero((hz > low) & (hz < high))
    return float(hz[inside[np.argmax(power[inside])]])


def fit(samples: np.ndarray, rate: float, low: float, high: float) -> dict[str, Any] | None:
    """Note at rest and 50 ms after the stroke, T60 of the first 0.1 s and of what rings on, and how
    far the level strays from a straight line, dB; None where nothing stands over the floor."""
    x = samples[onset(samples, rate) :]
    y = resample_poly(x, LOW_RATE, int(rate))
    middle = math.sqrt(low * high)
    band = _band(y, middle, max(NARROW * middle, 9.0))
    level = 20.0 * np.log10(np.abs(band) + 1e-12)
    smooth = np.convolve(level, np.ones(80) / 80.0, "same")[: len(level) - 80]
    floor = float(smooth[-len(smooth) // 6 :].min())
    loud = np.flatnonzero(smooth > max(floor + FLOOR_DB, float(smooth.max()) - DEEPEST_DB))
    end = min(int(loud[-1]), int(LONGEST_S * LOW_RATE))
    if end < SHORTEST_S * LOW_RATE:
        return None
    time = np.arange(len(band)) / LOW_RATE
    begin = int(min(REST_S, 0.45 * end / LOW_RATE) * LOW_RATE)
    hz = _rest_hz(band, int(min(DECAY_S, 0.3 * end / LOW_RATE) * LOW_RATE), end)
    peak = late_peak(y, low, high, begin / LOW_RATE)
    wide = _band(y, middle, max(WIDE * middle, 20.0))
    early = int(EARLY_S * LOW_RATE)
    early_hz = _slope_hz(wide, early - EARLY_SPAN, early + EARLY_SPAN)
    decay_begin = int(min(DECAY_S, 0.3 * end / LOW_RATE) * LOW_RATE)
    line = np.polyfit(time[decay_begin:end], level[decay_begin:end], 1)
    off = float(np.std(level[decay_begin:end] - np.polyval(line, time[decay_begin:end])))
    first = slice(int(FIRST_S * LOW_RATE), int((FIRST_S + 0.1) * LOW_RATE))
    quick = np.polyfit(time[first], 20.0 * np.log10(np.abs(wide[first]) + 1e-12), 1)
    return {
        "hz": round(hz, 3),
        "peak_hz": round(peak, 3),
        "early_hz": round(early_hz, 2),
        "t60_s": round(-60.0 / float(line[0]), 3) if line[0] < -3.0 else None,
        "first_t60_s": round(-60.0 / float(quick[0]), 3) if quick[0] < -3.0 else None,
        "strays_db": round(off, 2),
        "seconds": round(end / LOW_RATE, 2),
    }


def _band(y: np.ndarray, middle: float, half: float) -> np.ndarray:
    """Complex band of a sound; zeros behind it keep its end from its beginning."""
    edges = [max(middle - half, 14.0), middle + half]
    padded = np.concatenate((np.zeros(LOW_RATE // 4), y, np.zeros(LOW_RATE // 2)))
    cut = sosfiltfilt(butter(2, edges, "band", fs=LOW_RATE, output="sos"), padded)
    out: np.ndarray = hilbert(cut)[LOW_RATE // 4 : LOW_RATE // 4 + len(y)]
    return out


def _rest_hz(band: np.ndarray, begin: int, end: int) -> float:
    """Pitch once nothing swings: the phase runs as time does, and as the power summed up does, since
    a head is stretched by the square of its swing; never flatter than it ends."""
    part = band[begin:end]
    turns = np.unwrap(np.angle(part)) / (2.0 * np.pi)
    time = np.arange(len(part)) / LOW_RATE
    swung = np.cumsum(np.abs(part) ** 2) / LOW_RATE / float(np.max(np.abs(part) ** 2))
    columns = np.stack((np.ones(len(part)), time, swung), axis=1)
    weight = np.abs(part)
    found = np.linalg.lstsq(columns * weight[:, None], turns * weight, rcond=None)[0]
    return float(found[1]) if found[2] > 0.0 else _slope_hz(band, begin, end)


def _slope_hz(band: np.ndarray, begin: int, end: int) -> float:
    """Slope of the phase, weighted by the power."""
    part = band[begin:end]
    turns = np.unwrap(np.angle(part)) / (2.0 * np.pi)
    time = np.arange(len(part)) / LOW_RATE
    return float(np.polyfit(time, turns, 1, w=np.abs(part))[0])


def cents(a: float, b: float) -> float:
    """From a to b."""
    return 1200.0 * math.log2(b / a)


def judged(fits: dict[str, dict[str, Any]]) -> None:
    """Write into each fit of one drum how sure it is: "sure" where spectrum and the other strokes say
    the same and the level falls evenly, "loose" where one of them does not."""
    middle = float(np.median([one["hz"] for one in fits.values()]))
    for one in fits.values():
        looks = abs(cents(one["hz"], one["peak_hz"])) < AGREE_CENTS
        alike = abs(cents(one["hz"], middle)) < 2.0 * AGREE_CENTS
        even = one["strays_db"] < EVEN_DB
        one["how_sure"] = "sure" if looks and alike and even else "loose"


def main() -> None:
    """Fit every stroke whose drum has a window."""
    table = json.loads(TABLE.read_text())
    for drum in table["drums"]:
        if drum["window_hz"] is None:
            continue
        fits = {}
        for stroke in drum["strokes"]:
            sound = recording(stroke["sum"])
            if sound is not None:
                found = fit(sound.samples, sound.rate, *drum["window_hz"])
                if found is not None:
                    fits[stroke["sum"]] = found
        if not fits:
            continue
        judged(fits)
        for stroke in drum["strokes"]:
            stroke["fit"] = fits.get(stroke["sum"])
    TABLE.write_text(json.dumps(table, indent=1) + "\n")


if __name__ == "__main__":
    main()
