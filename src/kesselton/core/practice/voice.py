"""The pitch of a voice: sung or hummed, then named and compared (theory 107)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import _
from kesselton.core.pitch import ratio_of

LOWEST_HZ, HIGHEST_HZ = 60.0, 1000.0
"""Of a voice that hums along."""
WINDOW_S, HOP_S = 0.05, 0.02
DOOR = 0.12
"""How far the normalized difference must fall for a period to be one (de Cheveigné and Kawahara
give 0.1)."""
LEAST_S, QUIET = 0.25, 1e-3
STEADY_CENTS = 60.0


@dataclass(frozen=True)
class Sung:
    """What was sung: pitch in the middle, how far it swayed (cents, sd), and for how long."""

    hz: float
    sway_cents: float
    seconds: float


def sung(samples: FloatArray, rate_hz: float) -> Sung:
    """The pitch of a voice in a sound.

    Parameters
    ----------
    samples : (N,) from -1 to 1

    Raises
    ------
    InputError
        In words, why there is none.

    Notes
    -----
    De Cheveigné and Kawahara, "YIN, a fundamental frequency estimator for speech and music",
    J. Acoust. Soc. Am. 111 (2002) 1917 to 1930, steps 1 to 5: difference function, cumulative mean
    normalized, first minimum under a threshold, parabola. The median of frames that have a period.
    """
    check_range(rate_hz, 8000.0, 192000.0, _("Sample rate"), "Hz")
    sound = np.asarray(samples, float)
    if sound.ndim != 1 or not np.isfinite(sound).all():
        raise InputError(_("The sound is not mono."), _("Record it again."))
    window, hop = int(WINDOW_S * rate_hz), int(HOP_S * rate_hz)
    longest = int(rate_hz / LOWEST_HZ)
    if len(sound) < window + longest + hop:
        raise InputError(
            _("The sound is too short to hear a voice."), (_("Sing for at least half a second."))
        )
    level = np.sqrt(np.mean(sound**2))
    if level < QUIET:
        raise InputError(_("No sound detected."), _("Sing closer to the microphone."))
    results = []
    for start in range(0, len(sound) - window - longest, hop):
        frame = sound[start : start + window + longest]
        if np.sqrt(np.mean(frame**2)) > 0.3 * level:
            hz = _period(frame, window, rate_hz, longest)
            if hz is not None:
                results.append(hz)
    if len(results) * HOP_S < LEAST_S:
        raise InputError(_("No steady tone detected."), _("Sing or hum one note for a second."))
    cents = CENTS_PER_OCTAVE * np.log2(np.array(results))
    middle = float(np.median(cents))
    near = cents[np.abs(cents - middle) < STEADY_CENTS]
    if len(near) < 0.5 * len(cents):
        raise InputError(_("The pitch slides: no single note."), _("Hold one note."))
    return Sung(ratio_of(float(np.median(near))), float(near.std()), len(results) * HOP_S)


def _period(frame: FloatArray, window: int, rate_hz: float, longest: int) -> float | None:
    """Hertz of a frame, None where nothing repeats."""
    shortest = max(int(rate_hz / HIGHEST_HZ), 2)
    size = 1 << int(np.ceil(np.log2(len(frame) + window)))
    head = frame[:window]
    across = np.fft.irfft(np.fft.rfft(frame, size) * np.conj(np.fft.rfft(head, size)), size)
    power = np.concatenate(([0.0], np.cumsum(frame**2)))
    lags = np.arange(longest + 1)
    energy = power[lags + window] - power[lags]
    difference = energy[0] + energy - 2.0 * across[: longest + 1]
    summed = np.cumsum(difference[1:])
    normal = np.ones(longest + 1)
    normal[1:] = difference[1:] * lags[1:] / np.maximum(summed, 1e-12)
    low = np.flatnonzero(normal[shortest:longest] < DOOR)
    if not len(low):
        return None
    at = int(low[0]) + shortest
    while at + 1 < longest and normal[at + 1] < normal[at]:
        at += 1
    a, b, c = normal[at - 1], normal[at], normal[min(at + 1, longest)]
    bend = a - 2.0 * b + c
    shift = 0.5 * (a - c) / bend if bend > 1e-12 else 0.0
    return float(rate_hz / (at + shift))


def simulated_voice(
    hz: float, seed: int, off_cents: float = 0.0, rate_hz: int = 16000, seconds: float = 1.2
) -> FloatArray:
    """(N,) a voice that hums a note as well as it can: harmonics, a slow sway, breath; the stand-in
    for a microphone."""
    rng = np.random.default_rng(seed)
    time = np.arange(int(seconds * rate_hz)) / rate_hz
    sway = 12.0 * np.sin(2.0 * np.pi * 5.2 * time + rng.uniform(0.0, 6.28))
    phase = 2.0 * np.pi * np.cumsum(hz * 2.0 ** ((off_cents + sway) / CENTS_PER_OCTAVE)) / rate_hz
    sound = np.zeros(len(time))
    for number in range(1, 13):
        if number * hz < 0.45 * rate_hz:
            sound += np.sin(number * phase + rng.uniform(0.0, 6.28)) / number**1.3
    sound *= np.minimum(1.0, time / 0.08) * np.minimum(1.0, (seconds - time) / 0.1)
    sound += 0.02 * rng.standard_normal(len(time))
    out: FloatArray = 0.3 * sound / float(np.abs(sound).max())
    return out
