"""Every stroke in a sound: its note, its lines, and what is wrong with the sound (theory 23)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.taps.tap_sound import checked, deep_onsets, onsets
from kesselton.core.errors import InputError
from kesselton.core.hearing.mains import without_mains
from kesselton.core.hearing.note import note_of_stroke
from kesselton.core.hearing.sound_faults import CLIPPED, SECOND, faults_of
from kesselton.core.hearing.stroke_lines import HeardStroke, stroke_lines
from kesselton.core.language import _

SHORTEST_S = 0.25
"""A stroke that is followed by another sooner is not looked at."""
LOUD_S, SOON_S, SOFTER_DB = 0.04, 1.0, 12.0


def hear_strokes(
    samples: FloatArray, rate_hz: float, plan_hz: float | None = None
) -> list[HeardStroke]:
    """Every stroke in a recording.

    Parameters
    ----------
    plan_hz : where the fundamental of the drum is to be expected

    Raises
    ------
    InputError
        In words, why there is none.
    """
    sound = checked(samples, rate_hz)
    blows = onsets(sound, rate_hz)
    starts = _struck(sound, rate_hz, blows or deep_onsets(sound, rate_hz))
    if not starts:
        raise InputError(
            _("No stroke found in this sound."),
            _("Record the stroke from its start."),
            code="no_stroke",
        )
    ends = [*starts[1:], len(sound)]
    least = SHORTEST_S * rate_hz
    clean = without_mains(sound, rate_hz, starts[0])
    heard = []
    for a, b in zip(starts, ends, strict=True):
        if b - a > least:
            faults = faults_of(sound, rate_hz, a, b, blows)
            stroke = HeardStroke((), a / rate_hz)
            if CLIPPED not in faults:  # what is cut off has lines of its own
                stroke = stroke_lines(clean[a:b], rate_hz, a / rate_hz)
            note = note_of_stroke(clean[a:b], rate_hz, plan_hz)
            heard.append(replace(stroke, note=note, faults=faults))
    strokes = [stroke for stroke in heard if stroke.lines or stroke.note is not None]
    if strokes:
        return strokes
    wrong = {name for stroke in heard for name in stroke.faults}
    if CLIPPED in wrong:
        raise InputError(
            _("The sound is clipped."),
            _("Move the microphone away, or strike softer."),
            code="clipped",
        )
    if not heard or SECOND in wrong:
        raise InputError(
            _("Several strokes follow each other too soon."),
            _("Strike once, and let it ring."),
            code="strokes_too_close",
        )
    raise InputError(
        _("No drum partial found in this sound."),
        _("Strike harder or closer to the microphone, and let it ring for a second."),
        code="no_partial",
    )


def _struck(sound: FloatArray, rate_hz: float, starts: list[int]) -> list[int]:
    """Without what is no stroke, but a rattle or an echo in the ring of one: much softer, and soon
    after it."""
    span, soon = int(LOUD_S * rate_hz), int(SOON_S * rate_hz)
    out: list[int] = []
    last = 0.0
    for start in starts:
        loud = float(np.mean(sound[start : start + span] ** 2))
        if out and start - out[-1] < soon and loud < last * 10.0 ** (-SOFTER_DB / 10.0):
            continue
        out.append(start)
        last = loud
    return out
