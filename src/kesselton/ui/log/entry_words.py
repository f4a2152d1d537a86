"""An entry of a log in words: on the stage and in the drawer."""

from __future__ import annotations

from collections.abc import Callable

from kesselton.core.instrument.kept import EVENTS, FITS, SIGNS, Kept, ends_of
from kesselton.core.language import _
from kesselton.core.pitch import cents_between
from kesselton.ui.log.keep_dialog import STEPS, mark_words
from kesselton.ui.parts.words import wording


def when_words(on: str) -> str:
    """Date and time as they are read."""
    return on.replace("T", " ")


def title_words(one: Kept) -> str:
    """When, and what happened."""
    side = f", {wording.side_inside(one.drum, one.side)}" if one.side else ""
    return _("{when}  {event}").format(when=when_words(one.on), event=EVENTS[one.event] + side)


def entry_words(one: Kept, note: Callable[[float], str]) -> list[str]:
    """What was kept, line by line."""
    out = [
        _("{head}, lug pitch {hz}").format(head=one.drum.setting(side).head.name, hz=note(hz))
        for side, hz in zip(one.drum.sides, one.lug_pitches_hz, strict=False)
    ]
    if one.heard_hz is not None and one.computed_hz is not None:
        cents = cents_between(one.computed_hz, one.heard_hz)
        said = (
            _("Measured {hz}, {off} of computed (± {half:.0f}).")
            if round(cents)
            else _("Measured {hz}, as computed (± {half:.0f}).")
        )
        out.append(
            said.format(
                hz=note(one.heard_hz), off=wording.cents_words(cents), half=one.heard_half_cents
            )
        )
    elif one.computed_hz is not None:
        out.append(_("Computed {hz}; not measured.").format(hz=note(one.computed_hz)))
    marks = [
        mark_words(*ends_of(key))[STEPS.index(value) + 1]
        if value
        else _("neither {low} nor {high}").format(low=ends_of(key)[0], high=ends_of(key)[1])
        for key, value in one.marks
    ]
    fits = [FITS[one.fits]] if one.fits else []
    free = (one.what_for, one.verdict, one.music, one.player, one.room, one.wires)
    played = []
    if one.shows:
        played.append(_("shows since previous entry: {shows:g}").format(shows=one.shows))
    if one.hours:
        played.append(_("hours since previous entry: {hours:g}").format(hours=one.hours))
    sets = [_("played in {names}").format(names=", ".join(one.sets))] if one.sets else []
    signs = [SIGNS[sign] for sign in one.signs]
    parts = ([*fits, *marks, *signs], [w for w in free if w], played, sets)
    return out + [", ".join(part) for part in parts if part]
