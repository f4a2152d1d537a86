"""Many pairs of heads on one drum at once: both tensions and the lower partials (theory 10).

Everything that only the shell and the air decide is worked out once; what the heads decide is
stacked, one row of the system for every pair and order.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from kesselton.core import constants as const
from kesselton.core.acoustics.air.orifice import orifices
from kesselton.core.acoustics.film.film_part import End
from kesselton.core.acoustics.solver.fundamental import too_slow
from kesselton.core.acoustics.solver.modes import (
    RootTolerances,
    duplicate_roots,
    settle,
    solve_pencils,
)
from kesselton.core.acoustics.solver.partials import (
    AIR,
    MAX_BREATH,
    outside_air,
    partials,
    recoiling_kg,
)
from kesselton.core.acoustics.solver.system import OPENING_FUNCTIONS, DrumSystem
from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray, IndexArray
from kesselton.core.constants import CENTS_PER_NEPER, SIDES
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.heads.curves import Curves
from kesselton.core.heads.solved_before import BEFORE
from kesselton.core.heads.stack import Stack, functions_of
from kesselton.core.instrument.drum import (
    HIGHEST_TENSION_N_PER_M,
    LOWEST_TENSION_N_PER_M,
    Drum,
    HeadSetting,
)
from kesselton.core.instrument.head import Head

ORDERS = (0, 1, 2, 3)
"""Nodal diameters whose lower partials are solved."""
MODES = (5, 4, 2, 2)
"""How many of each order: both branches of (0,1) (0,2), (1,1) (1,2), (2,1), (3,1), and a breath
through a hole."""
SETTLED_CENTS = 0.1
ROUGH = RootTolerances(1e-5, 5e-3, 0.05)
"""For a first choice: roots good to some tenths of a cent."""
MAX_ROUNDS = 12
BLOCK = 128
"""Pairs solved in one go, between two looks at whether to go on."""
ALONE_TO = 2.6
"""Highest partial over the higher lug pitch where a pair has to be solved by itself."""
BEYOND = 1e5 + 1e5j
"""Stands for a partial that lies higher than was looked."""
REFERENCE = (1.0, 1.3, 1.4, 1.8)
"""Where the outside air is frozen for a first look, over the higher lug pitch, by order."""


@dataclass(frozen=True, eq=False)
class Wishes:
    """C problems: which heads, how far apart, and what must come out.

    Attributes
    ----------
    batter, resonant : (C,) index into the heads offered; resonant is -1 on a drum open below
    interval_cents : (C,) lug pitch of the resonant head over that of the batter head, or nan
    pull_apart : (C,) ln of the resonant head's tension over the batter's, or nan
    fundamental_hz : (C,) wanted whole-drum pitch, or nan where `batter_hz` decides
    batter_hz : (C,) wanted lug pitch of the batter head, or nan
    """

    batter: IndexArray
    resonant: IndexArray
    interval_cents: FloatArray
    pull_apart: FloatArray
    fundamental_hz: FloatArray
    batter_hz: FloatArray

    def __len__(self) -> int:
        return len(self.batter)

    def part(self, index: IndexArray) -> Wishes:
        """Some of them."""
        return Wishes(*(getattr(self, name)[index] for name in self.__dataclass_fields__))


@dataclass(frozen=True, eq=False)
class SolvedPairs:
    """What C pairs do at the settings found for them; nan where a pair has none.

    Attributes
    ----------
    tensions_n_per_m, lug_pitches_hz : (C, heads)
    order : (K,) nodal diameters of the partials solved
    omega : (C, K) complex rad/s, ascending within an order
    on_batter : (C, K, functions) complex displacement of the batter head in its functions, modes
        scaled as in `modes.Roots`
    batter_share : (C, K) of the films' kinetic energy
    swing : (C, K) squares of the first head function's parts, summed over the heads
    head_share : (C, K) share of the energy in the films: little in a resonance of the air
    radiated_share : (C, K)
    resonant_kg_per_m2 : (C,) areal density of the resonant head, nan without one
    settled : (C,) False where a search did not end; nothing of such a pair is to be used
    """

    tensions_n_per_m: FloatArray
    lug_pitches_hz: FloatArray
    order: IndexArray
    omega: ComplexArray
    on_batter: ComplexArray
    batter_share: FloatArray
    swing: FloatArray
    head_share: FloatArray
    radiated_share: FloatArray
    resonant_kg_per_m2: FloatArray
    settled: BoolArray

    @property
    def frequency_hz(self) -> FloatArray:
        """(C, K)."""
        return self.omega.real / (2.0 * np.pi)

    @property
    def t60_s(self) -> FloatArray:
        """(C, K) seconds."""
        out: FloatArray = const.AUDIBLE_DECAY_NEPER / self.omega.imag
        return out


@BEFORE.remembered
def solve_pairs(
    drum: Drum,
    batters: Sequence[Head],
    resonants: Sequence[Head],
    wishes: Wishes,
    curves: Curves,
) -> Iterator[tuple[IndexArray, SolvedPairs]]:
    """Solve problems block by block; what was solved before to its end comes at once.

    Parameters
    ----------
    drum : shell and air; its own heads and settings do not count. With `resonant` None the
        drums are open below and `resonants` is empty.
    curves : of all these heads on this drum, see `head_curves`

    Yields
    ------
    Which of the problems, and what came out.

    Notes
    -----
    Theory section 10. Pairs that share their holes and their number of functions are stacked.
    """
    heads = curves.heads
    place = {head: index for index, head in enumerate(heads)}
    first = np.array([place[h] for h in batters])[wishes.batter]
    second = np.array([place[h] for h in resonants])[wishes.resonant] if resonants else None
    owners = np.stack((first,) if second is None else (first, second), axis=1)
    unique, owner = np.unique(owners, axis=0, return_inverse=True)
    owner = owner.reshape(-1)
    kinds: dict[tuple[int, object], list[int]] = {}
    for index, pair in enumerate(unique):
        chosen = [heads[i] for i in pair]
        key = (
            max(map(functions_of, chosen)),
            tuple((h.port_diameter_m, h.edge_vents, h.edge_vent_diameter_m) for h in chosen),
        )
        kinds.setdefault(key, []).append(index)
    for (functions, _), members in kinds.items():
        mine = np.flatnonzero(np.isin(owner, members))
        for start in range(0, len(mine), BLOCK):
            block = mine[start : start + BLOCK]
            used, local = np.unique(owner[block], return_inverse=True)
            pairs = [tuple(heads[i] for i in unique[u]) for u in used]
            yield (
                block,
                _block(
                    drum, pairs, local.reshape(-1), functions, curves, owners[block],
                    wishes.part(block),
                ),
            )  # fmt: skip


def _template(
    drum: Drum, heads: Sequence[Head], functions: int, orders: tuple[int, ...]
) -> DrumSystem:
    edge = drum.shell.edge_loss
    ends = [End(head, 1.0, functions, edge) for head in heads]
    if len(ends) == 1:
        ends.append(End(None, 0.0, OPENING_FUNCTIONS))
    fitted = drum
    for side, head in zip(SIDES, heads, strict=False):
        fitted = fitted.with_setting(side, HeadSetting(head, 1.0))
    return DrumSystem(
        orders,
        tuple(ends),
        drum.shell.radius_m,
        drum.shell.depth_m,
        drum.air,
        outside_air(drum),
        orifices=orifices(fitted),
        shell_mass_kg=recoiling_kg(drum),
    )


def _block(
    drum: Drum,
    pairs: Sequence[Sequence[Head]],
    owner: IndexArray,
    functions: int,
    curves: Curves,
    heads: IndexArray,
    wishes: Wishes,
) -> SolvedPairs:
    """Settings and partials of up to `BLOCK` problems; `heads` (C, sides) index the curves."""
    edge = drum.shell.edge_loss
    sides = heads.shape[1]
    ratio = np.exp(wishes.interval_cents / CENTS_PER_NEPER)
    by_pull = np.flatnonzero(np.isfinite(wishes.pull_apart)) if sides == 2 else np.array([], int)

    def pitched(batter_hz: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Lug pitches and tensions (C, sides)."""
        own = curves.tension(heads[:, 0], batter_hz)
        if sides == 1:
            return batter_hz[:, None], own[:, None]
        other_hz = batter_hz * ratio
        if len(by_pull):
            pulled = own[by_pull] * np.exp(wishes.pull_apart[by_pull])
            other_hz[by_pull] = curves.pitch(heads[by_pull, 1], pulled)
        other = curves.tension(heads[:, 1], other_hz)
        return np.stack((batter_hz, other_hz), axis=1), np.stack((own, other), axis=1)

    batter_hz = wishes.batter_hz.copy()
    target = np.isfinite(wishes.fundamental_hz)
    if target.any():
        alone = Stack(_template(drum, pairs[0], functions, (0,)), pairs, owner, edge)
        omega = 2.0 * np.pi * np.where(target, wishes.fundamental_hz, 100.0)
        guess = 1.3 * omega / (2.0 * np.pi)
        held = alone.held_at(omega)
        for _ in range(MAX_ROUNDS):
            _, tension = pitched(guess)
            factor, _ = held.factor(tension)
            new = curves.pitch(heads[:, 0], tension[:, 0] * np.maximum(factor, 1e-4))
            moved = np.abs(CENTS_PER_NEPER * np.log(new / guess))
            guess = new
            if moved[target].max() < SETTLED_CENTS:
                break
        batter_hz = np.where(target, guess, batter_hz)
    hz, tension = pitched(batter_hz)
    stack = Stack(_template(drum, pairs[0], functions, ORDERS), pairs, owner, edge)
    solved = _partials(stack, hz, tension)
    for row in np.flatnonzero(~solved.settled).tolist():
        _solve_alone(drum, pairs[owner[row]], solved, row)
    return solved


