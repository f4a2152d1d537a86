"""The brief: what a drum must do, in the technician's words, before any head is bought."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.errors import InputError, check_range
from kesselton.core.heads.apart import ALIKE, BATTER_TIGHTER, Apart, cents
from kesselton.core.heads.like import Like
from kesselton.core.instrument.beater import BEATERS, TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, Worded, _, worded

HIGHEST_WISH_HZ, LOWEST_WISH_HZ = 1000.0, 20.0
WIDEST_CENTS = 1200.0


@worded("label")
@dataclass(frozen=True)
class BriefOption:
    """One answer the brief knows: its word, and what it asks of the sound."""

    label: str
    value: float


ROLES = {
    "signature": BriefOption(N_("signature sound"), 0.0),
    "versatile": BriefOption(N_("versatile"), 1.0),
}
"""How much room to retune counts."""

DENSITIES = {
    "sparse": BriefOption(N_("sparse"), 1.6),
    "medium": BriefOption(N_("medium"), 1.0),
    "busy": BriefOption(N_("busy"), 0.55),
}
"""Ring wanted, as a factor: dense figures want a shorter note (common practice, assumed)."""

TOUCHES = {
    "feather": BriefOption(N_("feather-soft"), 0.25),
    "light": BriefOption(N_("light"), 0.5),
    "medium": BriefOption(N_("medium"), 1.0),
    "hard": BriefOption(N_("hard"), 2.0),
    "very_hard": BriefOption(N_("very hard"), 3.5),
}
"""Impulse of a stroke against a medium one (assumed)."""

ROOMS = {
    "small": BriefOption(N_("small"), 0.8),
    "dry": BriefOption(N_("dry"), 1.25),
    "live": BriefOption(N_("live (glass, tile, hard floors)"), 0.6),
    "large": BriefOption(N_("large, unamplified"), 1.0),
}
"""Ring wanted, as a factor (assumed)."""

MICROPHONES = {
    "acoustic": BriefOption(N_("acoustic"), 1.0),
    "close": BriefOption(N_("close microphones"), 0.75),
}
"""Ring wanted, as a factor: house engineers want a short, defined note (common practice)."""

DURABILITIES = {
    "short": BriefOption(N_("a few shows"), 0.5),
    "normal": BriefOption(N_("a season"), 1.0),
    "long": BriefOption(N_("as long as possible"), 2.0),
}
"""Wear wanted, against a single 10 mil head under medium touch."""


SCHOOLS = Worded(
    {
        "batter_higher": N_("batter higher, by tension or pitch"),
        "unison": N_("unison"),
        "resonant_higher": N_("resonant higher, by pitch"),
        "interval": N_("given interval"),
        "all": N_("any interval"),
    }
)
APART = {
    "batter_higher": (cents(-500.0), cents(-300.0), BATTER_TIGHTER, cents(-100.0)),
    "unison": (cents(0.0),),
    "resonant_higher": tuple(map(cents, (100.0, 300.0, 500.0, 700.0))),
    "all": (
        cents(-500.0), BATTER_TIGHTER, *map(cents, (-100.0, 0.0, 100.0, 300.0, 500.0, 700.0))
    ),
}  # fmt: skip
"""What each school tries, in the measure it is meant in (common practice, no published source)."""

TARGETS = Worded(
    {
        "note": N_("drum pitch"),
        "batter": N_("batter lug pitch"),
        "feel": N_("by feel"),
        "stroke": N_("match a measured stroke"),
    }
)
FEELS = {
    "soft": BriefOption(N_("soft"), 0.6),
    "medium": BriefOption(N_("medium"), 1.0),
    "firm": BriefOption(N_("firm"), 1.5),
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
                    _("Requirement “{name}” is {value!r}.").format(name=name, value=value),
                    _("Options: {known}.").format(known=", ".join(known)),
                    name,
                )
        check_range(self.place, 0.0, 0.98, _("Strike point"), _("of the radius"), "place")
        for name, label in (("fundamental_hz", _("Drum pitch")), ("batter_hz", _("Lug pitch"))):
            value = getattr(self, name)
            if value is not None:
                check_range(value, LOWEST_WISH_HZ, HIGHEST_WISH_HZ, label, "Hz", name)
        self._check_target()
        self._check_school()
        for key, weight in self.weights.items():
            check_range(
                weight, 0.0, 5.0, _("Weight of {key}").format(key=key), "", f"weights.{key}"
            )

    def _check_target(self) -> None:
        for target, name, label in (
            ("note", "fundamental_hz", _("a drum pitch")),
            ("batter", "batter_hz", _("a lug pitch")),
        ):
            given = getattr(self, name) is not None
            if self.target == target and not given:
                raise InputError(
                    _("The target is {label}, but none is entered.").format(label=label),
                    _("Enter it."),
                    name,
                )
            if self.target != target and given:
                raise InputError(
                    _("The requirements give {label}, but the target is {targets!r}.").format(
                        label=label, targets=TARGETS[self.target]
                    ),
                    _("Choose {targets!r}, or leave the pitch empty.").format(
                        targets=TARGETS[target]
                    ),
                    name,
                )
        if (self.target == "stroke") != (self.like is not None):
            raise InputError(
                (
                    _("The target is a stroke, but none is selected.")
                    if self.like is None
                    else _("The requirements give a stroke, but the target is {targets!r}.").format(
                        targets=TARGETS[self.target]
                    )
                ),
                _("Analyze a stroke in Tuning, or choose one in the Log: “Match stroke”."),
                "like",
            )

    def _check_school(self) -> None:
        if self.school == "interval":
            if self.interval_cents is None:
                raise InputError(
                    _("“Given interval” is chosen, but no interval is entered."), _("Enter it."),
                    "interval_cents",
                )  # fmt: skip
            check_range(
                self.interval_cents, -WIDEST_CENTS, WIDEST_CENTS, _("Interval"), "cents",
                "interval_cents",
            )  # fmt: skip
        elif self.interval_cents is not None:
            raise InputError(
                _(
                    "The requirements give an interval of {interval_cents:g} "
                    "cents, but {schools!r} is chosen."
                ).format(interval_cents=self.interval_cents, schools=SCHOOLS[self.school]),
                _("Choose “given interval”, or leave the interval empty."),
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
                _("{name} cannot use the beater {label!r}.").format(
                    name=drum.name, label=beater.label
                ),
                _("Choose one of: {fitting}.").format(fitting=", ".join(fitting)),
                "beater",
            )
        if drum.resonant is None and self.school not in ("all",):
            raise InputError(
                _("{name!r} has no resonant head, so no interval between heads.").format(
                    name=drum.name
                ),
                _("Choose “any interval”, or add a resonant head."),
                "school",
            )
        if drum.one_pull is not None and self.school != "all":
            raise InputError(
                _(
                    "One pull tightens both heads of {name!r} equally: their "
                    "masses set the interval."
                ).format(name=drum.name),
                _("Choose “any interval”."),
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
    result = replace(
        brief, target="stroke", like=like, fundamental_hz=None, batter_hz=None, weights={}
    )
    if struck is None:
        return result
    touch = min(TOUCHES, key=lambda name: abs(TOUCHES[name].value - struck.touch))
    return replace(result, place=min(struck.place, 0.98), beater=struck.beater, touch=touch)


def typical_brief(drum: Drum) -> Brief:
    """A brief to start from for a kind of drum."""
    place = {"bass": 0.1, "concert_bass": 0.67, "snare": 0.15}.get(drum.kind, 0.3)
    two = drum.resonant is not None and drum.one_pull is None
    higher = drum.kind == "snare" and two
    return Brief(
        beater=TYPICAL_BEATER[drum.kind], place=place, school="resonant_higher" if higher else "all"
    )
