"""What is put on or cut into a head, as it is typed and shown."""

from __future__ import annotations

from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.language import _
from kesselton.core.units import format_length, format_thickness, parse_length
from kesselton.ui.parts.words import wording

Extras = tuple[tuple[Addition, ...], float]
"""Dots and rings, and the diameter of a port in m (0: none)."""


def head_name(head: Head, metric: bool) -> str:
    """What a head made by hand is called: its construction."""
    if not head.plies_m:
        return head.name
    count = {1: "single", 2: "two-ply", 3: "three-ply", 4: "four-ply"}[len(head.plies_m)]
    name = f"{count} {wording.plies_words(head, metric)}"
    if head.material != "polyester_film":
        name = f"{head.substance.label} {wording.plies_words(head, metric)}"
    if head.coating_kg_per_m2 > 0:
        name += _(", coated")
    for add in head.additions:
        name += f", {add.kind}"
    if head.port_diameter_m > 0:
        name += _(", port")
    return name


def write_extras(additions: tuple[Addition, ...], port_m: float, metric: bool) -> str:
    """Dots, rings and a port as they are typed."""
    parts = []
    for add in additions:
        outer = format_length(2.0 * add.outer_radius_m, metric)
        thick = format_thickness(add.thickness_m, metric)
        inner = (
            f"{format_length(2.0 * add.inner_radius_m, metric)} to " if add.kind == "ring" else ""
        )
        parts.append(f"{add.kind} {inner}{outer}, {thick}")
    if port_m > 0:
        parts.append(_("port {format_length}").format(format_length=format_length(port_m, metric)))
    return "; ".join(parts)


def read_extras(text: str, metric: bool, drum: Drum | None) -> Extras:
    """Read "dot 4 in, 7 mil", "ring 11 to 13 in, 10 mil", "port 5 in" (diameters); "" is none.

    Raises
    ------
    InputError
        With how to write it.
    """
    how = _("Enter dot 4 in, 7 mil; ring 11 in to 13 in, 10 mil; or port 5 in (diameters).")
    results, port = [], 0.0
    unit = "mm" if metric else "in"
    for part in filter(None, (piece.strip() for piece in text.split(";"))):
        kind, _unused, rest = part.partition(" ")
        size, comma, thick = rest.partition(",")
        if kind == "port" and rest and not comma and port == 0.0:
            port = parse_length(rest, unit)
            continue
        if kind not in ("dot", "ring") or not comma:
            raise InputError(_("“{part}” is not a dot, ring or port.").format(part=part), how)
        inner_text, to, outer_text = size.partition(" to ")
        if (kind == "ring") != bool(to):
            raise InputError(
                _("“{part}” needs an inner and an outer diameter.").format(part=part), how
            )
        outer = parse_length(outer_text if to else size, unit) / 2.0
        inner = parse_length(inner_text, unit) / 2.0 if to else 0.0
        thickness = parse_length(thick, "mm" if metric else "mil")
        results.append(Addition(kind, inner, outer, thickness))
        if drum is not None and outer > drum.shell.radius_m:
            raise InputError(
                _("The {kind} is larger than the drum ({format_length}).").format(
                    kind=kind, format_length=format_length(2.0 * drum.shell.radius_m, metric)
                ),
                _("Make it smaller."),
            )
    return tuple(results), port
