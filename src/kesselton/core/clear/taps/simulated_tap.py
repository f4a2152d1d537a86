"""What is heard of a tap at a rod of the simulated head: every mode of it, decaying."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.simulated import SimulatedHead

RATE_HZ = 16000
SECONDS, LEAD_S = 1.0, 0.06
CONTACT_S, CONTACT_PERIODS = 0.0025, 0.4
"""A low drum is tapped with something softer."""
CENTRE_DAMPS = 6.0
"""How much sooner a mode that moves the middle is gone with a finger there; assumed."""
DECAY = 3.5
LOWEST_HZ = 30.0


def tap_time(rate_hz: int = RATE_HZ, seconds: float = SECONDS) -> FloatArray:
    """(N,) seconds from the tap."""
    return np.arange(int(seconds * rate_hz)) / rate_hz - LEAD_S


def tap_samples(
    head: SimulatedHead,
    rod: int,
    rng: np.random.Generator,
    rate_hz: int = RATE_HZ,
    seconds: float = SECONDS,
    damped: bool = True,
) -> FloatArray:
    """(N,) what a microphone hears of a tap, loudest 1, with the knock of the finger.

    Parameters
    ----------
    damped : a finger lies in the middle of the head

    Notes
    -----
    The microphone is held over the rod that is tapped: elsewhere two of a pair could cancel.
    """
    hz, strength, decay = tap_lines(head, rod, damped)
    time = tap_time(rate_hz, seconds)
    ring = np.maximum(time, 0.0)
    keep = (hz > LOWEST_HZ) & (hz < 0.4 * rate_hz)
    wave = np.exp(-np.outer(ring, decay[keep])) * np.sin(2.0 * np.pi * np.outer(ring, hz[keep]))
    sound = wave @ strength[keep]
    sound /= max(float(np.abs(sound).max()), 1e-12)
    knock = 0.5 * rng.standard_normal(len(time)) * (time >= 0.0) * np.exp(-ring / 0.001)
    out: FloatArray = sound + knock
    return out


def tap_lines(
    head: SimulatedHead, rod: int, damped: bool = True
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Frequency in hertz, amplitude and decay in neper a second of every mode, (M,)."""
    hz, shapes = head.modes.solve(head.rim, head.patterns(), head.hidden)
    at = head.modes.at_rods(shapes, head.rim.angles)[rod - 1]
    omega = 2.0 * math.pi * hz
    contact = max(CONTACT_S, CONTACT_PERIODS / head.reference_hz)
    blow = np.abs(np.cos(0.5 * omega * contact) / (1.0 - (omega * contact / np.pi) ** 2))
    decay = DECAY * (hz / head.reference_hz) ** 0.6
    if damped:
        decay = np.where(head.modes.centre_moves(shapes), CENTRE_DAMPS * decay, decay)
    return hz, at * at * blow, decay
