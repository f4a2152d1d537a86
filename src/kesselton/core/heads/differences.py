"""What a player would notice between two pairs of heads."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from kesselton.core.arrays import FloatArray
from kesselton.core.heads.measures import Measures
from kesselton.core.language import N_, _
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


def differences(measures: Measures, first: int, second: int) -> list[Difference]:
    """How candidate `second` differs from `first`, one line for every measure."""

    def ratio(values: FloatArray, words: Ratio, least: float = RATIO) -> str:
        return _ratio_words(float(values[first]), float(values[second]), words, least)

    def change(values: FloatArray, least: float, more: str, less: str) -> str:
        by = float(values[second] - values[first])
        if not math.isfinite(by) or abs(by) < least:
            return ""
        return _(more if by > 0 else less).format(by=abs(by))

    cents = cents_between(
        float(measures.fundamental_hz[first]), float(measures.fundamental_hz[second])
    )
    higher = _("{cents:.0f} cents higher") if cents > 0 else _("{cents:.0f} cents lower")
    lines = [
        Difference(
            _("drum pitch"), "" if abs(cents) < PITCH_CENTS else higher.format(cents=abs(cents))
        ),
        Difference(_("ring"), ratio(measures.ring_s, LENGTH)),
        Difference(_("brightness"), ratio(measures.brightness_hz, BRIGHTNESS, 1.05)),
        Difference(
            _("attack"), change(measures.attack, SHARE, N_("stronger attack"), N_("softer attack"))
        ),
        Difference(
            _("soft-stroke response"),
            change(
                measures.response_db, LEVEL_DB, N_("{by:.1f} dB louder"), N_("{by:.1f} dB softer")
            ),
        ),
        Difference(_("stick feel"), ratio(measures.stiffness_n_per_m, FIRMNESS)),
        Difference(
            _("beats"),
            change(measures.beat_depth, 2.0 * SHARE, N_("beats more"), N_("beats less")),
        ),
        Difference(_("batter life"), ratio(measures.wear, LENGTH, LIFE_RATIO)),
    ]
    if math.isfinite(float(measures.wires_db[second] - measures.wires_db[first])):
        words = change(measures.wires_db, LEVEL_DB, N_("{by:.1f} dB more"), N_("{by:.1f} dB less"))
        lines.insert(5, Difference(_("wires"), words))
    return lines


class Ratio(NamedTuple):
    """How a quantity is told that is a little more, a little less, so many times as much, about
    half, less than half, less than a third."""

    more: str
    less: str
    times: str
    half: str
    below_half: str
    below_third: str


LENGTH = Ratio(
    N_("{share:.0f} % longer"), N_("{share:.0f} % shorter"), N_("{times:.1f} times as long"),
    N_("about half as long"), N_("less than half as long"), N_("less than a third as long"),
)  # fmt: skip
BRIGHTNESS = Ratio(
    N_("{share:.0f} % brighter"), N_("{share:.0f} % darker"), N_("{times:.1f} times as bright"),
    N_("about half as bright"), N_("less than half as bright"), N_("less than a third as bright"),
)  # fmt: skip
FIRMNESS = Ratio(
    N_("{share:.0f} % firmer"), N_("{share:.0f} % softer"), N_("{times:.1f} times as firm"),
    N_("about half as firm"), N_("less than half as firm"), N_("less than a third as firm"),
)  # fmt: skip


def _ratio_words(a: float, b: float, words: Ratio, least: float) -> str:
    if not (a > 0.0 and b > 0.0) or max(a / b, b / a) < least:
        return ""
    change = max(b / a, a / b)
    if change < 1.95:
        share = 100.0 * (change - 1.0)
        return _(words.more if b > a else words.less).format(share=share)
    if b > a:
        return _(words.times).format(times=change)
    if change < 2.0:
        return _(words.half)
    return _(words.below_half if change < 3.0 else words.below_third)
