"""What a drum does at given tensions: every partial, named, with decay, loudness and certainty."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from kesselton.core import constants as const
from kesselton.core.acoustics.air.floor import FLOOR_GAP_M, OnFloor
from kesselton.core.acoustics.air.free_air import free_air
from kesselton.core.acoustics.air.hoop_rim import Rimmed
from kesselton.core.acoustics.air.orifice import orifices
from kesselton.core.acoustics.air.outside import OutsideAir
from kesselton.core.acoustics.bessel import MAX_ORDER
from kesselton.core.acoustics.film.film_part import End
from kesselton.core.acoustics.solver.fundamental import first_motion, rival_motion, too_slow
from kesselton.core.acoustics.solver.modes import Roots, solve
from kesselton.core.acoustics.solver.system import OPENING_FUNCTIONS, DrumSystem, basis_size
from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray, IndexArray
from kesselton.core.errors import ConvergenceError, check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _

HIGHEST_HZ = 2000.0
MAX_CIRCLES = 4
MIN_HEAD_ENERGY = 0.08
"""Share of a mode's energy in the films below which it counts as a resonance of the air."""
MAX_BREATH = 0.25
"""Energy of the air in holes above which they sound, not the heads."""
LOWEST_AIR_HZ = 20.0
"""A vent that breathes more slowly is not heard."""
DEADEST = 0.2
"""Damping ratio from which a motion is a puff and no partial: it is over in five swings."""
SURELY = 10.0
"""More than any energy."""
LOWER, UPPER, SINGLE, AIR = "lower", "upper", "single", "air"


@dataclass(frozen=True, eq=False)
class Partials:
    """Partials of a drum by ascending frequency; every array has shape (P,) unless said.

    Attributes
    ----------
    order, rank : nodal diameters m; nodal circles counted from 1
    branch : "lower" / "upper" of the pair two heads make, "single" for one head alone, "air" for
        a resonance of the air in the shell
    frequency_hz, t60_s : hertz; seconds to fall by 60 dB
    batter_share : share of the moving heads' kinetic energy on the batter side, 0..1
    radiated_share : share of the loss that leaves as sound, 0..1
    outside_share : share of the outside air in the moving mass
    recoil_share : share of the moving mass that is the shell
    shape : (P, n) complex, see `modes.Roots`
    system : the problem they solve
    row : (P,) row of each in the system
    first, rival : (P,) True for the fundamental, and for a line that shares its note if one does
    """

    order: IndexArray
    rank: IndexArray
    branch: NDArray[np.str_]
    frequency_hz: FloatArray
    t60_s: FloatArray
    batter_share: FloatArray
    radiated_share: FloatArray
    outside_share: FloatArray
    recoil_share: FloatArray
    shape: ComplexArray
    system: DrumSystem
    row: IndexArray
    first: BoolArray
    rival: BoolArray

    def __len__(self) -> int:
        return len(self.frequency_hz)

    def find(self, order: int, rank: int, branch: str | None = None) -> int:
        """Index of a partial, the lowest one if no branch is asked for.

        Raises
        ------
        ConvergenceError
            If there is none among those computed.
        """
        hit = (self.order == order) & (self.rank == rank) & (self.branch != AIR)
        if branch is not None:
            hit &= self.branch == branch
        if not hit.any():
            raise ConvergenceError(
                _("The partial ({order},{rank}) was not computed.").format(order=order, rank=rank)
            )
        return int(np.argmax(hit))

    def together(self, index: int) -> bool:
        """True if both heads move the same way in a partial (or there is only one)."""
        parts = [
            self.shape[index, part]
            for part, end in zip(self.system.slices, self.system.ends, strict=True)
            if end.head is not None
        ]
        return len(parts) < 2 or float(np.sum(parts[0] * parts[1].conj()).real) >= 0.0

    @property
    def fundamental(self) -> int:
        """Index of the fundamental, see `acoustics.fundamental`.

        Raises
        ------
        ConvergenceError
            If it is not among those computed.
        """
        if not self.first.any():
            raise ConvergenceError(_("The fundamental was not computed."))
        return int(np.argmax(self.first))


