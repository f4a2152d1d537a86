"""Strokes on whole drums by a maker of their own, and what is heard of them.

The maker knows nothing of bands or poles: a drum drawn from everything unstated is solved, every
partial split into its pair, and a phase run through in time with the glide each has; a room, another
drum, hum and the hiss of a microphone lie over it. What there truly was is kept beside it.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from benchmarks.sweep import draw
from benchmarks.taps2 import RATE_HZ
from kesselton.core.acoustics.lug import tensions
from kesselton.core.acoustics.partials import Partials, partials
from kesselton.core.errors import KesseltonError
from kesselton.core.hearing.matching import match
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.prediction.stroke import pulse_on, strikes

SECONDS, BEGINS_S = 2.0, 0.06
HIGHEST_HZ = 1500.0
COUNTS_DB, COUNTS_S = -30.0, 0.06


@dataclass(frozen=True, eq=False)
class MadeStroke:
    """Samples, and every line there is in them: hertz at rest, T60, level, partial or -1."""

    samples: np.ndarray
    hz: np.ndarray
    t60_s: np.ndarray
    level_db: np.ndarray
    partial: np.ndarray
    drum: Drum
    found: Partials
    stroke: Stroke


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
            turned = 2.0 * np.pi * hz * (ring + np.expm1(sharp[i] / 1731.0) * run)
            part = strength * np.sqrt(share) * np.exp(-own * ring)
            sound += part * np.sin(turned + rng.uniform(0.0, 6.28)) * (ring > 0.0)
            energy = strength**2 * share * -np.expm1(-0.4 * own) / own
            kept.append((hz, np.log(1000.0) / own, energy, i))
    level = float(np.sqrt(np.mean(sound[ring > 0.0] ** 2)))
    loud = max(k[2] for k in kept)
    if rng.random() < 0.3:  # another drum of the set answers
        hz = float(rng.uniform(60.0, 400.0))
        t60 = float(rng.uniform(0.6, 2.0))
        amount = level * 10.0 ** (-rng.uniform(6.0, 20.0) / 20.0)
        grown = -np.expm1(-ring / 0.01)
        sound += amount * grown * np.exp(-6.9 / t60 * ring) * np.sin(2.0 * np.pi * hz * ring)
        kept.append((hz, t60, amount**2 * -np.expm1(-0.4 * 6.9 / t60) / (6.9 / t60), -1))
    beater = 0.5 * (1 - np.cos(np.pi * np.minimum(ring / 0.006, 1.0)))  # it is driven, not let go
    sound *= beater
    click = rng.standard_normal(len(ring)) * np.exp(-ring / 0.0015) * (ring > 0.0)
    sound += rng.uniform(0.1, 1.0) * level * click
    tail = rng.standard_normal(int(0.5 * RATE_HZ))
    tail *= np.exp(-np.arange(len(tail)) / RATE_HZ * 6.9 / rng.uniform(0.2, 0.5))
    wet = np.fft.irfft(np.fft.rfft(sound, 1 << 18) * np.fft.rfft(tail, 1 << 18))[: len(sound)]
    wet *= level / np.sqrt(np.mean(wet**2)) * 10.0 ** (-rng.uniform(30.0, 40.0) / 20.0)
    hum = level * 10.0 ** (-rng.uniform(35.0, 55.0) / 20.0)
    noise = rng.standard_normal(len(sound)) * level * 10.0 ** (-rng.uniform(36.0, 56.0) / 20.0)
    sound = sound + wet + noise + hum * np.sin(2.0 * np.pi * 50.0 * np.arange(len(sound)) / RATE_HZ)
    hz, t60, energy, number = (np.array(v) for v in zip(*_apart(kept), strict=True))
    order = np.argsort(hz)
    db = 10.0 * np.log10(np.maximum(energy / loud, 1e-12))
    return MadeStroke(
        0.5 * sound / np.abs(sound).max(), hz[order], t60[order], db[order], number[order], drum,
        found, stroke,
    )  # fmt: skip


def _apart(lines: list[tuple[float, float, float, int]]) -> list[tuple[float, float, float, int]]:
    """Lines nearer than half of their own width (d / pi hertz) are one to any ear: as one."""
    out: list[tuple[float, float, float, int]] = []
    for hz, t60, energy, number in sorted(lines):
        if out:
            last, ring, loud, _ = out[-1]
            width = 6.9 / np.pi * 0.5 * (1.0 / t60 + 1.0 / ring)
            if hz - last < 0.5 * width:
                all_ = loud + energy
                share = energy / all_
                number = number if share > 0.5 else out[-1][3]
                middle = last + share * (hz - last)
                out[-1] = (middle, ring * (1 - share) + t60 * share, all_, number)
                continue
        out.append((hz, t60, energy, number))
    return out


@dataclass
class Tally:
    """What was there, what was found, and how well."""

    there: int = 0
    found: int = 0
    rang: int = 0
    false: int = 0
    said: int = 0


def heard_of(
    made: MadeStroke, lines: list[tuple[float, float, float]], tally: Tally
) -> list[float]:
    """Count one stroke; cents of those that were found."""
    off = []
    hz = np.array([line[0] for line in lines])
    counts = (made.level_db > COUNTS_DB) & (made.t60_s >= COUNTS_S) & (made.hz > 30.0)
    for i in np.flatnonzero(counts):
        tally.there += 1
        cents = 1200.0 * np.log2(hz / made.hz[i]) if len(hz) else np.array([1e9])
        best = int(np.argmin(np.abs(cents)))
        if abs(cents[best]) <= 4.0:
            tally.found += 1
            off.append(float(abs(cents[best])))
            tally.rang += abs(np.log(lines[best][1] / made.t60_s[i])) < np.log(1.15)
    for f, _, db in lines:
        if db < COUNTS_DB:
            continue
        tally.said += 1
        near = np.abs(1200.0 * np.log2(made.hz / f)) < 25.0
        near &= made.level_db > -55.0
        tally.false += not (near.any() or abs(f - 50.0) < 1.0)
    return off


def hear_figures() -> list[tuple[str, float, str, str, float]]:
    """What is heard of 200 strokes, against the loudest peaks of a spectrum taken as lines."""
    tally, off, took = hear_tally(200, 7000)
    plain, rough, _ = hear_tally(200, 7000, _peaks)
    share, other = 100.0 * tally.found / tally.there, 100.0 * plain.found / plain.there
    told, other_one = wrong_matches(200, 7000)
    peaks = "peaks of the spectrum"
    wrong = 100.0 * tally.false / max(tally.said, 1)
    rang = 100.0 * tally.rang / max(tally.found, 1)
    return [
        ("hear_found_percent", share, "%", peaks, share / max(other, 1e-9)),
        ("hear_median_cents", off, "cents", peaks, rough / off),
        ("hear_false_percent", wrong, "%", "2 %", 2.0 / max(wrong, 1e-9)),
        ("hear_t60_percent", rang, "%", "all found", rang / 100.0),
        ("hear_told_percent", told, "%", "all lines", told / 100.0),
        ("hear_wrong_match_percent", other_one, "%", "1 %", 1.0 / max(other_one, 1e-9)),
        ("hear_ms", took, "ms", "150 ms", 150.0 / took),
    ]


def wrong_matches(many: int, first: int) -> tuple[float, float]:
    """Of lines laid beside a plan that is off by 4 % of each tension, a tenth in place: how many are
    told to be a partial, and how many of these are another, both in per cent.

    A partial is told by its nodal diameters and its place among those of so many: names of two
    lines that cross change sides, what they are does not.
    """
    lines = told = wrong = 0
    for seed in range(first, first + many):
        made = one_stroke(seed)
        try:
            found = off_plan(made, np.random.default_rng([seed, 77]), 0.04)
            heard = hear_strokes(made.samples, RATE_HZ)[0].lines
        except KesseltonError:
            continue
        for line, one in zip(heard, match(heard, found).matches, strict=True):
            lines += 1
            if one.partial is None:
                continue
            told += 1
            wrong += is_another(made, line.hz, found, one.partial)
    return 100.0 * told / max(lines, 1), 100.0 * wrong / max(told, 1)


def off_plan(made: MadeStroke, rng: np.random.Generator, off: float) -> Prediction:
    """What is expected of a stroke by a plan that is `off` in each tension (ln, one standard
    deviation), and a tenth of the radius in the place.

    Raises
    ------
    KesseltonError
        If such a drum cannot be solved.
    """
    plan = made.drum
    for side, tension in zip(plan.sides, tensions(plan), strict=True):
        other = tension * float(np.exp(rng.normal(0.0, off)))
        plan = plan.with_setting(side, plan.setting(side).at_tension(other))
    place = float(np.clip(made.stroke.place + rng.normal(0.0, 0.1), 0.0, 0.9))
    return predict(plan, Stroke(place, made.stroke.beater, 1.0))


def is_another(made: MadeStroke, hz: float, found: Prediction, partial: int) -> bool:
    """Whether a line at `hz` is not what the plan calls a partial, in nothing that can be heard."""
    near = np.abs(1200.0 * np.log2(made.hz / hz)) < 25.0
    near &= (made.level_db > -45.0) & (made.partial >= 0)
    there = {_kind(made.found, int(one)) for one in made.partial[near]}
    return _kind(found.partials, partial) not in there


def _kind(p: Partials, index: int) -> tuple[int, int]:
    same = p.frequency_hz[p.order == p.order[index]]
    return int(p.order[index]), int(np.sum(same < p.frequency_hz[index]))


def _peaks(samples: np.ndarray) -> list[tuple[float, float, float]]:
    start = int((BEGINS_S + 0.012) * RATE_HZ)
    part = samples[start : start + RATE_HZ]
    power = np.abs(np.fft.rfft(part * np.hanning(len(part)), 1 << 18)) ** 2
    step = RATE_HZ / (1 << 18)
    top = np.flatnonzero((power[1:-1] > power[:-2]) & (power[1:-1] > power[2:])) + 1
    db = 10.0 * np.log10(power[top] / power.max())
    near = (db > -36.0) & (top * step < HIGHEST_HZ)
    return [(float(t * step), 0.5, float(d)) for t, d in zip(top[near], db[near], strict=True)]


def _lines(samples: np.ndarray) -> list[tuple[float, float, float]]:
    return [(x.hz, x.t60_s, x.level_db) for x in hear_strokes(samples, RATE_HZ)[0].lines]


def hear_tally(
    many: int, first: int, how: Callable[[np.ndarray], list[tuple[float, float, float]]] = _lines
) -> tuple[Tally, float, float]:
    """Tally, median cents off, median milliseconds a stroke."""
    tally, off, took = Tally(), [], []
    for seed in range(first, first + many):
        made = one_stroke(seed)
        begin = time.perf_counter()
        try:
            lines = how(made.samples)
        except KesseltonError:
            lines = []
        took.append(time.perf_counter() - begin)
        off += heard_of(made, lines, tally)
    return tally, float(np.median(off)), 1e3 * float(np.median(took))
