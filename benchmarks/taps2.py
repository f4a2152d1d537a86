"""A second maker of taps, which shares nothing with the detector or the first one.

A drum of the store is drawn, one head of it solved with the other under a cushion, and struck near a
rod: every partial starts as its shape at that place and the pulse of the stick say, in two lines
where the head is not quite even, and is heard by a telephone held over the head in a room, with what
other drums ring on. Seeded.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, sosfilt

from benchmarks.sweep import draw
from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.solver.lug import (
    ONE_DIAMETER,
    _muted_system,
    lug_pitch,
    tap_tones,
    tensions,
)
from kesselton.core.acoustics.solver.modes import Roots, solve
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.clear.taps.tap_naming import Tones
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum

RATE_HZ = 48000
ORDERS = (0, 1, 2, 3, 4, 5, 6)
HIGHEST_HZ = 2600.0
FROM_EDGE_M = 0.025
SECONDS, BEGINS_S = 1.2, 0.15
LOWEST_LUG_HZ, HIGHEST_LUG_HZ = 60.0, 420.0
TENSION_DOUBT = 0.17
"""How far off the tension is that the program has of a drum, ln, one standard deviation."""


@dataclass(frozen=True, eq=False)
class MadeTap:
    """Samples, the middle of the (1,1) pair, and what the program would expect of this drum."""

    samples: np.ndarray
    hz: float
    near_hz: float
    tones: Tones
    drum: Drum


def one_tap(seed: int) -> MadeTap:
    """A tap of a drum whose other head is muted."""
    rng = np.random.default_rng([seed, 2])
    while True:
        drum = draw(rng)
        if drum.mufflers or (drum.kind in ("bass", "concert_bass") and rng.random() < 0.5):
            continue
        try:
            true = tensions(drum)
            side = int(rng.integers(len(drum.sides)))
            system = _muted_system(drum, drum.sides[side], true[side], None, ORDERS)
            first = _first(drum, side, true[side])
            if not LOWEST_LUG_HZ < first < HIGHEST_LUG_HZ:
                continue
            top = min(2 * np.pi * min(HIGHEST_HZ, 7.0 * first), 0.9 * system.highest_omega)
            roots = solve(system, np.full(len(ORDERS), top))
            guess = true[side] * float(np.exp(rng.normal(0.0, TENSION_DOUBT)))
            tones = Tones.of(*tap_tones(drum, drum.sides[side], guess))
        except KesseltonError:
            continue
        break
    radius = system.radius_m
    struck = 1.0 - FROM_EDGE_M / radius + rng.normal(0.0, 0.01)
    sound = _ring(rng, roots, radius, struck, first)
    middle = sound[1]
    samples = sound[0] + _others(rng, sound[0])
    samples = _room(rng, samples)
    samples = _telephone(rng, samples)
    return MadeTap(samples, middle, expected(rng, first), tones, drum)


def expected(rng: np.random.Generator, hz: float) -> float:
    """What the program would expect: three half steps either way."""
    return hz * 2.0 ** (float(np.clip(rng.normal(0.0, 1.5), -3.0, 3.0)) / 12.0)


def _first(drum: Drum, side: int, tension: float) -> float:
    system = _muted_system(drum, drum.sides[side], tension, None, ONE_DIAMETER)
    limit = np.sqrt(system.stiffness[0, 0] / system.film_mass[0, 0, 0])
    found = solve(system, np.array([min(limit, 0.9 * system.highest_omega)]), 2)
    return float(found.frequency_hz[np.argmax(np.abs(found.shape[:, 0]))])


def _pulse(rng: np.random.Generator, hz: np.ndarray) -> np.ndarray:
    """Of what taps near a rim: a key, a stick's tip, a finger; a push with a sharp front."""
    tip, push, front = [(0.0004, 0.0015, 0.3), (0.0006, 0.0028, 0.12), (0.0015, 0.005, 0.08)][
        int(rng.integers(3))
    ]

    def half_sine(length: float) -> np.ndarray:
        x = 2.0 * hz * length
        return np.cos(0.5 * np.pi * x) / (1.0 - x**2 + 1e-9)

    return np.abs(
        front * half_sine(tip) + (1 - front) * half_sine(push) * np.exp(-1j * np.pi * hz * push)
    )


