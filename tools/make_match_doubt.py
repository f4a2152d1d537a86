"""How far a match of a heard line and a computed partial is to be trusted: learned from strokes.

    python -m tools.make_match_doubt

writes core/data/match_doubt.npz. Strokes of `benchmarks/made_stroke.py` from seed 40000 on, each
laid beside three plans that are off by 2 to 6 % of every tension and a tenth of the radius in the
place; those from 7000 on are for judging. Half an hour on two cores; needs the packages of ./run
bench.
"""

from __future__ import annotations

import os
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from benchmarks.hear import is_another, off_plan
from benchmarks.made_stroke import one_stroke
from benchmarks.taps2 import RATE_HZ

from kesselton.core.errors import KesseltonError
from kesselton.core.hearing.match_doubt import NAME, evidence
from kesselton.core.hearing.matching import lay, paired
from kesselton.core.hearing.stroke_lines import hear_strokes
from tools.forests import fitted, write

SEEDS, PLANS = range(40000, 40700), 3
OFF = (0.02, 0.04, 0.04, 0.06)
"""By how much a plan may be off in each tension, one standard deviation."""

Pair = tuple[np.ndarray, bool]


def of_stroke(seed: int) -> list[Pair]:
    """Evidence of every pair of a line and a partial, and whether the line is that partial."""
    made_stroke = one_stroke(seed)
    rng = np.random.default_rng([seed, 78])
    out: list[Pair] = []
    try:
        heard = hear_strokes(made_stroke.samples, RATE_HZ)[0].lines
    except KesseltonError:
        return out
    for _ in range(PLANS):
        try:
            prediction = off_plan(made_stroke, rng, float(rng.choice(OFF)))
        except KesseltonError:
            continue
        laid = lay(heard, prediction)
        pairs = paired(laid) if laid.beyond > 0.0 else []
        if pairs:
            right = [
                not is_another(made_stroke, heard[at].hz, prediction, partial)
                for at, partial in pairs
            ]
            out += zip(evidence(laid, pairs), right, strict=True)
    return out


def main() -> None:
    """Synthesise, hear, fit, write."""
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        found = [one for each in pool.map(of_stroke, SEEDS, chunksize=10) for one in each]
    rows, right = (np.array(each) for each in zip(*found, strict=True))
    write(NAME, fitted(rows, right))


if __name__ == "__main__":
    main()
