"""What tells whether a peak is the note of a stroke, learned from recorded strokes of some kits.

    python -m benchmarks.recorded.confidence

prints the weights for `core.hearing.note`. Strokes of the kits that judge take no part. Each stroke
is heard with plans that are right or off, with noise, hum and strokes on other drums of the kit.
"""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np
from scipy.optimize import minimize

from benchmarks.recorded.fits import TABLE, onset
from benchmarks.recorded.found import Recording, recording
from kesselton.core.hearing import note

LEARN = ("C", "F", "M", "B")
SEED, CASES = 3, 40
WRONG_CENTS = 100.0
USUAL_HZ = {"bass": 55.0, "snare": 200.0, "cbass": 42.0, "tom": 110.0}
RIDGE = 0.02


def drums(kits: tuple[str, ...]) -> list[dict[str, Any]]:
    """Of the table."""
    return [one for one in json.loads(TABLE.read_text())["drums"] if one["kit"] in kits]


def with_note(drum: dict[str, Any], fit: dict[str, Any] | None) -> bool:
    """Whether the stroke is known to have a note, and which."""
    return fit is not None and (fit["how_sure"] == "sure" or drum["kind"] == "tom")


def disturbed(
    x: np.ndarray, rate: float, rng: np.random.Generator, others: list[Recording]
) -> np.ndarray:
    """A stroke as a worse microphone in a fuller room has it."""
    out = x[: int(2.0 * rate)].copy()
    loud = float(np.sqrt(np.mean(out[: int(0.2 * rate)] ** 2)))
    if rng.random() < 0.6:
        out += rng.standard_normal(len(out)) * loud * 10.0 ** (-rng.uniform(15.0, 60.0) / 20.0)
    if rng.random() < 0.3:
        hum = rng.choice([50.0, 60.0]) * rng.integers(1, 4)
        time = np.arange(len(out)) / rate
        out += np.sin(2.0 * np.pi * hum * time) * loud * 10.0 ** (-rng.uniform(15.0, 50.0) / 20.0)
    if rng.random() < 0.4 and others:
        other = others[rng.integers(len(others))]
        y = other.samples[onset(other.samples, other.rate) :][: len(out)]
        y = y / max(float(np.sqrt(np.mean(y[: int(0.2 * rate)] ** 2))), 1e-9)
        out[: len(y)] += y * loud * 10.0 ** (-rng.uniform(10.0, 35.0) / 20.0)
    return out


def cases(kits: tuple[str, ...], seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Features (N, F) of peaks that were chosen, and whether they were the note (N,)."""
    rng, rows, right = np.random.default_rng(seed), [], []
    heard: list[tuple[np.ndarray, float]] = []
    asked, weighed = note.features, note.sure_of

    def remember(look: Any, at: int, *more: Any) -> np.ndarray:
        row = asked(look, at, *more)
        heard.append((row, float(look.hz[at])))
        return row

    note.features, note.sure_of = remember, lambda row: 1.0
    try:
        for drum in drums(kits):
            strokes = [(one, recording(one["sum"])) for one in drum["strokes"]]
            others = [
                sound
                for d in drums(kits)
                if d is not drum
                for one in d["strokes"][:2]
                if (sound := recording(one["sum"])) is not None
            ]
            for stroke, sound in strokes:
                fit = stroke["fit"]
                known = with_note(drum, fit)
                if sound is None or (fit is not None and not known):
                    continue
                x = sound.samples[onset(sound.samples, sound.rate) :]
                for _ in range(CASES):
                    about = fit["hz"] if known else USUAL_HZ[drum["kind"]]
                    off = rng.choice(
                        [rng.normal(0.0, 90.0), rng.uniform(-900.0, 900.0)], p=[0.75, 0.25]
                    )
                    heard.clear()
                    y = disturbed(x, sound.rate, rng, others)
                    note.note_of_stroke(y, sound.rate, about * 2.0 ** (off / 1200.0))
                    for row, hz in heard:
                        rows.append(row)
                        so = known and abs(1200.0 * math.log2(hz / fit["hz"])) < WRONG_CENTS
                        right.append(so)
    finally:
        note.features, note.sure_of = asked, weighed
    return np.array(rows), np.array(right, dtype=float)


def fitted(rows: np.ndarray, right: np.ndarray) -> np.ndarray:
    """Weights of a logistic regression (F,), a little held to zero."""

    def cost(w: np.ndarray) -> float:
        z = rows @ w
        return float(
            np.mean(np.logaddexp(0.0, -z) * right + np.logaddexp(0.0, z) * (1.0 - right))
            + RIDGE * np.sum(w[1:] ** 2) / 20.0
        )

    return np.asarray(minimize(cost, np.zeros(rows.shape[1]), method="BFGS").x)


def main() -> None:
    """Learn, and say how it does on kits nothing was learned from."""
    rows, right = cases(LEARN, SEED)
    weights = fitted(rows, right)
    print("WEIGHTS =", [round(float(w), 3) for w in weights], len(right), right.mean())
    for name, (r, y) in (("learned", (rows, right)), ("others", cases(("G", "N", "S"), SEED + 1))):
        p = 1.0 / (1.0 + np.exp(-(r @ weights)))
        for sure in (0.3, 0.5, 0.7, 0.8, 0.9, 0.95, 0.97):
            told = p > sure
            print(
                name,
                len(y),
                sure,
                "told",
                round(float(told[y > 0].mean()), 3),
                "wrong of told",
                round(float(1.0 - y[told].mean()), 4),
                int((1 - y[told]).sum()),
            )


if __name__ == "__main__":
    main()
