"""How numbers and things are worded on the screens and on paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import N_, _, figures, ngettext, pgettext
from kesselton.core.pitch import cents_words as cents_words
from kesselton.core.pitch import note_of
from kesselton.core.units import format_inches, format_thickness

ASSUMED_WORDS = {
    "shell.material": N_("shell material"),
    "shell.mass_kg": N_("mass"),
    "shell.mount": N_("support"),
    "shell.edge": N_("edge"),
    "shell.depth_m": N_("depth"),
    "batter.head.plies_m": N_("batter plies"),
    "resonant.head.plies_m": N_("resonant plies"),
}

SIDE_WORDS = {
    "snare": (N_("Batter"), N_("Snare side")),
    "concert_bass": (N_("Playing head"), N_("Resonant")),
}


def side_word(drum: Drum, side: str) -> str:
    """What the trade calls a side of this drum."""
    words = SIDE_WORDS.get(drum.kind, (N_("Batter"), N_("Resonant")))
    return _(words[0] if side == "batter" else words[1])


def side_inside(drum: Drum, side: str) -> str:
    """The same within a sentence or a caption."""
    if side == "batter":
        if drum.kind == "concert_bass":
            return pgettext("inside a sentence", "playing head")
        return pgettext("inside a sentence", "batter")
    if drum.kind == "snare":
        return pgettext("inside a sentence", "snare side")
    return pgettext("inside a sentence", "resonant")


def size_words(drum: Drum, metric: bool) -> str:
    """Diameter by depth: "14 × 5 ½ in"."""
    shell = drum.shell
    if metric:
        across, deep = (figures(1e3 * m, ".0f") for m in (shell.head_diameter_m, shell.depth_m))
        return f"{across} × {deep} mm"
    return f"{format_inches(shell.head_diameter_m)} × {format_inches(shell.depth_m)} in"


def plies_words(head: Head, metric: bool) -> str:
    """Plies as they are typed: "7 + 7 mil"."""
    unit = " mm" if metric else " mil"
    return " + ".join(format_thickness(ply, metric).removesuffix(unit) for ply in head.plies_m) + (
        unit if head.plies_m else ""
    )


def note_words(hz: float, a4_hz: float, flats: bool) -> str:
    """Note with cents: "E3 −19"."""
    note = note_of(hz, a4_hz)
    cents = round(note.cents)
    tail = "" if cents == 0 else f" {'+' if cents > 0 else '−'}{abs(cents)}"
    return note.name(flats) + tail


def hz_words(hz: float) -> str:
    """Hertz to about a cent's worth of digits."""
    return f"{figures(hz, '.1f')} Hz" if hz < 400 else f"{figures(hz, '.0f')} Hz"


def seconds_words(seconds: float) -> str:
    """A decay time."""
    return f"{figures(seconds, '.2f')} s" if seconds < 0.3 else f"{figures(seconds, '.1f')} s"


def decay_words(seconds: float, error: float) -> str:
    """A decay time with its 90 % interval: "2.9 s (2.0 to 4.2)"."""
    low, high = seconds_words(seconds / (1.0 + error)), seconds_words(seconds * (1.0 + error))
    return _("{decay} ({low} to {high})").format(
        decay=seconds_words(seconds), low=low.removesuffix(" s"), high=high.removesuffix(" s")
    )


def partial_words(order: int, rank: int, branch: str) -> str:
    """A partial in words."""
    if branch == "air":
        return _("air mode")
    diameters = {1: _("1 nodal diameter")}.get(
        order, _("{order} nodal diameters").format(order=order)
    )
    circles = _("1 nodal circle") if rank == 1 else _("{rank} nodal circles").format(rank=rank)
    return f"{diameters}, {circles}"


def branch_words(branch: str, share: float, together: bool, names: tuple[str, str]) -> str:
    """Which head carries a partial, in words."""
    first, second = names
    if branch == "air":
        return _("air moves, heads follow")
    if branch == "single":
        return _("mainly the {first}").format(first=first)
    if 0.2 < share < 0.8:
        return _("heads together") if together else _("heads opposed")
    return _("mainly the {word}").format(word=first if share > 0.5 else second)


