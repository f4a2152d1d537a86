"""Strokes on whole drums by a maker of their own.

The maker knows nothing of bands or poles: a drum drawn from everything unstated is solved, every
partial split into its pair, and a phase run through in time with the glide each has; a room, another
drum, hum and the hiss of a microphone lie over it. What there truly was is kept beside it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from benchmarks.sweep import draw
from benchmarks.taps2 import RATE_HZ
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import Partials, partials
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.stroke import pulse_on, strikes

SECONDS, BEGINS_S = 2.0, 0.06
HIGHEST_HZ = 1500.0


@dataclass(frozen=True)
class PutIn:
    """One line as it was put in: hertz at rest, T60, energy, partial or -1, amplitude and phase as
    it begins, the share it glides by."""

    hz: float
    t60_s: float
    energy: float
    partial: int
    amplitude: float
    phase: float
    glide: float


@dataclass(frozen=True, eq=False)
class MadeStroke:
    """Samples, and every line there is in them: hertz at rest, T60, level, partial or -1, and which
    of those put in it is made of; and what lies over them."""

    samples: np.ndarray
    hz: np.ndarray
    t60_s: np.ndarray
    level_db: np.ndarray
    partial: np.ndarray
    made_of: tuple[tuple[int, ...], ...]
    put_in: tuple[PutIn, ...]
    disturbed: Disturbance
    drum: Drum
    found: Partials
    stroke: Stroke


@dataclass(frozen=True, eq=False)
class Disturbance:
    """What a stroke is heard through: itself without room and noise (N,), amplitude of the noise of
    a sample, of the room's as it begins, the room's own T60, and how fast the glide comes to rest,
    1/s."""

    dry: np.ndarray
    noise: float
    room: float
    room_t60_s: float
    glide_rate: float


def one_stroke(seed: int) -> MadeStroke:
    """A stroke with both heads free."""
    rng = np.random.default_rng([seed, 17])
    while True:
        drum = draw(rng)
        if drum.mufflers:
            continue
        try:
            found = partials(drum, tensions(drum), HIGHEST_HZ)
            if not 40.0 < found.frequency_hz[found.fundamental] < 400.0:
                continue
            break
        except KesseltonError:
            continue
    place = float(rng.uniform(0.0, 0.8))
    stroke = Stroke(place, TYPICAL_BEATER[drum.kind], float(rng.uniform(0.2, 1.2)))
    push = pulse_on(found, stroke).spectrum(2.0 * np.pi * found.frequency_hz)
    here = np.abs(strikes(found, place)) * push
    there = np.abs(strikes(found, float(rng.uniform(0.2, 0.9)))) ** 0.5
    sharp = np.minimum(glide_cents(found, stroke), 120.0) * rng.uniform(0.3, 1.0)
    ring = np.maximum(np.arange(int(SECONDS * RATE_HZ)) / RATE_HZ - BEGINS_S, 0.0)
    sound = np.zeros(len(ring))
    kept = []
    slowest = np.log(1000.0) / found.t60_s[found.fundamental]
    fall_off = np.exp(-2.0 * slowest * ring)
    run = np.cumsum(fall_off) / RATE_HZ
    run = (run - run[int(BEGINS_S * RATE_HZ)]) * (ring > 0.0)
    for i in range(len(found)):
        strength = here[i] * there[i] * found.frequency_hz[i] * np.sqrt(found.radiated_share[i])
        fall = np.log(1000.0) / found.t60_s[i]
        gap = rng.uniform(0.004, 0.07) if found.order[i] and rng.random() < 0.85 else 0.0
        shares = rng.dirichlet((1.5, 1.5)) if gap else (1.0,)
        for half, share in zip((-0.5, 0.5), shares, strict=False):
            hz = found.frequency_hz[i] * (1.0 + half * gap)
            own = fall * float(np.exp(rng.normal(0.0, 0.08)))
            glide = float(np.expm1(sharp[i] / 1731.0))
            turned = 2.0 * np.pi * hz * (ring + glide * run)
            part = strength * np.sqrt(share) * np.exp(-own * ring)
            phase = float(rng.uniform(0.0, 6.28))
            sound += part * np.sin(turned + phase) * (ring > 0.0)
            energy = strength**2 * share * -np.expm1(-0.4 * own) / own
            amplitude = strength * float(np.sqrt(share))
            kept.append(PutIn(hz, np.log(1000.0) / own, energy, i, amplitude, phase, glide))
    level = float(np.sqrt(np.mean(sound[ring > 0.0] ** 2)))
    loud = max(line.energy for line in kept)
    if rng.random() < 0.3:  # another drum of the set answers
        hz = float(rng.uniform(60.0, 400.0))
        t60 = float(rng.uniform(0.6, 2.0))
        amount = level * 10.0 ** (-rng.uniform(6.0, 20.0) / 20.0)
        grown = -np.expm1(-ring / 0.01)
        sound += amount * grown * np.exp(-6.9 / t60 * ring) * np.sin(2.0 * np.pi * hz * ring)
        energy = amount**2 * -np.expm1(-0.4 * 6.9 / t60) / (6.9 / t60)
        kept.append(PutIn(hz, t60, energy, -1, amount, 0.0, 0.0))
    beater = 0.5 * (1 - np.cos(np.pi * np.minimum(ring / 0.006, 1.0)))  # it is driven, not let go
    sound *= beater
    click = rng.standard_normal(len(ring)) * np.exp(-ring / 0.0015) * (ring > 0.0)
    sound += rng.uniform(0.1, 1.0) * level * click
    tail = rng.standard_normal(int(0.5 * RATE_HZ))
    room_t60 = float(rng.uniform(0.2, 0.5))
    tail *= np.exp(-np.arange(len(tail)) / RATE_HZ * 6.9 / room_t60)
    wet = np.fft.irfft(np.fft.rfft(sound, 1 << 18) * np.fft.rfft(tail, 1 << 18))[: len(sound)]
    room = level / np.sqrt(np.mean(wet**2)) * 10.0 ** (-rng.uniform(30.0, 40.0) / 20.0)
    wet *= room
    hum = level * 10.0 ** (-rng.uniform(35.0, 55.0) / 20.0)
    noise = rng.standard_normal(len(sound))
    amount = level * 10.0 ** (-rng.uniform(36.0, 56.0) / 20.0)
    disturbed = Disturbance(sound, amount, float(room), room_t60, 2.0 * float(slowest))
    noise *= amount
    sound = sound + wet + noise + hum * np.sin(2.0 * np.pi * 50.0 * np.arange(len(sound)) / RATE_HZ)
    kept.sort(key=lambda line: (line.hz, line.t60_s))
    groups = _apart(kept)
    energies = np.array([sum(kept[i].energy for i in group) for group in groups])
    return MadeStroke(
        samples=0.5 * sound / np.abs(sound).max(),
        hz=np.array([_mean(kept, group, "hz") for group in groups]),
        t60_s=np.array([_mean(kept, group, "t60_s") for group in groups]),
        level_db=10.0 * np.log10(np.maximum(energies / loud, 1e-12)),
        partial=np.array(
            [max((kept[i] for i in group), key=energy_of).partial for group in groups]
        ),
        made_of=groups,
        put_in=tuple(kept),
        disturbed=disturbed,
        drum=drum,
        found=found,
        stroke=stroke,
    )


def energy_of(line: PutIn) -> float:
    return line.energy


def _mean(lines: list[PutIn], group: tuple[int, ...], what: str) -> float:
    weight = [lines[i].energy + 1e-300 for i in group]
    return float(np.average([getattr(lines[i], what) for i in group], weights=weight))


def _apart(lines: list[PutIn]) -> tuple[tuple[int, ...], ...]:
    """Lines by frequency, those nearer than half of their own width (d / pi hertz), which are one to
    any ear, in one group."""
    out: list[tuple[int, ...]] = []
    for number, line in enumerate(lines):
        if out:
            last, ring = (_mean(lines, out[-1], what) for what in ("hz", "t60_s"))
            width = 6.9 / np.pi * 0.5 * (1.0 / line.t60_s + 1.0 / ring)
            if line.hz - last < 0.5 * width:
                out[-1] += (number,)
                continue
        out.append((number,))
    return tuple(out)
