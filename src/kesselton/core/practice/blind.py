"""Blind comparisons at equal pitch and loudness."""

from __future__ import annotations

from dataclasses import replace

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import _, both, choices
from kesselton.core.measure.plan import at_interval
from kesselton.core.practice import drums as d
from kesselton.core.practice.asking import FIRST, SECOND, TWO, Ask, interval_between_heads
from kesselton.core.practice.question import Question


def _contrast(
    ask: Ask,
    drum: Drum,
    two: Drum,
    asks: str,
    what: str,
    places: tuple[float, float] = (0.25, 0.25),
) -> Question:
    """Which of two is `drum`; both at one note where the second can be brought there."""
    pair = [d.struck(drum, places[0]), d.struck(two, places[1])]
    first = ask.coin
    order = pair if first else pair[::-1]
    notes = both(
        [
            _("{fundamental_hz:.0f} Hz, decay {fundamental_t60_s:.1f} s").format(
                fundamental_hz=x.fundamental_hz, fundamental_t60_s=x.fundamental_t60_s
            )
            for x in order
        ]
    )
    return ask.question(
        asks,
        choices(TWO),
        FIRST if first else SECOND,
        (
            _("{what} is the first: {notes}.") if first else _("{what} is the second: {notes}.")
        ).format(what=what, notes=notes),
        tuple(d.stroke_sound(x, x.stroke) for x in order),
        (d.stroke_seen(_("first"), order[0]), d.stroke_seen(_("second"), order[1])),
    )


def unison_or_fourth(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    note = d.struck(drum).fundamental_hz
    unison, fourth = at_interval(drum, 0.0, note), at_interval(drum, 500.0, note)
    asks = _("Same drum pitch: heads in unison or a fourth apart. Which is the unison?")
    return _contrast(ask, unison, fourth, asks, _("The unison"))


def one_ply_or_two(ask: Ask) -> Question:
    single = Head("single 10 mil", plies_m=(254e-6,))
    double = Head("two-ply 7 + 7 mil", plies_m=(177.8e-6, 177.8e-6))
    drum = d.with_batter(d.some_drum(ask.rng), single)
    return _held(
        ask, drum, d.with_batter(drum, double), _("Which is the two-ply head?"), _("The two-ply")
    )


def clear_or_coated(ask: Ask) -> Question:
    plain = Head("single 10 mil, clear", plies_m=(254e-6,))
    coated = Head("single 10 mil, coated", plies_m=(254e-6,), coating_kg_per_m2=0.05)
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    return _held(
        ask, drum, d.with_batter(drum, coated), _("Which is the coated head?"), _("The coated")
    )


def center_dot(ask: Ask) -> Question:
    plain = Head("single 10 mil", plies_m=(254e-6,))
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    dot = Addition("dot", 0.0, 0.3 * drum.shell.radius_m, 254e-6)
    dotted = Head("single 10 mil, center dot", plies_m=(254e-6,), additions=(dot,))
    return _held(
        ask, drum, d.with_batter(drum, dotted), _("Which has the center dot?"), _("The dot")
    )


def damping_ring(ask: Ask) -> Question:
    plain = Head("single 10 mil", plies_m=(254e-6,))
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    r = drum.shell.radius_m
    ring = Addition("ring", 0.86 * r, 0.985 * r, 254e-6)
    ringed = Head("single 10 mil, ring", plies_m=(254e-6,), additions=(ring,))
    return _held(
        ask, drum, d.with_batter(drum, ringed), _("Which has the damping ring?"), _("The ring")
    )


def tape(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    muffled = replace(drum, mufflers=(Muffler("tape", "batter", 0.8),))
    return _contrast(
        ask, muffled, drum, _("Which is muffled by a flap of tape?"), _("The muffled one")
    )


def _held(ask: Ask, drum: Drum, other: Drum, asks: str, what: str) -> Question:
    """The other is brought to the note of the first."""
    note = d.struck(drum).fundamental_hz
    return _contrast(ask, at_interval(other, interval_between_heads(other), note), drum, asks, what)