def _ring(
    rng: np.random.Generator, roots: Roots, radius: float, struck: float, first: float
) -> tuple[np.ndarray, float]:
    """What the head gives, and the middle of its (1,1)."""
    time = np.arange(int(SECONDS * RATE_HZ)) / RATE_HZ - BEGINS_S
    on, ring = time >= 0.0, np.maximum(time, 0.0)
    sound = np.zeros(len(time))
    heard_at, height = rng.uniform(0.3, 0.95), rng.uniform(0.15, 0.7)
    around = rng.normal(0.0, 0.5)  # of the telephone, from over the rod
    touched = rng.random() < 0.7
    cushion = rng.uniform(0.3, 0.9)
    uneven = rng.uniform(0.0, 0.05) if rng.random() < 0.7 else rng.uniform(0.0, 0.085)
    glide = rng.uniform(0.0, 0.01) * (rng.random() < 0.5)
    push = _pulse(rng, roots.frequency_hz)
    middle = first
    for index, (row, hz) in enumerate(zip(roots.row, roots.frequency_hz, strict=True)):
        order = ORDERS[int(row)]
        basis = head_basis(order, roots.shape.shape[1] if roots.shape.shape[1] <= 16 else 12)
        count = len(basis.k)
        weight = roots.shape[index, :count].real
        here = float(basis.values(np.array(struck)) @ weight)
        there = float(basis.values(np.array(heard_at)) @ weight)
        # short waves of the head do not reach far: what is left at the telephone's height
        wave = 3.83 * hz / first
        near = np.exp(-height * np.sqrt(max(wave**2 - (2.0 * np.pi * hz * radius / 343.0) ** 2, 0)))
        t60 = float(roots.t60_s[index]) * cushion
        if order == 0 and touched:
            t60 *= 0.15
        if t60 < 0.01:
            continue
        strength = here * push[index] * (1.0 if order or not touched else 0.4)
        if abs(hz / first - 1.0) < 1e-3 and order == 1:
            gap, middle = uneven, float(hz)
        else:
            gap = uneven * rng.uniform(0.1, 0.8) if order else 0.0
        turn = rng.uniform(0.0, 2.0 * np.pi)
        for half, phase in ((-0.5, turn), (0.5, turn + 0.5 * np.pi)):
            if order == 0 and half > 0:
                continue
            own = np.cos(phase) * np.cos(phase - order * around) if order else 1.0
            f = hz * (1.0 + half * gap)
            turned = 2.0 * np.pi * f * (ring + glide * 0.05 * (1.0 - np.exp(-ring / 0.05)))
            line = np.exp(-np.log(1000.0) / t60 * ring) * np.sin(turned)
            sound += strength * there * near * own * line * on
    click = rng.standard_normal(len(time)) * np.exp(-ring / 0.0008) * on
    click = sosfilt(butter(2, 800.0, "highpass", fs=RATE_HZ, output="sos"), click)
    sound += rng.uniform(0.2, 2.0) * _rms(sound) * click
    return sound, middle


def _rms(sound: np.ndarray) -> float:
    start = int(BEGINS_S * RATE_HZ)
    return float(np.sqrt(np.mean(sound[start : start + int(0.15 * RATE_HZ)] ** 2))) + 1e-12


def _others(rng: np.random.Generator, sound: np.ndarray) -> np.ndarray:
    """Another drum of the set, set ringing by the tap."""
    if rng.random() > 0.3:
        return np.zeros(len(sound))
    while True:
        other = draw(rng)
        try:
            found = partials(other, tensions(other), lowest=4)
            break
        except KesseltonError:
            continue
    ring = np.maximum(np.arange(len(sound)) / RATE_HZ - BEGINS_S, 0.0)
    grown = 1.0 - np.exp(-ring / 0.02)
    level = _rms(sound) * 10.0 ** (-rng.uniform(14.0, 32.0) / 20.0)
    out = np.zeros(len(sound))
    for hz, t60 in zip(found.frequency_hz, found.t60_s, strict=True):
        out += rng.random() * np.exp(-6.9 / t60 * ring) * np.sin(2 * np.pi * hz * ring) * grown
    return level * out


def _room(rng: np.random.Generator, sound: np.ndarray) -> np.ndarray:
    out = sound.copy()
    for _ in range(6):
        late = int(rng.uniform(0.003, 0.03) * RATE_HZ)
        out[late:] += rng.choice([-1.0, 1.0]) * 10 ** (-rng.uniform(8, 24) / 20) * sound[:-late]
    tail = rng.standard_normal(int(0.4 * RATE_HZ)) * np.exp(
        -np.arange(int(0.4 * RATE_HZ)) / RATE_HZ * 6.9 / rng.uniform(0.2, 0.6)
    )
    wet = np.fft.irfft(np.fft.rfft(sound, 1 << 17) * np.fft.rfft(tail, 1 << 17))[: len(sound)]
    return out + 10 ** (-rng.uniform(20, 32) / 20) * wet * _rms(sound) / _rms(wet)


