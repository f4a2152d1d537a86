"""Joins a drum, its plan and the shipped steps to a procedure."""

from __future__ import annotations

import json
import math
from functools import lru_cache
from typing import Any

from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.procedure import (
    Choices,
    Numbers,
    Procedure,
    build,
    is_roped,
    round_sizes,
)
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import figures
from kesselton.core.pitch import note_of
from kesselton.resources import text_of


@lru_cache(maxsize=1)
def steps_file() -> dict[str, Any]:
    """The shipped procedure."""
    text = text_of("procedures/fit.json")
    data: dict[str, Any] = json.loads(text)
    return data


@lru_cache(maxsize=1)
def stage_file() -> dict[str, Any]:
    """The shipped procedure against the clock."""
    data: dict[str, Any] = json.loads(text_of("procedures/stage.json"))
    return data


NO_PITCH = ""
CLEAR_SHARE = 0.4
"""A head so far under its pitch has no tone to go by; assumed."""


def numbers(
    drum: Drum, side: str, choices: Choices, turns: float | None, a4_hz: float, flats: bool
) -> Numbers:
    """What the plan says of one head, in words.

    `turns` past finger tight as the plan has them; None for the model's own guess.
    """
    from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
    from kesselton.core.fit.rope import rope_drawn_m
    from kesselton.core.instrument.threads import THREADS
    from kesselton.core.measure.drift import SETTLED_H, creep
    from kesselton.core.measure.rods import give_of, turns_past_finger_tight

    solved = tensions(drum)
    index = drum.sides.index(side)
    hz = lug_pitch(drum, side, solved)
    if turns is None:
        head, thread = drum.setting(side).head, THREADS[drum.shell.rod_thread]
        turns = turns_past_finger_tight(drum, head, solved[index], thread)
    expected: list[str] = []
    so_far, slack = 0.0, min(give_of(drum).take_up, 0.9 * turns)
    sizes = round_sizes(turns, choices.round_turns)
    for number, step in enumerate(sizes, start=1):
        so_far = so_far + step if number < len(sizes) else turns  # the last ends at the plan
        if so_far <= slack:
            expected.append(NO_PITCH)
            continue
        tension = solved[index] * (so_far - slack) / (turns - slack)
        pair = tuple(tension if i == index else t for i, t in enumerate(solved))
        try:
            then = lug_pitch(drum, side, pair)
            clear = then > CLEAR_SHARE * hz
            expected.append(_note(then, a4_hz, flats) if clear else NO_PITCH)
        except KesseltonError:
            break  # too slack for a pitch: the text says so
    expected = [NO_PITCH] * (len(sizes) - len(expected)) + expected
    decades = math.log10(24.0 / SETTLED_H)
    lost = 0.0 if drum.setting(side).head.is_skin else creep(drum, side, solved[index], decades)
    day = 0.5 * CENTS_PER_OCTAVE * math.log2(1.0 - lost)  # a pitch goes with the root of tension
    rope = rope_drawn_m(drum, solved) if is_roped(drum) else 0.0
    words = f"{_note(hz, a4_hz, flats)}, {figures(hz, '.1f')} Hz"
    return Numbers(turns, words, tuple(expected), day, rope)


def _note(hz: float, a4_hz: float, flats: bool) -> str:
    note = note_of(hz, a4_hz)
    cents = round(note.cents)
    tail = f" {'+' if cents > 0 else '−'}{abs(cents)}" if cents else ""
    return note.name(flats) + tail


def procedure(
    drum: Drum, side: str, choices: Choices, turns: float | None, a4_hz: float, flats: bool
) -> Procedure:
    """The steps of fitting one head.

    Raises
    ------
    KesseltonError
        If the drum has no such head or its plan cannot be worked out.
    """
    plan = numbers(drum, side, choices, turns, a4_hz, flats)
    return build(drum, side, steps_file(), plan, choices)
