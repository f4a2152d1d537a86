"""What a stroke excites: the level of every partial."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.acoustics.partials import Partials, decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray
from kesselton.core.errors import check_range
from kesselton.core.prediction.muffling import Lines

LISTENING_S = 0.2


@dataclass(frozen=True)
class Stroke:
    """A beater on the batter head.

    `place` is the distance from the centre over the radius; `contact_s` the time the beater stays.
    """

    place: float = 0.3
    contact_s: float = 0.0012

    def __post_init__(self) -> None:
        check_range(self.place, 0.0, 0.98, "Stroke place", "of the radius", "stroke.place")
        check_range(self.contact_s, 1e-4, 0.05, "Contact time", "s", "stroke.contact_s")


def levels_db(found: Partials, stroke: Stroke, lines: Lines | None = None) -> FloatArray:
    """Sound each partial gives in the first 0.2 s, in dB under the loudest, (P,).

    Notes
    -----
    Theory eqs. 16 to 18: a half-sine force pulse, modal energy, and the share of the decay that
    is radiation. A partial with a node under the beater is silent. The ear adds up about 0.2 s
    (Zwicker and Fastl, Psychoacoustics, section 8.5, from memory): a puff that is over at once does
    not drown what rings on.
    """
    energy = energies_j(found, stroke, lines)
    gone = -np.expm1(-2.0 * decay_rate(found.t60_s) * LISTENING_S)
    sound = np.maximum(found.radiated_share * gone * energy, 1e-300)
    out: FloatArray = 10.0 * np.log10(sound / sound.max())
    return out


def strikes(found: Partials, place: float) -> ComplexArray:
    """Displacement (P,) of the batter head under the stroke, modal mass 1 kg (theory eq. 17)."""
    system = found.system
    count = system.ends[0].functions
    functions = np.array([head_basis(m, count).values(np.array([place]))[0] for m in system.orders])
    here = np.sum(found.shape[:, system.slices[0]] * functions[found.row], axis=1)
    out: ComplexArray = here / np.sqrt(square_area(found.order, system.radius_m))
    return out


def energies_j(found: Partials, stroke: Stroke, lines: Lines | None = None) -> FloatArray:
    """Energy in joule that a stroke of 1 N s leaves in every partial, (P,)."""
    omega = 2.0 * np.pi * found.frequency_hz
    if lines is None:
        square = np.abs(strikes(found, stroke.place)) ** 2
    else:
        square = np.sum(np.abs(lines.here) ** 2, axis=1)
    out: FloatArray = 0.5 * square * force_spectrum(omega, stroke.contact_s) ** 2
    return out


def force_spectrum(omega: FloatArray, contact_s: float) -> FloatArray:
    """Fourier transform of a half-sine pulse over its impulse: 1 at zero frequency."""
    x = np.asarray(omega) * contact_s / np.pi
    with np.errstate(divide="ignore", invalid="ignore"):
        value = np.cos(0.5 * np.pi * x) / (1.0 - x**2)
    out: FloatArray = np.where(np.abs(x - 1.0) < 1e-6, np.pi / 4.0, value)
    return out
