"""House drums by one stroke each: strokes of the second maker, with only kind and size known."""

from __future__ import annotations

import os
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from benchmarks.made_stroke import one_stroke
from benchmarks.taps2 import RATE_HZ
from kesselton.app.workshop.usual_drums import USUAL, UsualSize, usual_drum
from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.errors import KesseltonError
from kesselton.core.prediction.prediction import predict
from kesselton.core.shows.strangers import HIGHEST_CENTS, LOWEST_CENTS, heard_note

STROKES = int(os.environ.get("KESSELTON_BENCH_DRUMS", "200"))
FIRST_SEED = 9000
"""Strokes nothing was set by."""
GROSS_CENTS = 100.0


def nearest(kind: str, diameter_m: float) -> UsualSize:
    """The usual size somebody would choose for a drum."""
    sizes = USUAL[kind].sizes
    return min(sizes, key=lambda one: abs(one.diameter_in * METRE_PER_INCH - diameter_m))


def one(seed: int) -> tuple[float, float] | None:
    """Cents off the truth, infinite where it was refused, and those of the highest peak of the
    spectrum where such a drum sounds; None where the drum is no house drum: its note is nowhere
    near what is usual."""
    made_stroke = one_stroke(seed)
    size = nearest(made_stroke.drum.kind, made_stroke.drum.shell.head_diameter_m)
    usual = usual_drum(made_stroke.drum.kind, size, "stranger")
    true = float(made_stroke.found.frequency_hz[made_stroke.found.fundamental])
    about = predict(usual).fundamental_hz
    if not -LOWEST_CENTS < 1200.0 * np.log2(true / about) < HIGHEST_CENTS:
        return None
    hz = np.fft.rfftfreq(1 << 19, 1.0 / RATE_HZ)
    size_at = np.abs(
        np.fft.rfft(made_stroke.samples * np.hanning(len(made_stroke.samples)), 1 << 19)
    )
    low, high = (about * 2.0 ** (x / 1200.0) for x in (-LOWEST_CENTS, HIGHEST_CENTS))
    peak = float(hz[int(np.argmax(size_at * ((hz > low) & (hz < high))))])
    try:
        heard, _ = heard_note(made_stroke.samples, RATE_HZ, usual)
    except KesseltonError:
        heard = float("inf")
    return float(1200.0 * np.log2(heard / true)), float(1200.0 * np.log2(peak / true))


def stranger_figures() -> list[tuple[str, float, str, str, float]]:
    """Notes that are wrong by more than a half step, refused, and how near the others are."""
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        found = list(pool.map(one, range(FIRST_SEED, FIRST_SEED + STROKES), chunksize=10))
    cents = np.abs([x for x in found if x is not None])
    told = cents[np.isfinite(cents[:, 0]), 0]
    gross, peak = (100.0 * float(np.mean(x > GROSS_CENTS)) for x in (told, cents[:, 1]))
    refused = 100.0 * float(np.mean(~np.isfinite(cents[:, 0])))
    against = f"highest peak of the spectrum, {peak:.0f} %"
    middle = float(np.median(cents[:, 1]))
    own = float(np.median(told))
    return [
        ("stranger_gross_percent", gross, "%", against, peak / max(gross, 0.1)),
        ("stranger_refused_percent", refused, "%", "it refuses none", 1.0),
        ("stranger_median_cents", own, "cents", f"the same, {middle:.1f} cents", middle / own),
    ]
