"""Exercises on strike points, beaters, wires and a groove."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _, choices
from kesselton.core.measure.plan import at_interval
from kesselton.core.pitch import ratio_of
from kesselton.core.practice import drums as d
from kesselton.core.practice.asking import (
    FIRST,
    HIGHER,
    LOWER,
    SECOND,
    TWO,
    UP_DOWN,
    Ask,
    interval_between_heads,
)
from kesselton.core.practice.question import Question
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.render import Sound, matched, strike_samples
from kesselton.core.prediction.wires import wires_response


def strike_point(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    near = float(ask.rng.uniform(0.05, max(0.06, 0.9 - 0.01 * ask.level)))
    far = min(near + 0.01 * ask.level, 0.95)
    first = ask.coin
    places = (far, near) if first else (near, far)
    predictions = [d.struck(drum, place) for place in places]
    return ask.question(
        _("One drum, two strike points. Which is closer to the rim?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("At {places:.0f} and {places2:.0f} % of the radius.").format(
            places=100.0 * places[0], places2=100.0 * places[1]
        ),
        tuple(d.stroke_sound(x, x.stroke) for x in predictions),
        (d.stroke_seen(_("first"), predictions[0]), d.stroke_seen(_("second"), predictions[1])),
    )


def which_beater(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    hard, soft = ("nylon_tip", "wood_tip")[int(ask.coin)], ("rods", "mallet")[int(ask.coin)]
    first = ask.coin
    predictions = [
        d.struck(drum, 0.3, beater) for beater in ((hard, soft) if first else (soft, hard))
    ]
    return ask.question(
        _("One drum, two beaters. Which is harder?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("{label}, then {label2}.").format(
            label=predictions[0].stroke.made.label, label2=predictions[1].stroke.made.label
        ),
        tuple(d.stroke_sound(x, x.stroke) for x in predictions),
        (d.stroke_seen(_("first"), predictions[0]), d.stroke_seen(_("second"), predictions[1])),
    )


PULLS = (
    ("slack", N_("slack: keep rattling")),
    ("right", N_("right")),
    ("choked", N_("choked: too tight")),
)


PULL_SHARES = {"slack": 0.12, "right": 1.0, "choked": 9.0}
"""Pull of the strainer over the usual one; assumed."""


def strainer(ask: Ask) -> Question:
    """A snare drum with its strainer at one of three places."""
    from kesselton.core.instrument.wires import Wires

    wanted = list(PULL_SHARES)[int(ask.rng.integers(3))]
    usual = Wires().laid(0.3556, None)
    cents = 120.0 * float(np.clip(ask.rng.standard_normal(), -1.5, 1.5))
    drum = d.some_snare(cents, Wires(pull_n=usual.pull_n * PULL_SHARES[wanted]))
    prediction = d.struck(drum, 0.3)
    at = wires_response(prediction)
    touch = math.nan if at is None else at.from_touch
    sound = Sound(strike_samples(prediction, prediction.stroke, True, d.RATE_HZ), d.RATE_HZ, True)
    level = Sound(matched(sound.samples, d.RATE_HZ), d.RATE_HZ, True)
    return ask.question(
        _("A snare drum. How are the wires set?"),
        choices(PULLS),
        wanted,
        (
            _(
                "Strainer pull {pull_shares:.0f} N; wires respond from "
                "{touch:.2g} of a medium stroke. The rattle is approximate."
            ).format(pull_shares=usual.pull_n * PULL_SHARES[wanted], touch=touch)
        ),
        (level,),
        (d.stroke_seen(_("heads"), prediction),),
    )


GROOVE_S = (0.0, 0.25, 0.5, 0.625, 0.75, 1.0, 1.25, 1.5, 1.625, 1.75)


TOM_AT = (0.5, 0.75, 1.5, 1.75)


def tom_in_groove(ask: Ask) -> Question:
    """The same groove twice: in which does the tom lie higher?"""
    tom, other = d.some_drum(ask.rng), d.some_drum(ask.rng)
    up = ask.coin
    cents = ask.level if up else -ask.level
    note = d.struck(tom).fundamental_hz
    moved = d.struck(at_interval(tom, interval_between_heads(tom), note * ratio_of(cents)))
    accompanied = d.struck(set_far(other, note))
    first, second = (_played(d.struck(tom), accompanied), _played(moved, accompanied))
    return ask.question(
        _("The same groove twice. Is the tom higher or lower the second time?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("{cents:.0f} cents higher: {note:.0f} and {fundamental_hz:.0f} Hz.")
            if up
            else _("{cents:.0f} cents lower: {note:.0f} and {fundamental_hz:.0f} Hz.")
        ).format(cents=abs(cents), note=note, fundamental_hz=moved.fundamental_hz),
        (first, second),
        (d.stroke_seen(_("first"), d.struck(tom)), d.stroke_seen(_("second"), moved)),
    )


def set_far(drum: Drum, note_hz: float) -> Drum:
    """Another drum of the groove, out of the way: a fifth under a note."""
    return at_interval(drum, interval_between_heads(drum), note_hz * ratio_of(-700.0))


def _played(tom: Prediction, other: Prediction) -> Sound:
    """Two drums in a bar."""
    high, low = (
        d.stroke_sound(prediction, prediction.stroke).samples for prediction in (tom, other)
    )
    out = np.zeros(int((GROOVE_S[-1] + 0.9) * d.RATE_HZ))
    for at in GROOVE_S:
        values = high if at in TOM_AT else 0.6 * low
        start = int(at * d.RATE_HZ)
        count = min(len(values), len(out) - start)
        out[start : start + count] += values[:count] * np.minimum(
            1.0, np.arange(count)[::-1] / (0.02 * d.RATE_HZ)
        )
    return Sound(matched(out, d.RATE_HZ), d.RATE_HZ, False)
