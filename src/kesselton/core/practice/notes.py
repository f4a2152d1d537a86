"""Exercises on notes, intervals and muting."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import N_, _, choices, figures
from kesselton.core.measure.plan import at_interval, hold_fundamental
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.core.practice import drums as d
from kesselton.core.practice.asking import (
    AIDS,
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
from kesselton.core.prediction.render import Sound
from kesselton.core.prediction.tone import tone

A4 = 440.0


INTERVALS = ((100.0, N_("half step")), (300.0, N_("minor third")), (400.0, N_("major third")),
             (500.0, N_("fourth")), (700.0, N_("fifth")))  # fmt: skip


TONE_S = 1.2


def follow_high_tone(ask: Ask) -> Question:
    """The lug tone moves, the drum’s note stays: only the high one is followed."""
    drum = d.some_drum(ask.rng)
    prediction = d.struck(drum, 0.86)
    up = ask.coin
    setting = drum.batter.reading
    assert setting is not None
    wanted = setting.hz * ratio_of(ask.level if up else -ask.level)
    moved = d.struck(hold_fundamental(drum, "batter", wanted, prediction.fundamental_hz), 0.86)
    mute = tuple(lying for key, lying in AIDS.items() if key in ask.helps)
    if mute:
        prediction, moved = (
            d.struck(replace(x.drum, mufflers=mute), 0.86) for x in (prediction, moved)
        )
    cents = cents_between(prediction.lug_pitches_hz[0], moved.lug_pitches_hz[0])
    low = abs(cents_between(prediction.fundamental_hz, moved.fundamental_hz))
    return ask.question(
        _("The low note stays. Did the high lug tone go up or down?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("The lug tone went {cents:.0f} cents up; the low note moved by {low:.0f}.")
            if cents > 0
            else _("The lug tone went {cents:.0f} cents down; the low note moved by {low:.0f}.")
        ).format(cents=abs(cents), low=low),
        (d.stroke_sound(prediction), d.stroke_sound(moved)),
        (d.stroke_seen(_("first"), prediction), d.stroke_seen(_("second"), moved)),
    )


def other_head_muted(ask: Ask) -> Question:
    """The other head muted or ringing, in a room."""
    drum = d.some_drum(ask.rng)
    quiet = replace(drum, mufflers=(Muffler("pillow", "resonant", 0.3),))
    muted_first = ask.coin
    pair = [d.struck(x, 0.86) for x in ((quiet, drum) if muted_first else (drum, quiet))]
    sounds = tuple(_in_room(d.stroke_sound(x), ask) for x in pair)
    return ask.question(
        _("Taps near the edge. In which is the other head muted?"),
        choices(TWO),
        FIRST if muted_first else SECOND,
        (
            _("Decay muted {fundamental_t60_s:.2f} s, free {fundamental_t60_s2:.2f} s.").format(
                fundamental_t60_s=pair[0 if muted_first else 1].fundamental_t60_s,
                fundamental_t60_s2=pair[1 if muted_first else 0].fundamental_t60_s,
            )
        ),
        sounds,
        (d.stroke_seen(_("first"), pair[0]), d.stroke_seen(_("second"), pair[1])),
    )


def _in_room(sound: Sound, ask: Ask) -> Sound:
    """With noise so many decibels under the first fifth of a second."""
    early = sound.samples[: int(0.2 * sound.rate_hz)]
    level = float(np.sqrt(np.mean(early**2))) * 10.0 ** (-ask.level / 20.0)
    noise = ask.rng.standard_normal(len(sound.samples))
    smooth = np.convolve(noise, np.ones(8) / math.sqrt(8.0), "same")
    loud = sound.samples + level * smooth
    return Sound(loud * min(1.0, 0.89 / float(np.abs(loud).max())), sound.rate_hz, False)


def against_tone(ask: Ask) -> Question:
    prediction = d.struck(d.some_drum(ask.rng))
    up = ask.coin
    cents = ask.level if up else -ask.level
    reference = prediction.fundamental_hz * ratio_of(-cents)
    return ask.question(
        _("A tone, then a drum. Is the drum higher or lower than the tone?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _(
                "The tone is {reference:.0f} Hz, the drum {fundamental_hz:.0f} "
                "Hz: {cents:.0f} cents higher."
            )
            if up
            else _(
                "The tone is {reference:.0f} Hz, the drum {fundamental_hz:.0f} "
                "Hz: {cents:.0f} cents lower."
            )
        ).format(reference=reference, fundamental_hz=prediction.fundamental_hz, cents=abs(cents)),
        (tone(reference, TONE_S), d.stroke_sound(prediction)),
        (d.tone_seen(_("tone"), reference), d.stroke_seen(_("drum"), prediction)),
    )


def name_note(ask: Ask) -> Question:
    """Which of four notes; the drum is set to one of them exactly."""
    step = max(100.0, 100.0 * round(ask.level / 100.0))
    drum = d.some_drum(ask.rng)
    near = note_of(d.struck(drum).fundamental_hz, A4)
    hz = d.struck(drum).fundamental_hz * ratio_of(-near.cents)
    prediction = d.struck(at_interval(drum, interval_between_heads(drum), hz))
    place = int(ask.rng.integers(4))
    names = [note_of(hz * ratio_of(step * (n - place)), A4).name(False) for n in range(4)]
    sounds: tuple[Sound, ...] = (d.stroke_sound(prediction),)
    if "tone" in ask.helps:
        sounds = (tone(A4 / 2.0, TONE_S), *sounds)
    return ask.question(
        _("Which note is the drum?"),
        tuple((name, name) for name in names),
        names[place],
        _("It is {names}, {hz:.1f} Hz.").format(names=names[place], hz=hz),
        sounds,
        (d.stroke_seen(_("drum"), prediction),),
    )


def interval_of_heads(ask: Ask) -> Question:
    """The interval between the lug pitches of the two heads."""
    at = int(ask.rng.integers(len(INTERVALS)))
    cents, name = INTERVALS[at]
    head = d.even_head(ask.rng)
    low, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen(_("batter"), head, 1)
    before = float(head.pitches()[0])
    d.shifted(head, cents)
    value = cents_between(before, float(head.pitches()[0]))
    return ask.question(
        _("Batter head, then resonant head. Which interval?"),
        tuple((interval, _(interval)) for _unused, interval in INTERVALS),
        name,
        _("{interval}: {cents:.0f} cents").format(interval=_(name), cents=value),
        (low, d.tap_sound(head, 1, ask.rng)),
        (seen, d.tap_seen(_("resonant"), head, 1)),
    )


def major_or_minor(ask: Ask) -> Question:
    """Root, third and fifth of a set, low to high."""
    major = ask.coin
    drum = d.some_drum(ask.rng)
    root = d.struck(drum).fundamental_hz
    predictions = [
        d.struck(at_interval(drum, interval_between_heads(drum), root * ratio_of(cents - 350.0)))
        for cents in (0.0, 400.0 if major else 300.0, 700.0)
    ]
    hz = ", ".join(figures(x.fundamental_hz, ".0f") for x in predictions)
    return ask.question(
        _("Root, third, fifth. Major or minor?"),
        (("major", _("major")), ("minor", _("minor"))),
        "major" if major else "minor",
        (_("Major: {hz} Hz.") if major else _("Minor: {hz} Hz.")).format(hz=hz),
        tuple(d.stroke_sound(x) for x in predictions),
        tuple(
            d.stroke_seen(name, x)
            for name, x in zip((_("root"), _("third"), _("fifth")), predictions, strict=True)
        ),
    )
