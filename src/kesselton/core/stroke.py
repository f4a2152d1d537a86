"""What a stroke excites: the level of every partial."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.bessel import FloatArray, head_basis
from kesselton.core.errors import check_range
from kesselton.core.partials import Partials, decay_rate


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


def levels_db(found: Partials, stroke: Stroke) -> FloatArray:
    """Sound power of each partial just after the stroke, in dB under the loudest, (P,).

    Notes
    -----
    Theory eqs. 16 to 18: a half-sine force pulse, modal energy, and the share of the decay that
    is radiation. A partial with a node under the beater is silent.
    """
    system = found.system
    part = system.slices[0]
    count = system.ends[0].functions
    place = np.array([stroke.place])
    functions = np.array([head_basis(m, count).values(place)[0] for m in system.orders])
    here = np.sum(found.shape[:, part] * functions[found.row], axis=1)
    omega = 2.0 * np.pi * found.frequency_hz
    energy = np.abs(here * force_spectrum(omega, stroke.contact_s)) ** 2
    energy = energy * np.where(found.order == 0, 1.0, 2.0)
    power = 2.0 * decay_rate(found.t60_s) * found.radiated_share * energy
    power = np.maximum(power, 1e-300)
    out: FloatArray = 10.0 * np.log10(power / power.max())
    return out


def force_spectrum(omega: FloatArray, contact_s: float) -> FloatArray:
    """Fourier transform of a half-sine pulse over its impulse: 1 at zero frequency."""
    x = np.asarray(omega) * contact_s / np.pi
    with np.errstate(divide="ignore", invalid="ignore"):
        value = np.cos(0.5 * np.pi * x) / (1.0 - x**2)
    out: FloatArray = np.where(np.abs(x - 1.0) < 1e-6, np.pi / 4.0, value)
    return out
