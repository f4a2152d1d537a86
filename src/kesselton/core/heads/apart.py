"""How far the two heads stand apart, in the measure a school means: pitch, pull or turns."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core.language import N_, Worded

PITCH, PULL, TURNS = "pitch", "tension", "turns"
TIGHTER = 1.3
"""A batter "about 30 % tighter": of its tension (common practice, no published source)."""
TURNS_HIGHER = 1.5
"""Resonant one turn past finger tight, batter one and a half (common practice, likewise)."""


@dataclass(frozen=True)
class Apart:
    """Resonant against batter head.

    Attributes
    ----------
    measure : "pitch", "tension" or "turns"
    value : cents between the lug pitches, or the natural logarithm of the ratio of the tensions or
        of the turns past finger tight
    """

    measure: str
    value: float


def cents(value: float) -> Apart:
    """So many cents of lug pitch."""
    return Apart(PITCH, value)


ALIKE = Apart(PULL, 0.0)
"""One pull draws both."""
BATTER_TIGHTER = Apart(PULL, -math.log(TIGHTER))
BATTER_TURNED_HIGHER = Apart(TURNS, -math.log(TURNS_HIGHER))

INTERVALS: dict[float, str] = Worded(
    {
        -700.0: N_("batter a fifth higher"),
        -500.0: N_("batter a fourth higher"),
        -400.0: N_("batter a major third higher"),
        -300.0: N_("batter a minor third higher"),
        -200.0: N_("batter a whole step higher"),
        -100.0: N_("batter a half step higher"),
        0.0: N_("unison"),
        100.0: N_("resonant a half step higher"),
        200.0: N_("resonant a whole step higher"),
        300.0: N_("resonant a minor third higher"),
        400.0: N_("resonant a major third higher"),
        500.0: N_("resonant a fourth higher"),
        700.0: N_("resonant a fifth higher"),
    }
)
"""What is offered wherever an interval is chosen, by cents of the resonant over the batter."""
