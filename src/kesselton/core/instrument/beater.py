"""What strikes a drum: sticks, mallets and pedals."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core.errors import InputError, check_range
from kesselton.core.language import N_, _, worded

MEDIUM_SPEED_M_PER_S = 3.0
"""Of a medium stroke; assumed (sticks 1 to 10 m/s, from memory)."""
REBOUND = 0.5
"""Share of its speed with which a beater comes back; assumed."""


@worded("label")
@dataclass(frozen=True)
class Beater:
    """A stick, mallet or pedal. All values assumed, of the order of what is weighed and filmed.

    Attributes
    ----------
    tip_s : how long its tip alone would stay on something hard, at a medium stroke
    front : share of its impulse that the tip gives at once in the center, before the head gives way
    radius_m : how wide it lies
    mass_kg : what of it moves with the head: about the forward third of a stick, a mallet's or a
        pedal's head with its share of the shaft
    """

    label: str
    tip_s: float
    front: float
    radius_m: float
    mass_kg: float
    kinds: tuple[str, ...]

    @property
    def medium_impulse_ns(self) -> float:
        """Impulse of a medium stroke, N s."""
        return (1.0 + REBOUND) * self.mass_kg * MEDIUM_SPEED_M_PER_S


_STICKS = ("snare", "tom", "rope")
BEATERS = {
    "wood_tip": Beater(N_("wood tip"), 0.0010, 0.030, 0.005, 0.016, _STICKS),
    "nylon_tip": Beater(N_("nylon tip"), 0.0008, 0.040, 0.004, 0.016, _STICKS),
    "rods": Beater(N_("bundled rods"), 0.0015, 0.020, 0.010, 0.014, _STICKS),
    "mallet": Beater(N_("felt mallet"), 0.0030, 0.012, 0.018, 0.030, (*_STICKS, "concert_bass")),
    "pedal_felt": Beater(N_("pedal beater, felt"), 0.0040, 0.012, 0.025, 0.070, ("bass",)),
    "pedal_hard": Beater(N_("pedal beater, hard"), 0.0020, 0.030, 0.020, 0.070, ("bass",)),
    "felt_general": Beater(N_("general mallet"), 0.0060, 0.008, 0.040, 0.180, ("concert_bass",)),
    "felt_soft": Beater(N_("soft rollers"), 0.0090, 0.005, 0.050, 0.200, ("concert_bass",)),
    "felt_hard": Beater(N_("hard felt, staccato"), 0.0035, 0.015, 0.030, 0.140, ("concert_bass",)),
    "wood_core": Beater(N_("wood"), 0.0015, 0.030, 0.025, 0.120, ("concert_bass",)),
}

TYPICAL_BEATER = {
    "snare": "wood_tip",
    "tom": "wood_tip",
    "bass": "pedal_felt",
    "concert_bass": "felt_general",
    "rope": "wood_tip",
}
SOFTEST, HARDEST = 0.01, 20.0


@dataclass(frozen=True)
class Stroke:
    """A beater on the batter head.

    Attributes
    ----------
    place : distance from the center over the radius
    beater : what strikes
    touch : impulse against a medium stroke
    """

    place: float = 0.3
    beater: str = "wood_tip"
    touch: float = 1.0

    def __post_init__(self) -> None:
        check_range(self.place, 0.0, 0.98, _("Strike point"), _("of the radius"), "stroke.place")
        check_range(
            self.touch, SOFTEST, HARDEST, _("Touch"), _("times a medium stroke"), "stroke.touch"
        )
        if self.beater not in BEATERS:
            raise InputError(
                _("{beater!r} is not a beater.").format(beater=self.beater),
                _("Options: {beaters}.").format(beaters=", ".join(BEATERS)),
                "stroke.beater",
            )

    @property
    def made(self) -> Beater:
        """What strikes, and how it is made."""
        return BEATERS[self.beater]

    @property
    def impulse_ns(self) -> float:
        """N s."""
        return self.touch * self.made.medium_impulse_ns
