"""The predicted stroke as sound: every partial a decaying line, wires as an approximate rattle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.partials import decay_rate
from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.beater import Stroke
from kesselton.core.prediction.port_flow import fall, flow_rates
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import energies_j, pulse_on, strikes

RATE_HZ = 48000
LONGEST_S, SHORTEST_S = 6.0, 0.4
AUDIBLE_DB = 70.0
"""A partial is followed until it is so far under the loudest."""
LEVEL_RMS = 0.09
MATCHED_S = 0.4
"""Strokes are matched in the energy of their first 0.4 s."""
PEAK = 0.89
FADE_S = 0.03
WIRES_LOW_HZ, WIRES_HIGH_HZ = 2200.0, 9000.0
"""Band in which wires rattle; assumed."""
WIRES_SHARE = 0.35
"""Level of the rattle under a medium stroke against the heads; assumed."""
WIRES_T60_S = 0.35
SEED = 20261125


@dataclass(frozen=True, eq=False)
class Sound:
    """One channel of sound.

    Attributes
    ----------
    samples : (N,) from -1 to 1
    rate_hz : samples a second
    approximate : True if part of it is more a likeness than a computation
    """

    samples: FloatArray
    rate_hz: int
    approximate: bool

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return len(self.samples) / self.rate_hz


def lines_of(
    found: Prediction, stroke: Stroke
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """Frequency in hertz, decay in neper a second, amplitude, and how much faster it falls at first
    by flow through holes, of every line that sounds, (L,).

    Notes
    -----
    Sound pressure far away goes with the radiated power: amplitude^2 is energy times decay rate
    times the share of it that is radiation (theory eq. 32). Relative phases of different partials
    at a listener are not predicted; all begin as sines, which is how a short blow starts them.
    """
    p = found.partials
    if found.lines is None:
        omega = 2.0 * np.pi * p.frequency_hz + 1j * decay_rate(p.t60_s)
        here = strikes(p, stroke.place)
        index = np.arange(len(p))
    else:
        omega, here = found.lines.omega.ravel(), found.lines.here.ravel()
        index = np.repeat(np.arange(len(p)), 2)
    push = pulse_on(p, stroke).spectrum(omega.real)
    energy = 0.5 * np.abs(here * push) ** 2
    whole = decay_rate(p.t60_s)[index]
    sounding = p.radiated_share[index] * whole  # muffling adds loss, not sound
    amplitude = np.sqrt(energy * np.maximum(sounding, 0.0)) * np.sign(here.real * push + 1e-300)
    heard = np.abs(amplitude) > 10.0 ** (-AUDIBLE_DB / 20.0) * np.abs(amplitude).max()
    flow = flow_rates(p, energies_j(p, stroke, found.lines))[index]
    return omega.real[heard] / (2.0 * np.pi), omega.imag[heard], amplitude[heard], flow[heard]


def render(
    found: Prediction,
    stroke: Stroke | None = None,
    wires: bool = False,
    rate_hz: int = RATE_HZ,
) -> Sound:
    """The sound of a stroke on a predicted drum.

    Parameters
    ----------
    wires : add the rattle of snare wires, a likeness only

    Raises
    ------
    InputError
        If nothing of the drum sounds.
    """
    check_range(rate_hz, 8000, 192000, "Sample rate", "Hz")
    blow = stroke or Stroke()
    hz, decay, amplitude, flow = lines_of(found, blow)
    if len(hz) == 0:
        raise InputError("Nothing of this drum sounds from that stroke.", "Move the beater.")
    quiet = np.log(10.0 ** (AUDIBLE_DB / 20.0) * np.abs(amplitude) / np.abs(amplitude).max())
    length = float(np.clip(np.max(np.maximum(quiet, 0.1) / decay), SHORTEST_S, LONGEST_S))
    time = np.arange(int(length * rate_hz)) / rate_hz
    samples = np.zeros(len(time))
    for f, d, a, taken in zip(hz, decay, amplitude, flow, strict=True):
        if f < 0.45 * rate_hz:
            loud = a * fall(np.array([d]), np.array([taken]), time)[0]
            samples += loud * np.sin(2.0 * np.pi * f * time)
    if wires:
        samples = samples + _rattle(found, blow, time, rate_hz, float(np.abs(samples).max()))
    samples *= edges(len(time), rate_hz, pulse_on(found.partials, blow).tip_s)
    return Sound(matched(samples, rate_hz), rate_hz, wires)


def matched(samples: FloatArray, rate_hz: int) -> FloatArray:
    """Samples at the level all strokes are compared at, never clipped."""
    early = samples[: int(MATCHED_S * rate_hz)]
    rms = float(np.sqrt(np.mean(early**2)))
    gain = LEVEL_RMS / max(rms, 1e-12)
    peak = float(np.abs(samples).max()) * gain
    out: FloatArray = samples * (gain * min(1.0, PEAK / peak))
    return out


def match_all(sounds: list[Sound]) -> list[Sound]:
    """The same strokes at one level: that of the quietest after the peak limit."""
    levels = [float(np.sqrt(np.mean(s.samples[: int(MATCHED_S * s.rate_hz)] ** 2))) for s in sounds]
    common = min(levels)
    return [
        Sound(s.samples * (common / level), s.rate_hz, s.approximate)
        for s, level in zip(sounds, levels, strict=True)
    ]


def edges(count: int, rate_hz: int, rise_s: float) -> FloatArray:
    """A shape (N,): in with the blow, out before the end: no click on either side."""
    shape = np.ones(count)
    rise = min(max(2, int(rise_s * rate_hz)), count // 2)
    shape[:rise] = np.sin(0.5 * np.pi * np.arange(rise) / rise) ** 2
    fall = min(int(FADE_S * rate_hz), count // 2)
    shape[-fall:] *= np.cos(0.5 * np.pi * (np.arange(fall) + 1) / fall) ** 2
    return shape


def _rattle(
    found: Prediction, stroke: Stroke, time: FloatArray, rate_hz: int, level: float
) -> FloatArray:
    """A likeness of snare wires: noise, let through while the resonant head drives them away.

    What moves them is the resonant head across its middle: partials without or with one nodal
    diameter, by the share of their energy on that head.
    """
    from scipy.signal import butter, sosfilt

    p = found.partials
    moving = (p.order <= 1) & (p.batter_share < 0.98)
    speed = np.abs(strikes(p, stroke.place)) * np.sqrt(1.0 - p.batter_share)
    push = np.zeros(len(time))
    for index in np.flatnonzero(moving):
        decay = float(decay_rate(p.t60_s)[index])
        wave = np.sin(2.0 * np.pi * float(p.frequency_hz[index]) * time)
        push += float(speed[index]) * np.exp(-decay * time) * wave
    push /= max(float(np.abs(push).max()), 1e-30)
    noise = np.random.default_rng(SEED).standard_normal(len(time))
    high = min(WIRES_HIGH_HZ, 0.45 * rate_hz)
    band = butter(2, (WIRES_LOW_HZ, high), "bandpass", fs=rate_hz, output="sos")
    shaped = sosfilt(band, noise) * np.sqrt(np.maximum(push, 0.0))
    shaped *= np.exp(-6.9 / WIRES_T60_S * time)
    out: FloatArray = WIRES_SHARE * level * shaped / max(float(np.abs(shaped).max()), 1e-30)
    return out
