"""How far sharp a stroke starts: a head that swings wide is stretched (theory eq. 20)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.acoustics.bessel import bessel_j
from kesselton.core.acoustics.solver.partials import Partials, decay_rate
from kesselton.core.arrays import FloatArray, kept
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell
from kesselton.core.prediction.muffling import Lines
from kesselton.core.prediction.stroke import energies_j, pulse_of

EARLY_S = 0.05
"""When a pitch that is read at once is read."""
OWN = 1.5
"""A partial feels its own stretching, which swings with it, so much more than another's."""
J1_AT_FIRST_ZERO = 0.5191474972894669
"""J_1(j_01), Abramowitz and Stegun, table 9.5."""
FIRST_ZERO = 2.404825557695773
"""j_01, Abramowitz and Stegun, table 9.5."""
AIR_LOAD = 1.2
"""Air on a (0,1) of two heads, as a share of density times radius; only for limits."""
AIR_KG_PER_M3 = 1.2


def glide_cents(
    partials: Partials, stroke: Stroke, after_s: float = 0.0, lines: Lines | None = None
) -> FloatArray:
    """How much sharper than at rest every partial sounds `after_s` after a stroke, (P,) cents.

    Notes
    -----
    Theory eq. 20: the stretching of each head, averaged over its surface and over a swing, adds to
    its tension. It falls with the square of the amplitudes as they decay. Good to a factor of two:
    the film's stiffness and the impulse of a "medium" stroke are assumed.

    References
    ----------
    H. M. Berger, J. Appl. Mech. 22 (1955) 465 (from memory).
    """
    system = partials.system
    omega = 2.0 * np.pi * partials.frequency_hz
    energy = energies_j(partials, stroke, lines) * np.exp(
        -2.0 * decay_rate(partials.t60_s) * after_s
    )
    square = 2.0 * energy / omega**2  # amplitude^2 of each, modal mass 1 kg
    gain = np.zeros(len(partials))
    area = math.pi * system.radius_m**2
    for part, end, unit in zip(system.slices, system.ends, system.unit_stiffness, strict=True):
        if end.head is None:
            continue
        # integral of the square of each partial's slope over this head
        slope = np.sum(np.abs(partials.shape[:, part]) ** 2 * unit[partials.row][:, part], axis=1)
        stiff = end.head.substance.biaxial_stiffness(end.head.film_thickness_m)
        every = 0.25 * stiff / area * square * slope
        gain += (every.sum() + (OWN - 1.0) * every) * slope / omega**2
    out: FloatArray = 0.5 * CENTS_PER_NEPER * np.log1p(_saturated(gain))
    return out


def _saturated(gain: FloatArray) -> FloatArray:
    """What a gain in stiffness comes to once it has taken its own energy from the swing.

    A stiffening spring 1 + beta q^2 with the energy of a swing q_0 of the linear one swings less
    far: (3/4) beta q^2 = (3/4)[(1 + 2 beta q_0^2)^(1/2) - 1].
    """
    out: FloatArray = 0.75 * (np.sqrt(1.0 + 8.0 * gain / 3.0) - 1.0)
    return out


def first_glide_cents(head: Head, shell: Shell, tension_n_per_m: float, stroke: Stroke) -> float:
    """Glide of the lowest partial of two such heads at first, without solving a drum."""
    radius = shell.radius_m
    mass = head.base_density_kg_per_m2 + AIR_LOAD * AIR_KG_PER_M3 * radius
    omega = FIRST_ZERO / radius * math.sqrt(tension_n_per_m / mass)
    push = float(pulse_of(stroke, tension_n_per_m, radius).spectrum(np.array(omega)))
    here = float(bessel_j(0, np.array([FIRST_ZERO * stroke.place]))[0])
    modal = 2.0 * J1_AT_FIRST_ZERO**2 * math.pi * radius**2 * mass
    swing = stroke.impulse_ns * push * here / (omega * modal)
    slope2 = (swing * FIRST_ZERO / radius) ** 2 * J1_AT_FIRST_ZERO**2
    added = 0.25 * head.substance.biaxial_stiffness(head.film_thickness_m) * slope2
    gain = float(_saturated(np.array(OWN * added / tension_n_per_m)))
    return 0.5 * CENTS_PER_NEPER * math.log1p(gain)


@kept(4096)  # a search asks twice for each head, and again at every change of a wish
def glide_limit_n_per_m(head: Head, shell: Shell, stroke: Stroke, cents: float) -> float:
    """Tension below which a stroke starts more than `cents` sharp, N/m."""
    low, high = 1e-3, 1e6
    for _ in range(40):
        middle = math.sqrt(low * high)
        if first_glide_cents(head, shell, middle, stroke) > cents:
            low = middle
        else:
            high = middle
    return high
