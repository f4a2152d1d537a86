"""A show: which drums play, what must lie ready for them, and what of it is there."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from kesselton.core.errors import InputError, check_day, check_range
from kesselton.core.fit.procedure import is_roped
from kesselton.core.instrument.drum import Drum, place_of
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.library import head_size_in
from kesselton.core.language import N_, _
from kesselton.core.shows.repair import LEAST_MINUTES, MOST_MINUTES

MOST_SHOWS, MOST_DRUMS, MOST_ITEMS, LONGEST_ITEM = 200, 60, 60, 120
BROKE_OFTEN = 2
"""A side whose head broke so often in the log gets a second spare; assumed."""


@dataclass(frozen=True)
class Show:
    """A show of the workshop.

    Attributes
    ----------
    id, name : its number and what it is called
    on : ISO date, "" if it is not fixed
    drum_ids : numbers of the drums that play
    minutes : usually left for a repair
    ticked : keys of what lies ready
    own : things that were added by hand
    """

    id: int
    name: str
    on: str = ""
    drum_ids: tuple[int, ...] = ()
    minutes: float = 7.0
    ticked: tuple[str, ...] = ()
    own: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if self.on:
            check_day(self.on)
        check_range(self.minutes, LEAST_MINUTES, MOST_MINUTES, _("Time for a repair"), "min")
        if len(self.drum_ids) > MOST_DRUMS:
            raise InputError(
                _("A show has {drum_ids} drums.").format(drum_ids=len(self.drum_ids)),
                _("Use {most_drums}.").format(most_drums=MOST_DRUMS),
            )
        if len(self.own) > MOST_ITEMS or any(len(text) > LONGEST_ITEM for text in self.own):
            raise InputError(
                _("A kit list item is too long, or there are too many."),
                _("Use {most_items} of {longest_item} characters.").format(
                    most_items=MOST_ITEMS, longest_item=LONGEST_ITEM
                ),
            )

    def tick(self, key: str, on: bool) -> Show:
        """A thing lies ready, or (False) not yet."""
        rest = tuple(text for text in self.ticked if text != key)
        return replace(self, ticked=(*rest, key) if on else rest)

    def without(self, drum_id: int) -> Show:
        """The same without a drum: its number may be given again."""
        return replace(
            self, drum_ids=tuple(number for number in self.drum_ids if number != drum_id)
        )


@dataclass(frozen=True)
class KitItem:
    """One thing that must lie ready.

    Attributes
    ----------
    key : name that stays: it is ticked by it
    what, why : in words
    group : "tools", "heads" or "own"
    needed, stock : of heads, how many; 0 and 0 of tools
    head, size_in : of a head, what the store calls it
    """

    key: str
    what: str
    why: str
    group: str
    needed: int = 0
    stock: int = 0
    head: str = ""
    size_in: float = 0.0

    @property
    def missing(self) -> int:
        """How many are not in stock."""
        return max(self.needed - self.stock, 0)


TOOLS = (
    ("key", N_("drum key"), N_("carry it with you"), "rods"),
    ("key_2", N_("second drum key"), N_("two opposite rods at once"), "rods"),
    ("key_heavy", N_("heavy key"), N_("loud taps, audible over the band"), "rods"),
    ("driver", N_("driver bit"), N_("removal only, never on a valued drum"), "rods"),
    ("cloth", N_("soft cloth"), N_("wipe edge and hoop every time"), ""),
    ("tape", N_("tape"), N_("muffling, marks, small holes"), ""),
    ("damper", N_("gel or felt muffler"), N_("damps the center while you tap"), ""),
    ("mallet", N_("soft mallet"), "", ""),
    ("sticks", N_("pair of sticks"), N_("one lifts the wires"), ""),
    ("lamp", N_("headlamp or mouth light"), N_("frees both hands in the dark"), ""),
    ("patch", N_("impact patch"), N_("goes on last"), "bass"),
    ("beater", N_("spare beater"), "", "bass"),
    ("cord", N_("cord or strip for the wires"), N_("most likely part to break"), "snare"),
    ("wires", N_("spare snare wires"), "", "snare"),
    ("rope", N_("rope with sealed end"), "", "rope"),
)
"""Key, thing, why, and for what: "rods", a kind of drum, or "" for every show (common practice, no
published source)."""


def kit_list(
    show: Show,
    drums: Mapping[int, Drum],
    stock: Callable[[str, float], int],
    logs: Mapping[int, Sequence[Kept]],
) -> list[KitItem]:
    """What must lie ready for a show.

    Parameters
    ----------
    drums : of the workshop, by number
    stock : how many of a head (name, size in inches) lie in the store
    logs : what was kept of each drum

    Notes
    -----
    A spare for each side and size of a film head; skins are no stage job (common practice, no
    published source). A side that broke more than once in its log gets a second.
    """
    playing = [(number, drums[number]) for number in show.drum_ids if number in drums]
    kinds = {drum.kind for _unused, drum in playing}
    rods = any(not is_roped(drum) for _unused, drum in playing)
    items = []
    for key, what, why, only in TOOLS:
        if not playing or (only == "rods" and not rods):
            continue
        if only in ("", "rods") or only in kinds:
            items.append(KitItem(key, _(what), _(why), "tools"))
    heads: dict[tuple[str, float], tuple[int, list[str], bool]] = {}
    for number, drum in playing:
        for side in drum.sides:
            head = drum.setting(side).head
            if head.is_skin:
                continue
            often = _broken(logs.get(number, ()), side) >= BROKE_OFTEN
            place = (head.name, head_size_in(drum))
            count, names, again = heads.get(place, (1, [], False))
            names.append(place_of(drum, side))
            heads[place] = (max(count, 2 if often else 1), names, again or often)
    for (name, size), (count, names, often) in heads.items():
        why = ", ".join(names) + (_("; broke before") if often else "")
        have = stock(name, size)
        key = f"head:{name}:{size:g}"
        items.append(
            KitItem(
                key,
                _("{name}, {size:g} in").format(name=name, size=size),
                why,
                "heads",
                count,
                have,
                name,
                size,
            )
        )
    items += [KitItem(f"own:{text}", text, "", "own") for text in show.own]
    return items


def _broken(log: Sequence[Kept], side: str) -> int:
    return sum(1 for kept in log if kept.event == "broken" and kept.side in ("", side))


def ready(items: Sequence[KitItem], show: Show) -> tuple[int, int]:
    """How many things lie ready, and how many there must be."""
    return sum(item.key in show.ticked for item in items), len(items)
