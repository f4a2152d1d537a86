"""How far the naming of a tap is to be trusted, and whether it was none (theory 21)."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, FloatArray, kept
from kesselton.core.clear.taps.tap_naming import Expected, Naming
from kesselton.core.data import table
from kesselton.core.forest import forest

UNKNOWN, RIGHT, WHOLE = "tap_doubt.npz", "tap_right.npz", "tap_whole.npz"
"""What was learned: where the drum is not known, and where it is."""
NOTHING_DB = -45.0
LOUD_DB = -25.0
BANDS = (
    (1.85, 2.12), (2.12, 2.32), (1.32, 1.60), (1.40, 1.50), (1.50, 1.60), (0.55, 0.75),
    (0.42, 0.55), (0.75, 0.95), (0.95, 1.08), (2.32, 2.50), (1.60, 1.85),
)  # fmt: skip
"""Over the line that was named: where the tones of a tap stand, and where they must not if it is
the (0,1) or the (2,1) that was named."""
WITHIN, UNDER, FROM_TONE = 2.9, 0.9, 1.2
"""Over the line that was named: so far up what is heard is compared with the tones of the drum,
what is under it begins there, and its tones are counted from there."""
AT_TONE, EXPLAINED = 0.045, 0.03
"""How near a line stands to a tone of the drum to be it, ln f, where its level and decay are asked
for, and where the share of the sound is that its tones explain."""
FIRST_TONES, NO_TONE = 3, 9.9
FAR_FALL, FAR_HZ = 2.0, 1.5
"""Decays that differ by more, and energy further from the lug pitch expected, ln, count as that."""


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


def evidence_known(
    hz: FloatArray,
    decay: FloatArray,
    energy: FloatArray,
    named: Naming,
    known: Expected,
) -> FloatArray:
    """(37,) the same, and what is known of the drum against it.

    Share of the amplitude that this drum's tones of a tap explain; the loudest under the line, and
    how it decays against it; where the line stands from the lug pitch that is expected, against how
    good that is, and how far; the middle of all energy from there; decay of all; what is expected;
    where the (0,1) of a tap stands; level and decay of that and of the next three tones.
    """
    place, near_hz, tones = named.place, known.hz, known.tones
    level = 10.0 * np.log10(energy / energy.max() + 1e-9)
    amplitude, over = np.sqrt(energy), hz / hz[place]
    fall = np.clip(np.log(decay / decay[place]), -FAR_FALL, FAR_FALL)

    def loudest(there: BoolArray) -> tuple[float, float]:
        if not there.any():
            return NOTHING_DB / 10.0, 0.0
        top = np.flatnonzero(there)[int(np.argmax(level[there]))]
        return float(level[top]) / 10.0, float(fall[top])

    centre = math.sqrt(tones.centre[0] * tones.centre[1])
    of_tap = np.array([centre, 1.0, *tones.above])
    gap = np.abs(np.log(over)[:, None] - np.log(of_tap))
    heard = amplitude * (over < WITHIN)
    typical = float(np.average(np.log(decay), weights=np.maximum(level + 30.0, 1.0)))
    off = math.log(hz[place] / near_hz) / known.sd
    middle = float(np.average(np.log(hz / near_hz), weights=energy))
    further = [*(r for r in tones.above if r > FROM_TONE), *[NO_TONE] * FIRST_TONES][:FIRST_TONES]
    stand = [loudest(np.abs(np.log(over) - math.log(r)) < AT_TONE) for r in (centre, *further)]
    return np.concatenate(
        (
            evidence(hz, decay, energy, named),
            [float(heard[gap.min(axis=1) < EXPLAINED].sum() / heard.sum())],
            loudest(over < UNDER),
            [off, abs(off), float(np.clip(middle, -FAR_HZ, FAR_HZ)), typical],
            [math.log(near_hz / 200.0), math.log(centre)],
            *stand,
        )
    )


def terms(values: FloatArray, mean: FloatArray, spread: FloatArray) -> FloatArray:
    """(…, 1 + 2 E) a one, the evidence (…, E) against its spread, and its squares."""
    z = (values - mean) / spread
    return np.concatenate((np.ones((*z.shape[:-1], 1)), z, 0.25 * z**2), axis=-1)


class Judge(NamedTuple):
    """A logistic function of evidence and its squares, fitted by `tools/make_tap_doubt.py`."""

    mean: FloatArray
    spread: FloatArray
    weight: FloatArray

    def share(self, values: FloatArray) -> float:
        """How likely what was learned is, from 0 to 1."""
        score = float(terms(values, self.mean, self.spread) @ self.weight)
        return 1.0 / (1.0 + math.exp(-score))


@kept(1)
def _judge() -> Judge:
    with table(UNKNOWN).open("rb") as stream:
        data = np.load(stream)
        return Judge(*(data[key].astype(float) for key in ("mean", "spread", "weight")))


def trust(values: FloatArray) -> float:
    """Share of likelihood that the line named is the (1,1) of a tap, by `evidence` (20,): the drum
    is not known."""
    return _judge().share(values)


def trust_known(values: FloatArray) -> FloatArray:
    """(C,) the same by `evidence_known` (C, 37) of every line that may be it, where the drum is
    known."""
    return forest(RIGHT).share(values)


def struck_whole(values: FloatArray) -> float:
    """Share of likelihood, by `evidence_known` (37,), that a drum that is known was struck with
    both heads free, instead of tapped at a rod with the other one muted."""
    return float(forest(WHOLE).share(values[None])[0])
