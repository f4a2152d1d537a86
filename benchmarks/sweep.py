"""Drums of all kinds drawn at random and solved: what fails, what grows, what takes too long.

    python -m benchmarks.sweep [COUNT] [SEED]

prints every kind of trouble with one drum that has it.
"""

from __future__ import annotations

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
import time
from collections import Counter
from dataclasses import replace

import numpy as np

from kesselton.app.workshop.head_stock import constructions
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.beater import BEATERS, Stroke
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import MUFFLERS, Muffler
from kesselton.core.instrument.shell import EDGES, MOUNTS, SHELL_MATERIALS, Shell
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.usable import head_range, tension_limits

INCH = 0.0254
COUNT, SEED = 5000, 20261125
SIZES = {
    "tom": (8, 18, 5, 18),
    "snare": (12, 15, 3, 9),
    "bass": (16, 28, 12, 22),
    "concert_bass": (28, 40, 12, 22),
    "rope": (12, 18, 6, 18),
}
"""Head diameters and shell depths in inches, smallest and largest."""
EVERY_CEILING, CEILINGS_HZ = 4, (300.0, 3000.0)
"""One drum in so many is asked for its lines up to another ceiling, between these."""
LOWEST_HZ = 15.0
"""No drum of a store is heard lower."""


def draw(rng: np.random.Generator) -> Drum:
    """A drum somebody could own, set anywhere in its usable range by tension or by lug pitch."""
    kind = str(rng.choice(list(SIZES)))
    small, large, shallow, deep = SIZES[kind]
    wooden = {"rope": "rope", "bass": "wood", "concert_bass": "wood"}.get(kind)
    hoop = wooden or str(rng.choice(["flanged_1_6mm", "flanged_2_3mm", "die_cast"]))
    shell = Shell(
        float(rng.integers(small, large + 1)) * INCH,
        float(rng.uniform(shallow, deep)) * INCH,
        int(rng.choice([6, 8, 10])),
        hoop,
        vent_diameter_m=float(rng.choice([0.0, 0.001, 0.002, 0.006, 0.0127, 0.02])),
        material=_maybe(rng, list(SHELL_MATERIALS)),
        mass_kg=None if rng.random() < 0.5 else float(rng.uniform(1.5, 15.0)),
        mount=_maybe(rng, list(MOUNTS)),
        edge=_maybe(rng, list(EDGES)),
    )
    air = Air(float(rng.uniform(-5.0, 40.0)), float(rng.uniform(0.1, 0.9)))
    batter = _setting(rng, shell, kind, "batter")
    resonant = None if rng.random() < 0.1 else _setting(rng, shell, kind, "resonant")
    drum = Drum("drawn", kind, shell, batter, resonant, air)
    if rng.random() < 0.3:
        pieces = tuple(
            Muffler(
                str(rng.choice(list(MUFFLERS))),
                str(rng.choice(drum.sides)),
                float(rng.uniform(0.3, 0.95)),
                float(rng.uniform(1.0, shell.rods)),
            )
            for _ in range(int(rng.integers(1, 4)))
        )
        drum = replace(drum, mufflers=pieces)
    return drum


def _maybe(rng: np.random.Generator, names: list[str]) -> str | None:
    return None if rng.random() < 0.3 else str(rng.choice(names))


def _setting(rng: np.random.Generator, shell: Shell, kind: str, side: str) -> HeadSetting:
    suits = [c for c in constructions() if kind in c.kinds and side in c.sides]
    head = suits[int(rng.integers(len(suits)))].made_for(shell.radius_m)
    found = tension_limits(head, shell, kind, side)
    low = found.clear_from.tension_n_per_m
    high = max(found.keeps_to.tension_n_per_m, 1.5 * low)
    tension = float(low * (high / low) ** rng.random())
    if rng.random() < 0.5:
        return HeadSetting(head, tension)
    return HeadSetting(head, tension).at_pitch(round(_about_hz(shell, head, tension), 1))


