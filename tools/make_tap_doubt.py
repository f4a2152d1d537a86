"""How far the naming of a tap on an unknown drum is to be trusted, learned from seeded taps.

    python -m tools.make_tap_doubt

writes core/data/tap_doubt.npz. Taps and whole strokes of the second synthesiser with seeds below
5000, and taps of the first with seeds from 200000 on; the second's from 5000 on and the first's
from 3000 on are for judging. Fitted on the second alone it refused half of the first's. Forty
minutes.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import numpy as np
from benchmarks import taps, taps2

from kesselton.core.clearing.damped_lines import damped_lines
from kesselton.core.clearing.tap import HIGH_HZ, LONGEST_RING_S, SKIP_S
from kesselton.core.clearing.tap_doubt import evidence, terms
from kesselton.core.clearing.tap_naming import TYPICAL_TONES, name_lines
from kesselton.core.clearing.tap_sound import SHORTEST_S, checked, reduced, ringing, tap_start
from kesselton.core.errors import KesseltonError

DATA = Path(__file__).resolve().parents[1] / "src/kesselton/core/data"
SEEDS, EVERY_WHOLE = 5000, 3
OTHER_SEEDS = range(200000, 201200)
WRONG_COUNTS = 3.0
"""A wrong one counts so many right ones."""
RIDGE = 3.0
RIGHT_CENTS = 100.0

Lines = tuple[np.ndarray, np.ndarray, np.ndarray]


def lines_of(samples: np.ndarray) -> Lines | None:
    """Frequencies, decays and energies of what rings; None if nothing can be heard."""
    sound = checked(samples, taps2.RATE_HZ)
    start = tap_start(sound, taps2.RATE_HZ) + int(SKIP_S * taps2.RATE_HZ)
    x, rate = reduced(sound, taps2.RATE_HZ, start, HIGH_HZ, LONGEST_RING_S)
    x = x[: ringing(x, rate, LONGEST_RING_S)]
    if len(x) < SHORTEST_S * rate:
        return None
    hz, decay, amplitude, _ = damped_lines(x, rate, HIGH_HZ)
    return (hz, decay, np.abs(amplitude) ** 2 / (4.0 * decay)) if len(hz) else None


def row_of(lines: Lines, hz: float | None) -> tuple[np.ndarray, float]:
    """Evidence, and whether the line named is right; `hz` None for a whole stroke."""
    found, decay, energy = lines
    named = name_lines(found, decay, energy, None, TYPICAL_TONES)
    right = hz is not None and abs(1200.0 * np.log2(found[named.place] / hz)) < RIGHT_CENTS
    return evidence(found, decay, energy, named), float(right)


def fitted(rows: np.ndarray, right: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Mean and spread of the evidence, and the weights (Newton, ridge)."""
    mean, spread = rows.mean(axis=0), rows.std(axis=0) + 1e-6
    x, count = terms(rows, mean, spread), np.where(right == 0.0, WRONG_COUNTS, 1.0)
    weight = np.zeros(x.shape[1])
    for _ in range(30):
        p = 1.0 / (1.0 + np.exp(-x @ weight))
        slope = x.T @ (count * (p - right)) + RIDGE * weight
        bend = (x * (count * p * (1.0 - p))[:, None]).T @ x + RIDGE * np.eye(len(weight))
        weight -= np.linalg.solve(bend, slope)
    return mean, spread, weight


def sounds() -> Iterator[tuple[np.ndarray, float | None]]:
    """Everything that is learned from: samples, and the lug pitch of a tap."""
    for seed in range(SEEDS):
        tap = taps2.one_tap(seed)
        yield tap.samples, tap.hz
        if seed % EVERY_WHOLE == 0:
            yield taps2.whole_stroke(seed)[0], None
    for seed in OTHER_SEEDS:
        samples, hz, _ = taps.one_tap(seed)
        yield samples, hz


def main() -> None:
    """Synthesise, fit, write."""
    rows, right = [], []
    for samples, hz in sounds():
        try:
            lines = lines_of(samples)
        except KesseltonError:
            continue
        if lines is not None:
            row, ok = row_of(lines, hz)
            rows.append(row)
            right.append(ok)
    mean, spread, weight = fitted(np.array(rows), np.array(right))
    np.savez(DATA / "tap_doubt.npz", mean=mean, spread=spread, weight=weight)
    print(len(rows), np.mean(right))


if __name__ == "__main__":
    main()
