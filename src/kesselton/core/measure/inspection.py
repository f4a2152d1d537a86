"""Shell and edge before a head goes on: how round, how flat, does the head fit (theory 16)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.shell import Shell
from kesselton.core.language import _, both, figures

OVAL_FINE_M, OVAL_POOR_M = 0.0008, 0.0025
"""Difference of diameters that is of no matter, and from which heads bind; assumed."""
GAP_FINE_M, GAP_POOR_M = 0.00013, 0.00030
"""Gap under a flat plate (0.005 in) that is of no matter, and from which a rod has its own pitch;
common practice in order, the numbers assumed."""
FLOAT_LEAST_M = 0.0008
"""A film head must drop on and turn freely: so much smaller is the shell than the head's inside;
assumed."""
BED_REACH = 0.75
"""A gap so near to the middle of a snare bed, in rods, is the bed's; assumed."""
COLLAR_INSIDE_M = 0.0015
"""A contact circle so much larger than the moulded one leaves collar inside the playing surface;
assumed."""


@dataclass(frozen=True, eq=False)
class Roundness:
    """Diameters at several angles: mean, and the oval in them.

    Attributes
    ----------
    mean_m : mean diameter
    oval_m : largest less smallest diameter of the fitted oval
    widest_rod : where it is widest, 1 for rod 1
    harmonics_m : amplitude of the diameter's harmonics 2, 4, … that the readings can tell
    """

    mean_m: float
    oval_m: float
    widest_rod: float
    harmonics_m: FloatArray


@dataclass(frozen=True, eq=False)
class Edge:
    """Gaps between edge and a flat plate round the shell.

    Attributes
    ----------
    waviness_m : largest less smallest gap of the readings
    amplitudes_m : harmonics 0, 1, 2, … of the gap that the readings can tell
    low_rods, high_rods : places, counted in rods, where the edge is low (gap) and high (touches)
    tilt_m : harmonic 1: the plate rests on three points, so it says little
    """

    waviness_m: float
    amplitudes_m: FloatArray
    low_rods: tuple[float, ...]
    high_rods: tuple[float, ...]
    tilt_m: float


def roundness(diameters_m: Sequence[float], rods: int) -> Roundness:
    """Oval in diameters measured at equal steps over half a turn, the first at rod 1.

    Raises
    ------
    InputError
        If there are fewer than three, or they cannot be of one shell.
    """
    values = _checked(diameters_m, 3, 0.1, 1.3, "Diameter")
    if float(np.ptp(values)) > 0.1 * float(values.mean()):
        raise InputError(
            _("These diameters differ by more than 10 %: not one shell."),
            _("Check their units."),
            "diameters",
        )
    spectrum = np.fft.rfft(values) / len(values)
    harmonics = 2.0 * np.abs(spectrum[1:])
    if len(values) % 2 == 0 and len(harmonics):
        harmonics[-1] *= 0.5
    oval = spectrum[1] if len(spectrum) > 1 else 0.0
    # a diameter at angle t has cos 2(t - t0): over half a turn one full period
    angle = 0.5 * float(np.angle(np.conj(oval)))
    return Roundness(
        float(values.mean()),
        float(4.0 * abs(oval)),
        1.0 + (angle % math.pi) / (2.0 * math.pi) * rods,
        harmonics,
    )


def edge(gaps_m: Sequence[float], rods: int, beds: Sequence[float] = ()) -> Edge:
    """Waviness of an edge from gaps under a flat plate at equal steps round, the first at rod 1.

    Parameters
    ----------
    beds : where snare beds lie, in rods: what is low there is made so and is left out

    Raises
    ------
    InputError
        If there are fewer than four, or one is larger than an edge is high.
    """
    values = _checked(gaps_m, 4, 0.0, 0.02, "Gap")
    spectrum = np.fft.rfft(values) / len(values)
    amplitudes = np.abs(spectrum)
    amplitudes[1:] *= 2.0
    if len(values) % 2 == 0:
        amplitudes[-1] *= 0.5
    place = 1.0 + np.arange(len(values)) * rods / len(values)
    apart = [np.abs((place - bed + 0.5 * rods) % rods - 0.5 * rods) for bed in beds]
    row = np.zeros(len(values), dtype=bool)
    for away in apart:
        row |= away < BED_REACH
    values, place = values[~row], place[~row]
    if not len(values):
        raise InputError(
            _("All readings are in snare beds."), _("Read between the beds as well."), "gaps"
        )
    middle, spread = float(values.mean()), max(float(np.ptp(values)), 1e-9)
    low = tuple(float(p) for p in place[values > middle + 0.3 * spread])
    high = tuple(float(p) for p in place[values < middle - 0.3 * spread])
    return Edge(float(np.ptp(values)), amplitudes, low, high, float(amplitudes[1]))


