"""What is heard of made strokes, beside what a perfect detector could hear and the peaks of a
spectrum."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from benchmarks.bound import bounds, within
from benchmarks.made_stroke import (
    BEGINS_S,
    HIGHEST_HZ,
    MadeStroke,
    PutIn,
    energy_of,
    one_stroke,
)
from benchmarks.taps2 import RATE_HZ
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import Partials
from kesselton.core.errors import KesseltonError
from kesselton.core.hearing.matching import match
from kesselton.core.hearing.pairs import paired, ring_of_both
from kesselton.core.hearing.stroke_lines import Pair, StrokeLine
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.instrument.beater import Stroke
from kesselton.core.prediction.prediction import Prediction, predict

COUNTS_DB, COUNTS_S = -30.0, 0.06
FOUND_CENTS = 4.0
SURE_CENTS, SURE_RING = 1.4, 0.07
"""Lines whose bounds are under that can be found by anybody who looks well."""


@dataclass
class Tally:
    """What was there, what was found, and how well; of lines that can be known well by the bound
    how many there are, were found, and told their ring; what the bound allows of all."""

    there: int = 0
    found: int = 0
    rang: int = 0
    false: int = 0
    said: int = 0
    sure: int = 0
    sure_found: int = 0
    sure_rang: int = 0
    allowed: float = 0.0


def heard_of(
    made: MadeStroke, lines: list[tuple[float, float, float]], tally: Tally
) -> list[float]:
    """Count one stroke; cents of those that were found."""
    off = []
    hz = np.array([line[0] for line in lines])
    counts = (made.level_db > COUNTS_DB) & (made.t60_s >= COUNTS_S) & (made.hz > 30.0)
    which = np.flatnonzero(counts)
    cents_sd, ring_sd = bounds(made, which)
    tally.allowed += float(within(cents_sd, FOUND_CENTS).sum())
    sure = (cents_sd < SURE_CENTS) & (ring_sd < SURE_RING)
    tally.sure += int(sure.sum())
    for i, is_sure in zip(which, sure, strict=True):
        tally.there += 1
        cents = 1200.0 * np.log2(hz / made.hz[i]) if len(hz) else np.array([1e9])
        best = int(np.argmin(np.abs(cents)))
        if abs(cents[best]) <= FOUND_CENTS:
            rang = abs(np.log(lines[best][1] / made.t60_s[i])) < np.log(1.15)
            tally.found += 1
            off.append(float(abs(cents[best])))
            tally.rang += rang
            tally.sure_found += is_sure
            tally.sure_rang += is_sure and rang
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
    allowed = 100.0 * tally.allowed / tally.there
    sure, well = tally.sure_found / tally.sure, tally.sure_rang / tally.sure_found
    pairs = pair_tally(200, 7000)
    return [
        ("hear_found_percent", share, "%", peaks, share / max(other, 1e-9)),
        ("hear_median_cents", off, "cents", peaks, rough / off),
        ("hear_false_percent", wrong, "%", "2 %", 2.0 / max(wrong, 1e-9)),
        ("hear_t60_percent", rang, "%", "all found", rang / 100.0),
        ("hear_told_percent", told, "%", "all lines", told / 100.0),
        ("hear_wrong_match_percent", other_one, "%", "1 %", 1.0 / max(other_one, 1e-9)),
        (
            "hear_bound_ratio",
            share / allowed,
            "",
            f"the bound allows {allowed:.1f} %",
            share / allowed,
        ),
        ("hear_sure_found_percent", 100.0 * sure, "%", "95 aimed at", sure / 0.95),
        ("hear_sure_t60_percent", 100.0 * well, "%", "90 aimed at", well / 0.9),
        ("hear_pair_true_percent", 100.0 * pairs.true, "%", f"all of {pairs.many}", pairs.true),
        ("hear_pair_beat_percent", 100.0 * pairs.beat, "%", "of those within a tenth", pairs.beat),
        ("hear_pair_t60_percent", 100.0 * pairs.ring, "%", "of those within 15 %", pairs.ring),
        ("hear_ms", took, "ms", "150 ms", 150.0 / took),
    ]


@dataclass(frozen=True)
class PairTally:
    """Pairs that were named; shares of them that are two lines, and of these whose beat is within a
    tenth and whose ring, of both together, within 15 %."""

    many: int
    true: float
    beat: float
    ring: float


def pair_tally(many: int, first: int) -> PairTally:
    """Pairs named in strokes, beside what was put in."""
    rows = []
    for seed in range(first, first + many):
        made_stroke = one_stroke(seed)
        try:
            lines = paired(hear_strokes(made_stroke.samples, RATE_HZ)[0].lines)
        except KesseltonError:
            continue
        for a, b in pairwise(lines):
            if a.pair is not None and a.pair is b.pair:
                rows.append(_pair_of(made_stroke, a, b, a.pair))
    true = [row for row in rows if row is not None]
    beat = float(np.mean([row[0] < 0.1 for row in true]))
    ring = float(np.mean([row[1] < np.log(1.15) for row in true]))
    return PairTally(len(rows), len(true) / len(rows), beat, ring)


def _pair_of(
    made: MadeStroke, a: StrokeLine, b: StrokeLine, pair: Pair
) -> tuple[float, float] | None:
    """How far off a pair's beat and ring are; None if there are no two lines."""
    put_in = [_loudest_near(made, line.hz) for line in (a, b)]
    if None in put_in or put_in[0] is put_in[1]:
        return None
    one, other = (
        StrokeLine(x.hz, 0.0, x.hz, x.t60_s, 0.0, 10.0 * float(np.log10(x.energy)))
        for x in put_in if x is not None
    )  # fmt: skip
    beat = abs(pair.split_hz / abs(one.hz - other.hz) - 1.0)
    return beat, abs(float(np.log(pair.t60_s / ring_of_both(one, other))))


def _loudest_near(made: MadeStroke, hz: float) -> PutIn | None:
    """Of what was put in the loudest within eight cents."""
    loud = 1e-4 * max(line.energy for line in made.put_in)
    near = [
        line for line in made.put_in
        if abs(1200.0 * np.log2(line.hz / hz)) < 8.0 and line.energy > loud
    ]  # fmt: skip
    return max(near, key=energy_of, default=None)


def wrong_matches(many: int, first: int) -> tuple[float, float]:
    """Of lines laid beside a plan that is off by 4 % of each tension, a tenth in place: how many are
    told to be a partial, and how many of these are another, both in per cent.

    A partial is told by its nodal diameters and its place among those of so many: names of two
    lines that cross change sides, what they are does not.
    """
    lines = told = wrong = 0
    for seed in range(first, first + many):
        made_stroke = one_stroke(seed)
        try:
            prediction = off_plan(made_stroke, np.random.default_rng([seed, 77]), 0.04)
            heard = hear_strokes(made_stroke.samples, RATE_HZ)[0].lines
        except KesseltonError:
            continue
        for line, one in zip(heard, match(heard, prediction).matches, strict=True):
            lines += 1
            if one.partial is None:
                continue
            told += 1
            wrong += is_another(made_stroke, line.hz, prediction, one.partial)
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
        made_stroke = one_stroke(seed)
        begin = time.perf_counter()
        try:
            lines = how(made_stroke.samples)
        except KesseltonError:
            lines = []
        took.append(time.perf_counter() - begin)
        off += heard_of(made_stroke, lines, tally)
    return tally, float(np.median(off)), 1e3 * float(np.median(took))
