"""What a stroke excites: the pulse it gives, and the level of every partial."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.acoustics.solver.partials import Partials, decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray, kept
from kesselton.core.errors import InputError
from kesselton.core.instrument.beater import Beater, Stroke
from kesselton.core.language import _
from kesselton.core.prediction.muffling import Lines
from kesselton.core.prediction.port_flow import fall, flow_rates

LISTENING_S = 0.2
LISTENER_M = 1.0
"""Where levels in dB SPL are given."""
HEARING_THRESHOLD_PA = 20e-6
"""Reference of sound pressure levels (ISO 1683)."""
FRONT_SHARE = 0.3
"""Of the time a tip stays on something hard, in which its front is over as the head gives way;
assumed, from the level of edge strokes at 1.6 kHz in recordings."""
MAX_FRONT = 0.3
HERTZ_POWER = -0.2
"""Of the speed in the time two elastic bodies touch (Hertz; K. L. Johnson, Contact Mechanics,
section 11.4, from memory)."""


@dataclass(frozen=True, eq=False)
class Pulse:
    """A force of unit impulse in two parts: a long push while the head throws the beater back, and
    the sharp front its tip gives at once (theory eq. 16).

    Attributes
    ----------
    push_s : how long the beater stays, of any shape
    tip_s, front : length of the sharp part, and its share of the impulse; more near the edge, where
        the head gives way less
    """

    push_s: FloatArray
    tip_s: float
    front: float

    def spectrum(self, omega: FloatArray) -> FloatArray:
        """Magnitude over the impulse at `omega`, which broadcasts against `push_s`."""
        lag = 0.5 * np.asarray(omega) * (self.push_s - self.tip_s)
        long = (1.0 - self.front) * half_sine(omega, self.push_s)
        sharp = self.front * half_sine(omega, self.tip_s)
        out: FloatArray = np.abs(long * np.exp(-1j * lag) + sharp)
        return out


def half_sine(omega: FloatArray, length_s: FloatArray | float) -> FloatArray:
    """Fourier transform of a half-sine pulse about its middle, over its impulse."""
    x = np.asarray(omega) * length_s / np.pi
    with np.errstate(divide="ignore", invalid="ignore"):
        value = np.cos(0.5 * np.pi * x) / (1.0 - x**2)
    out: FloatArray = np.where(np.abs(x - 1.0) < 1e-6, np.pi / 4.0, value)
    return out


def stick_stiffness(
    tension_n_per_m: FloatArray | float,
    radius_m: float,
    contact_radius_m: float,
    place: float = 0.0,
) -> FloatArray:
    """Static stiffness of a stretched head under a small round contact, N/m.

    Notes
    -----
    2 pi T / ln(a (1 - s^2) / r): Laplace's equation between a small circle at s and the rim, by its
    image (theory eq. 30).
    """
    reach = max(radius_m * (1.0 - place**2) / contact_radius_m, 1.5)
    out: FloatArray = 2.0 * np.pi * np.asarray(tension_n_per_m) / np.log(reach)
    return out


def contact_s(
    tension_n_per_m: FloatArray | float,
    radius_m: float,
    beater: Beater,
    place: float = 0.0,
    touch: float = 1.0,
) -> FloatArray:
    """How long a beater stays on a head, s: the head's spring throws its mass back (theory eq. 50).

    Raises
    ------
    InputError
        If the head is slack.
    """
    spring = stick_stiffness(tension_n_per_m, radius_m, beater.radius_m, place)
    if np.any(spring <= 0.0):
        raise InputError(_("A slack head has no rebound."), _("Add some tension."))
    thrown = np.pi * np.sqrt(beater.mass_kg / spring)
    out: FloatArray = np.hypot(thrown, beater.tip_s * touch**HERTZ_POWER)
    return out


def pulse_of(stroke: Stroke, tension_n_per_m: FloatArray | float, radius_m: float) -> Pulse:
    """The force a stroke gives to a head under tension."""
    beater = stroke.made
    push = contact_s(tension_n_per_m, radius_m, beater, stroke.place, stroke.touch)
    front = min(beater.front / math.sqrt(1.0 - stroke.place**2), MAX_FRONT)
    return Pulse(push, FRONT_SHARE * beater.tip_s * stroke.touch**HERTZ_POWER, front)


def pulse_on(partials: Partials, stroke: Stroke) -> Pulse:
    """The pulse of a stroke on the batter head of a solved drum."""
    return pulse_of(stroke, partials.system.ends[0].tension_n_per_m, partials.system.radius_m)


def levels_db(partials: Partials, stroke: Stroke, lines: Lines | None = None) -> FloatArray:
    """Sound each partial gives in the first 0.2 s, in dB under the loudest, (P,).

    Notes
    -----
    Theory eqs. 16 to 18: the pulse, modal energy, and the share of the decay that is radiation. A
    partial with a node under the beater is silent. The ear adds up about 0.2 s (Zwicker and Fastl,
    Psychoacoustics, section 8.5, from memory): a puff that is over at once does not drown what
    rings on.
    """
    sound = np.maximum(sounding_j(partials, stroke, lines), 1e-300)
    out: FloatArray = 10.0 * np.log10(sound / sound.max())
    return out


def sounding_j(partials: Partials, stroke: Stroke, lines: Lines | None = None) -> FloatArray:
    """Energy in joule given off as sound in the first 0.2 s, (P,)."""
    energy = energies_j(partials, stroke, lines)
    gone = -np.expm1(-2.0 * decay_rate(partials.t60_s) * LISTENING_S)
    out: FloatArray = partials.radiated_share * gone * energy
    return out


@dataclass(frozen=True)
class Decay:
    """How the sound of a stroke dies away, both as seconds for 60 dB.

    Attributes
    ----------
    early_s : by its first 10 dB (early decay time, as ISO 3382-1 takes it of rooms)
    late_s : from 25 to 35 dB down, where the longest partials are left
    """

    early_s: float
    late_s: float


def decays(partials: Partials, stroke: Stroke, lines: Lines | None = None) -> Decay:
    """Early and late decay of the sound power of all partials together (theory eq. 57)."""
    single, energy = decay_rate(partials.t60_s), energies_j(partials, stroke, lines)
    flow = flow_rates(partials, energy)
    power = np.maximum(partials.radiated_share * 2.0 * single * energy, 0.0)
    longest = float((partials.t60_s * (power > 1e-6 * power.max())).max())
    time = longest * np.linspace(0.0, 1.0, 240) ** 2  # denser at first
    level = 10.0 * np.log10(power @ fall(single, flow, time) ** 2 / power.sum())
    at = np.interp([10.0, 25.0, 35.0], -level, time)
    return Decay(6.0 * float(at[0]), 6.0 * float(at[2] - at[1]))


def ear_weight(hz: FloatArray) -> FloatArray:
    """A-weighting as a factor on energy, 1 at 1 kHz: what a soft sound loses to the ear.

    References
    ----------
    IEC 61672-1:2013, annex E, eq. E.6 (from memory).
    """
    f2 = np.asarray(hz) ** 2
    gain = 12194.0**2 * f2**2
    gain /= (f2 + 20.6**2) * (f2 + 12194.0**2) * np.sqrt((f2 + 107.7**2) * (f2 + 737.9**2))
    out: FloatArray = (gain * 10.0 ** (2.0 / 20.0)) ** 2
    return out


def level_spl_db(partials: Partials, stroke: Stroke, lines: Lines | None = None) -> float:
    """Mean level of the first 0.2 s, dB SPL at 1 m in the open, all directions alike."""
    watt = float(sounding_j(partials, stroke, lines).sum()) / LISTENING_S
    system = partials.system
    square = watt * system.rho * system.c / (4.0 * np.pi * LISTENER_M**2)
    return float(10.0 * np.log10(max(square, 1e-30) / HEARING_THRESHOLD_PA**2))


@kept(64)
def _functions_at(orders: tuple[int, ...], count: int, place: float) -> FloatArray:
    """Head functions (orders, count) at a place on the head."""
    where = np.array([place])
    return np.array([head_basis(m, count).values(where)[0] for m in orders])


def strikes(partials: Partials, place: float) -> ComplexArray:
    """Displacement (P,) of the batter head under the stroke, modal mass 1 kg (theory eq. 17)."""
    system = partials.system
    count = system.ends[0].functions
    functions = _functions_at(tuple(system.orders), count, place)
    here = np.sum(partials.shape[:, system.slices[0]] * functions[partials.row], axis=1)
    out: ComplexArray = here / np.sqrt(square_area(partials.order, system.radius_m))
    return out


def energies_j(partials: Partials, stroke: Stroke, lines: Lines | None = None) -> FloatArray:
    """Energy in joule that a stroke leaves in every partial, (P,)."""
    omega = 2.0 * np.pi * partials.frequency_hz
    if lines is None:
        square = np.abs(strikes(partials, stroke.place)) ** 2
    else:
        square = np.sum(np.abs(lines.here) ** 2, axis=1)
    push = stroke.impulse_ns * pulse_on(partials, stroke).spectrum(omega)
    out: FloatArray = 0.5 * square * push**2
    return out
