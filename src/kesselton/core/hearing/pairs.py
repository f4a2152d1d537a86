"""Two lines so near that an ear hears one that beats (theory 23)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from kesselton.core.constants import AUDIBLE_DECAY_NEPER
from kesselton.core.hearing.stroke_lines import Pair, StrokeLine

BEATS_HZ = 15.0
"""Faster than so many a second a beat is heard as roughness (H. Fastl, E. Zwicker, Psychoacoustics,
3rd ed. 2007, chapters 10 and 11, from memory)."""
ALIKE_DB = 20.0
"""A fainter line beside another beats by less than a fifth of its amplitude."""
ONE_BEAT = 1.0
"""So many beats at least must be heard before the quieter line is 30 dB down."""
HEARD_SHARE = 0.5
OWN_WIDTHS = 1.5
"""Lines nearer than so many of their widths cannot be told how long each rings: trials."""


def paired(lines: Sequence[StrokeLine]) -> tuple[StrokeLine, ...]:
    """Lines by frequency, those that beat named as pairs; where two lie within their widths they
    share the ring of what is heard, the sum of both."""
    out = list(lines)
    gaps = [b.hz - a.hz for a, b in pairwise(lines)]
    for i, gap in enumerate(gaps):
        nearest = all(gap < other for other in (*gaps[max(i - 1, 0) : i], *gaps[i + 1 : i + 2]))
        a, b = lines[i], lines[i + 1]
        if not nearest or gap > BEATS_HZ or abs(a.level_db - b.level_db) > ALIKE_DB:
            continue
        if gap * HEARD_SHARE * min(a.t60_s, b.t60_s) < ONE_BEAT:
            continue
        ring = ring_of_both(a, b)
        pair = Pair(gap, ring)
        width = 0.5 * AUDIBLE_DECAY_NEPER / math.pi * (1.0 / a.t60_s + 1.0 / b.t60_s)
        for at, line in ((i, a), (i + 1, b)):
            out[at] = replace(line, pair=pair)
            if gap < OWN_WIDTHS * width:
                doubt = max(a.t60_doubt, b.t60_doubt)
                out[at] = replace(out[at], t60_s=ring, t60_doubt=doubt)
    return tuple(out)


def ring_of_both(a: StrokeLine, b: StrokeLine) -> float:
    """Seconds until two lines together, beats levelled out, are 60 dB down."""
    parts = [
        (10.0 ** (0.1 * line.level_db) / line.t60_s, 2.0 * AUDIBLE_DECAY_NEPER / line.t60_s)
        for line in (a, b)
    ]  # power as each begins: its energy goes with power times ring
    wanted = 1e-6 * sum(power for power, _ in parts)
    low, high = sorted((a.t60_s, b.t60_s))
    for _ in range(40):
        middle = 0.5 * (low + high)
        left = sum(power * math.exp(-fall * middle) for power, fall in parts)
        low, high = (middle, high) if left > wanted else (low, middle)
    return high