def _solve_alone(drum: Drum, heads: Sequence[Head], solved: SolvedPairs, row: int) -> None:
    """Fill in a pair that did not settle among the others, by the careful way of one drum."""
    tension = tuple(solved.tensions_n_per_m[row].tolist())
    for side, head, pull in zip(drum.sides, heads, tension, strict=True):
        drum = drum.with_setting(side, HeadSetting(head, 1.0))
        if not LOWEST_TENSION_N_PER_M <= pull <= HIGHEST_TENSION_N_PER_M:
            return
    try:
        modes = partials(drum, tension, ALONE_TO * float(solved.lug_pitches_hz[row].max()))
    except (ConvergenceError, InputError):
        return
    functions = solved.on_batter.shape[2]
    for order in ORDERS:
        mine = np.flatnonzero(modes.order == order)
        places = np.flatnonzero(solved.order == order)
        solved.omega[row, places] = BEYOND
        solved.head_share[row, places] = 0.0
        solved.on_batter[row, places] = 0.0
        for place, index in zip(places, mine, strict=False):
            decay = const.AUDIBLE_DECAY_NEPER / modes.t60_s[index]
            solved.omega[row, place] = 2.0 * np.pi * modes.frequency_hz[index] + 1j * decay
            shape = modes.shape[index, modes.system.slices[0]][:functions]
            solved.on_batter[row, place, : len(shape)] = shape
            solved.batter_share[row, place] = modes.batter_share[index]
            parts = modes.system.slices[: len(heads)]
            solved.swing[row, place] = sum(abs(modes.shape[index, p.start]) ** 2 for p in parts)
            solved.radiated_share[row, place] = modes.radiated_share[index]
            solved.head_share[row, place] = 0.0 if modes.branch[index] == AIR else 1.0
    solved.settled[row] = True


