"""What is wrong with the sound of a stroke, as the microphone gives it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.taps.late_sound import HUM_HZ
from kesselton.core.clear.taps.tap_sound import is_clipped

CLIPPED, QUIET, HUM, NO_LOW_END, SECOND = "clipped", "quiet", "hum", "no low end", "second stroke"

STROKE_S, BACKGROUND_S = 0.2, 0.12
QUIET_DB = 14.0
"""A stroke so little over what is there without it is hard to hear."""
FAINT = 0.004
"""Full scale is one; so soft a stroke is not recorded well."""
SOON_S, AS_LOUD_DB = 1.0, 14.0
"""Another stroke so soon after, and not so much softer, is in the way."""
MAINS_WIDTH_HZ, HUM_OVER_DB, HUM_UNDER_DB = 3.0, 16.0, 24.0
"""Hum stands so far over what lies beside it, and is no more than so much under the stroke."""
LOW_HZ, MIDDLE_HZ, CUT_DB = (25.0, 70.0), (200.0, 500.0), 12.0
"""A room has more of the low than of the middle; where it has so much less, the microphone cuts."""
SILENT, TINY = 1e-7, 1e-30


def faults_of(
    sound: FloatArray, rate_hz: float, begin: int, end: int, starts: Sequence[int]
) -> tuple[str, ...]:
    """Of one stroke, from sample `begin` to `end` of a sound in which blows begin at `starts`."""
    stroke = sound[begin:end]
    before = _before(sound, rate_hz, begin)
    loud = _rms(stroke[: int(STROKE_S * rate_hz)])
    results = []
    if is_clipped(stroke):
        results.append(CLIPPED)
    lost = before is not None and _db(loud, _rms(before)) < QUIET_DB
    if lost or float(np.abs(stroke).max()) < FAINT:
        results.append(QUIET)
    if before is not None and _hums(before, rate_hz, loud):
        results.append(HUM)
    if before is not None and _no_low_end(before, rate_hz):
        results.append(NO_LOW_END)
    if _second(sound, rate_hz, begin, starts):
        results.append(SECOND)
    return tuple(results)


def _before(sound: FloatArray, rate_hz: float, begin: int) -> FloatArray | None:
    """What is there before the stroke; None where too little was recorded of it."""
    least = int(BACKGROUND_S * rate_hz)
    part = sound[max(begin - 4 * least, 0) : max(begin - least // 12, 0)]
    return part if len(part) >= least else None


def _rms(part: FloatArray) -> float:
    return float(np.sqrt(np.mean(part**2))) if len(part) else 0.0


def _db(over: float, under: float) -> float:
    return float(20.0 * np.log10((over + 1e-12) / (under + 1e-12)))


def _power(part: FloatArray, rate_hz: float) -> tuple[FloatArray, FloatArray]:
    windowed = (part - part.mean()) * np.hanning(len(part))
    size = 1 << (4 * len(part) - 1).bit_length()
    hz: FloatArray = np.fft.rfftfreq(size, 1.0 / rate_hz).astype(float)
    return hz, np.abs(np.fft.rfft(windowed, size)) ** 2


def _hums(background: FloatArray, rate_hz: float, loud: float) -> bool:
    """Whether the mains, or a low multiple, stand out of what is there without the stroke."""
    level = _rms(background)
    if level < SILENT or _db(loud, level) > HUM_UNDER_DB + HUM_OVER_DB:
        return False
    hz, power = _power(background, rate_hz)
    wide = max(MAINS_WIDTH_HZ, 2.0 * rate_hz / len(background))
    beside = np.median(power[(hz > 25.0) & (hz < 600.0)])
    for mains in HUM_HZ:
        for times in (1, 2, 3):
            at = np.abs(hz - times * mains) < wide
            share = float(power[at].sum() / (power.sum() + TINY))
            out = 10.0 * np.log10(float(power[at].max() + TINY) / float(beside + TINY))
            strong = _db(loud, level * np.sqrt(share)) < HUM_UNDER_DB
            if out > HUM_OVER_DB and strong and share > 0.3:
                return True
    return False


def _no_low_end(background: FloatArray, rate_hz: float) -> bool:
    if _rms(background) < SILENT:
        return False
    hz, power = _power(background, rate_hz)
    low, middle = (float(np.mean(power[(hz > a) & (hz < b)])) for a, b in (LOW_HZ, MIDDLE_HZ))
    return bool(10.0 * np.log10((middle + TINY) / (low + TINY)) > CUT_DB)


def _second(sound: FloatArray, rate_hz: float, begin: int, starts: Sequence[int]) -> bool:
    """Whether another stroke, not much softer, begins soon."""
    soon = int(SOON_S * rate_hz)
    ahead = [start for start in starts if begin < start < begin + soon]
    span = int(0.03 * rate_hz)
    mine = _rms(sound[begin : begin + span])
    return any(_db(mine, _rms(sound[number : number + span])) < AS_LOUD_DB for number in ahead)
