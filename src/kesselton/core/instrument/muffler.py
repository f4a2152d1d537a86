"""Muffling laid on a head: what there is, and where it lies."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core.constants import SIDES
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import N_, _, worded

MAX_MUFFLERS = 8


@worded("label")
@dataclass(frozen=True)
class MufflerKind:
    """What a muffler is made of. All values assumed.

    Attributes
    ----------
    mass_kg : what moves with the head
    slip : friction as a share of its inertia: a flap lifts and falls back, a hand gives
    reach_m : radius of the spot it covers; 0 for a ring all round
    """

    label: str
    mass_kg: float
    slip: float
    reach_m: float


MUFFLERS: dict[str, MufflerKind] = {
    "tape": MufflerKind(N_("folded tape flap"), 0.0010, 1.0, 0.012),
    "gel": MufflerKind(N_("gel"), 0.0025, 0.6, 0.015),
    "cloth": MufflerKind(N_("cloth"), 0.005, 1.0, 0.040),
    "ring": MufflerKind(N_("loose muffling ring"), 0.008, 1.0, 0.0),
    "pillow": MufflerKind(N_("pillow inside, touching"), 0.004, 3.0, 0.080),
    "hand": MufflerKind(N_("hand"), 0.020, 2.0, 0.035),
}


@dataclass(frozen=True)
class Muffler:
    """One piece of muffling.

    Attributes
    ----------
    place : distance of its middle from the centre over the contact radius
    rod : where round the head: 1 is at rod 1, 1.5 between rods 1 and 2
    """

    kind: str
    side: str = "batter"
    place: float = 0.8
    rod: float = 1.5

    def __post_init__(self) -> None:
        if self.kind not in MUFFLERS:
            raise InputError(
                _("{kind!r} is not a kind of muffling.").format(kind=self.kind),
                _("Options: {mufflers}.").format(mufflers=", ".join(MUFFLERS)),
                "mufflers.kind",
            )
        if self.side not in SIDES:
            raise InputError(
                _("{side!r} is not a side.").format(side=self.side),
                _("Options: {sides}.").format(sides=", ".join(SIDES)),
                "mufflers.side",
            )
        check_range(
            self.place, 0.0, 0.98, _("Muffling position"), _("of the radius"), "mufflers.place"
        )
        check_range(self.rod, 1.0, 40.0, _("Muffling rod"), "", "mufflers.rod")

    @property
    def made(self) -> MufflerKind:
        """What it is made of."""
        return MUFFLERS[self.kind]

    def angle(self, rods: int) -> float:
        """Radians round the head from rod 1."""
        return 2.0 * math.pi * (self.rod - 1.0) / rods
