"""Exercises on taps at the rods."""

from __future__ import annotations

import numpy as np

from kesselton.core.clear.simulated import SimulatedHead
from kesselton.core.language import _, choices
from kesselton.core.pitch import cents_between
from kesselton.core.practice import drums as d
from kesselton.core.practice.asking import (
    FIRST,
    HIGHER,
    LOWER,
    OTHER,
    SAME,
    SECOND,
    TWO,
    UP_DOWN,
    Ask,
)
from kesselton.core.practice.question import Question
from kesselton.core.prediction.render import Sound


def higher_or_lower(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    first, second = _two_rods(ask, head)
    up = ask.coin
    d.with_rod_off(head, second, ask.level if up else -ask.level)
    pitches = head.pitches()
    cents = cents_between(float(pitches[first - 1]), float(pitches[second - 1]))
    return ask.question(
        _("Two rods. Is the second higher or lower?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("The second is {cents:.0f} cents higher.")
            if cents > 0
            else _("The second is {cents:.0f} cents lower.")
        ).format(cents=abs(cents)),
        (d.tap_sound(head, first, ask.rng), d.tap_sound(head, second, ask.rng)),
        (d.tap_seen(_("first"), head, first), d.tap_seen(_("second"), head, second)),
    )


def _two_rods(ask: Ask, head: SimulatedHead) -> tuple[int, int]:
    """Two rods across from each other."""
    rods = head.rim.rods
    first = int(ask.rng.integers(1, rods + 1))
    return first, (first - 1 + rods // 2) % rods + 1


def same_or_not(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    first, second = _two_rods(ask, head)
    differs = ask.coin
    if differs:
        d.with_rod_off(head, second, ask.level if ask.coin else -ask.level)
    pitches = head.pitches()
    cents = abs(cents_between(float(pitches[first - 1]), float(pitches[second - 1])))
    return ask.question(
        _("Two rods. Same pitch or not?"), ((SAME, _("the same")), (OTHER, _("not the same"))),
        OTHER if differs else SAME, _("They are {cents:.0f} cents apart.").format(cents=cents),
        (d.tap_sound(head, first, ask.rng), d.tap_sound(head, second, ask.rng)),
        (d.tap_seen(_("first"), head, first), d.tap_seen(_("second"), head, second)),
    )  # fmt: skip


def _rod_of(ask: Ask, rods: tuple[int, ...], head: SimulatedHead, asks: str) -> Question:
    at = int(ask.rng.integers(len(rods)))
    off = d.with_rod_off(head, rods[at], ask.level if ask.coin else -ask.level)
    sounds = tuple(d.tap_sound(head, rod, ask.rng) for rod in rods)
    lines = tuple(d.tap_seen(_("rod {rod}").format(rod=rod), head, rod) for rod in rods)
    answers = tuple((str(rod), _("rod {rod}").format(rod=rod)) for rod in rods)
    message = (
        _("Rod {rods} is {off:.0f} cents above the rest.")
        if off > 0
        else _("Rod {rods} is {off:.0f} cents under the rest.")
    ).format(rods=rods[at], off=abs(off))
    return ask.question(asks, answers, str(rods[at]), message, sounds, lines)


def one_of_three(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    rods = (1, 1 + head.rim.rods // 3, 1 + 2 * head.rim.rods // 3)
    return _rod_of(ask, rods, head, _("Three rods. Which one is off?"))


def one_of_all(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    rods = tuple(range(1, head.rim.rods + 1))
    return _rod_of(ask, rods, head, _("All rods. Which one is off?"))


def clear_or_not(ask: Ask) -> Question:
    """One head clear, the other with a rod off: it wobbles."""
    head = d.even_head(ask.rng)
    rod = int(ask.rng.integers(1, head.rim.rods + 1))
    clean, seen = d.tap_sound(head, rod, ask.rng), d.tap_seen(_("clear"), head, rod)
    off = abs(d.with_rod_off(head, 1 + rod % head.rim.rods, ask.level))
    split = d.tap_sound(head, rod, ask.rng)
    first = ask.coin
    other = d.tap_seen(_("not clear"), head, rod)
    return ask.question(
        _("Which of these heads is clear?"), choices(TWO), FIRST if first else SECOND,
        _("On the other, one rod is {off:.0f} cents off.").format(off=off),
        (clean, split) if first else (split, clean), (seen, other) if first else (other, seen),
    )  # fmt: skip


def dropped_or_not(ask: Ask) -> Question:
    """Before and after the head was pressed: has it dropped?"""
    head = d.even_head(ask.rng)
    sound, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen(_("before"), head, 1)
    before, dropped = float(head.pitches()[0]), ask.coin
    if dropped:
        d.shifted(head, -ask.level)
    cents = cents_between(before, float(head.pitches()[0]))
    return ask.question(
        _("Before and after pressing. Did the pitch drop?"),
        (("yes", _("it dropped")), ("no", _("it stayed"))),
        "yes" if dropped else "no",
        _("It dropped by {cents:.0f} cents.").format(cents=abs(cents))
        if dropped
        else _("It stayed."),
        (sound, d.tap_sound(head, 1, ask.rng)),
        (seen, d.tap_seen(_("after"), head, 1)),
    )


FIRST_TONE = 0.3
"""Of the turns of a head at pitch, where a first tone is heard; assumed."""


def first_tone(ask: Ask) -> Question:
    """Finger tight there is no tone; the first real one comes a little later."""
    head = d.even_head(ask.rng)
    start = head.turns.copy()
    head.turns = FIRST_TONE * start
    toned, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen(_("toned"), head, 1)
    hz = float(head.pitches()[0])
    slack = _slack(toned, ask)
    first = ask.coin
    order = (toned, slack) if first else (slack, toned)
    return ask.question(
        _("One head is only finger-tight. Which one has a tone?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("The tone is {hz:.0f} Hz; the other head is finger-tight.").format(hz=hz),
        order,
        (seen,),
    )


def _slack(toned: Sound, ask: Ask) -> Sound:
    """A slack head: the knock and a flap, nothing that rings. The higher the level the less of the
    tone of the other lies in it."""
    count = len(toned.samples)
    time = np.arange(count) / toned.rate_hz
    knock = ask.rng.standard_normal(count) * np.exp(-time / 0.012)
    knock *= float(np.abs(toned.samples).max()) / max(float(np.abs(knock).max()), 1e-12)
    share = 10.0 ** (-ask.level / 20.0)
    dead = toned.samples * np.exp(-time / 0.03)
    result = (1.0 - share) * knock + share * dead
    return Sound(result, toned.rate_hz, False)
