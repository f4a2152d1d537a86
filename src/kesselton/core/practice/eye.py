"""Exercises by eye: a picture of a fault."""

from __future__ import annotations

import math
from collections.abc import Callable

from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.language import N_, _, choices
from kesselton.core.practice import drums as d
from kesselton.core.practice.asking import Ask
from kesselton.core.practice.question import Question, Seen

SIDES = (
    ("top", N_("rod 1")),
    ("right", N_("right")),
    ("bottom", N_("opposite rod 1")),
    ("left", N_("left")),
)


def fault_at(kind: str, asks: str, words: str, biggest_m: float) -> Callable[[Ask], Question]:
    """A picture of a fault of so many millimetres at one of four places."""

    def make(ask: Ask) -> Question:
        drum = d.some_drum(ask.rng)
        at = int(ask.rng.integers(4))
        size = min(1e-3 * ask.level, biggest_m)
        shell = drum.shell
        seen = Seen(
            kind, shell.head_diameter_m, shell.depth_m, shell.rods, 0.5 * math.pi * at, size
        )
        return ask.question(
            _(asks),
            choices(SIDES),
            SIDES[at][0],
            _(words).format(where=_(SIDES[at][1]), mm=1e3 * size),
            seen=seen,
        )

    return make


def rough_side(ask: Ask) -> Question:
    """A hide with a corner turned over: which side is rough?"""
    flap = ask.coin
    where = 0.0 if flap else math.pi
    seen = Seen("hide", 0.4572, 0.0, 0, where, 0.01 * ask.level)
    return ask.question(
        _("A hide, one corner folded over. Which side is rough (the underside)?"),
        (("flat", _("the upper side")), ("flap", _("the folded corner"))),
        "flap" if flap else "flat",
        (_("The corner is rough.") if flap else _("The side that lies up is rough.")),
        seen=seen,
    )


def half_inch_collar(ask: Ask) -> Question:
    """A collar of half an inch, or not."""
    drum = d.some_drum(ask.rng)
    half = 0.5 * METRE_PER_INCH
    right = ask.coin
    size = half if right else half + 1e-3 * ask.level * (1.0 if ask.coin else -1.0)
    shell = drum.shell
    seen = Seen(
        "collar", shell.head_diameter_m, shell.depth_m, shell.rods, math.nan, max(size, 1e-3)
    )
    return ask.question(
        _("Is this collar half an inch tall?"),
        (("yes", _("yes")), ("no", _("no"))),
        "yes" if right else "no",
        _("It is {size:.1f} mm; half an inch is 12.7 mm.").format(size=1000.0 * size),
        seen=seen,
    )
