"""The predicted stroke as sound: every partial a decaying line, wires as an approximate rattle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.partials import decay_rate
from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.beater import Stroke
from kesselton.core.language import _
from kesselton.core.prediction.port_flow import fall, flow_rates
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import energies_j, pulse_on, strikes
from kesselton.core.prediction.wires import Lying, lying, response_touch, struck_acceleration

RATE_HZ = 48000
LONGEST_S, SHORTEST_S = 6.0, 0.4
AUDIBLE_DB = 70.0
"""A partial is followed until it is so far under the loudest."""
GONE_DB = 90.0
"""A line is left out once it is so far under the loudest one's beginning."""
BLOCK = 256
LEVEL_RMS = 0.09
MATCHED_S = 0.4
"""Strokes are matched in the energy of their first 0.4 s."""
PEAK = 0.89
FADE_S = 0.03
WIRES_LOW_HZ, WIRES_HIGH_HZ = 2200.0, 9000.0
"""Band in which wires rattle; assumed."""
WIRES_SHARE = 0.35
"""Level of the rattle of wires that are thrown far, against the heads; assumed."""
WIRES_RATE_HZ, WIRES_S = 8000.0, 0.6
"""How finely, and for how long, it is looked whether the head throws them."""
CHATTER_S = 0.012
"""In which a strand that was thrown comes to rest; assumed."""
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
    prediction: Prediction, stroke: Stroke
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """Frequency in hertz, decay in neper a second, amplitude, and how much faster it falls at first
    by flow through holes, of every line that sounds, (L,).

    Notes
    -----
    Sound pressure far away goes with the radiated power: amplitude^2 is energy times decay rate
    times the share of it that is radiation (theory eq. 32). Relative phases of different partials
    at a listener are not predicted; all begin as sines, which is how a short blow starts them.
    """
    p = prediction.partials
    if prediction.lines is None:
        omega = 2.0 * np.pi * p.frequency_hz + 1j * decay_rate(p.t60_s)
        here = strikes(p, stroke.place)
        index = np.arange(len(p))
    else:
        omega, here = prediction.lines.omega.ravel(), prediction.lines.here.ravel()
        index = np.repeat(np.arange(len(p)), 2)
    push = pulse_on(p, stroke).spectrum(omega.real)
    energy = 0.5 * np.abs(here * push) ** 2
    whole = decay_rate(p.t60_s)[index]
    sounding = p.radiated_share[index] * whole  # muffling adds loss, not sound
    amplitude = np.sqrt(energy * np.maximum(sounding, 0.0)) * np.sign(here.real * push + 1e-300)
    heard = np.abs(amplitude) > 10.0 ** (-AUDIBLE_DB / 20.0) * np.abs(amplitude).max()
    flow = flow_rates(p, energies_j(p, stroke, prediction.lines))[index]
    return omega.real[heard] / (2.0 * np.pi), omega.imag[heard], amplitude[heard], flow[heard]


def render(
    prediction: Prediction,
    stroke: Stroke | None = None,
    wires: bool = False,
    rate_hz: int = RATE_HZ,
) -> Sound:
    """The sound of a stroke on a predicted drum, at the level all strokes are compared at.

    Parameters
    ----------
    wires : with its snare wires on: the rattle is a likeness only

    Raises
    ------
    InputError
        If nothing of the drum sounds, or there are no wires to be on.
    """
    return Sound(
        matched(strike_samples(prediction, stroke, wires, rate_hz), rate_hz), rate_hz, wires
    )


def strike_samples(
    prediction: Prediction,
    stroke: Stroke | None = None,
    wires: bool = False,
    rate_hz: int = RATE_HZ,
) -> FloatArray:
    """The same in a scale that all drums share: square root of the power that is sent, (N,).

    Notes
    -----
    With wires on, a stroke too soft to throw them sounds the head as they load it.
    """
    check_range(rate_hz, 8000, 192000, _("Sample rate"), "Hz")
    blow = stroke or Stroke()
    on = lying_wires(prediction) if wires else None
    hz, decay, amplitude, flow = sounding(prediction, blow, on)
    amplitude = blow.impulse_ns * amplitude
    if len(hz) == 0:
        raise InputError(_("That stroke excites no partial of this drum."), _("Move the beater."))
    quiet = np.log(10.0 ** (AUDIBLE_DB / 20.0) * np.abs(amplitude) / np.abs(amplitude).max())
    length = float(np.clip(np.max(np.maximum(quiet, 0.1) / decay), SHORTEST_S, LONGEST_S))
    time = np.arange(int(length * rate_hz)) / rate_hz
    samples = np.zeros(len(time))
    gone = np.log(10.0 ** (GONE_DB / 20.0) * np.abs(amplitude) / np.abs(amplitude).max()) / decay
    for f, d, a, taken, until in zip(hz, decay, amplitude, flow, gone, strict=True):
        if f < 0.45 * rate_hz:
            count = int(np.clip(until * rate_hz, 1, len(time)))
            line = a * _decaying_sine(f, d, count, rate_hz)
            if taken > 0.0:
                early = time[:count]
                line *= fall(np.array([d]), np.array([taken]), early)[0] * np.exp(d * early)
            samples[:count] += line
    if on is not None:
        samples = samples + rattle(
            prediction, on, blow, time, rate_hz, float(np.abs(samples).max())
        )
    samples *= edges(len(time), rate_hz, pulse_on(prediction.partials, blow).tip_s)
    return samples


