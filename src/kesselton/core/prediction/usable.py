"""How far a head can go: limits below and above, each with its name."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from kesselton.core.acoustics.air.outside import OutsideAir
from kesselton.core.acoustics.solver.lug import lug_pitch, lug_tone
from kesselton.core.errors import InputError
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import LOWEST_TENSION_N_PER_M, Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import HOOPS, Shell
from kesselton.core.language import _
from kesselton.core.prediction.glide import glide_limit_n_per_m

COLLAR_STRESS_PA = 1.5e6
"""Film stress that pulls a moulded collar free and the wrinkles out; assumed."""
GLIDE_CENTS, GLIDE_OF_LOW_DRUMS = 150.0, {"bass": 350.0, "concert_bass": 250.0}
"""Glide a stroke may start with before its pitch blurs: a tone and a half is heard as a fall, which
in a low drum is part of its sound (common practice); figures assumed."""
CREEP_SHARE = 0.6
"""Share of the yield stress up to which a head stretches little after it is fitted: drawn polyester
creeps with the logarithm of time, and more than in proportion near its yield (Ward and Sweeney,
Mechanical Properties of Solid Polymers, on creep and Eyring, from memory); share assumed."""
YIELD_SHARE = 0.95
"""Share of the yield stress beyond which nobody goes; snare sides of 3 mil at 440 Hz on a 14 in
drum stand well above the share before it, every day (common practice)."""
ROD_LOAD_N = 2500.0
"""Load one No. 12-24 rod takes from a hand key without galling; assumed."""


EDGE_PLAY_M = 0.0003
RESHAPED = 0.3
"""Share of an even draw that reshapes a collar; the rest is bending of its corner; assumed."""
CLEAR_SWINGS = 20.0
"""Swings to -60 dB from which a tap has a pitch; assumed (a tone needs some ten periods to be heard
as one: Zwicker and Fastl, section 5.1, from memory)."""


@dataclass(frozen=True)
class Limit:
    """A tension no head should go below or above, and why; `sure` is the share it may be off (90 %,
    assumed). `borne` False: it can be gone beyond, at a price (the reason says which)."""

    name: str
    label: str
    tension_n_per_m: float
    reason: str
    sure: float = 0.3
    borne: bool = True


@dataclass(frozen=True)
class HeadRange:
    """How far one head can go: all limits, and the ones that cannot be gone beyond."""

    side: str
    lower: tuple[Limit, ...]
    upper: tuple[Limit, ...]
    lowest_pitch_hz: float
    highest_pitch_hz: float

    @property
    def lowest(self) -> Limit:
        """The lower limit that is met first when loosening and cannot be gone beyond."""
        borne = (limit for limit in self.lower if limit.borne)
        return max(borne, key=lambda limit: limit.tension_n_per_m)

    @property
    def clear_from(self) -> Limit:
        """The tension from which a stroke has a clear pitch as well."""
        return max(self.lower, key=lambda limit: limit.tension_n_per_m)

    @property
    def highest(self) -> Limit:
        """The upper limit that is met first when tightening and cannot be gone beyond."""
        borne = (limit for limit in self.upper if limit.borne)
        return min(borne, key=lambda limit: limit.tension_n_per_m)

    @property
    def keeps_to(self) -> Limit:
        """The tension up to which a head keeps its pitch as well."""
        return min(self.upper, key=lambda limit: limit.tension_n_per_m)


def tension_limits(
    head: Head, shell: Shell, kind: str, side: str, stroke: Stroke | None = None
) -> HeadRange:
    """The limits of a head on a shell, in tension only; the pitches are left at 0.

    `stroke` is the hardest asked for; None: a medium one with the usual beater.
    """
    thickness = head.film_thickness_m
    per_rod = shell.rods / (2.0 * math.pi * shell.radius_m)
    rope = kind == "rope"
    hoop = HOOPS[shell.hoop]
    lower = (
        Limit(
            "collar",
            _("collar"),
            shell.worn.bears * COLLAR_STRESS_PA * thickness,
            _("below it the collar is not pulled out and the head wrinkles") + _of_edge(shell),
        ),
        _glide(head, shell, kind, stroke),
        *_edge_fit(head, shell),
    )
    upper = (
        Limit(
            "film_creep",
            _("creep"),
            CREEP_SHARE * head.substance.yield_pa.value * thickness,
            _("above it a new head keeps stretching: check after a day"),
            0.25,
            borne=False,
        ),
        Limit(
            "film_stress",
            _("film stress"),
            YIELD_SHARE * head.substance.yield_pa.value * thickness,
            _("above it the head stretches permanently"),
            0.15,
        ),
        Limit(
            "rod_load",
            _("rope load") if rope else _("rod load"),
            ROD_LOAD_N * per_rod,
            _("above it a rod turns only with force"),
        ),
        Limit(
            "hoop",
            _("hoop"),
            hoop.rod_load_n * per_rod,
            _("above it the {label} hoop bends between the rods").format(label=hoop.label),
        ),
    )
    return HeadRange(side, lower, upper, 0.0, 0.0)


def _glide(head: Head, shell: Shell, kind: str, stroke: Stroke | None) -> Limit:
    """The limit by what a stroke does to the pitch of a slack head."""
    blow = stroke or Stroke(beater=TYPICAL_BEATER[kind])
    most = GLIDE_OF_LOW_DRUMS.get(kind, GLIDE_CENTS)
    return Limit(
        "glide",
        _("pitch glide"),
        glide_limit_n_per_m(head, shell, blow, most),
        _("below it the required stroke starts more than {most:g} cents sharp").format(most=most),
        0.5,
        borne=False,
    )


def under_stroke(usable: HeadRange, drum: Drum, stroke: Stroke) -> HeadRange:
    """The range of a head of a drum under another stroke: the glide alone is another."""
    glide = _glide(drum.setting(usable.side).head, drum.shell, drum.kind, stroke)
    lower = tuple(glide if limit.name == glide.name else limit for limit in usable.lower)
    return replace(usable, lower=lower)


def _edge_fit(head: Head, shell: Shell) -> tuple[Limit, ...]:
    """The limit by a contact circle larger than the head is moulded to; skins adapt.

    Notes
    -----
    Theory eq. 39: the film inside the mould has to be drawn out by the difference of the radii.
    """
    over = shell.radius_m - 0.5 * shell.head_diameter_m
    if over <= EDGE_PLAY_M or head.is_skin:
        return ()
    film = head.substance.modulus_pa.value * head.film_thickness_m
    film /= 1.0 - head.substance.poisson_ratio.value
    drawn = RESHAPED * film * (over - EDGE_PLAY_M) / shell.radius_m
    return (
        Limit(
            "edge_fit",
            _("edge fit"),
            drawn,
            _("below it part of the molded collar lies unsupported inside the playing surface"),
            0.5,
        ),
    )


def head_range(
    drum: Drum, side: str, outside: OutsideAir | None = None, stroke: Stroke | None = None
) -> HeadRange:
    """Usable range of a head on this drum, independent of how it is set now.

    `stroke` is the hardest asked for; None: a medium one with the usual beater.

    Raises
    ------
    InputError
        When the lower limit lies above the upper: this head does not suit this drum.
    """
    head = drum.setting(side).head
    usable = tension_limits(head, drum.shell, drum.kind, side, stroke)
    usable = replace(usable, lower=(*usable.lower, *_clear_tone(drum, side, usable, outside)))
    low, high = usable.lowest.tension_n_per_m, usable.highest.tension_n_per_m
    if low >= high:
        raise InputError(
            _(
                "The {side} head {name!r} has no usable range on this drum: "
                "{label} needs at least {low:.0f} N/m, {label2} allows "
                "{high:.0f} N/m."
            ).format(
                side=side,
                name=head.name,
                label=usable.lowest.label,
                low=low,
                label2=usable.highest.label,
                high=high,
            ),
            _("Choose another head or a stiffer hoop."),
            side,
        )
    return replace(
        usable,
        lowest_pitch_hz=_muted_pitch(drum, side, max(low, LOWEST_TENSION_N_PER_M), outside),
        highest_pitch_hz=_muted_pitch(drum, side, high, outside),
    )


def _clear_tone(
    drum: Drum, side: str, usable: HeadRange, outside: OutsideAir | None
) -> tuple[Limit, ...]:
    """The limit below which a tap is over before it has a pitch; none if that lies lower still."""
    low, high = usable.lowest.tension_n_per_m, usable.highest.tension_n_per_m
    low = max(low, LOWEST_TENSION_N_PER_M)

    def swings(tension: float) -> float:
        hz, t60 = lug_tone(drum, side, tension, outside)
        return hz * t60

    if low >= high or swings(low) >= CLEAR_SWINGS:
        return ()
    for _unused in range(6):
        middle = math.sqrt(low * high)
        low, high = (middle, high) if swings(middle) < CLEAR_SWINGS else (low, middle)
    return (
        Limit(
            "clear_tone",
            _("clear tone"),
            high,
            _("below it a tap ends within {clear_swings:g} cycles, without clear pitch").format(
                clear_swings=CLEAR_SWINGS
            ),
            0.4,
            borne=False,
        ),
    )


def _muted_pitch(drum: Drum, side: str, tension: float, outside: OutsideAir | None) -> float:
    pair = tuple(tension if s == side else 1000.0 for s in drum.sides)
    return lug_pitch(drum, side, pair, outside=outside)


def _of_edge(shell: Shell) -> str:
    """What the state of the edge adds to the tension a collar asks for."""
    if shell.worn.bears <= 1.0:
        return ""
    return _("; on this edge ({label}) it needs {bears:g} times as much").format(
        label=shell.worn.label, bears=shell.worn.bears
    )