def _checked(values: Sequence[float], least: int, low: float, high: float, what: str) -> FloatArray:
    if len(values) < least:
        raise InputError(
            _("{count} readings are not enough.").format(count=len(values)),
            _("Take at least {least}, equally spaced.").format(least=least),
            what.lower(),
        )
    for value in values:
        check_range(value, low, high, what, "m", what.lower())
    return np.array(values, dtype=float)


@dataclass(frozen=True)
class EdgeFound:
    """What an inspection says of a drum's edge, in the drum's own terms.

    Attributes
    ----------
    wear : key of `shell.WEARS`; None where neither gaps nor a molded diameter say
    contact_radius_m : None where no diameters were measured
    """

    wear: str | None
    contact_radius_m: float | None

    def on(self, shell: Shell) -> Shell:
        """The shell as it was found."""
        wear = shell.wear if self.wear is None else self.wear
        radius = shell.contact_radius_m if self.contact_radius_m is None else self.contact_radius_m
        return replace(shell, wear=wear, contact_radius_m=radius)


def edge_found(
    result: Roundness | None, flat: Edge | None, moulded_m: float | None, skin: bool
) -> EdgeFound:
    """How an edge must be reckoned with: the verdicts in terms of wear and contact circle.

    Notes
    -----
    A collar that lies inside the playing surface is held by nothing, as on a damaged edge; skins
    adapt. Which bound makes which wear is assumed.
    """
    grades = []
    if flat is not None:
        grades.append(SEVERITIES.index(_flatness(flat).severity))
    if result is not None and moulded_m is not None:
        grades.append(SEVERITIES.index(_fit(result, moulded_m, skin).severity))
    wear = ("sound", "worn", "damaged")[max(grades)] if grades else None
    return EdgeFound(wear, None if result is None else 0.5 * result.mean_m)


SEVERITIES = ("fine", "mind", "repair")


@dataclass(frozen=True)
class Verdict:
    """One finding: how severity ("fine", "mind", "repair"), what it is, and what to do."""

    severity: str
    what: str
    advice: str


def verdicts(
    result: Roundness | None,
    flat: Edge | None,
    head_inside_m: float | None,
    moulded_m: float | None,
    skin: bool,
    beds: Sequence[float] | None = None,
    rods: int = 0,
) -> list[Verdict]:
    """What the readings mean for fitting a head.

    Parameters
    ----------
    head_inside_m : inside diameter of the head's flesh hoop, if measured
    moulded_m : diameter a film head is moulded to, if known
    skin : True where skins go on: they adapt to any edge
    beds : where snare beds lie, in rods; empty where there may be some and nobody said; None where
        there are none

    Notes
    -----
    Words are common practice; bounds as named above.
    """
    out = []
    if result is not None:
        wide = _("widest at rod {widest_rod:.1f}").format(widest_rod=result.widest_rod)
        size = _("{oval_m:.1f} mm out of round, {wide}").format(
            oval_m=1000.0 * result.oval_m, wide=wide
        )
        if result.oval_m < OVAL_FINE_M:
            out.append(
                Verdict(
                    "fine",
                    _("round within {oval_m:.1f} mm").format(oval_m=1000.0 * result.oval_m),
                    _("No action needed."),
                )
            )
        elif result.oval_m < OVAL_POOR_M:
            out.append(
                Verdict("mind", size, _("Turn the head until it drops on freely, and mark it."))
            )
        else:
            out.append(
                Verdict(
                    "repair",
                    size,
                    _("A head may bind here: have the shell trued."),
                )
            )
        if head_inside_m is not None:
            out.append(_float(result, head_inside_m))
        if moulded_m is not None:
            out.append(_fit(result, moulded_m, skin))
    if flat is not None:
        out.append(_flatness(flat) if not _like_beds(flat, beds, rods) else beds_perhaps())
    if beds:
        where = both([figures(bed, ".1f").removesuffix(".0") for bed in beds])
        out.append(
            Verdict(
                "fine",
                _("snare beds at rods {where}").format(where=where),
                _("Cut for the wires: leave them."),
            )
        )
    return out


