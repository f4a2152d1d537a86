"""The air inside a shell: duct functions, what they do to the ends, resonances and wall losses
(docs/theory.md 3, eqs. 9 to 11 and 24)."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.air.outside import HEAD
from kesselton.core.acoustics.bessel import MAX_CAVITY_FUNCTIONS, cavity_basis, overlap
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.errors import TooMuchWorkError
from kesselton.core.instrument.air import Air
from kesselton.core.language import _


class Poles(NamedTuple):
    """Resonances of the closed cavity.

    Near one the cavity acts as pull pull^T w^2 / (w^2 (1 - j loss / sqrt(w)) - omega^2).

    Attributes
    ----------
    omega : (orders, P), filled up with infinity
    pull : (orders, P, n), zero where filled up
    loss : (orders, P) in the boundary layers
    """

    omega: FloatArray
    pull: FloatArray
    loss: FloatArray

    def of(self, row: IndexArray) -> Poles:
        """Those of some rows of the system."""
        return Poles(self.omega[row], self.pull[row], self.loss[row])


@kept(256)
def couplings(order: int, kind: str, functions: int, cavities: int) -> FloatArray:
    """Overlap (functions, cavities) of an end's functions with the cavity's."""
    if kind == HEAD:
        return overlap(order, functions, cavities)
    return np.eye(functions, cavities)


@kept(64)
def duct_roots(orders: tuple[int, ...], cavities: int) -> FloatArray:
    """j'_q (orders, cavities)."""
    return np.array([cavity_basis(m, cavities).k for m in orders])


@kept(64)
def own_products(orders: tuple[int, ...], kind: str, functions: int, cavities: int) -> ComplexArray:
    """What each cavity function does to one end, packed: (orders, cavities + 4, P).

    The last four rows are the sum over all further cavity functions, by powers of (ka)^2
    (theory eq. 11); packed means the upper triangle, see `packing`.
    """
    rows, cols = np.triu_indices(functions)
    tables = []
    for order in orders:
        coupling = couplings(order, kind, functions, MAX_CAVITY_FUNCTIONS)
        root = cavity_basis(order, MAX_CAVITY_FUNCTIONS).k[cavities:]
        near = coupling[rows, :cavities] * coupling[cols, :cavities]
        far = coupling[rows, cavities:] * coupling[cols, cavities:]
        terms = ((1, 1.0), (3, 0.5), (5, 0.375), (7, 0.3125))
        tails = [far @ (factor / root**power) for power, factor in terms]
        tables.append(np.vstack([near.T, tails]))
    return np.array(tables, dtype=complex)


@kept(64)
def cross_products(
    orders: tuple[int, ...], kinds: tuple[str, str], functions: tuple[int, int], cavities: int
) -> ComplexArray:
    """What each cavity function carries from one end to the other: (orders, cavities, n1 n2)."""
    tables = []
    for order in orders:
        first = couplings(order, kinds[0], functions[0], cavities)
        second = couplings(order, kinds[1], functions[1], cavities)
        tables.append((first.T[:, :, None] * second.T[:, None, :]).reshape(cavities, -1))
    return np.array(tables, dtype=complex)


def wall_losses(
    orders: IndexArray, roots: FloatArray, radius_m: float, depth_m: float, air: Air
) -> FloatArray:
    """Loss of each duct function in the boundary layers, times sqrt(omega): (orders, cavities).

    Notes
    -----
    Theory eq. 24: viscous and thermal layers on the shell (1 / a) and on the ends (1 / L).

    References
    ----------
    P. M. Morse, K. U. Ingard, Theoretical Acoustics, 1968, sections 6.4 and 9.2 (from memory).
    """
    viscous = math.sqrt(2.0 * air.viscosity_pa_s / air.density_kg_per_m3)  # layer times sqrt(omega)
    thermal = viscous / math.sqrt(const.PRANDTL_AIR) * (air.heat_ratio - 1.0)
    plane = roots == 0.0
    swing = (
        1.0
        - np.divide(orders[:, None], roots * radius_m, out=np.zeros_like(roots), where=~plane) ** 2
    )
    out: FloatArray = (viscous + thermal) / (radius_m * swing)
    out += np.where(plane, thermal, viscous + thermal) / depth_m
    return out


