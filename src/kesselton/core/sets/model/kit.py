"""A set: which drums are played together, where they stand, and what they must do together."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ
from kesselton.core.errors import InputError, KesseltonError, check_known, check_range
from kesselton.core.heads.apart import INTERVALS
from kesselton.core.heads.brief import DENSITIES, TOUCHES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import MOST_SETS
from kesselton.core.language import N_, Worded, _

CHORDS: dict[str, str] = Worded(
    {
        "any": N_("best fit"),
        "major": N_("major chord"),
        "minor": N_("minor chord"),
        "fourths": N_("fourths"),
        "fifths": N_("fifths"),
        "intervals": N_("custom intervals"),
        "notes": N_("notes of the music"),
        "even": N_("even steps, no chord"),
    }
)
CHORD_TONES: dict[str, tuple[float, ...]] = {
    "major": (0.0, 400.0, 700.0),
    "minor": (0.0, 300.0, 700.0),
}
"""Cents over the root, in any octave (common practice, no published source)."""
STACKS: dict[str, float] = {"fourths": 500.0, "fifths": 700.0}
"""Cents from each drum to the next higher."""
LISTENERS: dict[str, str] = Worded(
    {
        "player": N_("the player"),
        "house": N_("the audience, no mics"),
        "microphones": N_("close mics"),
    }
)
BASSES: dict[str, str] = Worded({"root": N_("the root"), "any": N_("any tone of the chord")})
"""What the lowest drum plays in a chord whose tones may lie in any octave."""
SCHOOLS: dict[str, tuple[float, ...]] = {
    "best": (0.0, 100.0, 300.0, 500.0),
    "unison": (0.0,),
    "half": (100.0,),
    "third": (300.0, 400.0),
    "fourth": (500.0,),
    "batter": (-100.0, -300.0),
}
"""What each offers between the heads, cents of the resonant over the batter head (common
practice: one school for all drums, or drum by drum)."""
SNARE_SIDES = (400.0, 500.0, 700.0)
"""Of a snare side over its batter head: a third is fatter, a fifth cracks (common practice)."""
SCHOOL_WORDS: dict[str, str] = Worded(
    {
        "best": N_("best for each drum"),
        "unison": N_("unison"),
        "half": N_("resonant a half step higher"),
        "third": N_("resonant a third higher"),
        "fourth": N_("resonant a fourth higher"),
        "batter": N_("batter higher"),
    }
)
PLACES: dict[str, str] = Worded(
    {
        "player": N_("player"),
        "house": N_("audience"),
        "close": N_("close mic"),
        "overhead": N_("overhead"),
        "front": N_("outside front"),
        "inside": N_("inside"),
    }
)
"""Where it is asked how loud a drum is."""
PATTERNS: dict[str, str] = Worded(
    {"sparse": N_("sparse"), "medium": N_("medium"), "dense": N_("dense")}
)
"""Grooves a set can be heard in."""
MOST_DRUMS, MOST_NOTES = 12, 24
FARTHEST_M = 6.0
HIGHEST_M = 2.5
USUAL_HEIGHT_M = {"bass": 0.28, "concert_bass": 0.9, "snare": 0.65, "tom": 0.75, "rope": 0.8}
"""Of the middle of a drum over the floor; assumed."""


@dataclass(frozen=True)
class Seat:
    """A drum's place in a set.

    Attributes
    ----------
    drum_id : its number in the workshop
    x_m, y_m : seen from above, the player at the bottom: right and away from the player
    height_m : of its middle over the floor
    locked : it stays as it is set
    apart : it is no part of the chord; snare drums are not
    school : key of SCHOOLS for this drum, "" as the set
    """

    drum_id: int
    x_m: float = 0.0
    y_m: float = 0.0
    height_m: float = 0.7
    locked: bool = False
    apart: bool = False
    school: str = ""

    def __post_init__(self) -> None:
        for value, what in ((self.x_m, _("to the side")), (self.y_m, _("away from the player"))):
            check_range(
                value, -FARTHEST_M, FARTHEST_M, _("Drum position {what}").format(what=what), "m"
            )
        check_range(self.height_m, 0.0, HIGHEST_M, _("Drum height"), "m")
        check_known(self.school, ("", *SCHOOLS), _("school"))


@dataclass(frozen=True)
class Wish:
    """What a set must do.

    Attributes
    ----------
    chord : key of CHORDS
    intervals : of "own intervals", cents of each drum over the lowest
    notes : of "notes of the music", pitch classes 0 (C) to 11
    root_hz : the root, if it is given
    bass : key of BASSES
    avoid_hz, agree_hz : notes of the pieces to keep away from, and to agree with, in any octave
    school, listener, density, touch : keys of SCHOOLS, LISTENERS, DENSITIES, TOUCHES
    """

    chord: str = "any"
    intervals: tuple[float, ...] = ()
    notes: tuple[int, ...] = ()
    root_hz: float | None = None
    avoid_hz: tuple[float, ...] = ()
    agree_hz: tuple[float, ...] = ()
    school: str = "best"
    listener: str = "player"
    density: str = "medium"
    touch: str = "medium"
    bass: str = "root"

    def __post_init__(self) -> None:
        check_known(self.bass, BASSES, _("lowest drum"))
        check_known(self.chord, CHORDS, _("chord"))
        check_known(self.school, SCHOOLS, _("school"))
        check_known(self.listener, LISTENERS, _("listener"))
        check_known(self.density, DENSITIES, _("density"))
        check_known(self.touch, TOUCHES, _("touch"))
        if self.chord == "intervals" and len(self.intervals) < 2:
            raise InputError(
                _("Fewer than two intervals are entered."),
                _("Enter each drum’s cents above the lowest, like 0 400 700."),
                "intervals",
            )
        if self.chord == "notes" and not self.notes:
            raise InputError(_("No notes are entered."), _("Enter some, like C E G."), "notes")
        for count in map(len, (self.intervals, self.notes, self.avoid_hz, self.agree_hz)):
            if count > MOST_NOTES:
                raise InputError(
                    _("There are {count} notes.").format(count=count),
                    _("Use up to {most_notes}.").format(most_notes=MOST_NOTES),
                )
        for cents in self.intervals:
            check_range(cents, 0.0, 6000.0, _("An interval over the lowest drum"), "cents")
        for note in self.notes:
            check_range(note, 0, 11, _("A note of the music"), _("half steps above C"))
        for hz in (*self.avoid_hz, *self.agree_hz, *filter(None, (self.root_hz,))):
            check_range(hz, 0.5 * LOWEST_PITCH_HZ, 2.0 * HIGHEST_PITCH_HZ, _("A note"), "Hz")


@dataclass(frozen=True)
class Kit:
    """A set of the workshop under a number that stays with it."""

    id: int
    name: str
    seats: tuple[Seat, ...] = ()
    wish: Wish = field(default_factory=Wish)

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError(_("The set has no name."), _("Enter one."), "name")
        if len(self.name) > 80:
            raise InputError(_("The set name is longer than 80 characters."), _("Shorten it."))
        if len(self.seats) > MOST_DRUMS:
            raise InputError(
                _("There are {seats} drums in the set.").format(seats=len(self.seats)),
                _("Use up to {most_drums}.").format(most_drums=MOST_DRUMS),
            )
        numbers = [seat.drum_id for seat in self.seats]
        if len(set(numbers)) < len(numbers):
            raise InputError(_("A drum appears twice in the set."), _("Remove one."), "seats")

    def seat(self, drum_id: int) -> Seat | None:
        """The place of a drum, None if it is not in the set."""
        return next((seat for seat in self.seats if seat.drum_id == drum_id), None)

    def with_seat(self, seat: Seat) -> Kit:
        """The set with a drum's place changed, or the drum added."""
        if self.seat(seat.drum_id) is None:
            return replace(self, seats=(*self.seats, seat))
        seats = tuple(seat if other.drum_id == seat.drum_id else other for other in self.seats)
        return replace(self, seats=seats)

    def without(self, drum_id: int) -> Kit:
        """The set without a drum."""
        return replace(self, seats=tuple(s for s in self.seats if s.drum_id != drum_id))


