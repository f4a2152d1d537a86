"""The heads there are to choose from: shipped constructions in the size of a drum, and own ones."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache

from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import (
    Construction,
    Layer,
    head_size_in,
    is_snare_side,
    under_wires,
)
from kesselton.core.language import N_, Worded, _
from kesselton.resources import text_of
from kesselton.store.formats.drum_file import head_from_data
from kesselton.store.workshop.holdings import Shelved, Workshop

THINNEST_BATTER_M = 0.00014
"""Common practice, no published source."""

ANY, ON_IT = "any", "on"
FILTERS = Worded(
    {
        "all": N_("typical heads"),
        ANY: N_("all heads that fit"),
        "film": N_("film only"),
        "skin": N_("skin, fiber, aramid"),
        "single": N_("single ply"),
        "open": N_("no built-in muffling"),
        "favourite": N_("favorites"),
        "stock": N_("in stock"),
        ON_IT: N_("current heads, new settings"),
    }
)


@dataclass(frozen=True)
class Offer:
    """One head on offer for one side of a drum."""

    head: Head
    character: str
    own: bool
    shelved: Shelved


@lru_cache(maxsize=1)
def constructions() -> tuple[Construction, ...]:
    """The generic constructions that ship with the program."""
    text = text_of("constructions.json")
    results = []
    for data in json.loads(text):
        values = dict(data)
        for name in ("plies_mil", "sides", "kinds"):
            values[name] = tuple(values[name])
        values["layers"] = tuple(Layer(**layer) for layer in values.get("layers", ()))
        results.append(Construction(**values))
    return tuple(results)


@lru_cache(maxsize=1)
def shipped_heads() -> tuple[Head, ...]:
    """The heads a new workshop begins with."""
    text = text_of("heads.json")
    return tuple(head_from_data(data) for data in json.loads(text))


def offers(drum: Drum, workshop: Workshop, side: str, anything: bool = False) -> list[Offer]:
    """Every head for one side: the constructions used there, and own heads that fit; or
    `anything` that can be put on."""
    size = head_size_in(drum)
    radius = drum.shell.radius_m
    results = [
        Offer(c.made_for(radius), c.character, False, workshop.shelved(c.name, size))
        for c in constructions()
        if anything or c.suits(drum, side)
    ]
    shipped = set(shipped_heads())
    names = {c.name for c in constructions()} | {head.name for head in shipped}
    for head in workshop.own_heads:
        if head.name in names or not (anything or _usual(head, drum, side)):
            continue
        try:
            head.check_fits(radius)
        except InputError:
            continue
        results.append(Offer(head, _("custom head"), True, workshop.shelved(head.name, size)))
    return results


def _usual(head: Head, drum: Drum, side: str) -> bool:
    """True if an own head is used on that side: a port faces away from the player, a film thinner
    than a batter bears is a snare side."""
    if head.port_diameter_m > 0.0:
        return side == "resonant" and drum.kind in ("bass", "concert_bass")
    thin = head.film_thickness_m < THINNEST_BATTER_M
    if under_wires(drum, side):
        return is_snare_side(head.film_thickness_m, head.material)
    return side == "resonant" if thin else True


def on_it(drum: Drum, workshop: Workshop, side: str) -> list[Offer]:
    """The head that lies on a side, and no other: its settings are to be found."""
    head = drum.setting(side).head
    shelved = workshop.shelved(head.name, head_size_in(drum))
    return [Offer(head, _("current head"), False, shelved)]


def filtered(results: list[Offer], text: str, kind: str) -> list[Offer]:
    """Those whose name or character holds every word of `text` and that pass a filter."""
    words = text.casefold().split()
    return [
        offer
        for offer in results
        if all(w in f"{offer.head.name} {offer.character}".casefold() for w in words)
        and _passes(offer, kind)
    ]


def _passes(offer: Offer, kind: str) -> bool:
    head = offer.head
    built_in = bool(head.additions or head.interlayer or head.edge_vents)
    return {
        "all": True,
        ANY: True,
        "film": head.material == "polyester_film",
        "skin": head.material != "polyester_film",
        "single": len(head.plies_m) <= 1,
        "open": not built_in,
        "favourite": offer.shelved.favourite,
        "stock": offer.shelved.stock > 0,
        ON_IT: True,
    }[kind]