def cavity_functions(
    omega: ComplexArray,
    roots: FloatArray,
    wall_loss: FloatArray,
    radius_m: float,
    depth_m: float,
    air: Air,
    damping: float,
) -> ComplexArray:
    """Stiffness of each duct function and its derivative by w (theory eqs. 9 to 11).

    Parameters
    ----------
    omega : (F,) complex rad/s
    roots, wall_loss : (F, cavities), 1/m, and as `wall_losses` gives them

    Returns
    -------
    (F, 4, cavities + 4): of an end on itself, value and derivative, with the powers of the
    tail last; then the same from one end to the other, which has no tail
    """
    wide = omega[:, None]
    cavities = roots.shape[1]
    c, rho = air.sound_speed_m_per_s, air.density_kg_per_m3
    weight = -rho * wide * wide
    dweight = -2.0 * rho * wide
    loss = (1j * damping) * wall_loss / np.sqrt(wide)
    kappa2 = roots**2 - (wide / c) ** 2 * (1.0 - loss)
    kappa = np.sqrt(kappa2)
    decay = np.exp(-kappa * depth_m)
    below = 1.0 - decay * decay
    coth = 2.0 / below - 1.0
    csch = 2.0 * decay / below
    g = coth / kappa
    h = csch / kappa
    down = wide * (1.0 - 0.75 * loss) / (c**2 * kappa2)  # -(d kappa / d w) / kappa
    reach = depth_m * csch
    down *= weight
    out = np.zeros((len(omega), 4, cavities + 4), dtype=complex)
    out[:, 0, :cavities] = weight * g
    out[:, 1, :cavities] = dweight * g + down * (reach * csch + g)
    out[:, 2, :cavities] = -weight * h
    out[:, 3, :cavities] = -dweight * h - down * (reach * coth + h)
    ka2 = (wide * (radius_m / c)) ** 2
    powers = np.empty((len(omega), 4), dtype=complex)
    powers[:, 0] = radius_m
    powers[:, 1:] = ka2
    np.multiply.accumulate(powers, axis=1, out=powers)
    out[:, 0, cavities:] = weight * powers
    out[:, 1, cavities:] = (dweight * powers) * np.arange(1.0, 5.0)
    return out


MOST_RESONANCES = 160
"""Of one order. Five hundred drums somebody could own have up to 39 below what is looked for; time
and memory grow with the fourth and the third power of their number."""


def _check_work(roots: FloatArray, depth_m: float, below_per_m: float) -> None:
    """Raise TooMuchWorkError where waves in a head outrun those in the air so far that the air
    has too many resonances (orders, cavities) below the head's partials."""
    along = np.sqrt(np.maximum(below_per_m**2 - roots**2, -1.0).clip(min=0.0))
    under = roots < below_per_m
    many = np.where(under, np.floor(along * depth_m / np.pi) + 1.0, 0.0).sum(axis=1)
    if many.max() > MOST_RESONANCES:
        raise TooMuchWorkError(
            _(
                "Waves run through this head so much faster than sound through "
                "the air that {max:.0f} resonances of the air lie below its "
                "partials: more than can be worked out."
            ).format(max=many.max()),
            _("Check mass and tension of the head, and the depth of the shell."),
        )


@kept(64)
def resonances(
    orders: tuple[int, ...],
    ends: tuple[tuple[str, int], ...],
    holes: tuple[float, ...],
    carried: tuple[bool, ...] | None,
    cavities: int,
    radius_m: float,
    depth_m: float,
    sound_speed_m_per_s: float,
    below: float,
) -> tuple[FloatArray, FloatArray, IndexArray]:
    """Resonances (orders, P) of the closed cavity, their shape on the ends (orders, P, n), and the
    duct function each belongs to (orders, P).

    `carried` says which ends move with the shell, the last unknown; None where it is held.

    Raises
    ------
    TooMuchWorkError
        If there are more than can be worked out.
    """
    roots = duct_roots(orders, cavities) / radius_m
    _check_work(roots, depth_m, below / sound_speed_m_per_s)
    size = sum(functions for _unused, functions in ends) + len(holes) + (carried is not None)
    results: list[list[tuple[float, FloatArray, int]]] = [[] for _unused in orders]
    for step in range(int(below * depth_m / (np.pi * sound_speed_m_per_s)) + 1):
        omegas = sound_speed_m_per_s * np.sqrt(roots**2 + (step * np.pi / depth_m) ** 2)
        signs = (1.0, -1.0 if step % 2 == 0 else 1.0)
        strength = 1.0 if step == 0 else math.sqrt(2.0)
        for row, index in zip(*np.nonzero(omegas < below), strict=True):
            parts = [
                sign * strength * couplings(orders[row], kind, functions, cavities)[:, index]
                for sign, (kind, functions) in zip(signs, ends, strict=False)
            ]
            breath = orders[row] == 0 and index == 0
            swing = -strength * np.cos(step * np.pi * np.array(holes))
            parts.append(swing if breath else np.zeros(len(holes)))
            if carried is not None:
                moved = sum(s * c for s, c in zip(signs, carried, strict=False))
                parts.append(np.array([strength * moved if breath else 0.0]))
            results[row].append((float(omegas[row, index]), np.concatenate(parts), int(index)))
    most = max((len(f) for f in results), default=0)
    omega = np.full((len(orders), most), np.inf)
    shape = np.zeros((len(orders), most, size))
    number = np.zeros((len(orders), most), dtype=np.intp)
    for row, entries in enumerate(results):
        for index, (w, pull, function) in enumerate(entries):
            omega[row, index], shape[row, index], number[row, index] = w, pull, function
    return omega, shape, number
