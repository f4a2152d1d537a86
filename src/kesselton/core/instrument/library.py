"""Generic head constructions, to be made in the size of a drum."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import KINDS, Drum
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.materials import SKINS
from kesselton.core.language import _, worded
from kesselton.core.pitch import ratio_of

ROUND_UP_IN = 0.25
HIDE_EXTRA_IN = 4.0
"""A hide is about so much wider than the drum; common practice, no published source."""


@dataclass(frozen=True)
class Layer:
    """A dot or ring in shares of the contact radius; `mil` thick."""

    kind: str
    inner: float
    outer: float
    mil: float


@worded("character")
@dataclass(frozen=True)
class Construction:
    """How a head is made, whatever its size.

    Attributes
    ----------
    sides, kinds : where it is used (common practice)
    character : what the trade says of it (common practice)
    """

    name: str
    material: str
    plies_mil: tuple[float, ...]
    sides: tuple[str, ...]
    kinds: tuple[str, ...]
    character: str
    coating_kg_per_m2: float = 0.0
    interlayer: str = ""
    layers: tuple[Layer, ...] = ()
    edge_vents: int = 0
    edge_vent_diameter_m: float = 0.0
    port_share: float = 0.0

    def __post_init__(self) -> None:
        for kind in self.kinds:
            if kind not in KINDS:
                raise InputError(
                    _("There is no kind of drum {kind!r}.").format(kind=kind), path="kinds"
                )

    def made_for(self, radius_m: float) -> Head:
        """The head in the size of a contact circle."""
        additions = tuple(
            Addition(
                layer.kind,
                layer.inner * radius_m,
                layer.outer * radius_m,
                layer.mil * const.METRE_PER_MIL,
            )
            for layer in self.layers
        )
        return Head(
            self.name,
            self.material,
            tuple(mil * const.METRE_PER_MIL for mil in self.plies_mil),
            None,
            self.coating_kg_per_m2,
            additions,
            2.0 * self.port_share * radius_m,
            self.interlayer,
            self.edge_vents,
            self.edge_vent_diameter_m,
        )

    def suits(self, drum: Drum, side: str) -> bool:
        """True if it is used on that side of that kind of drum."""
        if side not in self.sides or drum.kind not in self.kinds:
            return False
        thickness = sum(self.plies_mil) * const.METRE_PER_MIL
        return not under_wires(drum, side) or is_snare_side(thickness, self.material)


def under_wires(drum: Drum, side: str) -> bool:
    """True where snare wires lie on the head."""
    return drum.kind == "snare" and side == "resonant"


def is_snare_side(thickness_m: float, material: str) -> bool:
    """True if wires answer on such a head: 2, 3 or 5 mil of film, or a thin skin (common practice,
    no published source)."""
    return thickness_m <= (THICKEST_SKIN_M if material in SKINS else THICKEST_FILM_M)


def head_size_in(drum: Drum) -> float:
    """Size a head is bought in: the inside of the hoop, in inches (common practice).

    The head diameter of a drum is measured inside the hoop, so it is the size itself, to the
    nearest quarter inch.

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> head_size_in(usual_drum("tom"))
    12.0
    """
    size = drum.shell.head_diameter_m / const.METRE_PER_INCH
    return round(size / ROUND_UP_IN) * ROUND_UP_IN


def snare_side_mil(batter: Head, impulse: float) -> float:
    """Thickness of a snare side that suits batter and touch: heavier, heavier (common practice).

    `impulse` is the stroke's against a medium one. Between 2 and 5 mil, the numbers assumed.
    """
    heavy = batter.base_density_kg_per_m2 / 0.353
    return float(min(5.0, max(2.0, 3.0 * heavy**0.5 * impulse**0.35)))


def hide_size_in(drum: Drum) -> float:
    """Width of the hide for a skin head, in inches (common practice).

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> hide_size_in(usual_drum("tom"))
    16.0
    """
    return head_size_in(drum) + HIDE_EXTRA_IN


THICKEST_FILM_M, THICKEST_SKIN_M = 5.5 * const.METRE_PER_MIL, 9.0 * const.METRE_PER_MIL
"""Of a snare side."""
SHELL_BAND_CENTS = 400.0
"""A tom is kept within one and a half to two whole steps of its shell note; common practice."""


def shell_band(shell_note_hz: float) -> tuple[float, float]:
    """Pitches between which that school keeps a tom, hertz.

    Examples
    --------
    >>> [round(hz, 1) for hz in shell_band(200.0)]
    [158.7, 252.0]
    """
    reach = ratio_of(SHELL_BAND_CENTS)
    return shell_note_hz / reach, shell_note_hz * reach
