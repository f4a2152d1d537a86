"""Whether what was named as a tap is a stroke on a whole drum: what rings on tells (theory 110)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.taps.late_sound import (
    HIGH_HZ,
    LONGEST_S,
    LOOKS_S,
    Look,
    look_at,
    rings_s,
    settled,
    strong_in,
    without_hum,
)
from kesselton.core.clear.taps.tap_sound import reduced
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.forest import forest
from kesselton.core.pitch import cents_between

WHOLE = "whole_stroke.npz"
SURE = 0.8
"""Share from which it is one: of 1,068 taps of both makers none is taken for one."""
LEAST_S = 0.15
LOWER_CENTS = 200.0
USUAL_T60_S, UNTOLD_T60_S = 0.6, 0.3
LEVELS_S, LEVEL_S = (0.2, 0.3), 0.05


def is_whole_stroke(
    sound: FloatArray, rate_hz: float, start: int, named_hz: float, known: bool
) -> bool:
    """Whether a sound (N,) that begins at a sample, taken for a tap with the lug pitch `named_hz`,
    is a stroke on a whole drum; `known` where the lug pitch was about known."""
    values = evidence_whole(sound, rate_hz, start, named_hz, known)
    return float(forest(WHOLE).share(values[None])[0]) > SURE


def evidence_whole(
    sound: FloatArray, rate_hz: float, start: int, named_hz: float, known: bool
) -> FloatArray:
    """What tells it (20,): where the loudest and the lowest of what still sounds lie from the pitch
    named, how they ring and glide, how loud the pitch named, what is under it and what is over it
    still are, how far it stands off where it comes to rest, and how the whole sound falls.

    A tap damps the (0,1) with a finger and swings the head little: nothing loud rings on under its
    lug pitch, and it does not glide.
    """
    x, rate = reduced(sound, rate_hz, start, HIGH_HZ, LONGEST_S)
    rings = rings_s(x, rate)
    spans = [
        (begin, min(end, rings)) for begin, end in LOOKS_S if min(end, rings) - begin > LEAST_S
    ]
    late, hz, level = False, np.zeros(0), np.zeros(0)
    lowest = named_hz
    for span in spans:
        look: Look = without_hum(look_at(x, rate, *span))
        if len(look.hz):
            strong = strong_in(look)
            late, hz, level = span[0] == LOOKS_S[0][0], look.hz, look.level_db
            lowest = float(hz[strong[0]]) if len(strong) else float(hz[np.argmax(level)])
            break
    loudest = float(hz[np.argmax(level)]) if len(hz) else named_hz
    over = CENTS_PER_NEPER * np.log(hz / named_hz)
    part = (0.06, max(0.2, min(1.0, rings)))
    named, loud, low = (settled(x, rate, value, part) for value in (named_hz, loudest, lowest))
    levels = [_level_db(x, rate, at) - _level_db(x, rate, 0.0) for at in LEVELS_S]
    far = cents_between(named_hz, loudest)
    return np.array(
        [
            float(far < -LOWER_CENTS),
            far,
            cents_between(named_hz, lowest),
            np.max(level[over < -240.0], initial=-50.0),
            np.max(level[np.abs(over) < 120.0], initial=-50.0),
            np.max(level[over > 200.0], initial=-50.0),
            cents_between(named.hz, named_hz),
            cents_between(named.hz, named.early_hz),
            _ring(named.t60_s),
            _ring(loud.t60_s),
            _ring(low.t60_s),
            _ring(loud.first_t60_s),
            cents_between(loud.hz, loud.early_hz),
            cents_between(low.hz, low.early_hz),
            rings,
            float(late),
            float(known),
            math.log(named_hz),
            *levels,
        ]
    )


def _ring(t60_s: float) -> float:
    return math.log((UNTOLD_T60_S if math.isnan(t60_s) else t60_s) / USUAL_T60_S)


def _level_db(x: FloatArray, rate: float, at_s: float) -> float:
    part = x[int(at_s * rate) : int((at_s + LEVEL_S) * rate)]
    return 10.0 * math.log10(float(np.mean(part**2)) + 1e-14) if len(part) else -140.0
