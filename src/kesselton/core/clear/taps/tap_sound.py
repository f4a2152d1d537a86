"""From a recording to the samples of one ringing tap (theory 21)."""

from __future__ import annotations

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import _

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192000
LONGEST_S = 600.0
OVER_BAND = 2.37
"""Samples kept a second, over the highest frequency looked at."""
SHORTEST_S = 0.12
CLIPPED = 0.985
CLIPPED_RUN = 8
ONSET_FRAME_S = 0.004
ONSET_RATIO = 6.0
APART_S = 0.12


def checked(samples: FloatArray, rate_hz: float) -> FloatArray:
    """One channel of sound ready to be listened to.

    Parameters
    ----------
    samples : (N,) or (N, channels), from -1 to 1

    Raises
    ------
    InputError
        In words, what keeps it from being used.
    """
    check_range(rate_hz, LOWEST_RATE_HZ, HIGHEST_RATE_HZ, _("Sample rate"), "Hz")
    sound = np.asarray(samples, dtype=float)
    if sound.ndim == 2:
        sound = sound.mean(axis=1)
    if len(sound) / rate_hz > LONGEST_S:
        raise InputError(
            _("The sound is {rate_hz:.0f} minutes long.").format(
                rate_hz=len(sound) / rate_hz / 60.0
            ),
            _("Use up to {longest_s:.0f} minutes: trim it to the taps.").format(
                longest_s=LONGEST_S / 60.0
            ),
            code="too_long",
        )
    if not np.isfinite(sound).all():
        raise InputError(
            _("The sound has invalid samples."), _("Record it again."), code="invalid_samples"
        )
    if len(sound) < SHORTEST_S * rate_hz or float(np.abs(sound).max()) < 1e-4:
        raise InputError(
            _("The sound is silent."), _("Tap louder, or check the microphone."), code="silent"
        )
    return sound - float(sound.mean())


def onsets(sound: FloatArray, rate_hz: float) -> list[int]:
    """Sample numbers at which taps begin."""
    edge = np.diff(sound, prepend=sound[0])
    return _rises(edge, rate_hz, max(int(ONSET_FRAME_S * rate_hz), 8))


def deep_onsets(sound: FloatArray, rate_hz: float) -> list[int]:
    """The same of strokes on large drums: their front is weak where hiss is strong, their lowest
    lines stand far above it."""
    low, rate = reduced(sound, rate_hz, 0, DEEP_HZ, len(sound) / rate_hz)
    frame = max(int(DEEP_FRAME_S * rate), 8)
    return [int(start * rate_hz / rate) for start in _rises(low, rate, frame)]


DEEP_HZ, DEEP_FRAME_S = 300.0, 0.012


def _rises(edge: FloatArray, rate_hz: float, frame: int) -> list[int]:
    """Where the energy of a frame stands out of that of the frames before."""
    count = len(edge) // frame
    energy = (edge[: count * frame].reshape(count, frame) ** 2).sum(axis=1) + 1e-14
    quiet = float(np.percentile(energy, 20))
    results: list[int] = []
    last = -(10**9)
    hold = int(APART_S * rate_hz / frame)
    top = float(energy.max())
    for i in range(count):
        before = float(energy[max(i - 5, 0) : i].mean()) if i else quiet
        here = float(energy[i])
        loud = here > ONSET_RATIO * before and here > 4.0 * quiet and here > 2e-3 * top
        if loud and i - last > hold:
            results.append(i * frame)
            last = i
    return results


def is_clipped(sound: FloatArray) -> bool:
    """Whether the loudest samples stand in rows at one height."""
    top = float(np.abs(sound).max())
    flat = np.abs(sound) > CLIPPED * top
    if top <= 0.5 or flat.sum() < CLIPPED_RUN:
        return False
    runs = np.diff(np.flatnonzero(np.diff(np.concatenate(([0], flat.view(np.int8), [0])))))[::2]
    return len(runs) > 0 and int(runs.max()) >= CLIPPED_RUN and int((runs >= 4).sum()) >= 3


def refuse_clipped(sound: FloatArray) -> None:
    """Raise InputError where it is clipped."""
    if is_clipped(sound):
        raise InputError(
            _("The sound is clipped."),
            (_("Move the microphone away, or tap more softly.")),
            code="clipped",
        )


def tap_start(sound: FloatArray, rate_hz: float) -> int:
    """Where the tap begins: the steepest rise of a short energy."""
    frame = max(int(0.002 * rate_hz), 4)
    count = len(sound) // frame
    energy = (sound[: count * frame].reshape(count, frame) ** 2).sum(axis=1)
    strong = np.flatnonzero(energy > 0.2 * energy[: max(int(0.5 * rate_hz / frame), 1)].max())
    return int(strong[0]) * frame


def reduced(
    sound: FloatArray, rate_hz: float, start: int, high_hz: float, longest_s: float
) -> tuple[FloatArray, float]:
    """Band below `high_hz` from `start` on, with as few samples as it needs."""
    by = max(int(rate_hz // (OVER_BAND * high_hz)), 1)
    half = 8 * by
    n = np.arange(-half, half + 1)
    cut = 1.08 * high_hz / rate_hz
    kernel = 2.0 * cut * np.sinc(2.0 * cut * n) * np.hanning(2 * half + 3)[1:-1]
    padded = np.concatenate((np.zeros(half), sound, np.zeros(half)))
    last = min(len(sound), start + int(1.1 * longest_s * rate_hz))
    places = np.arange(start, max(last, start + 1), by)
    places = places[places + 2 * half < len(padded)]
    windows = np.lib.stride_tricks.sliding_window_view(padded, 2 * half + 1)[places]
    return windows @ kernel, rate_hz / by


def ringing(x: FloatArray, rate: float, longest_s: float) -> int:
    """How many samples there are before the ring meets the background."""
    frame = int(0.02 * rate)
    count = min(len(x), int(longest_s * rate)) // frame
    if count < 3:
        return len(x)
    energy = (x[: count * frame].reshape(count, frame) ** 2).mean(axis=1)
    floor = float(np.min(energy))
    over = np.flatnonzero(energy > 1.6 * floor)
    last = int(over[-1]) + 2 if len(over) else count
    return min(max(last * frame, int(1.3 * SHORTEST_S * rate)), count * frame, len(x))