@dataclass(frozen=True)
class Member:
    """A drum of a set as it is set now, and its place."""

    drum: Drum
    seat: Seat

    @property
    def name(self) -> str:
        """Of the drum."""
        return self.drum.name


@contextmanager
def naming(member: Member) -> Iterator[None]:
    """Lead a fault with the name of the drum that has it."""
    try:
        yield
    except KesseltonError as error:
        if member.name not in error.message:
            error.message = f"{member.name}: {error.message}"
        raise


def members(kit: Kit, drums: Mapping[int, Drum]) -> tuple[Member, ...]:
    """The drums of a set, low to high by size; those the workshop no longer has are left out."""
    return ordered([Member(drums[s.drum_id], s) for s in kit.seats if s.drum_id in drums])


def ordered(results: Sequence[Member]) -> tuple[Member, ...]:
    """Drums low to high by size, those apart from the chord last."""
    return tuple(sorted(results, key=lambda item: (item.seat.apart, -size(item.drum))))


def names_of(kits: Sequence[Kit], drum_id: int) -> tuple[str, ...]:
    """The sets a drum is in, at most so many as there can be."""
    return tuple(kit.name for kit in kits if kit.seat(drum_id) is not None)[:MOST_SETS]


def size(drum: Drum) -> float:
    """Larger where a drum is usually the lower: diameter, depth little."""
    shell = drum.shell
    return shell.head_diameter_m + 0.1 * shell.depth_m


def on_side(drum: Drum) -> bool:
    """Whether it stands on its side, a head towards the player."""
    return drum.kind in ("bass", "concert_bass")


def distance_m(seat: Seat, other: Seat) -> float:
    """Between the middles of two drums."""
    return math.dist((seat.x_m, seat.y_m, seat.height_m), (other.x_m, other.y_m, other.height_m))


def usual_seat(drum_id: int, drum: Drum, taken: tuple[Seat, ...]) -> Seat:
    """Where a drum usually stands: bass in the middle, snare drum in front of the player, toms from
    the player's left to the right, larger drums further right."""
    height = USUAL_HEIGHT_M[drum.kind]
    if on_side(drum):
        x, y = 0.0, 0.75
    elif drum.kind == "snare":
        x, y = -0.3, 0.35
    else:
        large = drum.shell.head_diameter_m > 0.34
        x, y = (0.6, 0.3) if large else (-0.15, 0.75)
    while any(math.hypot(x - s.x_m, y - s.y_m) < 0.3 for s in taken if s.height_m > 0.4):
        x += 0.38
    return Seat(drum_id, round(x, 2), y, height, apart=drum.kind == "snare")


def offered(member: Member, wish: Wish) -> tuple[float, ...]:
    """Intervals between the heads a drum may be set to; a snare side has its own."""
    if member.drum.kind == "snare" and not member.seat.school:
        return SNARE_SIDES
    return SCHOOLS[member.seat.school or wish.school]


def interval_words(cents: float) -> str:
    """An interval between the heads as the trade says it."""
    known = INTERVALS.get(round(cents / 100.0) * 100.0)
    if known is not None and abs(cents - round(cents / 100.0) * 100.0) < 8.0:
        return known
    return (
        _("resonant {cents:.0f} cents higher")
        if cents > 0
        else _("resonant {cents:.0f} cents lower")
    ).format(cents=abs(cents))
