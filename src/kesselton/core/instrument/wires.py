"""Snare wires under a drum: what of them is known, and what is usual where nothing is said."""

from __future__ import annotations

from dataclasses import dataclass, replace

from kesselton.core.errors import check_range
from kesselton.core.language import N_

PER_STRAND_KG_PER_M = 0.007
"""Of a coiled steel strand; assumed: 20 of them weigh 0.14 kg/m."""
STRAND_PITCH_M = 0.0018
TYPICAL_STRANDS = 20
LENGTH_OF_HEAD = 0.9
"""Length over the head's diameter; assumed."""
PULL_PER_STRAND_N = 1.5
"""With the strainer half way; assumed."""
TYPICAL_SAG_M = 0.0015
"""How far the beds draw them down from end to middle, if no beds are entered; assumed."""
STRANDS = (1, 60)
LENGTHS_M, WIDTHS_M = (0.05, 0.8), (0.002, 0.2)
MASSES_KG, PULLS_N, SAGS_M = (0.002, 1.0), (0.5, 400.0), (0.0001, 0.01)
LIMITS = {
    "strands": (N_("Strands"), STRANDS, ""),
    "length_m": (N_("Wire length"), LENGTHS_M, "m"),
    "width_m": (N_("Wire width"), WIDTHS_M, "m"),
    "mass_kg": (N_("Wire mass"), MASSES_KG, "kg"),
    "pull_n": (N_("Strainer pull"), PULLS_N, "N"),
    "sag_m": (N_("Wire sag"), SAGS_M, "m"),
}


@dataclass(frozen=True)
class Laid:
    """Wires with every value there is.

    Attributes
    ----------
    length_m, width_m : of the strip that lies on the head
    mass_kg, pull_n : of all strands together
    sag_m : how far their middle lies beyond their ends, over the snare beds
    """

    strands: int
    length_m: float
    width_m: float
    mass_kg: float
    pull_n: float
    sag_m: float

    @property
    def line_mass_kg_per_m(self) -> float:
        """Mass over length."""
        return self.mass_kg / self.length_m


@dataclass(frozen=True)
class Wires:
    """What is known of a drum's wires; None is usual for the drum and marked as assumed.

    `engaged` False: the strainer is thrown off.
    """

    strands: int | None = None
    length_m: float | None = None
    width_m: float | None = None
    mass_kg: float | None = None
    pull_n: float | None = None
    sag_m: float | None = None
    engaged: bool = True

    def __post_init__(self) -> None:
        for name, (label, limits, unit) in LIMITS.items():
            value = getattr(self, name)
            if value is not None:
                check_range(value, *limits, label, unit, name)

    @property
    def assumed(self) -> tuple[str, ...]:
        """Names of what was not said."""
        return tuple(name for name in LIMITS if getattr(self, name) is None)

    def laid(self, head_diameter_m: float, bed_depth_m: float | None) -> Laid:
        """These wires under a head of that diameter, over beds of that depth if they are known."""
        strands = self.strands or TYPICAL_STRANDS
        length = self.length_m or LENGTH_OF_HEAD * head_diameter_m
        return Laid(
            strands,
            length,
            self.width_m or strands * STRAND_PITCH_M,
            self.mass_kg or strands * PER_STRAND_KG_PER_M * length,
            self.pull_n or PULL_PER_STRAND_N * strands,
            self.sag_m or bed_depth_m or TYPICAL_SAG_M,
        )

    def thrown_off(self) -> Wires:
        """The same, the strainer off."""
        return replace(self, engaged=False)
