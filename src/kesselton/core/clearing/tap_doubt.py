"""How far the naming of a tap on an unknown drum is to be trusted (theory 21)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.arrays import FloatArray, kept
from kesselton.core.clearing.tap_naming import Naming
from kesselton.core.data import table

NOTHING_DB = -45.0
LOUD_DB = -25.0
BANDS = (
    (1.85, 2.12), (2.12, 2.32), (1.32, 1.60), (1.40, 1.50), (1.50, 1.60), (0.55, 0.75),
    (0.42, 0.55), (0.75, 0.95), (0.95, 1.08), (2.32, 2.50), (1.60, 1.85),
)  # fmt: skip
"""Over the line that was named: where the tones of a tap stand, and where they must not if it is
the (0,1) or the (2,1) that was named."""


def evidence(hz: FloatArray, decay: FloatArray, energy: FloatArray, named: Naming) -> FloatArray:
    """(20,) what speaks for the line that was named, and against it.

    Log odds of the two likelihoods, the loudest level in bands over the line (10 dB), its own
    level, height and decay against the others, decay of its second and third tone, how many are
    loud.
    """
    place = named.place
    over = hz / hz[place]
    level = 10.0 * np.log10(energy / energy.max() + 1e-9)
    fall = np.log(decay / decay[place])
    other = np.arange(len(hz)) != place

    def loudest(low: float, high: float) -> float:
        there = level[other & (over > low) & (over < high)]
        return max(float(there.max()), NOTHING_DB) if len(there) else NOTHING_DB

    def falls(low: float, high: float) -> float:
        there = other & (over > low) & (over < high)
        if not there.any():
            return 0.0
        return float(np.clip(fall[there][np.argmax(level[there])], -2.0, 2.0))

    typical = float(np.average(np.log(decay), weights=np.maximum(level + 30.0, 1.0)))
    return np.array(
        [
            _log_odds(named.confidence),
            _log_odds(named.whole),
            *(loudest(low, high) / 10.0 for low, high in BANDS),
            level[place] / 10.0,
            math.log(hz[place] / 200.0),
            math.log(decay[place]) - typical,
            falls(1.32, 1.60),
            falls(1.85, 2.12),
            float(named.borne_out),
            min(int((level > LOUD_DB).sum()), 20) / 10.0,
        ]
    )


def _log_odds(share: float) -> float:
    return math.log(max(share, 1e-4) / max(1.0 - share, 1e-4))


def terms(found: FloatArray, mean: FloatArray, spread: FloatArray) -> FloatArray:
    """(…, 41) a one, the evidence against its spread, and its squares."""
    z = (found - mean) / spread
    return np.concatenate((np.ones((*z.shape[:-1], 1)), z, 0.25 * z**2), axis=-1)


@kept(1)
def _weights() -> tuple[FloatArray, FloatArray, FloatArray]:
    with table("tap_doubt.npz").open("rb") as stream:
        data = np.load(stream)
        mean, spread, weight = (data[name].astype(float) for name in ("mean", "spread", "weight"))
        return mean, spread, weight


def trust(hz: FloatArray, decay: FloatArray, energy: FloatArray, named: Naming) -> float:
    """Share of likelihood that the line named is the (1,1) of a tap.

    Logistic in the evidence and its squares; fitted on seeded taps and whole strokes
    (`tools/make_tap_doubt.py`).
    """
    mean, spread, weight = _weights()
    score = float(terms(evidence(hz, decay, energy, named), mean, spread) @ weight)
    return 1.0 / (1.0 + math.exp(-score))