def drum_system(
    drum: Drum,
    tensions_n_per_m: tuple[float, ...],
    orders: tuple[int, ...] = tuple(range(MAX_ORDER + 1)),
    outside: OutsideAir | None = None,
) -> DrumSystem:
    """The coupled problem of a drum at given tensions (batter, and resonant if there is one)."""
    heads = [drum.setting(side).head for side in drum.sides]
    size = basis_size(*heads)
    edge = drum.shell.edge_loss
    ends = [End(head, t, size, edge) for head, t in zip(heads, tensions_n_per_m, strict=True)]
    if drum.resonant is None:
        ends.append(End(None, 0.0, OPENING_FUNCTIONS))
    return DrumSystem(
        orders,
        tuple(ends),
        drum.shell.radius_m,
        drum.shell.depth_m,
        drum.air,
        outside or outside_air(drum),
        orifices=orifices(drum),
        shell_mass_kg=recoiling_kg(drum),
    )


def recoiling_kg(drum: Drum) -> float | None:
    """Mass that recoils when the heads move; None where the shell is held still."""
    moving = drum.shell.moving_mass(drum.kind)
    return None if moving is None else moving[0]


def air_round(drum: Drum) -> OutsideAir:
    """The air outside a drum that stands free, its hoops in it."""
    return Rimmed(free_air(), drum.shell.rim_m / drum.shell.radius_m)


def outside_air(drum: Drum) -> OutsideAir:
    """The air outside a drum as it is used: a pedal bass drum lies near the floor."""
    if drum.kind == "bass":
        return OnFloor(air_round(drum), FLOOR_GAP_M / drum.shell.radius_m)
    return air_round(drum)


def partials(
    drum: Drum,
    tensions_n_per_m: tuple[float, ...],
    highest_hz: float = HIGHEST_HZ,
    lowest: int | None = None,
    outside: OutsideAir | None = None,
) -> Partials:
    """All partials to m = 8 and four circles below `highest_hz`, or only the `lowest` few.

    Parameters
    ----------
    tensions_n_per_m : one per head of the drum
    lowest : how many of the lowest are wanted; None for all

    Raises
    ------
    ConvergenceError
        If one was not found, or their number disagrees with an independent count.

    Notes
    -----
    Theory, sections 3 and 4. Above ka = 24 (2 kHz on a drum of 1.3 m) the outside air is not
    tabulated and partials are left out.
    """
    check_range(highest_hz, 20.0, 20000.0, _("Highest frequency"), "Hz")
    for tension in tensions_n_per_m:
        check_range(tension, 1e-3, 1e6, _("Tension"), "N/m")
    system = drum_system(drum, tensions_n_per_m, outside=outside)
    ceiling = min(2.0 * np.pi * highest_hz, 0.95 * system.highest_omega)
    count = lowest
    for _unused in range(8):
        part, limits = _limits(system, ceiling, count)
        modes = _named(part, solve(part, limits, 3 if lowest is None else 1))
        if lowest is None or count is None:
            return modes
        if len(modes) >= lowest or float(limits.max()) >= ceiling:
            return select(modes, np.arange(min(lowest, len(modes))))
        count += 4
    raise ConvergenceError(_("Too few partials were found."), _("Raise the tension."))


def fundamental_hz(
    drum: Drum, tensions_n_per_m: tuple[float, ...], outside: OutsideAir | None = None
) -> float:
    """The lowest (0,1) alone, without muffling, in hertz.

    Raises
    ------
    ConvergenceError
        If it was not found.
    """
    system = drum_system(drum, tensions_n_per_m, (0,), outside)
    levels = _vacuum_levels(system)[:, 0]
    for circle in (0, 1, 3):  # further up where one head is much the higher
        top = min(1.02 * float(levels[:, circle].max()), 0.95 * system.highest_omega)
        modes = _named(system, solve(system, np.array([top]), 1))
        if modes.first.any():
            break
    return float(modes.frequency_hz[modes.fundamental])