def _decaying_sine(hz: float, decay: float, count: int, rate_hz: int) -> FloatArray:
    """exp(-d t) sin(2 pi f t) at `count` samples: a block turned on from one start to the next."""
    step = (2j * np.pi * hz - decay) / rate_hz
    block = np.exp(step * np.arange(BLOCK))
    starts = np.exp(step * BLOCK * np.arange(-(-count // BLOCK)))
    out: FloatArray = np.multiply.outer(starts, block).imag.ravel()[:count]
    return out


def lying_wires(prediction: Prediction) -> Lying:
    """The wires of a drum on its head, be the strainer on or off.

    Raises
    ------
    InputError
        If the drum has none.
    """
    laid = prediction.drum.laid_wires
    if laid is None:
        raise InputError(
            _("{name!r} has no snare wires.").format(name=prediction.drum.name),
            _("Play it without wires."),
            "wires",
        )
    return lying(prediction.partials, laid)


def sounding(
    prediction: Prediction, stroke: Stroke, on: Lying | None
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """`lines_of` what sounds: of the head as wires load it, where the stroke is too soft to throw
    them off."""
    if (
        on is None
        or prediction.lines is not None
        or response_touch(prediction, on, stroke) <= stroke.touch
    ):
        return lines_of(prediction, stroke)
    hz, decay, amplitude = _loaded_lines(prediction, on, stroke)
    return hz, decay, amplitude, np.zeros(len(hz))


def _loaded_lines(
    prediction: Prediction, on: Lying, stroke: Stroke
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Frequency, decay and amplitude of the motions with the wires lying on."""
    p = prediction.partials
    omega = on.omega.real
    here = strikes(p, stroke.place).real[on.index] @ on.mix
    push = here * pulse_on(p, stroke).spectrum(omega)
    sent = decay_rate(p.t60_s)[on.index] * p.radiated_share[on.index]
    amplitude = np.sqrt(0.5 * np.maximum(sent @ on.mix**2, 0.0)) * push
    heard = np.abs(amplitude) > 10.0 ** (-AUDIBLE_DB / 20.0) * np.abs(amplitude).max()
    return omega[heard] / (2.0 * np.pi), on.omega.imag[heard], amplitude[heard]


def matched(samples: FloatArray, rate_hz: int) -> FloatArray:
    """Samples at the level all strokes are compared at, never clipped."""
    early = samples[: int(MATCHED_S * rate_hz)]
    rms = float(np.sqrt(np.mean(early**2)))
    gain = LEVEL_RMS / max(rms, 1e-12)
    peak = float(np.abs(samples).max()) * gain
    out: FloatArray = samples * (gain * min(1.0, PEAK / peak))
    return out


def match_all(sounds: list[Sound]) -> list[Sound]:
    """The same strokes at one level: that of the quietest after the peak limit. One that is silent
    at first stays as it is."""
    levels = [float(np.sqrt(np.mean(s.samples[: int(MATCHED_S * s.rate_hz)] ** 2))) for s in sounds]
    common = min((level for level in levels if level > 0.0), default=0.0)
    return [
        Sound(s.samples * (common / level), s.rate_hz, s.approximate) if level > 0.0 else s
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


def rattle(
    prediction: Prediction,
    on: Lying,
    stroke: Stroke,
    time: FloatArray,
    rate_hz: int,
    level: float,
) -> FloatArray:
    """(N,) a likeness of snare wires: noise, let through while the head throws them, as loud as it
    goes beyond what lifts them."""
    from scipy.signal import butter, sosfilt

    looked = np.arange(0.0, min(WIRES_S, float(time[-1])), 1.0 / WIRES_RATE_HZ)
    away = np.abs(struck_acceleration(prediction.partials, on, stroke, looked)).max(axis=0)
    leaves = max(on.leaves_m_per_s2, 1e-3)
    thrown = np.log1p(np.maximum(away / leaves - 1.0, 0.0))
    held = np.exp(-1.0 / (CHATTER_S * WIRES_RATE_HZ))
    for place in range(1, len(thrown)):
        thrown[place] = max(thrown[place], held * thrown[place - 1])
    if not thrown.any():
        return np.zeros(len(time))
    noise = np.random.default_rng(SEED).standard_normal(len(time))
    high = min(WIRES_HIGH_HZ, 0.45 * rate_hz)
    band = butter(2, (WIRES_LOW_HZ, high), "bandpass", fs=rate_hz, output="sos")
    through = np.interp(time, looked, thrown, right=0.0)
    shaped = sosfilt(band, noise) * through
    far = float(thrown.max()) / (1.0 + float(thrown.max()))
    out: FloatArray = WIRES_SHARE * far * level * shaped / max(float(np.abs(shaped).max()), 1e-30)
    return out
