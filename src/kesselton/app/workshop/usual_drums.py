"""Drums as they usually are: sizes, rods, hoops, heads and tunings of every kind.

Common practice, no published source; what a technician begins from, and then measures.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from kesselton.app.workshop.head_stock import shipped_heads
from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell


@dataclass(frozen=True)
class UsualSize:
    """A size of a kind of drum, and what it is usually tuned to (lug pitches, other head muted)."""

    diameter_in: float
    depth_in: float
    rods: int
    batter_hz: float
    resonant_hz: float


@dataclass(frozen=True)
class UsualKind:
    """What nearly all drums of a kind have; the first size is the one most of them have."""

    name: str
    hoop: str
    batter: str
    resonant: str
    vent_in: float
    sizes: tuple[UsualSize, ...]


USUAL = {
    "tom": UsualKind(
        "Tom", "flanged_1_6mm", "single 10 mil, coated", "single 10 mil, clear", 0.5,
        (
            UsualSize(12, 8, 6, 196.0, 233.08),
            UsualSize(10, 8, 6, 220.0, 261.63),
            UsualSize(13, 9, 6, 174.61, 207.65),
            UsualSize(14, 14, 8, 130.81, 155.56),
            UsualSize(16, 16, 8, 110.0, 130.81),
            UsualSize(18, 16, 8, 98.0, 116.54),
        ),
    ),
    "snare": UsualKind(
        "Snare", "flanged_2_3mm", "single 10 mil, coated", "snare side 3 mil", 0.5,
        (
            UsualSize(14, 5.5, 8, 261.63, 349.23),
            UsualSize(14, 6.5, 10, 246.94, 329.63),
            UsualSize(13, 6, 8, 277.18, 369.99),
            UsualSize(12, 5, 6, 311.13, 392.0),
        ),
    ),
    "bass": UsualKind(
        "Bass drum", "wood", "single 10 mil, coated", "single 10 mil, coated, port 5 in", 0.0,
        (
            UsualSize(22, 16, 10, 73.42, 82.41),
            UsualSize(20, 16, 8, 82.41, 92.5),
            UsualSize(18, 14, 8, 98.0, 110.0),
            UsualSize(24, 14, 10, 65.41, 73.42),
        ),
    ),
    "concert_bass": UsualKind(
        "Concert bass", "wood", "textured fiber 14 mil", "textured fiber 14 mil", 0.0,
        (
            UsualSize(32, 16, 10, 61.74, 61.74),
            UsualSize(36, 16, 12, 55.0, 55.0),
            UsualSize(36, 18, 12, 55.0, 55.0),
            UsualSize(28, 14, 10, 69.3, 69.3),
        ),
    ),
    "rope": UsualKind(
        "Rope drum", "rope", "calf skin 18 mil", "calf skin 18 mil", 0.375,
        (UsualSize(16, 12, 10, 138.59, 164.81), UsualSize(14, 12, 10, 155.56, 185.0)),
    ),
}  # fmt: skip


def usual_drum(kind: str, size: UsualSize | None = None, name: str = "") -> Drum:
    """A drum of a kind, with the size given or the commonest."""
    usual = USUAL[kind]
    chosen = size or usual.sizes[0]
    shell = Shell(
        chosen.diameter_in * METRE_PER_INCH,
        chosen.depth_in * METRE_PER_INCH,
        chosen.rods,
        usual.hoop,
        vent_diameter_m=usual.vent_in * METRE_PER_INCH,
    )
    return Drum(
        name or usual.name,
        kind,
        shell,
        HeadSetting(_head(usual.batter), reading=LugPitch(chosen.batter_hz)),
        HeadSetting(_head(usual.resonant), reading=LugPitch(chosen.resonant_hz)),
    )


def as_usual(drum: Drum) -> Drum:
    """A drum with heads, hoops and tuning as its kind usually has them; its shell stays."""
    usual = USUAL[drum.kind]
    inches = drum.shell.head_diameter_m / METRE_PER_INCH
    near = min(usual.sizes, key=lambda size: abs(size.diameter_in - inches))
    result = usual_drum(drum.kind, near, drum.name)
    share = near.diameter_in / inches  # a larger head is tuned lower
    settings = {
        side: replace(setting, reading=LugPitch(setting.reading.hz * share))
        for side in result.sides
        if (setting := result.setting(side)).reading is not None
    }
    shell = replace(drum.shell, hoop=usual.hoop)
    return replace(
        drum, shell=shell, batter=settings["batter"], resonant=settings["resonant"], mufflers=()
    )


def unused_name(name: str, taken: set[str]) -> str:
    """The name, with a number where there is one like it."""
    names = (name if number == 1 else f"{name} {number}" for number in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def _head(name: str) -> Head:
    return next(head for head in shipped_heads() if head.name == name)