def beds_perhaps() -> Verdict:
    """Said of two low places nobody entered as beds."""
    return Verdict(
        "mind",
        _("two low spots opposite each other"),
        _(
            "On a snare drum usually the snare beds, not damage: enter them in Tuning, Shell; the "
            "rest of the edge is then judged alone."
        ),
    )


def _like_beds(flat: Edge, beds: Sequence[float] | None, rods: int) -> bool:
    """True if what is low may be beds nobody entered: two places opposite each other."""
    if beds is None or beds or not flat.low_rods or flat.waviness_m < GAP_FINE_M:
        return False
    first = flat.low_rods[0]
    away = [(low - first) % rods for low in flat.low_rods]
    near = [min(value, rods - value) <= 1.0 for value in away]
    opposite = [abs(value - 0.5 * rods) <= 1.0 for value in away]
    return any(opposite) and all(n or o for n, o in zip(near, opposite, strict=True))


def _float(result: Roundness, head_inside_m: float) -> Verdict:
    play = head_inside_m - (result.mean_m + 0.5 * result.oval_m)
    text = _("{play:.1f} mm of play between head and shell").format(play=1000.0 * play)
    if play < 0.0:
        return Verdict(
            "repair", _("the head does not fit over this shell"), (_("Order the next larger size."))
        )
    if play < FLOAT_LEAST_M:
        return Verdict(
            "mind", text, (_("It must drop on and turn freely; a tight one seats crooked."))
        )
    return Verdict("fine", text, _("Center it by eye."))


def _fit(result: Roundness, moulded_m: float, skin: bool) -> Verdict:
    over = result.mean_m - moulded_m
    if skin:
        return Verdict("fine", _("a skin adapts to the edge"), _("It reshapes in a few days."))
    text = _("bearing diameter {over:+.1f} mm against the molded one").format(over=1000.0 * over)
    if over > COLLAR_INSIDE_M:
        return Verdict(
            "repair",
            text,
            (
                _(
                    "Part of the collar lies inside the playing surface: weak low "
                    "end, early wear. Some technicians recut every edge to one "
                    "round profile; others keep the profile as the drum’s voice. "
                    "Leave either to an edge specialist."
                )
            ),
        )
    return Verdict("fine", text, _("The collar seats on the edge."))


def _flatness(flat: Edge) -> Verdict:
    size = f"{figures(1000.0 * flat.waviness_m, '.2f')} mm"
    where = ""
    if flat.low_rods:
        where = _(" low at rod ") + ", ".join(
            figures(r, ".1f").removesuffix(".0") for r in flat.low_rods
        )
    if flat.waviness_m < GAP_FINE_M:
        return Verdict("fine", _("flat within {size}").format(size=size), _("No action needed."))
    if flat.waviness_m < GAP_POOR_M:
        return Verdict(
            "mind",
            _("edge wavy by {size},{where}").format(size=size, where=where),
            (
                _(
                    "On a rough wood edge, use wax or lightly scuff with 400-grit "
                    "paper. That rod may need a different turn."
                )
            ),
        )
    return Verdict(
        "repair",
        _("edge wavy by {size},{where}").format(size=size, where=where),
        (
            _(
                "A dent at a rod changes its pitch. Take a valued drum to an "
                "edge specialist, a historic one to a conservator."
            )
        ),
    )