def _about_hz(shell: Shell, head: Head, tension: float) -> float:
    """Roughly the lug pitch, so that the search has to find the tension."""
    mass = head.base_density_kg_per_m2 + 0.6 * 1.2 * shell.radius_m
    pitch = 3.83 / (2.0 * np.pi * shell.radius_m) * np.sqrt(tension / mass)
    swing = 1.84 * 343.0 / (2.0 * np.pi * shell.radius_m)
    return float(pitch / np.sqrt(1.0 + (pitch / swing) ** 2))


def trouble(drum: Drum, stroke: Stroke) -> str:
    """What is wrong with the answer about a drum, "" if nothing is; a refusal in words is right."""
    try:
        prediction = predict(drum, stroke)
        for side in drum.sides:
            head_range(drum, side)
    except InputError as error:
        return "" if len(error.one_line()) > 20 else "a refusal without words"
    except KesseltonError as error:
        return f"not solved: {str(error)[:60]}"
    except Exception as error:  # what must never be
        return f"{type(error).__name__}: {str(error)[:60]}"
    p = prediction.partials
    values = (
        p.frequency_hz,
        p.t60_s,
        prediction.levels_db,
        prediction.uncertainty_cents,
        prediction.glide_cents,
    )
    if not all(np.all(np.isfinite(v)) for v in values):
        return "not a number"
    if np.any(p.t60_s <= 0.0):
        return "a line that grows"
    if prediction.fundamental_hz < LOWEST_HZ:
        return "a drum of a few hertz"
    for order in range(4):
        ranks = set(p.rank[(p.order == order) & (p.branch != "air")].tolist())
        if ranks and ranks != set(range(1, max(ranks) + 1)):
            return "a rank is skipped"
    return ""


def trouble_below(drum: Drum, highest_hz: float) -> str:
    """What is wrong with its lines below a ceiling of any height: taps, sounds and the fundamental
    alone are asked for up to others than `predict`."""
    try:
        found = partials(drum, tensions(drum), highest_hz)
    except InputError:
        return ""
    except KesseltonError as error:
        return f"not solved to a ceiling: {str(error)[:60]}"
    alive = np.all(np.isfinite(found.t60_s)) and np.all(found.t60_s > 0.0)
    return "" if alive else "a line that does not die"


def sweep(count: int, seed: int) -> tuple[Counter[str], dict[str, Drum], float]:
    """Kinds of trouble with a drum that has each, and the longest time of its own in seconds."""
    rng = np.random.default_rng(seed)
    kinds: Counter[str] = Counter()
    example: dict[str, Drum] = {}
    worst = 0.0
    for number in range(count):
        drum = draw(rng)
        fits = [name for name, made in BEATERS.items() if drum.kind in made.kinds]
        stroke = Stroke(
            float(rng.uniform(0.0, 0.9)), str(rng.choice(fits)), float(rng.choice([0.25, 1, 3.5]))
        )
        start = time.thread_time()  # its own: others use the machine too
        said = trouble(drum, stroke)
        worst = max(worst, time.thread_time() - start)
        if not said and number % EVERY_CEILING == 0:
            ceiling = float(np.random.default_rng([seed, number]).uniform(*CEILINGS_HZ))
            said = trouble_below(drum, ceiling)
        if said:
            kinds[said] += 1
            example.setdefault(said, drum)
    return kinds, example, worst


def sweep_figures() -> list[tuple[str, float, str, str, float]]:
    """How many of 5,000 drums give trouble, and the longest answer."""
    kinds, _, worst = sweep(COUNT, SEED)
    failed = sum(kinds.values())
    return [
        ("sweep_failures", failed, "drums", f"{COUNT} drums drawn", failed / COUNT),
        ("sweep_worst_ms", 1e3 * worst, "ms", "the 500 ms allowed", 0.5 / worst),
    ]


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [COUNT, SEED][len(sys.argv) - 1 :]
    found_kinds, examples, longest = sweep(numbers[0], numbers[1])
    print(f"longest {1e3 * longest:.0f} ms")
    for name, number in found_kinds.most_common():
        print(number, name)
        print("   ", examples[name])
