"""The note of a stroke on a whole drum, apart from which line is which partial (theory 109)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray, IndexArray
from kesselton.core.clearing.tap_sound import reduced
from kesselton.core.constants import CENTS_PER_NEPER, SIGMAS_90
from kesselton.core.pitch import cents_between

LOWEST_HZ, HIGHEST_HZ, HIGH_HZ = 22.0, 600.0, 800.0
"""Where a note may be, and what is listened to."""
LOOKS_S = ((0.30, 1.0), (0.12, 0.5), (0.06, 0.3))
"""When a stroke is looked at, the latest first: what is loud then is the note, and is at rest."""
SHORTEST_S, PERIODS = 0.16, 6.0
LONGEST_S = 1.6
STRONG_DB = 16.0
"""Under the loudest that still sounds; a note lies no lower (72 of 72 recorded toms)."""
STANDS_OUT_DB = 14.0
"""Over what lies around it."""
SATELLITE_CENTS, SATELLITE_DB = 260.0, 6.0
"""Weaker neighbours so near are sides of a line that dies or glides."""
UNDER_OVER_PLAN = np.array([0.55, 3.5])
"""Over the plan: no note lies lower, and what lies higher does not say how loud a stroke is."""
ALIKE_CENTS = 60.0
"""So near each other strokes say the same note."""
SAME_CENTS = 90.0
"""A line glides so far from one look to the next, at most."""
WEIGHTS = np.array([-4.47, 1.59, -0.34, 0.11, -0.82, -1.65, -1.34, 0.9])
"""Of `features`, learned from recorded strokes (`benchmarks/recorded/confidence.py`)."""
SURE, SURE_FAR = 0.6, 0.85
"""From which confidence a note is told: about where the plan has it, and elsewhere."""
NEAR_CENTS = 240.0
"""So far a real drum may stand off its plan; farther, the note is told as not near the plan."""
LOUDER_DB = 6.0
HUM_HZ, HUM_OFF_HZ, HUM_FALLS_DB, HUM_OVERTONES = (50.0, 60.0), 0.7, 2.0, 8
EARLY_S, FIRST_S, FIRST_FOR_S = 0.05, 0.02, 0.1
LATE_FROM_S, OVER_FLOOR_DB, DEEP_DB = 0.12, 6.0, 28.0
NARROW, WIDE = 6.5, 3.0
"""Filters about the note, in periods of it."""
LONGEST_T60_S, SHORTEST_T60_S = 12.0, 0.06
DRIFTS, SDS, LEAST_CENTS = 0.4, 1.5, 2.0
INDEPENDENT = 10.0
"""What makes up the doubt of a pitch, so that it holds nine times in ten on recorded strokes."""


@dataclass(frozen=True)
class Note:
    """What a stroke says of the drum's fundamental.

    Attributes
    ----------
    hz, half_cents : once it has settled, and how far that may be off nine times in ten
    early_hz : 50 ms after the stroke
    t60_s, first_t60_s : of what rings on, and of the first tenth of a second; NaN where not told
    near : whether it stands about where the plan has it; True where there is no plan
    confidence : how likely it is the fundamental
    """

    hz: float
    half_cents: float
    early_hz: float
    t60_s: float
    first_t60_s: float
    near: bool
    confidence: float


class _Look(NamedTuple):
    """A spectrum of a part of a stroke: its peaks, Hz and dB under the loudest one, how far each
    stands out, and how far it has fallen in the second half."""

    hz: FloatArray
    level_db: FloatArray
    out_db: FloatArray
    fallen_db: FloatArray


def note_of_stroke(stroke: FloatArray, rate_hz: float, plan_hz: float | None) -> Note | None:
    """The note of one stroke that begins with the sound (N,); None where none is to be told.

    Parameters
    ----------
    plan_hz : where the fundamental is to be expected

    Notes
    -----
    The lowest strong line that still sounds after a while is the fundamental: 71 of 72 recorded
    strokes on toms (theory 109). A plan tells how high to look, and whether the drum is as it is
    thought to be.
    """
    x, rate = reduced(stroke, rate_hz, 0, HIGH_HZ, LONGEST_S)
    rings = _rings_s(x, rate)
    least = max(SHORTEST_S, PERIODS / (plan_hz or math.inf))
    spans = [(begin, min(end, rings)) for begin, end in LOOKS_S if min(end, rings) - begin >= least]
    looks = [_without_hum(_look(x, rate, *span), plan_hz) for span in spans]
    for number, (span, look) in enumerate(zip(spans, looks, strict=True)):
        found = _chosen(look, plan_hz)
        if found is not None:
            at, near = found
            others = [one for i, one in enumerate(looks) if i != number]
            confidence = _confidence(look, at, near, others, span, plan_hz)
            if confidence < (SURE if near else SURE_FAR):
                return None
            return _measured(x, rate, float(look.hz[at]), span, near, confidence)
    return None


def pooled_note(notes: Sequence[Note]) -> Note | None:
    """What several strokes on one drum say together: those that agree with most of them; None where
    fewer than half do."""
    if not notes:
        return None
    middle = float(np.median([one.hz for one in notes]))
    alike = [one for one in notes if abs(cents_between(middle, one.hz)) < ALIKE_CENTS]
    if 2 * len(alike) <= len(notes) and len(notes) > 1:
        return None
    if len(alike) == 1:
        return alike[0]
    weight = np.array([1.0 / one.half_cents**2 for one in alike])
    weight /= weight.sum()
    hz = math.exp(float(weight @ np.log([one.hz for one in alike])))
    spread = float(np.std([cents_between(hz, one.hz) for one in alike], ddof=1))
    stated = min(one.half_cents for one in alike)
    early = float(np.median([one.early_hz / one.hz for one in alike]))
    return Note(
        hz,
        max(SIGMAS_90 * spread / math.sqrt(len(alike)), stated / math.sqrt(len(alike))),
        hz * early,
        _middle([one.t60_s for one in alike]),
        _middle([one.first_t60_s for one in alike]),
        2 * sum(one.near for one in alike) >= len(alike),
        max(one.confidence for one in alike),
    )


def _middle(seconds: Sequence[float]) -> float:
    """Median of those that were told."""
    told = [one for one in seconds if not math.isnan(one)]
    return float(np.median(told)) if told else math.nan


def _rings_s(x: FloatArray, rate: float) -> float:
    """Seconds until a stroke is lost in what is there at its end."""
    block = max(int(0.03 * rate), 1)
    many = len(x) // block
    if many < 4:
        return len(x) / rate
    power = (x[: many * block] ** 2).reshape(many, block).mean(axis=1)
    floor = float(np.mean(power[-max(many // 8, 2) :]))
    over = np.flatnonzero(power > 1.5 * floor)
    last = int(over[-1]) + 2 if len(over) else many
    return min(last * block, len(x)) / rate


def _look(x: FloatArray, rate: float, begin: float, end: float) -> _Look:
    part = x[int(begin * rate) : int(end * rate)]
    half = len(part) // 2
    size = 1 << max(14, (8 * len(part) - 1).bit_length())
    hz: FloatArray = np.fft.rfftfreq(size, 1.0 / rate).astype(float)
    level = _spectrum_db(part, size)
    inside = (hz > LOWEST_HZ) & (hz < HIGHEST_HZ)
    inner = level[1:-1]
    top = np.flatnonzero((inner > level[:-2]) & (inner >= level[2:]) & inside[1:-1]) + 1
    halves = [_spectrum_db(one, size)[top] for one in (part[:half], part[half : 2 * half])]
    around = np.array([np.median(level[(hz > f / 1.6) & (hz < f * 1.6)]) for f in hz[top].tolist()])
    loudest = float(level[top].max()) if len(top) else 0.0
    return _Look(hz[top], level[top] - loudest, level[top] - around, halves[0] - halves[1])


def _spectrum_db(part: FloatArray, size: int) -> FloatArray:
    windowed = (part - part.mean()) * np.hanning(len(part))
    out: FloatArray = 10.0 * np.log10(np.abs(np.fft.rfft(windowed, size)) ** 2 + 1e-20)
    return out


def _without_hum(look: _Look, plan_hz: float | None) -> _Look:
    """What may be of the drum, levels under the loudest of that."""
    hz = look.hz
    low, high = (LOWEST_HZ, HIGHEST_HZ) if plan_hz is None else UNDER_OVER_PLAN * plan_hz
    may = (hz > low) & (hz < high) & ~(_hum(hz) & (look.fallen_db < HUM_FALLS_DB))
    kept = _Look(*(one[may] for one in look))
    if not may.any():
        return kept
    return kept._replace(level_db=kept.level_db - kept.level_db.max())


def _strong(look: _Look) -> IndexArray:
    """Peaks that may be the note, by frequency."""
    hz, level = look.hz, look.level_db
    strong = (level > -STRONG_DB) & (look.out_db > STANDS_OUT_DB)
    for i in np.flatnonzero(strong).tolist():
        apart = np.abs(CENTS_PER_NEPER * np.log(hz / hz[i]))
        strong[i] = not np.any((apart < SATELLITE_CENTS) & (level > level[i] + SATELLITE_DB))
    return np.flatnonzero(strong)


def _chosen(look: _Look, plan_hz: float | None) -> tuple[int, bool] | None:
    """Which peak is the note, and whether it is near the plan; None where that is open."""
    hz, level = look.hz, look.level_db
    at = _strong(look)
    if len(at) == 0:
        return None
    lowest = int(at[0])
    if plan_hz is None:
        return lowest, True
    near = at[np.abs(CENTS_PER_NEPER * np.log(hz[at] / plan_hz)) < NEAR_CENTS]
    if len(near):
        loudest = int(near[np.argmax(level[near])])
        if level[loudest] > level[lowest] + LOUDER_DB:
            return loudest, True
        if lowest not in near:
            return None
    return lowest, bool(lowest in near)


def _confidence(
    look: _Look,
    at: int,
    near: bool,
    others: Sequence[_Look],
    span: tuple[float, float],
    plan_hz: float | None,
) -> float:
    """How likely a peak is the fundamental: learned from recorded strokes of some kits, with plans
    that are off, noise and other drums (`benchmarks/recorded/confidence.py`)."""
    odds = float(WEIGHTS @ features(look, at, near, others, span, plan_hz))
    return 1.0 / (1.0 + math.exp(-odds))


def features(
    look: _Look,
    at: int,
    near: bool,
    others: Sequence[_Look],
    span: tuple[float, float],
    plan_hz: float | None,
) -> FloatArray:
    """What tells whether a peak is the note (8,): one; how far it stands out; how loud it is among
    all, in the other looks, and against what lies lower; how far off the plan it is, and whether
    that is not near; how late the look is."""
    hz = float(look.hz[at])
    seen = []
    for one in others:
        there = np.abs(CENTS_PER_NEPER * np.log(one.hz / hz)) < SAME_CENTS
        seen.append(float(np.max(one.level_db[there], initial=-40.0)))
    off = 0.0 if plan_hz is None else abs(cents_between(plan_hz, hz))
    lower = look.level_db[look.hz < hz * 0.86]
    return np.array(
        [
            1.0,
            float(look.out_db[at]) / 10.0,
            float(look.level_db[at]) / 10.0,
            min(seen, default=-20.0) / 10.0,
            (float(np.max(lower, initial=-40.0)) - float(look.level_db[at])) / 10.0,
            min(off, NEAR_CENTS) / 100.0,
            0.0 if near else 1.0,
            span[0] * 5.0,
        ]
    )


def _hum(hz: FloatArray) -> BoolArray:
    """Which peaks stand where mains hum."""
    off = [np.abs(hz - base * np.maximum(np.rint(hz / base), 1.0)) for base in HUM_HZ]
    out: BoolArray = (np.min(off, axis=0) < HUM_OFF_HZ) & (hz < HUM_HZ[0] * HUM_OVERTONES)
    return out


def _measured(
    x: FloatArray, rate: float, hz: float, look: tuple[float, float], near: bool, confidence: float
) -> Note:
    """Pitch and decay of the line about `hz`."""
    narrow = _brought_down(x, rate, hz, NARROW / hz)
    wide = _brought_down(x, rate, hz, WIDE / hz)
    begin, end = (int(one * rate) for one in look)
    at_rest, sd = _at_rest(narrow[min(begin, int(LATE_FROM_S * rate)) : end], rate)
    late = _slope_hz(narrow[begin:end], rate)
    settled = hz + at_rest
    drift = CENTS_PER_NEPER * abs(late - at_rest) / hz
    span = int(max(0.02, 1.5 / hz) * rate)
    at = max(int(EARLY_S * rate), span)
    early = hz + _slope_hz(wide[at - span : at + span + 1], rate)
    late, of_first = _decays(narrow, wide, rate)
    half = math.hypot(DRIFTS * drift, SDS * CENTS_PER_NEPER * sd / hz, LEAST_CENTS)
    return Note(settled, half, max(early, settled), late, of_first, near, confidence)


def _brought_down(x: FloatArray, rate: float, hz: float, long_s: float) -> ComplexArray:
    """The band about a pitch, brought down to zero (N,), by a Hann window of that length."""
    time = np.arange(len(x)) / rate
    kernel = np.hanning(max(int(long_s * rate), 3) | 1)
    return np.convolve(x * np.exp(-2j * np.pi * hz * time), kernel / kernel.sum(), "same")


def _at_rest(part: ComplexArray, rate: float) -> tuple[float, float]:
    """Where a line comes to rest and how well that is told (sd), Hz from where it was brought down:
    it stands above by the square of how far it swings (theory eq. 20), and no more than it did."""
    turn = part[1:] * part[:-1].conj()
    hz = np.angle(turn) * rate / (2.0 * math.pi)
    power = np.abs(turn)
    weight = np.sqrt(power)
    square = power / power.max()
    columns = np.stack((np.ones(len(hz)), square), axis=1)
    moment = columns.T @ (weight[:, None] * columns)
    rest, slope = np.linalg.solve(moment, columns.T @ (weight * hz))
    if slope < 0.0:  # it beats with a neighbor
        rest = float(np.average(hz, weights=weight))
        slope = 0.0
    off = hz - rest - slope * square
    spread = float(np.average(off**2, weights=weight))
    return float(rest), math.sqrt(spread / INDEPENDENT)


def _slope_hz(part: ComplexArray, rate: float) -> float:
    """Mean turn of a line, weighted by its power."""
    turn = np.sum(part[1:] * part[:-1].conj())
    return float(np.angle(turn)) * rate / (2.0 * math.pi)


def _decays(narrow: ComplexArray, wide: ComplexArray, rate: float) -> tuple[float, float]:
    """T60 of what rings on, by a straight line through its level until it nears the floor, and of
    the first tenth of a second."""
    level = 20.0 * np.log10(np.abs(narrow) + 1e-12)
    block = max(int(0.04 * rate), 1)
    many = len(level) // block
    blocks = level[: many * block].reshape(many, block).mean(axis=1)
    floor = float(blocks[-max(many // 6, 2) : -1].min()) if many > 4 else -math.inf
    over = np.flatnonzero(blocks > floor + OVER_FLOOR_DB)
    upto = (int(over[-1]) + 1) * block if len(over) else len(level)
    begin = int(min(LATE_FROM_S, 0.3 * upto / rate) * rate)
    deep = np.flatnonzero(blocks[begin // block :] < blocks[begin // block] - DEEP_DB)
    if len(deep):
        upto = min(upto, begin + (int(deep[0]) + 1) * block)
    first = int(FIRST_S * rate)
    early = 20.0 * np.log10(np.abs(wide) + 1e-12)[first : first + int(FIRST_FOR_S * rate)]
    return _t60(level[begin:upto], rate), _t60(early, rate)


def _t60(level_db: FloatArray, rate: float) -> float:
    """Of a straight line through a level; NaN where it does not fall."""
    if len(level_db) < 8:
        return math.nan
    slope = float(np.polyfit(np.arange(len(level_db)) / rate, level_db, 1)[0])
    t60 = -60.0 / slope if slope < 0.0 else math.inf
    return t60 if SHORTEST_T60_S < t60 < LONGEST_T60_S else math.nan
