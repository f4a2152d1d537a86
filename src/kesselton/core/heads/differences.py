"""What a player would notice between two pairs of heads."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core.heads.measures import Measures
from kesselton.core.language import _, figures
from kesselton.core.pitch import cents_between

PITCH_CENTS, RATIO, LEVEL_DB, LIFE_RATIO, SHARE = 10.0, 1.10, 1.0, 1.2, 0.05
"""Least differences worth a word. A decibel and a tenth of a tone are about what can be heard side
by side (Zwicker and Fastl, Psychoacoustics, sections 7.1 and 7.2, from memory); the others are
assumed."""


@dataclass(frozen=True)
class Difference:
    """One line of the table: what, and how the second pair is against the first ("" for alike)."""

    what: str
    words: str


def differences(found: Measures, first: int, second: int) -> list[Difference]:
    """How candidate `second` differs from `first`, one line for every measure."""

    def ratio(values: object, up: str, down: str, plain: str, least: float = RATIO) -> str:
        a, b = float(values[first]), float(values[second])  # type: ignore[index]
        if not (a > 0.0 and b > 0.0) or max(a / b, b / a) < least:
            return ""
        change = max(b / a, a / b)
        if change < 1.95:
            return f"{figures(100.0 * (change - 1.0), '.0f')} % {up if b > a else down}"
        if b > a:
            return _("{change:.1f} times as {plain}").format(change=change, plain=plain)
        return _("{part} as {plain}").format(part=_part(change), plain=plain)

    cents = cents_between(float(found.fundamental_hz[first]), float(found.fundamental_hz[second]))
    pitch = (
        ""
        if abs(cents) < PITCH_CENTS
        else (
            (_("{cents:.0f} cents higher") if cents > 0 else _("{cents:.0f} cents lower")).format(
                cents=abs(cents)
            )
        )
    )
    level = float(found.response_db[second] - found.response_db[first])
    soft = (
        ""
        if abs(level) < LEVEL_DB
        else (
            (_("{level:.1f} dB louder") if level > 0 else _("{level:.1f} dB softer")).format(
                level=abs(level)
            )
        )
    )
    attack = float(found.attack[second] - found.attack[first])
    front = "" if abs(attack) < SHARE else (
        _("stronger attack") if attack > 0 else _("softer attack")
    )  # fmt: skip
    beat = float(found.beat_depth[second] - found.beat_depth[first])
    clear = "" if abs(beat) < 2.0 * SHARE else (_("beats more") if beat > 0 else _("beats less"))
    lines = [
        Difference(_("drum pitch"), pitch),
        Difference("ring", ratio(found.ring_s, "longer", "shorter", "long")),
        Difference("brightness", ratio(found.brightness_hz, "brighter", "darker", "bright", 1.05)),
        Difference("attack", front),
        Difference(_("soft-stroke response"), soft),
        Difference(_("stick feel"), ratio(found.stiffness_n_per_m, "firmer", "softer", "firm")),
        Difference("beats", clear),
        Difference(_("batter life"), ratio(found.wear, "longer", "shorter", "long", LIFE_RATIO)),
    ]
    wires = float(found.wires_db[second] - found.wires_db[first])
    if math.isfinite(wires):
        text = (
            ""
            if abs(wires) < LEVEL_DB
            else (
                (_("{wires:.1f} dB more") if wires > 0 else _("{wires:.1f} dB less")).format(
                    wires=abs(wires)
                )
            )
        )
        lines.insert(5, Difference("wires", text))
    return lines


def _part(change: float) -> str:
    """What is left of a quantity that is so many times smaller."""
    if change < 2.0:
        return _("about half")
    return _("less than half") if change < 3.0 else _("less than a third")