def turn_words(turns: float) -> str:
    """Turns in eighths: "1 ¾"."""
    eighths = round(turns * 8.0)
    whole, rest = divmod(abs(eighths), 8)
    part = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")[rest]
    sign = "−" if eighths < 0 else ""
    return f"{sign}{whole if whole or not rest else ''}{' ' if whole and rest else ''}{part}"


def place_words(place: float) -> str:
    """Where a beater strikes, over the radius."""
    if place < 0.1:
        return _("center")
    if place > 0.8:
        return _("near the edge")
    return _("{share:.0f} % out").format(share=100.0 * place)


def assumed_words(drum: Drum) -> str:
    """What nobody said or somebody guessed: "mass, edge"."""
    return ", ".join(_(ASSUMED_WORDS[name]) for name in drum.assumed)


def signed_words(cents: float) -> str:
    """Cents with their sign: "−11"."""
    return figures(cents, "+.0f").replace("+0", "0").replace("−0", "0")


def entries_words(count: int) -> str:
    """How many entries of a log: "4 entries"."""
    return ngettext("{count} entry", "{count} entries", count).format(count=count)


def fine_turn_words(turns: float, short: bool = False) -> str:
    """A small turn as a hand thinks it: "⅛", "just over ¼", "1/32"; `short`: "over ¼"."""
    size = abs(turns)
    sixteenths = round(16.0 * size)
    if size < 3.5 / 64.0:
        parts = max(round(64.0 * size), 1)
        return {1: "1/64", 2: "1/32", 3: "3/64"}[parts]
    text = _sixteenth_words(sixteenths)
    off = 64.0 * size - 4.0 * sixteenths
    if abs(off) < 0.4:
        return text
    if short:
        return (_("over {text}") if off > 0.0 else _("under {text}")).format(text=text)
    return (_("just over {text}") if off > 0.0 else _("just under {text}")).format(text=text)


@dataclass(frozen=True)
class TurnWords:
    """How a turn is spoken of on a drum: of a rod in eighths and degrees; of a rope drum's ear in
    the way its hoop goes.

    Attributes
    ----------
    place, places : rod or ear, and of many
    mm_per_turn : of the hoop, 0 where a key turns
    """

    place: str = "rod"
    places: str = "rods"
    mm_per_turn: float = 0.0

    def way(self, turn: float) -> str:
        """Which way."""
        if self.mm_per_turn:
            return _("draw down") if turn > 0 else _("ease off")
        return _("tighten") if turn > 0 else _("loosen")

    def amount(self, turn: float, short: bool = False) -> str:
        """How far; `short` where there is little room."""
        if self.mm_per_turn:
            return f"{figures(max(abs(turn) * self.mm_per_turn, 0.1), '.1f')} mm"
        return fine_turn_words(turn, short)

    def more(self, turn: float) -> str:
        """How to set the hand to it."""
        if self.mm_per_turn:
            return (
                _("hoop down, at the neighboring ears")
                if turn > 0
                else _("at the neighboring ears")
            )
        degrees = abs(360.0 * turn)
        if turn > 0:
            return _("{degrees:.0f} degrees, clockwise").format(degrees=degrees)
        return _("{degrees:.0f} degrees, counterclockwise").format(degrees=degrees)


def turn_words_of(drum: Drum) -> TurnWords:
    """How turns are spoken of on a drum."""
    if drum.kind == "rope":
        return TurnWords(
            drum.rod_word, drum.rods_word, 1e3 * THREADS[drum.shell.rod_thread].pitch_m
        )
    return TurnWords(drum.rod_word, drum.rods_word)


def head_turns(drum: Drum, turns: Sequence[float]) -> list[tuple[str, str]]:
    """What to turn, per head: ("batter", "tighten ¼"); heads that stay are left out."""
    how = turn_words_of(drum)
    return [
        (side_inside(drum, side), f"{how.way(turn)} {how.amount(turn)}")
        for side, turn in zip(drum.sides, turns, strict=True)
        if abs(turn) >= LEAST_TURN
    ]


LEAST_TURN = 1.0 / 128.0
"""No hand turns less."""


def _sixteenth_words(sixteenths: int) -> str:
    if sixteenths % 2 == 0:
        return turn_words(sixteenths / 16.0)
    whole, rest = divmod(sixteenths, 16)
    return f"{whole} {rest}/16" if whole else f"{rest}/16"
