"""Which beater, and where it strikes, suits a passage: by level, brightness and length (theory eq.
114)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.instrument.beater import BEATERS, Stroke
from kesselton.core.language import N_, Worded
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import decays, level_spl_db, sounding_j

PLACES = (0.0, 0.3, 0.5, 0.7, 0.85)
"""Strike points that are tried, over the radius: center to near the edge."""
PEDAL_PLACES = (0.0, 0.15, 0.3)
"""A pedal reaches no farther; assumed."""
ATTACKS = Worded({"articulate": N_("articulate"), "round": N_("round")})
LEVELS = Worded({"soft": N_("soft"), "loud": N_("loud")})
LENGTH_WEIGHT = 0.5
"""A part that shall be articulate wants a short sound half as much as a bright one; assumed."""
ATTACK_WEIGHT = 0.3
"""A hard tip is heard in the attack, before what rings; assumed."""
LEVEL_WEIGHT = 0.05
"""So much for each decibel toward the wanted level; assumed."""
LEAST_NOTE_SHARE = 0.4
"""A stroke whose note carries less of the sound sounds of the edge, not of the drum: it is proposed
for no part; assumed."""


@dataclass(frozen=True)
class Struck:
    """A beater at a place, at the touch of the bench.

    Attributes
    ----------
    level_db : dB SPL at 1 m, mean of the first 0.2 s
    bright_hz : center of gravity of the sound in the first 0.2 s
    early_s : early decay
    note_share : of the sound, what the fundamental carries
    """

    stroke: Stroke
    level_db: float
    bright_hz: float
    early_s: float
    note_share: float


def struck(prediction: Prediction, stroke: Stroke) -> Struck:
    """What a stroke on a drum comes to, muffling included."""
    partials, lines = prediction.partials, prediction.lines
    sound = sounding_j(partials, stroke, lines)
    whole = max(float(sound.sum()), 1e-300)
    return Struck(
        stroke,
        level_spl_db(partials, stroke, lines),
        float(sound @ partials.frequency_hz) / whole,
        decays(partials, stroke, lines).early_s,
        float(sound[partials.fundamental]) / whole,
    )


def every_stroke(prediction: Prediction) -> list[Struck]:
    """All beaters used on this kind of drum at all places, at the touch it is struck with."""
    kind = prediction.drum.kind
    beaters = [key for key, beater in BEATERS.items() if kind in beater.kinds]
    return [
        struck(prediction, replace(prediction.stroke, beater=beater, place=place))
        for beater in beaters
        for place in (PEDAL_PLACES if kind == "bass" else PLACES)
    ]


def proposed(strokes: Sequence[Struck], attack: str, level: str) -> list[Struck]:
    """Strokes for a passage, the best first.

    Parameters
    ----------
    strokes : of `every_stroke`
    attack, level : keys of ATTACKS and LEVELS

    Notes
    -----
    Theory eq. 114; the weights are assumed.
    """
    clear = [item for item in strokes if item.note_share >= LEAST_NOTE_SHARE] or strokes
    sharp = 1.0 if attack == "articulate" else -1.0
    strong = 1.0 if level == "loud" else -1.0
    middle = float(np.mean([item.level_db for item in clear]))

    def worth(item: Struck) -> float:
        colour = math.log(item.bright_hz) - LENGTH_WEIGHT * math.log(item.early_s)
        colour -= ATTACK_WEIGHT * math.log(item.stroke.made.tip_s)
        return sharp * colour + strong * LEVEL_WEIGHT * (item.level_db - middle)

    return sorted(clear, key=worth, reverse=True)
