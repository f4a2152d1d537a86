"""Strokes and short grooves over a whole set, mixed from its drums as they are computed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.render import RATE_HZ, Sound, matched, strike_samples
from kesselton.core.sets.model.kit import PATTERNS, Member

BEATS_A_MINUTE = {"sparse": 84.0, "medium": 104.0, "dense": 132.0}
SIXTEENTHS = 16
SOFT, USUAL, LOUD = 0.3, 1.0, 1.6
ROUND_GAP_S = 0.9
"""Between the strokes when the drums are struck one after the other."""
TAIL_S = 1.5
# two bars each; o usual, O loud, - soft, of the lowest drum, the snare drum, the others in order
_ROWS: dict[str, dict[str, str]] = {
    "sparse": {
        "low": "O.......o.......O.........o.....",
        "snare": "........O...............O.......",
        "others": "..............................o.",
    },
    "medium": {
        "low": "O.....o.O.......O.....o.O...o...",
        "snare": "....O.......O.......O.-.....O...",
        "others": "..........................o.o.o.",
    },
    "dense": {
        "low": "O..oO..oO..o..o.O..oO..o........",
        "snare": "-.-.O.--.-.-O.-.-.-.O.--O.......",
        "others": "..........................ooooOo",
    },
}
_TOUCH = {"-": SOFT, "o": USUAL, "O": LOUD}


@dataclass(frozen=True)
class Hit:
    """One stroke: when, on which drum, how hard against a medium one."""

    at_s: float
    drum: int
    touch: float


def groove(members: Sequence[Member], pattern: str) -> list[Hit]:
    """The strokes of a pattern over a set, its drums from low to high.

    Raises
    ------
    InputError
        If there is no such pattern.
    """
    if pattern not in _ROWS:
        raise InputError(
            _("{pattern!r} is not a groove.").format(pattern=pattern),
            _("Options: {patterns}.").format(patterns=", ".join(PATTERNS)),
        )
    step = 60.0 / BEATS_A_MINUTE[pattern] / 4.0
    rows = _ROWS[pattern]
    snare = next((i for i, member in enumerate(members) if member.drum.kind == "snare"), None)
    rest = [i for i in range(len(members)) if i != snare]
    low, others = rest[:1], rest[1:]
    hits = []
    for place, mark in enumerate(rows["low"]):
        if mark in _TOUCH and low:
            hits.append(Hit(place * step, low[0], _TOUCH[mark]))
    for place, mark in enumerate(rows["snare"]):
        if mark in _TOUCH and snare is not None:
            hits.append(Hit(place * step, snare, _TOUCH[mark]))
    fill = others[::-1]  # down from the highest
    count = sum(mark in _TOUCH for mark in rows["others"])
    done = 0
    for place, mark in enumerate(rows["others"]):
        if mark in _TOUCH and fill:
            hits.append(Hit(place * step, fill[done * len(fill) // count], _TOUCH[mark]))
            done += 1
    return sorted(hits, key=lambda hit: hit.at_s)


def one_by_one(members: Sequence[Member]) -> list[Hit]:
    """Every drum once, low to high."""
    return [Hit(ROUND_GAP_S * i, i, USUAL) for i in range(len(members))]


def render_hits(
    results: Mapping[int, Prediction],
    hits: Sequence[Hit],
    muted: frozenset[int] = frozenset(),
    rate_hz: int = RATE_HZ,
) -> Sound:
    """Strokes over a set as one sound, every drum as loud against the others as computed.

    Parameters
    ----------
    results : the drums by number, as they are set
    muted : drums left out

    Raises
    ------
    InputError
        If nothing is left to be heard.

    Notes
    -----
    A drum is rendered once for each touch; strokes on it add, as a head that still rings takes up
    the next.
    """
    heard = [hit for hit in hits if hit.drum not in muted and hit.drum in results]
    if not heard:
        raise InputError(_("All drums are muted."), _("Unmute one."), "muted")
    strokes: dict[tuple[int, float], FloatArray] = {}
    for hit in heard:
        key = (hit.drum, hit.touch)
        if key not in strokes:
            prediction = results[hit.drum]
            wires = prediction.drum.lying_wires is not None
            stroke = replace(prediction.stroke, touch=hit.touch)
            strokes[key] = strike_samples(prediction, stroke, wires, rate_hz)
    last = max(hit.at_s for hit in heard)
    out = np.zeros(int((last + TAIL_S) * rate_hz))
    for hit in heard:
        start = int(hit.at_s * rate_hz)
        samples = strokes[hit.drum, hit.touch][: len(out) - start]
        out[start : start + len(samples)] += samples
    rattles = any(d.drum.own_wires is not None for n, d in results.items() if n not in muted)
    return Sound(matched(out, rate_hz), rate_hz, rattles)
