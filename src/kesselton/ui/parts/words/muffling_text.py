"""Muffling as technicians write it: "tape, rod 1.5, 80 %; ring"."""

from __future__ import annotations

from kesselton.core.errors import InputError
from kesselton.core.instrument.muffler import MUFFLERS, Muffler
from kesselton.core.language import N_, _

HOW = N_("Enter one of {kinds}, optionally with rod 1.5, 80 %; separate by ;")


def _how() -> str:
    return _(HOW).format(kinds=", ".join(MUFFLERS))


def read_mufflers(text: str, side: str) -> tuple[Muffler, ...]:
    """Muffling of one head from text.

    Raises
    ------
    InputError
        If a piece cannot be read.
    """
    results = []
    for piece in text.split(";"):
        if not piece.strip():
            continue
        first, *rest = [part.strip() for part in piece.split(",")]
        kind = first.casefold()
        if kind not in MUFFLERS:
            raise InputError(_("“{first}” is not a kind of muffling.").format(first=first), _how())
        values: dict[str, float] = {}
        for part in rest:
            word = part.casefold()
            try:
                if word.startswith("rod"):
                    values["rod"] = float(word.removeprefix("rods").removeprefix("rod"))
                elif word.endswith("%"):
                    values["place"] = float(word.removesuffix("%")) / 100.0
                else:
                    raise ValueError(part)
            except ValueError:
                raise InputError(
                    _("“{part}” is neither a rod nor a percentage.").format(part=part), _how()
                ) from None
        results.append(Muffler(kind, side, **values))
    return tuple(results)


def write_mufflers(mufflers: tuple[Muffler, ...] | None, side: str) -> str:
    """Muffling of one head as it is typed."""
    pieces = []
    for muffler in mufflers or ():
        if muffler.side != side:
            continue
        if muffler.made.reach_m == 0.0:
            pieces.append(muffler.kind)
        else:
            pieces.append(
                _("{kind}, rod {rod:g}, {place:.0f} %").format(
                    kind=muffler.kind, rod=muffler.rod, place=100.0 * muffler.place
                )
            )
    return "; ".join(pieces)
