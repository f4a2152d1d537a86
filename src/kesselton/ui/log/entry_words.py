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


def title_words(entry: Kept) -> str:
    """When, and what happened."""
    side = f", {wording.side_inside(entry.drum, entry.side)}" if entry.side else ""
    return _("{when}  {event}").format(when=when_words(entry.on), event=EVENTS[entry.event] + side)


def entry_words(entry: Kept, note: Callable[[float], str]) -> list[str]:
    """What was kept, line by line."""
    out = [
        _("{head}, lug pitch {hz}").format(head=entry.drum.setting(side).head.name, hz=note(hz))
        for side, hz in zip(entry.drum.sides, entry.lug_pitches_hz, strict=False)
    ]
    if entry.heard_hz is not None and entry.computed_hz is not None:
        cents = cents_between(entry.computed_hz, entry.heard_hz)
        message = (
            _("Measured {hz}, {off} of computed (± {half:.0f}).")
            if round(cents)
            else _("Measured {hz}, as computed (± {half:.0f}).")
        )
        out.append(
            message.format(
                hz=note(entry.heard_hz), off=wording.cents_words(cents), half=entry.heard_half_cents
            )
        )
    elif entry.computed_hz is not None:
        out.append(_("Computed {hz}; not measured.").format(hz=note(entry.computed_hz)))
    marks = [
        mark_words(*ends_of(key))[STEPS.index(value) + 1]
        if value
        else _("neither {low} nor {high}").format(low=ends_of(key)[0], high=ends_of(key)[1])
        for key, value in entry.marks
    ]
    fits = [FITS[entry.fits]] if entry.fits else []
    free = (entry.what_for, entry.verdict, entry.music, entry.player, entry.room, entry.wires)
    played = []
    if entry.shows:
        played.append(_("shows since previous entry: {shows:g}").format(shows=entry.shows))
    if entry.hours:
        played.append(_("hours since previous entry: {hours:g}").format(hours=entry.hours))
    sets = [_("played in {names}").format(names=", ".join(entry.sets))] if entry.sets else []
    signs = [SIGNS[sign] for sign in entry.signs]
    parts = ([*fits, *marks, *signs], [w for w in free if w], played, sets)
    return out + [", ".join(part) for part in parts if part]