def _vacuum_levels(system: DrumSystem) -> FloatArray:
    """(ends, orders, N) rad/s of each head function alone and without air: upper bounds."""
    levels = []
    for part, end in zip(system.slices, system.ends, strict=True):
        if end.head is not None:
            mass = np.diagonal(system.film_mass, axis1=1, axis2=2)[:, part]
            levels.append(np.sqrt(system.stiffness[:, part] / mass))
    return np.array(levels)


def _circle_limits(levels: FloatArray) -> FloatArray:
    """(orders,) rad/s: just above the last circle counted, on the head where it is higher."""
    circles = min(MAX_CIRCLES, levels.shape[2]) - 1
    out: FloatArray = 1.02 * levels[:, :, circles].max(axis=0)
    return out


def _limits(
    system: DrumSystem, ceiling: float, lowest: int | None
) -> tuple[DrumSystem, FloatArray]:
    """Which orders to solve and up to where, rad/s, so that nothing wanted is missed."""
    levels = _vacuum_levels(system)
    if lowest is None:
        limits = np.minimum(_circle_limits(levels), ceiling)
    else:
        needed = float(np.sort(levels, axis=None)[min(lowest, levels.size - 1)])
        limits = np.full(len(system.orders), min(needed, ceiling))
    # air on both sides weighs about 2 rho a / k on a head function; 3 is on the safe side
    bases = [end.head.base_density_kg_per_m2 for end in system.ends if end.head]
    load = 3.0 * system.rho / np.sqrt(system.unit_stiffness[0, :, 0])
    loaded = levels[:, :, 0].min(axis=0) / np.sqrt(1.0 + load / min(bases))
    # the air swirling across the shell takes part as well, a little under its own resonance
    swirl = 0.8 * system.c * system.cavity_roots[:, 0]
    swirl[0] = 0.0
    count = max(1, int(np.sum(np.minimum(loaded, swirl) < limits)))
    return system.lower_orders(count), limits[:count]


def _first_and_rival(
    system: DrumSystem, roots: Roots, square: FloatArray, by_rank: FloatArray
) -> tuple[BoolArray, BoolArray]:
    """(R,) which root is the (0,1) and which could be taken for it: one of each, or none.

    Parameters
    ----------
    square : (R, N) of the shapes
    by_rank : (R, K) energy of the heads
    """
    first, rival = np.zeros((2, len(roots.row)), dtype=bool)
    middle = np.flatnonzero(np.array(system.orders)[roots.row] == 0)
    if not len(middle):
        return first, rival
    parts = [
        square[middle, part.start]
        for part, end in zip(system.slices, system.ends, strict=True)
        if end.head
    ]
    carried = by_rank[middle].sum(axis=1) > MIN_HEAD_ENERGY
    if carried.any():
        hz = roots.omega.real[middle]
        lowest = int(first_motion(hz, np.sum(parts, axis=0), carried))
        first[middle[lowest]] = True
        other = rival_motion(hz, parts[0], carried, lowest)
        if other is not None:
            rival[middle[other]] = True
    return first, rival


