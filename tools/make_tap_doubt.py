"""How far the naming of a tap is to be trusted, and whether it was none: learned from sounds.

    python -m tools.make_tap_doubt [unknown] [known]

writes core/data/tap_doubt.npz (the drum is not known: is the line named right), and where it is
known tap_right.npz (is a line of a tap its (1,1)) and tap_whole.npz (was the whole drum struck).
Taps and whole strokes of the second synthesiser with seeds below 5000, and taps of the first with
seeds from 200000 on; where the drum is known, more taps with seeds from 20000 and 50000 on, whole
strokes with seeds from 10000 on, from 30000 on those that were made for hearing, and taps of the
simulated bench, some beside a band. The second's from 5000 to 9999 and the first's from 3000 on are
for judging. Fitted on the second alone it refused half of the first's, and without the bench's some
of its heads could not be tapped at all. Half an hour and an hour on two cores; needs the packages
of ./run bench.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from typing import NamedTuple

import numpy as np
from benchmarks import taps, taps2
from benchmarks.made_stroke import one_stroke
from benchmarks.sweep import draw

from kesselton.app.bench.simulated_bench import BAND_S, HISS, TAP_RATE_HZ, band_noise
from kesselton.core.acoustics.solver.lug import tap_tones, tensions
from kesselton.core.clear.rim import rim_of
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.core.clear.taps.simulated_tap import tap_samples, tap_time
from kesselton.core.clear.taps.tap import lines_of_tap
from kesselton.core.clear.taps.tap_doubt import (
    RIGHT,
    UNKNOWN,
    WHOLE,
    evidence,
    evidence_known,
    terms,
)
from kesselton.core.clear.taps.tap_naming import (
    TYPICAL_TONES,
    Expected,
    Tones,
    name_each,
    name_lines,
)
from kesselton.core.clear.taps.tap_sound import checked, tap_start
from kesselton.core.data import table
from kesselton.core.errors import KesseltonError
from tools.forests import fitted, write

SEEDS, EVERY_WHOLE = range(5000), 3
OTHER_SEEDS = range(200000, 201200)
MORE_SEEDS = (*range(20000, 26000), *range(50000, 53500))
WHOLE_SEEDS, HEARD_SEEDS = range(10000, 15000), (*range(30000, 31300), *range(32000, 33000))
BENCH_SEEDS = range(300000, 301000)
UNEVEN, DAMPED, WITH_BAND, BAND_DB = 0.12, 0.7, 0.3, (10.0, 30.0)
"""Of the bench: how far its rods are out at most, as a share of their turns; how often a finger
lies in the middle; how often a band plays, and how far under a tap."""
WRONG_COUNTS, RIDGE = 3.0, 3.0
"""Where the drum is not known: a wrong one counts so many right ones; and the ridge."""
RIGHT_CENTS = 100.0

Lines = tuple[np.ndarray, np.ndarray, np.ndarray]


class Example(NamedTuple):
    """What is learned from a sound: evidence (E,) of the line named, and whether it is right, None
    for a stroke on the whole drum; the same (C, E), (C,) of every line that may be the one, where
    the drum is known."""

    named: np.ndarray
    right: bool | None
    each: np.ndarray
    each_right: np.ndarray


Learned = Example | None
"""None where nothing is heard."""


def lines_of(
    samples: np.ndarray, near_hz: float | None, rate_hz: float = taps2.RATE_HZ
) -> Lines | None:
    """Frequencies, decays and energies of what rings; None if nothing can be heard."""
    try:
        sound = checked(samples, rate_hz)
        ringing = lines_of_tap(sound, rate_hz, tap_start(sound, rate_hz), near_hz)
    except KesseltonError:
        return None
    return ringing.hz, ringing.decay, ringing.energy


def _unknown(samples: np.ndarray, hz: float | None) -> Learned:
    """Of a drum that is not known; `hz` None for a whole stroke."""
    lines = lines_of(samples, None)
    if lines is None:
        return None
    named = name_lines(*lines, None)
    found = evidence(*lines, named)
    return Example(found, _right(lines[0][named.place], hz), np.zeros((0, len(found))), np.zeros(0))


def _known(
    samples: np.ndarray,
    near_hz: float,
    tones: Tones,
    hz: float | None,
    rate_hz: float = taps2.RATE_HZ,
) -> Learned:
    """Of a drum that is known."""
    lines = lines_of(samples, near_hz, rate_hz)
    if lines is None:
        return None
    expected = Expected(near_hz, tones=tones)
    named, each = name_each(*lines, expected)
    found = evidence_known(*lines, named, expected)
    rows = [evidence_known(*lines, one, expected) for one in each]
    return Example(
        found,
        _right(lines[0][named.place], hz),
        np.array(rows).reshape(-1, len(found)),
        np.array([_right(lines[0][one.place], hz) is True for one in each], dtype=bool),
    )


def _right(named_hz: float, hz: float | None) -> bool | None:
    return None if hz is None else bool(abs(1200.0 * np.log2(named_hz / hz)) < RIGHT_CENTS)


def of_tap(seed: int, known: bool) -> Learned:
    """A tap of the second maker."""
    made = taps2.one_tap(seed)
    if known:
        return _known(made.samples, made.near_hz, made.tones, made.hz)
    return _unknown(made.samples, made.hz)


def of_other_tap(seed: int, known: bool) -> Learned:
    """A tap of the first."""
    samples, hz, near = taps.one_tap(seed)
    return _known(samples, near, TYPICAL_TONES, hz) if known else _unknown(samples, hz)


def of_whole(seed: int, known: bool) -> Learned:
    """A stroke on a whole drum."""
    samples, drum = taps2.whole_stroke(seed)
    if not known:
        return _unknown(samples, None)
    made_tap = taps2.of_known(samples, drum, seed)
    return made_tap and _known(made_tap.samples, made_tap.near_hz, made_tap.tones, None)


def of_heard(seed: int, known: bool) -> Learned:
    """A stroke that was made for hearing, on a drum that is known."""
    stroke = one_stroke(seed)
    made_tap = taps2.of_known(stroke.samples, stroke.drum, seed)
    return made_tap and _known(made_tap.samples, made_tap.near_hz, made_tap.tones, None)


def of_bench(seed: int, known: bool) -> Learned:
    """A tap of the simulated bench, of a drum that is known."""
    assert known
    rng = np.random.default_rng([seed, 4])
    while True:
        drum = draw(rng)
        side = str(rng.choice(drum.sides))
        out = UNEVEN * rng.random()
        try:
            tension = tensions(drum)[drum.sides.index(side)]
            faults = random_faults(
                drum.shell.rods, rng, out * tension / rim_of(drum, side).turn_n_per_m
            )
            head = SimulatedHead(drum, side, faults, seed)
            guess = tension * float(np.exp(rng.normal(0.0, taps2.TENSION_DOUBT)))
            tones = Tones.of(*tap_tones(drum, side, guess))
        except KesseltonError:
            continue
        if taps2.LOWEST_LUG_HZ < head.reference_hz < taps2.HIGHEST_LUG_HZ:
            break
    rod, damped = int(rng.integers(1, drum.shell.rods + 1)), bool(rng.random() < DAMPED)
    sound = tap_samples(head, rod, rng, damped=damped)
    sound += HISS * rng.standard_normal(len(sound))
    if rng.random() < WITH_BAND:
        level = float(np.sqrt(np.mean(sound[(tap_time() >= 0.0) & (tap_time() < BAND_S)] ** 2)))
        under = level * 10.0 ** (-rng.uniform(*BAND_DB) / 20.0)
        sound += under * band_noise(len(sound), rng)
    near = head.reference_hz
    if rng.random() < 0.5:
        near = taps2.expected(rng, near)
    hz = float(head.pitches()[rod - 1])
    return _known(0.5 * sound / np.abs(sound).max(), near, tones, hz, TAP_RATE_HZ)


def examples(
    work: Iterable[tuple[Callable[[int, bool], Learned], Iterable[int]]], known: bool
) -> list[Example]:
    """Synthesise."""
    found: list[Example] = []
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for make, seeds in work:
            made = pool.map(partial(make, known=known), seeds, chunksize=20)
            found += [one for one in made if one is not None]
    return found


def logistic(rows: np.ndarray, right: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Mean and spread of the evidence, and the weights (Newton, ridge)."""
    mean, spread = rows.mean(axis=0), rows.std(axis=0) + 1e-6
    count = np.where(right, 1.0, WRONG_COUNTS)
    x = terms(rows, mean, spread)
    weight = np.zeros(x.shape[1])
    for _ in range(30):
        p = 1.0 / (1.0 + np.exp(-np.clip(x @ weight, -30.0, 30.0)))
        slope = x.T @ (count * (p - right)) + RIDGE * weight
        bend = (x * (count * p * (1.0 - p))[:, None]).T @ x + RIDGE * np.eye(len(weight))
        weight -= np.linalg.solve(bend, slope)
    return mean, spread, weight


def main(words: list[str]) -> None:
    """What is asked for; both if nothing is."""
    both = ((of_tap, SEEDS), (of_other_tap, OTHER_SEEDS))
    if "unknown" in words or not words:
        made = examples((*both, (of_whole, SEEDS[::EVERY_WHOLE])), known=False)
        rows, right = np.array([one.named for one in made]), [one.right is True for one in made]
        mean, spread, weight = logistic(rows, np.array(right))
        np.savez(table(UNKNOWN), mean=mean, spread=spread, weight=weight)
    if "known" in words or not words:
        strokes = ((of_whole, WHOLE_SEEDS), (of_heard, HEARD_SEEDS))
        made = examples((*both, (of_tap, MORE_SEEDS), *strokes, (of_bench, BENCH_SEEDS)), True)
        rows, whole = np.array([one.named for one in made]), [one.right is None for one in made]
        write(WHOLE, fitted(rows, np.array(whole)))
        of_taps = [one for one in made if one.right is not None]
        each = np.concatenate([one.each for one in of_taps])
        write(RIGHT, fitted(each, np.concatenate([one.each_right for one in of_taps])))


if __name__ == "__main__":
    main(sys.argv[1:])