def _telephone(rng: np.random.Generator, sound: np.ndarray) -> np.ndarray:
    """Its microphone: no bass, a resonance, a limiter that gives a little, noise."""
    low = butter(2, rng.uniform(60.0, 140.0), "highpass", fs=RATE_HZ, output="sos")
    high = butter(4, rng.uniform(6000.0, 14000.0), "lowpass", fs=RATE_HZ, output="sos")
    out = sosfilt(high, sosfilt(low, sound))
    out = out / np.abs(out).max()
    out = np.tanh(rng.uniform(0.2, 0.9) * out)
    noise = rng.standard_normal(len(out))
    noise = sosfilt(butter(1, 1500.0, fs=RATE_HZ, output="sos"), noise) + 0.2 * noise
    noise *= _rms(out) / np.sqrt(np.mean(noise**2)) * 10 ** (-rng.uniform(14.0, 42.0) / 20.0)
    time = np.arange(len(out)) / RATE_HZ
    hum = _rms(out) * 10 ** (-rng.uniform(25.0, 50.0) / 20.0) * np.sin(2 * np.pi * 100.0 * time)
    out = out + noise + hum
    return 0.6 * out / np.abs(out).max()


def whole_stroke(seed: int) -> tuple[np.ndarray, Drum]:
    """A stroke on a whole drum, both heads free: what no lug pitch can be taken from."""
    rng = np.random.default_rng([seed, 3])
    while True:
        drum = draw(rng)
        if drum.mufflers or drum.kind in ("bass", "concert_bass"):
            continue
        try:
            found = partials(drum, tensions(drum), 1800.0)
            break
        except KesseltonError:
            continue
    from kesselton.core.instrument.beater import Stroke
    from kesselton.core.prediction.glide import glide_cents
    from kesselton.core.prediction.stroke import pulse_on, strikes

    stroke = Stroke(float(rng.uniform(0.0, 0.75)), "wood_tip", float(rng.uniform(0.3, 2.5)))
    here = np.abs(strikes(found, stroke.place)) * pulse_on(found, stroke).spectrum(
        2.0 * np.pi * found.frequency_hz
    )
    heard = here * np.abs(strikes(found, float(rng.uniform(0.1, 0.9)))) * found.frequency_hz
    ring = np.maximum(np.arange(int(1.6 * RATE_HZ)) / RATE_HZ - BEGINS_S, 0.0)
    sharp = glide_cents(found, stroke)
    sound = np.zeros(len(ring))
    for i, (hz, t60) in enumerate(zip(found.frequency_hz, found.t60_s, strict=True)):
        fall = np.log(1000.0) / t60
        drop = float(sharp[i]) / 1731.0
        turned = 2 * np.pi * hz * (ring + drop * (1.0 - np.exp(-2 * fall * ring)) / (2 * fall))
        split = rng.uniform(0.0, 0.05) if found.order[i] else 0.0
        for half in (-0.5, 0.5):
            amount = heard[i] * rng.uniform(0.2, 1.0)
            sound += amount * np.exp(-fall * ring) * np.sin(turned * (1.0 + half * split))
    sound[ring == 0.0] = 0.0
    click = rng.standard_normal(len(ring)) * np.exp(-ring / 0.001) * (ring > 0.0)
    sound += rng.uniform(0.1, 1.0) * _rms(sound) * click
    return _telephone(rng, _room(rng, sound)), drum


def of_known(samples: np.ndarray, drum: Drum, seed: int) -> MadeTap | None:
    """A stroke on a whole drum taken for a tap on one of its heads, with what the program would
    expect of it; None where it has no other head, or no lug pitch that is looked for."""
    if drum.resonant is None:
        return None
    rng = np.random.default_rng([seed, 9])
    side = int(rng.integers(2))
    try:
        true = tensions(drum)
        hz = lug_pitch(drum, drum.sides[side], true)
        if not LOWEST_LUG_HZ < hz < HIGHEST_LUG_HZ:
            return None
        guess = true[side] * float(np.exp(rng.normal(0.0, TENSION_DOUBT)))
        tones = Tones.of(*tap_tones(drum, drum.sides[side], guess))
    except KesseltonError:
        return None
    return MadeTap(samples, hz, expected(rng, hz), tones, drum)
