"""The brief: what a drum must do, in the technician's words, before any head is bought."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.choosing.apart import ALIKE, BATTER_TIGHTER, Apart, cents
from kesselton.core.choosing.like import Like
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.beater import BEATERS, TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum

HIGHEST_WISH_HZ, LOWEST_WISH_HZ = 1000.0, 20.0
WIDEST_CENTS = 1200.0


@dataclass(frozen=True)
class BriefOption:
    """One answer the brief knows: its word, and what it asks of the sound."""

    label: str
    value: float


ROLES = {
    "signature": BriefOption("signature sound", 0.0),
    "versatile": BriefOption("versatile", 1.0),
}
"""How much room to retune counts."""

DENSITIES = {
    "sparse": BriefOption("sparse", 1.6),
    "medium": BriefOption("medium", 1.0),
    "busy": BriefOption("busy", 0.55),
}
"""Ring wanted, as a factor: dense figures want a shorter note (common practice, assumed)."""

TOUCHES = {
    "feather": BriefOption("feather-soft", 0.25),
    "light": BriefOption("light", 0.5),
    "medium": BriefOption("medium", 1.0),
    "hard": BriefOption("hard", 2.0),
    "very_hard": BriefOption("very hard", 3.5),
}
"""Impulse of a stroke against a medium one (assumed)."""

ROOMS = {
    "small": BriefOption("small", 0.8),
    "dry": BriefOption("dry", 1.25),
    "live": BriefOption("live (glass, tile, hard floors)", 0.6),
    "large": BriefOption("large, unamplified", 1.0),
}
"""Ring wanted, as a factor (assumed)."""

MICROPHONES = {
    "acoustic": BriefOption("acoustic", 1.0),
    "close": BriefOption("close microphones", 0.75),
}
"""Ring wanted, as a factor: house engineers want a short, defined note (common practice)."""

DURABILITIES = {
    "short": BriefOption("a few shows", 0.5),
    "normal": BriefOption("a season", 1.0),
    "long": BriefOption("as long as possible", 2.0),
}
"""Wear wanted, against a single 10 mil head under medium touch."""


SCHOOLS = {
    "batter_higher": "batter higher, by tension or pitch",
    "unison": "unison",
    "resonant_higher": "resonant higher, by pitch",
    "interval": "given interval",
    "all": "any interval",
}
APART = {
    "batter_higher": (cents(-500.0), cents(-300.0), BATTER_TIGHTER, cents(-100.0)),
    "unison": (cents(0.0),),
    "resonant_higher": tuple(map(cents, (100.0, 300.0, 500.0, 700.0))),
    "all": (
        cents(-500.0), BATTER_TIGHTER, *map(cents, (-100.0, 0.0, 100.0, 300.0, 500.0, 700.0))
    ),
}  # fmt: skip
"""What each school tries, in the measure it is meant in (common practice, no published source)."""

TARGETS = {
    "note": "drum pitch",
    "batter": "batter lug pitch",
    "feel": "by feel",
    "stroke": "match a measured stroke",
}
FEELS = {
    "soft": BriefOption("soft", 0.6),
    "medium": BriefOption("medium", 1.0),
    "firm": BriefOption("firm", 1.5),
}
"""Stiffness under the stick against what is usual for the kind (assumed)."""


@dataclass(frozen=True)
class Brief:
    """What the drum must do.

    `target` says what is given: "note" uses `fundamental_hz`, "batter" uses `batter_hz`, "feel"
    uses `feel`, "stroke" uses `like`. `interval_cents` belongs to the school "interval".

    Raises
    ------
    InputError
        If something is missing, unknown or contradicts itself; the path names the field.
    """

    role: str = "versatile"
    density: str = "medium"
    touch: str = "medium"
    beater: str = "wood_tip"
    place: float = 0.3
    room: str = "dry"
    microphones: str = "acoustic"
    durability: str = "normal"
    target: str = "feel"
    fundamental_hz: float | None = None
    batter_hz: float | None = None
    feel: str = "medium"
    school: str = "all"
    interval_cents: float | None = None
    weights: dict[str, float] = field(default_factory=dict, compare=True, hash=False)
    like: Like | None = None

    def __post_init__(self) -> None:
        for name, known in _VOCABULARY.items():
            value = getattr(self, name)
            if value not in known:
                raise InputError(
                    f"Requirement “{name}” is {value!r}.", f"Options: {', '.join(known)}.", name
                )
        check_range(self.place, 0.0, 0.98, "Strike point", "of the radius", "place")
        for name, label in (("fundamental_hz", "Drum pitch"), ("batter_hz", "Lug pitch")):
            value = getattr(self, name)
            if value is not None:
                check_range(value, LOWEST_WISH_HZ, HIGHEST_WISH_HZ, label, "Hz", name)
        self._check_target()
        self._check_school()
        for key, weight in self.weights.items():
            check_range(weight, 0.0, 5.0, f"Weight of {key}", "", f"weights.{key}")

    def _check_target(self) -> None:
        for target, name, label in (
            ("note", "fundamental_hz", "a drum pitch"),
            ("batter", "batter_hz", "a lug pitch"),
        ):
            given = getattr(self, name) is not None
            if self.target == target and not given:
                raise InputError(f"The target is {label}, but none is entered.", "Enter it.", name)
            if self.target != target and given:
                raise InputError(
                    f"The requirements give {label}, but the target is {TARGETS[self.target]!r}.",
                    f"Choose {TARGETS[target]!r}, or leave the pitch empty.",
                    name,
                )
        if (self.target == "stroke") != (self.like is not None):
            raise InputError(
                "The target is a stroke, but none is selected."
                if self.like is None
                else f"The requirements give a stroke, but the target is {TARGETS[self.target]!r}.",
                "Analyze a stroke in Tuning, or choose one in the Log: “Match stroke”.",
                "like",
            )

    def _check_school(self) -> None:
        if self.school == "interval":
            if self.interval_cents is None:
                raise InputError(
                    "“Given interval” is chosen, but no interval is entered.", "Enter it.",
                    "interval_cents",
                )  # fmt: skip
            check_range(
                self.interval_cents, -WIDEST_CENTS, WIDEST_CENTS, "Interval", "cents",
                "interval_cents",
            )  # fmt: skip
        elif self.interval_cents is not None:
            raise InputError(
                f"The requirements give an interval of {self.interval_cents:g} cents, but "
                f"{SCHOOLS[self.school]!r} is chosen.",
                "Choose “given interval”, or leave the interval empty.",
                "interval_cents",
            )

    def apart(self, drum: Drum) -> tuple[Apart, ...]:
        """How far apart the heads of a drum are tried."""
        if drum.resonant is None:
            return (cents(0.0),)
        if drum.one_pull is not None:
            return (ALIKE,)
        if self.school == "interval":
            assert self.interval_cents is not None
            return (cents(self.interval_cents),)
        return APART[self.school]

    @property
    def note_hz(self) -> float | None:
        """The note the whole drum must sound, where one is asked for."""
        return self.fundamental_hz if self.like is None else self.like.fundamental_hz

    @property
    def stroke(self) -> Stroke:
        """The stroke the brief is about."""
        return Stroke(self.place, self.beater, TOUCHES[self.touch].value)

    def check_fits(self, drum: Drum) -> None:
        """Raise InputError if the brief asks what this drum cannot have."""
        beater = BEATERS[self.beater]
        if drum.kind not in beater.kinds:
            fitting = [b.label for b in BEATERS.values() if drum.kind in b.kinds]
            raise InputError(
                f"{drum.name} cannot use the beater {beater.label!r}.",
                f"Choose one of: {', '.join(fitting)}.",
                "beater",
            )
        if drum.resonant is None and self.school not in ("all",):
            raise InputError(
                f"{drum.name!r} has no resonant head, so no interval between heads.",
                "Choose “any interval”, or add a resonant head.",
                "school",
            )
        if drum.one_pull is not None and self.school != "all":
            raise InputError(
                f"One pull tightens both heads of {drum.name!r} equally: their masses set the "
                "interval.",
                "Choose “any interval”.",
                "school",
            )


_VOCABULARY: dict[str, tuple[str, ...]] = {
    "role": tuple(ROLES),
    "density": tuple(DENSITIES),
    "touch": tuple(TOUCHES),
    "beater": tuple(BEATERS),
    "room": tuple(ROOMS),
    "microphones": tuple(MICROPHONES),
    "durability": tuple(DURABILITIES),
    "target": tuple(TARGETS),
    "feel": tuple(FEELS),
    "school": tuple(SCHOOLS),
}


def like_brief(brief: Brief, like: Like, struck: Stroke | None = None) -> Brief:
    """The brief with a stroke as its target, struck as that was."""
    made = replace(
        brief, target="stroke", like=like, fundamental_hz=None, batter_hz=None, weights={}
    )
    if struck is None:
        return made
    touch = min(TOUCHES, key=lambda name: abs(TOUCHES[name].value - struck.touch))
    return replace(made, place=min(struck.place, 0.98), beater=struck.beater, touch=touch)


def typical_brief(drum: Drum) -> Brief:
    """A brief to start from for a kind of drum."""
    place = {"bass": 0.1, "concert_bass": 0.67, "snare": 0.15}.get(drum.kind, 0.3)
    two = drum.resonant is not None and drum.one_pull is None
    higher = drum.kind == "snare" and two
    return Brief(
        beater=TYPICAL_BEATER[drum.kind], place=place, school="resonant_higher" if higher else "all"
    )