def _energies(
    system: DrumSystem,
    heads: list[slice],
    rows: IndexArray,
    omega: ComplexArray,
    x: ComplexArray,
    square: FloatArray,
) -> tuple[FloatArray, FloatArray]:
    """Of modes x (R, N) and their squares: share of the motion that is the first head's, and energy
    of the heads, 0 where a mode is of the air or too slow; (R,) each."""
    moved = np.einsum("ri,rij,rj->ri", x.conj(), system.film_mass[rows], x).real
    energy = 0.5 * (moved + square * system.stiffness[rows] / omega.real[:, None] ** 2)
    kinetic = [moved[:, part].sum(axis=1) for part in heads]
    share = kinetic[0] / sum(kinetic) if len(heads) > 1 else np.ones(len(rows))
    shown = np.sum([energy[:, part].sum(axis=1) for part in heads], axis=0)
    shown[energy[:, system.holes].sum(axis=1) > MAX_BREATH] = 0.0
    shown[too_slow(system, rows, omega.real)] = 0.0
    return share, shown


def _partials(stack: Stack, hz: FloatArray, tension: FloatArray) -> SolvedPairs:
    """The lower partials at tensions (C, sides)."""
    system = stack.at(tension)
    count, n = stack.count, system.size
    top = hz.max(axis=1)
    scale = np.array([REFERENCE[m] for m in ORDERS])
    reference = 2.0 * np.pi * (scale[:, None] * top).reshape(-1, 1)
    reference = np.minimum(reference, 0.9 * system.highest_omega)
    poles = system.cavity_poles(1.5 * float(reference.max()))
    pencils = solve_pencils(system, reference, poles)
    still = system.zero_frequency_modes
    row, column = [], []
    for family, modes in enumerate(MODES):
        rows = family * count + np.arange(count)
        row.append(np.repeat(rows, modes))
        column.append((still[rows][:, None] + np.arange(modes)).ravel())
    rows, columns = np.concatenate(row), np.concatenate(column)
    start = pencils.omega[rows, 0, columns]
    vectors = pencils.vectors[rows, 0, :, columns]
    omega, shape, lost = settle(system, rows, start, vectors, poles, 1.0, ROUGH)
    settled = np.ones(count, dtype=bool)
    settled[rows[lost] % count] = False
    for pair in duplicate_roots(rows, omega, shape[:, :n]):
        settled[rows[pair] % count] = False
    settled[rows[omega.imag <= 0.0] % count] = False
    outside = system.outside_mass(rows, omega.real, shape[:, :n])
    radiated = np.clip(-0.5 * omega.real * outside.imag / omega.imag, 0.0, 1.0)
    square = np.abs(shape[:, :n]) ** 2
    heads = [part for part, end in zip(system.slices, system.ends, strict=True) if end.head]
    share, shown = _energies(system, heads, rows, omega, shape[:, :n], square)

    def table(values: NDArray[Any]) -> NDArray[Any]:
        """(C, K, …), sorted by frequency within an order."""
        parts, at = [], 0
        for modes in MODES:
            piece = values[at : at + count * modes].reshape(count, modes, *values.shape[1:])
            parts.append(piece)
            at += count * modes
        return np.concatenate(parts, axis=1)

    order = np.concatenate([[m] * modes for m, modes in zip(ORDERS, MODES, strict=True)])
    ranked = table(omega)
    sort = np.lexsort((ranked.real, np.broadcast_to(order, ranked.shape)), axis=1)

    def sorted_table(values: NDArray[Any]) -> NDArray[Any]:
        row = table(values)
        index = sort.reshape(*sort.shape, *[1] * (row.ndim - 2))
        return np.take_along_axis(row, index, axis=1)

    return SolvedPairs(
        tension,
        hz,
        order,
        sorted_table(omega),
        sorted_table(shape[:, system.slices[0]]),
        sorted_table(share),
        sorted_table(np.sum([square[:, part.start] for part in heads], axis=0)),
        sorted_table(shown),
        sorted_table(radiated),
        stack.far_density,
        settled,
    )
