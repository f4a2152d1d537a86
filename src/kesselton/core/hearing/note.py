"""The note of a stroke on a whole drum, apart from which line is which partial (theory 109)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.taps.late_sound import (
    HIGH_HZ,
    HIGHEST_HZ,
    LONGEST_S,
    LOOKS_S,
    LOWEST_HZ,
    Look,
    Settled,
    look_at,
    rings_s,
    settled,
    strong_in,
    without_hum,
)
from kesselton.core.clear.taps.tap_sound import reduced
from kesselton.core.constants import CENTS_PER_NEPER, SIGMAS_90
from kesselton.core.pitch import cents_between

SHORTEST_S, PERIODS = 0.16, 6.0
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
DRIFTS, SDS, LEAST_CENTS = 0.4, 1.5, 2.0
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
    rings = rings_s(x, rate)
    least = max(SHORTEST_S, PERIODS / (plan_hz or math.inf))
    around = (LOWEST_HZ, HIGHEST_HZ) if plan_hz is None else UNDER_OVER_PLAN * plan_hz
    spans = [(begin, min(end, rings)) for begin, end in LOOKS_S if min(end, rings) - begin >= least]
    looks = [without_hum(look_at(x, rate, *span), *around) for span in spans]
    for number, (span, look) in enumerate(zip(spans, looks, strict=True)):
        result = _chosen(look, plan_hz)
        if result is not None:
            at, near = result
            others = [look for i, look in enumerate(looks) if i != number]
            confidence = sure_of(features(look, at, near, others, span, plan_hz))
            if confidence < (SURE if near else SURE_FAR):
                return None
            return _told(settled(x, rate, float(look.hz[at]), span), near, confidence)
    return None


def _told(line: Settled, near: bool, confidence: float) -> Note:
    noise = SDS * CENTS_PER_NEPER * line.sd_hz / line.hz
    half = math.hypot(DRIFTS * line.drift_cents, noise, LEAST_CENTS)
    return Note(line.hz, half, line.early_hz, line.t60_s, line.first_t60_s, near, confidence)


def pooled_note(notes: Sequence[Note]) -> Note | None:
    """What several strokes on one drum say together: those that agree with most of them; None where
    fewer than half do."""
    if not notes:
        return None
    middle = float(np.median([note.hz for note in notes]))
    alike = [note for note in notes if abs(cents_between(middle, note.hz)) < ALIKE_CENTS]
    if 2 * len(alike) <= len(notes) and len(notes) > 1:
        return None
    if len(alike) == 1:
        return alike[0]
    weight = np.array([1.0 / note.half_cents**2 for note in alike])
    weight /= weight.sum()
    hz = math.exp(float(weight @ np.log([note.hz for note in alike])))
    spread = float(np.std([cents_between(hz, note.hz) for note in alike], ddof=1))
    stated = min(note.half_cents for note in alike)
    early = float(np.median([note.early_hz / note.hz for note in alike]))
    return Note(
        hz,
        max(SIGMAS_90 * spread / math.sqrt(len(alike)), stated / math.sqrt(len(alike))),
        hz * early,
        _middle([note.t60_s for note in alike]),
        _middle([note.first_t60_s for note in alike]),
        2 * sum(note.near for note in alike) >= len(alike),
        max(note.confidence for note in alike),
    )


def _middle(seconds: Sequence[float]) -> float:
    """Median of those that were told."""
    results = [second for second in seconds if not math.isnan(second)]
    return float(np.median(results)) if results else math.nan


def _chosen(look: Look, plan_hz: float | None) -> tuple[int, bool] | None:
    """Which peak is the note, and whether it is near the plan; None where that is open."""
    hz, level = look.hz, look.level_db
    at = strong_in(look)
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


def sure_of(values: FloatArray) -> float:
    """How likely a peak is the fundamental, by its `features`; learned from recorded strokes, with
    plans that are off, noise and other drums (`benchmarks/recorded/confidence.py`)."""
    return 1.0 / (1.0 + math.exp(-float(WEIGHTS @ values)))


def features(
    look: Look,
    at: int,
    near: bool,
    others: Sequence[Look],
    span: tuple[float, float],
    plan_hz: float | None,
) -> FloatArray:
    """What tells whether a peak is the note (8,): one; how far it stands out; how loud it is among
    all, in the other looks, and against what lies lower; how far off the plan it is, and whether
    that is not near; how late the look is."""
    hz = float(look.hz[at])
    seen = []
    for other in others:
        there = np.abs(CENTS_PER_NEPER * np.log(other.hz / hz)) < SAME_CENTS
        seen.append(float(np.max(other.level_db[there], initial=-40.0)))
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
