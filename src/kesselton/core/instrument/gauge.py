"""Gauges of the workshop and what was read on a drum, as they are noted."""

from __future__ import annotations

from dataclasses import dataclass, field

from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.reading import MAX_DIVISIONS
from kesselton.core.language import _


@dataclass(frozen=True)
class DialPair:
    """A dial reading and the tension known there, from a lug pitch.

    `name` says on what it was read ("Pit snare batter, C4").
    """

    dial: float
    tension_n_per_m: float
    thickness_m: float
    name: str = ""

    def __post_init__(self) -> None:
        check_range(self.dial, 0.0, MAX_DIVISIONS, _("Gauge reading"), "divisions", "dial")
        check_range(self.tension_n_per_m, 1.0, 60000.0, _("Tension"), "N/m", "tension_n_per_m")
        check_range(self.thickness_m, 1e-5, 3e-3, _("Thickness"), "m", "thickness_m")


@dataclass(frozen=True)
class Dial:
    """A dial of the workshop, with the pairs it was calibrated by."""

    name: str
    pairs: tuple[DialPair, ...] = field(default_factory=tuple)

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError(_("The gauge has no name."), _("Enter one."), "name")


@dataclass(frozen=True)
class TorqueKey:
    """A torque key: how its rods are lubricated, and where its scale ends."""

    name: str
    friction: str = "lubricated"
    most_nm: float = 3.0


@dataclass(frozen=True)
class Inspected:
    """What was measured on a bare shell; empty where nothing was.

    Attributes
    ----------
    diameters_m : at equal steps over half a turn, the first at rod 1
    gaps_m : under a flat plate, at equal steps all round, the first at rod 1
    head_inside_m, moulded_m : inside of the new head's hoop; diameter its film is moulded to
    """

    diameters_m: tuple[float, ...] = ()
    gaps_m: tuple[float, ...] = ()
    head_inside_m: float | None = None
    moulded_m: float | None = None