def _named(system: DrumSystem, roots: Roots) -> Partials:
    """Give every mode its rank and branch, and leave out ranks beyond the four circles."""
    row, omega, shape = roots.row, roots.omega, roots.shape
    film = np.diagonal(system.film_mass, axis1=1, axis2=2)[row]
    square = np.abs(shape) ** 2
    w2 = omega.real[:, None] ** 2
    energy = 0.5 * square * (film + system.stiffness[row] / w2)
    heads = [p for p, end in zip(system.slices, system.ends, strict=True) if end.head]
    by_rank = np.sum([energy[:, part] for part in heads], axis=0)
    kinetic = [
        np.einsum(
            "ri,rij,rj->r", shape[:, p].conj(), system.film_mass[row][:, p, p], shape[:, p]
        ).real
        for p in heads
    ]
    share = kinetic[0] / sum(kinetic) if len(heads) == 2 else np.ones(len(row))
    # kinetic energy only: half of the motion is half of that
    breath = energy[:, system.holes].sum(axis=1) > MAX_BREATH
    breath |= too_slow(system, row, omega.real)
    by_rank[breath] = 0.0
    first, rival = _first_and_rival(system, roots, square, by_rank)
    by_rank[first, 0] += SURELY  # it is the (0,1), whatever else is
    weights = by_rank.tolist()
    cuts = np.searchsorted(row, np.arange(len(system.orders) + 1)).tolist()
    named = [
        name
        for start, stop in pairwise(cuts)
        for name in _name_order(weights[start:stop], len(heads))
    ]
    rank = np.array([number for number, _unused in named], dtype=int)
    branch = np.array([name for _unused, name in named], dtype="<U6")
    outside = system.outside_mass(row, omega.real, shape)
    radiation = np.clip(-0.5 * omega.real * outside.imag / omega.imag, 0.0, 1.0)
    recoil = np.zeros(len(row))
    if system.moves:
        recoil = square[:, -1] * system.film_mass[row, -1, -1]
    limit = _circle_limits(_vacuum_levels(system))
    swings = omega.imag < DEADEST * omega.real
    audible = (branch != AIR) | (omega.real > 2.0 * np.pi * LOWEST_AIR_HZ)
    partial = (rank <= MAX_CIRCLES) & (omega.real < limit[row]) & swings & audible
    keep = np.flatnonzero(partial | first)  # kept however dead
    keep = keep[np.argsort(omega.real[keep], kind="stable")]
    return Partials(
        np.array(system.orders)[row][keep],
        rank[keep],
        branch[keep],
        roots.frequency_hz[keep],
        roots.t60_s[keep],
        share[keep],
        radiation[keep],
        outside.real[keep],
        recoil[keep],
        shape[keep],
        system,
        row[keep],
        first[keep],
        rival[keep],
    )


def _name_order(weight: list[list[float]], heads: int) -> list[tuple[int, str]]:
    """Rank and branch of every mode of one order, from the energy on each head function.

    Each rank takes as many modes as there are heads, the best fitting first; what the films hardly
    take part in, or what finds no place, is air, numbered by itself.
    """
    names = (SINGLE,) if heads == 1 else (LOWER, UPPER)
    claims = [
        (value, mode, function)
        for mode, row in enumerate(weight)
        if sum(row) > MIN_HEAD_ENERGY
        for function, value in enumerate(row)
        if value > 0.1 * max(row)
    ]
    members: dict[int, list[int]] = {}
    named: set[int] = set()
    for _unused, mode, function in sorted(claims, reverse=True):
        pair = members.setdefault(function, [])
        if mode not in named and len(pair) < heads:
            pair.append(mode)
            named.add(mode)
    airy = [mode for mode in range(len(weight)) if mode not in named]
    results = {mode: (number, AIR) for number, mode in enumerate(airy, start=1)}
    for function, pair in members.items():
        for mode, name in zip(sorted(pair), names, strict=False):
            results[mode] = (function + 1, name)
    return [results[mode] for mode in range(len(weight))]


def select(modes: Partials, index: IndexArray) -> Partials:
    """The partials at `index`."""
    return Partials(
        modes.order[index],
        modes.rank[index],
        modes.branch[index],
        modes.frequency_hz[index],
        modes.t60_s[index],
        modes.batter_share[index],
        modes.radiated_share[index],
        modes.outside_share[index],
        modes.recoil_share[index],
        modes.shape[index],
        modes.system,
        modes.row[index],
        modes.first[index],
        modes.rival[index],
    )


def decay_rate(t60_s: FloatArray) -> FloatArray:
    """Neper per second of a decay given by its T60."""
    out: FloatArray = const.AUDIBLE_DECAY_NEPER / t60_s
    return out
