"""An entry of a log in words: on the stage and in the drawer."""

from __future__ import annotations

from collections.abc import Callable

from kesselton.core.instrument.kept import EVENTS, FITS, MARKS, SIGNS, Kept
from kesselton.core.pitch import cents_between
from kesselton.ui.keeping import texts
from kesselton.ui.keeping.keep_dialog import STEPS, mark_words
from kesselton.ui.parts import wording


def when_words(on: str) -> str:
    """Date and time as they are read."""
    return on.replace("T", " ")


def title_words(one: Kept) -> str:
    """When, and what happened."""
    side = f", {wording.side_word(one.drum, one.side).lower()}" if one.side else ""
    return texts.ENTRY.format(when=when_words(one.on), event=EVENTS[one.event] + side)


def entry_words(one: Kept, note: Callable[[float], str]) -> list[str]:
    """What was kept, line by line."""
    out = [
        texts.HEADS.format(head=one.drum.setting(side).head.name, hz=note(hz))
        for side, hz in zip(one.drum.sides, one.lug_pitches_hz, strict=False)
    ]
    if one.heard_hz is not None and one.computed_hz is not None:
        cents = cents_between(one.computed_hz, one.heard_hz)
        said = texts.HEARD_AS if round(cents) else texts.HEARD_AT
        out.append(
            said.format(
                hz=note(one.heard_hz), off=wording.cents_words(cents), half=one.heard_half_cents
            )
        )
    elif one.computed_hz is not None:
        out.append(texts.COMPUTED_AS.format(hz=note(one.computed_hz)))
    marks = [
        mark_words(*MARKS[key])[STEPS.index(value) + 1]
        if value
        else texts.NEITHER.format(low=MARKS[key][0], high=MARKS[key][1])
        for key, value in one.marks
    ]
    fits = [FITS[one.fits]] if one.fits else []
    free = (one.what_for, one.verdict, one.music, one.player, one.room, one.wires)
    played = []
    if one.shows:
        played.append(texts.PLAYED_SHOWS.format(shows=one.shows))
    if one.hours:
        played.append(texts.PLAYED_HOURS.format(hours=one.hours))
    sets = [texts.IN_SETS.format(names=", ".join(one.sets))] if one.sets else []
    signs = [SIGNS[sign] for sign in one.signs]
    parts = ([*fits, *marks, *signs], [w for w in free if w], played, sets)
    return out + [", ".join(part) for part in parts if part]
