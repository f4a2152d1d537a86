"""A stroke as a near microphone in a room gets it (theory 111)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.acoustics.solver.partials import decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.constants import AUDIBLE_DECAY_NEPER, CENTS_PER_NEPER
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.beater import Stroke
from kesselton.core.language import _
from kesselton.core.prediction.glide import AIR_KG_PER_M3, glide_cents
from kesselton.core.prediction.port_flow import fall, flow_rates
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.render import (
    LONGEST_S,
    MATCHED_S,
    RATE_HZ,
    SEED,
    SHORTEST_S,
    Sound,
    edges,
    lying_wires,
    matched,
    rattle,
)
from kesselton.core.prediction.stroke import LISTENER_M, energies_j, pulse_on, strikes
from kesselton.core.prediction.wires import Lying, response_touch

OVER_M, PLACE = 0.04, 0.5
"""Where a near microphone stands over the batter head, and how far out: common practice, no
published source (two fingers to a hand over it); of those tried nearest to recorded strokes."""
AROUND = math.sqrt(0.5)
"""What a microphone anywhere around the head gets of a partial with nodal diameters."""
SPLIT = 0.012
"""How far the two lines of such a partial stand apart on a head that is cleared (20 cents; assumed,
from recorded strokes)."""
SPLIT_SPREAD_LN = 0.4
ROOM_T60_S, ROOM_DB, ROOM_AFTER_S = 0.5, -8.0, 0.004
"""A room of middle size, not damped: its answer under the stroke, in energy of the first 0.4 s.
Assumed, from recorded strokes."""
AUDIBLE_DB = 75.0
SOUND_M_PER_S = 343.0
FLATTEST_PER_M = 1.0


def close_stroke(
    prediction: Prediction,
    stroke: Stroke | None = None,
    wires: bool = False,
    rate_hz: int = RATE_HZ,
    ring: float = 1.0,
) -> Sound:
    """The sound of a stroke on a predicted drum at the level all strokes are compared at.

    Parameters
    ----------
    wires : with its snare wires on: the rattle is a likeness only
    ring : how many times as long the fundamental rings as computed, where that was heard

    Raises
    ------
    InputError
        If nothing of the drum sounds, or there are no wires to be on.
    """
    check_range(rate_hz, 8000, 192000, _("Sample rate"), "Hz")
    blow = stroke or Stroke()
    on = lying_wires(prediction) if wires else None
    near = _dry(prediction, blow, on, rate_hz, ring)
    return Sound(matched(_in_room(near, rate_hz), rate_hz), rate_hz, wires)


def gains(prediction: Prediction) -> FloatArray:
    """Pressure in pascal at a near microphone by every partial that moves with unit modal velocity,
    (P,).

    Notes
    -----
    Two parts, their powers added. What is radiated: rho c P / (4 pi r^2) at 1 m. What stays about
    the head: with bending waves of number k_h = omega / (T/sigma)^(1/2) slower than sound, pressure
    over the head is rho omega v e^(-kappa h) / kappa, kappa^2 = k_h^2 - (omega/c)^2 (L. Cremer, M.
    Heckl, Structure-Borne Sound, chapter 6, from memory).
    """
    p = prediction.partials
    omega = 2.0 * np.pi * p.frequency_hz
    sent = 2.0 * decay_rate(p.t60_s) * np.maximum(p.radiated_share, 0.0) * 0.5
    far2 = 2.0 * AIR_KG_PER_M3 * SOUND_M_PER_S * sent / (4.0 * np.pi * LISTENER_M**2)
    end = p.system.ends[0]
    slow = math.sqrt(end.tension_n_per_m / prediction.drum.batter.head.base_density_kg_per_m2)
    shape = np.abs(strikes(p, PLACE)) * np.where(p.order > 0, AROUND, 1.0)
    out: FloatArray = np.sqrt(far2 + (shape * standing(omega, slow, OVER_M)) ** 2)
    return out


def standing(omega: FloatArray, wave_m_per_s: float, over_m: float) -> FloatArray:
    """Pascal over a head of unit velocity whose waves are slower than sound: what does not get away
    (see `gains`)."""
    kappa2 = (omega / wave_m_per_s) ** 2 - (omega / SOUND_M_PER_S) ** 2
    kappa = np.sqrt(np.maximum(kappa2, FLATTEST_PER_M**2))
    out: FloatArray = AIR_KG_PER_M3 * omega * np.exp(-kappa * over_m) / kappa
    return out


def _lines(
    prediction: Prediction, stroke: Stroke, on: Lying | None
) -> tuple[ComplexArray, FloatArray, IndexArray]:
    """Complex frequency, pressure as it begins, and the partial of every line, (L,)."""
    p, gain = prediction.partials, gains(prediction)
    pulse = pulse_on(p, stroke)
    if (
        on is not None
        and prediction.lines is None
        and response_touch(prediction, on, stroke) > stroke.touch
    ):
        omega = on.omega.real
        here = strikes(p, stroke.place).real[on.index] @ on.mix
        reach = np.sqrt(gain[on.index] ** 2 @ on.mix**2)
        return on.omega, stroke.impulse_ns * reach * here * pulse.spectrum(omega), on.index
    if prediction.lines is not None:
        omega_, here_ = prediction.lines.omega.ravel(), prediction.lines.here.ravel().real
        index = np.repeat(np.arange(len(p)), 2)
    else:
        omega_, here_, index = _split(prediction, strikes(p, stroke.place).real)
    push = stroke.impulse_ns * pulse.spectrum(omega_.real)
    return omega_, gain[index] * here_ * push, index


def _split(prediction: Prediction, here: FloatArray) -> tuple[ComplexArray, FloatArray, IndexArray]:
    """Every partial with nodal diameters as the two lines that a cleared head still makes of it."""
    p = prediction.partials
    omega = 2.0 * np.pi * p.frequency_hz + 1j * decay_rate(p.t60_s)
    rng = np.random.default_rng(SEED)
    apart = SPLIT * np.exp(rng.normal(0.0, SPLIT_SPREAD_LN, len(p))) * (p.order > 0)
    turned = np.where(p.order > 0, rng.uniform(0.0, 0.5 * np.pi, len(p)), 0.0)
    both = np.stack((omega - 0.5 * apart * omega.real, omega + 0.5 * apart * omega.real))
    share = np.stack((here * np.cos(turned), here * np.sin(turned)))
    there = np.abs(share) > 0.0
    index = np.broadcast_to(np.arange(len(p)), there.shape)
    return both[there], share[there], index[there]


def _dry(
    prediction: Prediction, stroke: Stroke, on: Lying | None, rate_hz: int, ring: float
) -> FloatArray:
    """Pressure (N,) at the microphone without the room."""
    p = prediction.partials
    omega, loud, index = _lines(prediction, stroke, on)
    loudest = float(np.abs(loud).max(initial=0.0))
    heard = np.abs(loud) > loudest * 10.0 ** (-AUDIBLE_DB / 20.0)
    heard &= omega.real < 0.9 * math.pi * rate_hz
    if not heard.any():
        raise InputError(_("Nothing of this drum sounds from that stroke."), _("Move the beater."))
    omega, loud, index = omega[heard], loud[heard], index[heard]
    decay = np.where(index == p.fundamental, omega.imag / ring, omega.imag)
    reach = AUDIBLE_DB / 20.0 * math.log(10.0) + np.log(np.abs(loud) / loudest)
    length = float(np.clip(np.max(np.maximum(reach, 0.1) / decay), SHORTEST_S, LONGEST_S))
    time = np.arange(int(length * rate_hz)) / rate_hz
    sharp = np.expm1(glide_cents(p, stroke, lines=prediction.lines) / CENTS_PER_NEPER)[index]
    slower = 2.0 * AUDIBLE_DECAY_NEPER / (ring * float(p.t60_s[p.fundamental]))
    run = -np.expm1(-slower * time) / slower
    flow = flow_rates(p, energies_j(p, stroke, prediction.lines))[index]
    out = np.zeros(len(time))
    phase = np.random.default_rng(SEED).uniform(0.0, 2.0 * np.pi, len(p))
    phase[p.order == 0] = 0.0
    for at in range(len(omega)):
        until = int(np.clip(max(float(reach[at]), 0.1) / decay[at] * rate_hz, 1, len(time)))
        early = time[:until]
        turn = omega.real[at] * (early + sharp[at] * run[:until]) + phase[index[at]]
        line = loud[at] * np.exp(-decay[at] * early) * np.sin(turn)
        if flow[at] > 0.0:
            taken = fall(decay[at : at + 1], flow[at : at + 1], early)[0]
            line *= taken * np.exp(decay[at] * early)
        out[:until] += line
    blow = attack(prediction, stroke, rate_hz)[: len(out)]
    out[: len(blow)] += blow
    if on is not None:
        out = out + rattle(prediction, on, stroke, time, rate_hz, float(np.abs(out).max()))
    shaped: FloatArray = out * edges(len(out), rate_hz, pulse_on(p, stroke).tip_s)
    return shaped


def attack(prediction: Prediction, stroke: Stroke, rate_hz: int) -> FloatArray:
    """Pressure of the blow itself above the partials that were computed, (N,) pascal.

    Notes
    -----
    A force F on a head far under coincidence radiates as the volume it accelerates, F / sigma,
    whatever the waves do that run away from it: p = rho F / (2 pi r sigma) (Cremer and Heckl, as
    above: near field of a point force). Below the highest partial that is in them already.
    """
    from scipy.signal import butter, sosfilt

    p = prediction.partials
    pulse = pulse_on(p, stroke)
    many = int(4.0 * float(np.max(pulse.push_s)) * rate_hz) + 64
    force = (1.0 - pulse.front) * _half_sine(float(np.median(pulse.push_s)), many, rate_hz)
    force += pulse.front * _half_sine(pulse.tip_s, many, rate_hz)
    sigma = prediction.drum.batter.head.base_density_kg_per_m2
    away = math.hypot(OVER_M, p.system.radius_m * math.hypot(PLACE, stroke.place))
    over = AIR_KG_PER_M3 * stroke.impulse_ns / (2.0 * np.pi * away * sigma) * force
    low = min(0.6 * float(p.frequency_hz.max()), 0.4 * rate_hz)
    out: FloatArray = np.asarray(
        sosfilt(butter(2, low, "highpass", fs=rate_hz, output="sos"), over)
    )
    return out


def _half_sine(seconds: float, many: int, rate_hz: int) -> FloatArray:
    """Half a sine of unit area, (N,) 1/s."""
    count = min(max(int(seconds * rate_hz), 2), many)
    out = np.zeros(many)
    wave = np.sin(np.pi * (np.arange(count) + 0.5) / count)
    out[:count] = wave / wave.sum() * rate_hz
    return out


def _in_room(dry: FloatArray, rate_hz: int) -> FloatArray:
    """With the answer of a room: noise that dies away, no echo of its own."""
    from scipy.signal import fftconvolve

    time = np.arange(int(1.2 * ROOM_T60_S * rate_hz)) / rate_hz
    tail = np.random.default_rng(SEED).standard_normal(len(time))
    tail *= np.exp(-AUDIBLE_DECAY_NEPER * time / ROOM_T60_S) * (time > ROOM_AFTER_S)
    wet = np.asarray(fftconvolve(dry, tail))[: len(dry)]
    early = slice(0, int(MATCHED_S * rate_hz))
    level, answer = (float(np.sqrt(np.mean(x[early] ** 2))) for x in (dry, wet))
    out: FloatArray = dry + wet * (level / max(answer, 1e-30)) * 10.0 ** (ROOM_DB / 20.0)
    return out * edges(len(out), rate_hz, 2.0 / rate_hz)
