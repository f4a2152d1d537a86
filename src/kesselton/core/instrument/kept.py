"""An entry of a drum's log: how it was set, what was heard, what it was for, and what was said."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ
from kesselton.core.errors import InputError, check_moment, check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, Worded, _
from kesselton.core.pitch import cents_between

EVENTS = Worded(
    {
        "set": N_("tuned"),
        "fitted": N_("head fitted"),
        "pressed": N_("head pressed"),
        "retuned": N_("retuned"),
        "next_day": N_("next-day check"),
        "drifted": N_("rod drifted"),
        "mended": N_("repaired"),
        "broken": N_("head broken"),
    }
)
MARKS = {
    "warmth": (N_("cold"), N_("warm")),
    "attack": (N_("soft attack"), N_("sharp attack")),
    "ring": (N_("short"), N_("long")),
    "response": (N_("slow response"), N_("quick response")),
    "rebound": (N_("soft rebound"), N_("lively rebound")),
}
"""Each from -2 to 2, by what its ends are called."""
SIGNS = Worded(
    {
        "pits": N_("pits or dents"),
        "dead": N_("dead or choked"),
        "wanders": N_("pitch wanders from rod to rod"),
    }
)
"""What was seen or heard that says something of head, edge or setting."""
FITS = Worded(
    {"": N_("not rated"), "low": N_("too low"), "right": N_("right"), "high": N_("too high")}
)
"""How the note suited the drum."""
ATTACHED = ("png", "jpg", "flac", "wav")
"""Kinds of pictures and sounds that may be attached."""
LONGEST_WORDS = 2000
MOST_ATTACHED = 20
MOST_SETS = 200
"""In a workshop."""
SAME_LINE_CENTS = 8.0
MOST_LINES, MOST_READINGS = 120, 400


def ends_of(mark: str) -> tuple[str, str]:
    """What the ends of a mark are called, in the language in use."""
    low, high = MARKS[mark]
    return _(low), _(high)


@dataclass(frozen=True, slots=True)
class KeptLine:
    """A line of a stroke that was heard: hertz at rest, its doubt in cents, T60, level."""

    hz: float
    half_cents: float
    t60_s: float
    level_db: float


@dataclass(frozen=True, slots=True)
class Attached:
    """A picture or sound that belongs to an entry; `digest` names its content in the workshop."""

    name: str
    kind: str
    digest: str


@dataclass(frozen=True)
class Kept:
    """What was set and read at one time, and what was said of it.

    Attributes
    ----------
    on : when, ISO 8601 to the minute, local time
    event : key of EVENTS; `side` the head it is about, "" for the whole drum
    drum : as it was then: shell, heads, settings, muffling, air
    what_for, verdict, music, player, room : free words
    marks : (key of MARKS, -2 to 2), those that were given
    signs : keys of SIGNS
    fits : key of FITS
    beater, place, touch : what it was struck with
    readings : as they stood
    lug_pitches_hz, tensions_n_per_m, computed_hz, computed_half_cents : what was computed then, per
        head and of the whole drum, with the fundamental's doubt
    heard_hz, heard_half_cents, lines : what was heard of it; None and empty if nothing was
    left_out : True if nothing is to be learned from it
    wires : strainer place, strands, anything of the wires, in words
    shows, hours : played since the entry before
    attached : pictures and sounds
    sets : names of the sets it was played in then
    """

    on: str
    drum: Drum
    event: str = "set"
    side: str = ""
    what_for: str = ""
    verdict: str = ""
    music: str = ""
    player: str = ""
    room: str = ""
    marks: tuple[tuple[str, int], ...] = ()
    fits: str = ""
    beater: str = ""
    place: float = 0.3
    touch: float = 1.0
    readings: tuple[Reading, ...] = ()
    lug_pitches_hz: tuple[float, ...] = ()
    tensions_n_per_m: tuple[float, ...] = ()
    computed_hz: float | None = None
    computed_half_cents: float = 0.0
    heard_hz: float | None = None
    heard_half_cents: float = 0.0
    lines: tuple[KeptLine, ...] = ()
    left_out: bool = False
    wires: str = ""
    shows: float = 0.0
    hours: float = 0.0
    attached: tuple[Attached, ...] = ()
    sets: tuple[str, ...] = ()
    signs: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        check_moment(self.on)
        for value, known, what in (
            (self.event, EVENTS, "event"),
            (self.fits, FITS, _("pitch rating")),
            *((sign, SIGNS, "sign") for sign in self.signs),
            (self.side, ("", *self.drum.sides), "side"),
        ):
            if value not in known:
                raise InputError(
                    _("{value!r} is not a known {what}.").format(value=value, what=what),
                    (_("Options: {known}.").format(known=", ".join(known))),
                )
        check_range(self.shows, 0.0, 1000.0, _("Shows played"), "", "shows")
        check_range(self.hours, 0.0, 5000.0, _("Hours played"), "h", "hours")
        for kind in (attachment.kind for attachment in self.attached):
            if kind not in ATTACHED:
                listed = ", ".join(ATTACHED)
                raise InputError(
                    _("{kind} cannot be attached.").format(kind=kind),
                    _("Options: {listed}.").format(listed=listed),
                    "attached",
                )
        for name in ("what_for", "verdict", "music", "player", "room", "wires"):
            if len(getattr(self, name)) > LONGEST_WORDS:
                raise InputError(
                    _("The text is longer than {longest_words} characters.").format(
                        longest_words=LONGEST_WORDS
                    ),
                    _("Shorten it."),
                    name,
                )
        if len(self.sets) > MOST_SETS or any(len(name) > 80 for name in self.sets):
            raise InputError(
                _("A drum is in {sets} sets, or their names are too long.").format(
                    sets=len(self.sets)
                ),
                _("Use {most_sets} of 80 characters.").format(most_sets=MOST_SETS),
                "sets",
            )
        for mark, given in self.marks:
            if mark not in MARKS or not -2 <= given <= 2:
                raise InputError(
                    _("Rating {mark!r} is {given}.").format(mark=mark, given=given),
                    _("Enter −2 to 2."),
                )
        for hz in (self.computed_hz, self.heard_hz, *self.lug_pitches_hz):
            if hz is not None:
                check_range(hz, 0.2 * LOWEST_PITCH_HZ, 5.0 * HIGHEST_PITCH_HZ, _("Pitch"), "Hz")

    @property
    def note_hz(self) -> float | None:
        """The whole drum's note: as it was heard, else as it was computed then."""
        return self.heard_hz if self.heard_hz is not None else self.computed_hz

    @property
    def note_line(self) -> KeptLine | None:
        """The line that was heard as the whole drum's note; None where none was kept."""
        if self.heard_hz is None:
            return None
        near = [x for x in self.lines if abs(cents_between(self.heard_hz, x.hz)) < SAME_LINE_CENTS]
        return max(near, key=lambda line: line.level_db, default=None)

    def words(self) -> str:
        """Everything that can be looked for in it, in small letters."""
        heads = (self.drum.setting(side).head.name for side in self.drum.sides)
        message = (self.drum.name, EVENTS[self.event], self.what_for, self.verdict, self.music)
        names = (*(attachment.name for attachment in self.attached), *self.sets)
        more = (self.player, self.room, self.wires, *heads, *names)
        return "\n".join((*message, *more)).casefold()


class Played(NamedTuple):
    """What of an entry of a log tells how long heads last.

    Attributes
    ----------
    heads : the head on each side there was
    """

    on: str
    event: str
    side: str
    heads: Mapping[str, Head]
    shows: float
    hours: float

    @classmethod
    def of(cls, kept: Kept) -> Played:
        """That of an entry."""
        drum = kept.drum
        heads = {side: drum.setting(side).head for side in drum.sides}
        return cls(kept.on, kept.event, kept.side, heads, kept.shows, kept.hours)
