"""What to buy: the heads planned for a rack, in the sizes they are bought in, against stock."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from kesselton.core.instrument.drum import Drum, place_of
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import head_size_in, hide_size_in, snare_side_mil
from kesselton.core.language import _

SHOWN = 4
"""Of the places a head is for, where there is little room."""


@dataclass(frozen=True)
class BuyLine:
    """One line of the list.

    Attributes
    ----------
    what : the head, or what goes with it
    size : in words, inches as heads are sold
    needed, stock, buy : numbers
    places : names of the drums, with the side
    note : advice of the trade
    """

    what: str
    size: str
    needed: int
    stock: int
    buy: int
    places: tuple[str, ...]
    note: str

    @property
    def for_drums(self) -> str:
        """All places in words."""
        return ", ".join(self.places)

    @property
    def for_some(self) -> str:
        """The same in few words: of many places the first."""
        more = len(self.places) - SHOWN
        if more <= 1:
            return self.for_drums
        return _("{places} and {more} more").format(
            places=", ".join(self.places[:SHOWN]), more=more
        )


def buy_list(drums: Sequence[Drum], stock: Callable[[str, float], int]) -> list[BuyLine]:
    """What the heads on `drums`, as they are planned, ask to be bought.

    Parameters
    ----------
    stock : how many of a head (name, size in inches) lie in the store

    Notes
    -----
    Sizes by the inside of the hoop; hides four inches wider; a patch for every batter head a pedal
    strikes (common practice, no published source).
    """
    wanted: dict[tuple[str, float], list[str]] = {}
    heads: dict[tuple[str, float], tuple[Head, Drum, str]] = {}
    patches: list[str] = []
    for drum in drums:
        for side in drum.sides:
            head = drum.setting(side).head
            key = (head.name, head_size_in(drum))
            wanted.setdefault(key, []).append(place_of(drum, side))
            heads[key] = (head, drum, side)
            if side == "batter" and drum.kind == "bass":
                patches.append(drum.name)
    lines = []
    for (name, size), places in wanted.items():
        head, drum, side = heads[name, size]
        have = stock(name, size)
        lines.append(
            BuyLine(
                name,
                f"{size:g} in",
                len(places),
                have,
                max(0, len(places) - have),
                tuple(places),
                _note(head, drum, side),
            )
        )
    if patches:
        have = stock(_("impact patch"), 0.0)
        lines.append(
            BuyLine(
                _("impact patch"),
                "",
                len(patches),
                have,
                max(0, len(patches) - have),
                tuple(patches),
                _("for the beater spot: thin and coated heads last several times longer"),
            )
        )
    return lines


def _note(head: Head, drum: Drum, side: str) -> str:
    if drum.kind == "snare" and side == "resonant":
        wanted = snare_side_mil(drum.batter.head, 1.0)
        return _("about {wanted:.0f} mil suits this batter at medium touch").format(wanted=wanted)
    if head.is_skin:
        return _("as an unmounted hide: {hide_size_in:g} in wide").format(
            hide_size_in=hide_size_in(drum)
        )
    if head.port_diameter_m > 0.0:
        return _("with a {port_diameter_m:.1f} in port").format(
            port_diameter_m=head.port_diameter_m / 0.0254
        )
    return ""
