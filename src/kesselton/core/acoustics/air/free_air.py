"""The outside air round the drum as it is: a closed cylinder in free space (theory eqs. 21, 22).

The table holds boundary-element solutions (`tools/radiation_table`) at some shell depths; for the
drum at hand they are interpolated once and laid out as polynomials in ka.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from kesselton.core.acoustics.air.outside import (
    CELL,
    HEAD,
    POWERS,
    AddedMass,
    BaffledAir,
    Ends,
    baffled_air,
    evaluate,
)
from kesselton.core.acoustics.bessel import packing
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.data import table
from kesselton.core.errors import InputError
from kesselton.core.language import _

TABLE_VERSION = 1
TABLE_FILES = ("radiation.npz", "radiation_high.npz")
MASS_ERROR = 0.035
"""Lugs, stands and players stand in the flow; hoops are in `hoop_rim`; assumed."""
MASS_ERROR_OUTSIDE = 0.15
"""Beyond the tabulated shapes, where the nearest one (shallow) or free space (deep) stands in."""
END_REACH = 1.6
"""Where the ends of a deep shell seem to lie, radii further apart than they are (own solution)."""
FADE = 2.0
"""Span in ka below the end of the table over which it passes into the baffled head, which it has
joined there to 0.2 % of the added mass."""

MAX_KEPT = 64
"""Layouts kept, of half a megabyte and more each."""


@dataclass
class _Layout:
    """Polynomials (orders, cells, POWERS, P) of all blocks of a drum side by side.

    `cuts` says where a block ends, `pairs` which entry of the table each column is (-1: none),
    `own` how many columns come before those from end to end, `walls` the baffled polynomials,
    `filled` which orders are laid out yet.
    """

    table: ComplexArray
    cuts: list[int]
    pairs: IndexArray
    own: int
    walls: tuple[ComplexArray, ...]
    filled: set[int]


class FreeAir:
    """Outside air of a closed cylinder, or of one that is open at the far end.

    Notes
    -----
    Self terms are kept as differences from the baffled end, whose exact table carries what is
    local; what is left is smooth and vanishes beyond ka of about 10.
    """

    def __init__(self) -> None:
        self._baffle: BaffledAir = baffled_air()
        data: dict[str, np.ndarray] = {}
        for name in TABLE_FILES:
            with table(name).open("rb") as stream:
                data |= dict(np.load(stream))
        if int(data["version"]) != TABLE_VERSION:
            raise InputError(
                _("The table of outside air is version {data}.").format(data=data["version"]),
                _("Reinstall Kesselton."),
            )
        self._ka: FloatArray = data["ka"]
        self._depths: FloatArray = data["depth_ratio"]
        self._switch: FloatArray = data["switch"]
        self._heads, self._openings = (int(n) for n in data["functions"])
        self._basis = self._unpacked(data["basis"], data["rank"], np.ones_like(data["rank"]), ())
        four = (len(self._depths), 4)
        low = np.searchsorted(self._ka, self._switch + 1.0 + 1e-9)
        high = len(self._ka) - np.searchsorted(self._ka, self._switch - 1e-9)
        self._low = self._unpacked(data["low"], data["rank"], low, four)
        self._high = self._unpacked(data["high"], data["rank"], high, four)
        self._to_cells = _cells_from_points(data["panels"], self._ka)
        self._kept: dict[tuple[Ends, float], _Layout] = {}
        self._uniform: dict[tuple[Ends, tuple[bool, ...], float], ComplexArray] = {}

    def _unpacked(
        self, flat: FloatArray, rank: IndexArray, points: IndexArray, more: tuple[int, ...]
    ) -> list[FloatArray]:
        """Cut one array into those of the orders: basis (rank, pairs), or (shapes, K, 4, rank)."""
        count = self._heads + self._openings
        if not more:
            rows = flat.reshape(-1, count * (count + 1) // 2)
            return np.split(rows, np.cumsum(rank)[:-1])
        sizes = points * rank * more[0] * more[1]
        parts = np.split(flat, np.cumsum(sizes)[:-1])
        return [
            part.reshape(more[0], k, more[1], r)
            for part, k, r in zip(parts, points, rank, strict=True)
        ]

    @property
    def ka_max(self) -> float:
        """Where the baffled table ends that goes on where this one has faded out."""
        return self._baffle.ka_max

    @property
    def shapes(self) -> tuple[float, float]:
        """Shallowest and deepest shell depth over radius in the table."""
        return float(self._depths.min()), float(self._depths.max())

    @property
    def start(self) -> BaffledAir:
        """The baffled ends."""
        return self._baffle

    def mass_error(self, depth_ratio: float) -> float:
        """Share of the added mass that may be wrong for a real drum (90 %)."""
        low, high = self.shapes
        return MASS_ERROR if low <= depth_ratio <= high else MASS_ERROR_OUTSIDE

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`."""
        layout = self._layout(ends, depth_ratio)
        for order in set(orders.tolist()) - layout.filled:
            self._fill(layout, order, depth_ratio)
        every = evaluate(layout.table, self.ka_max, orders, ka, radiation)
        if len(ends) == 1:
            return AddedMass((every,))
        first = every[..., : layout.cuts[0]]
        second = first if ends[0] == ends[1] else every[..., layout.cuts[0] : layout.cuts[1]]
        return AddedMass((first, second), every[..., layout.cuts[-1] :])

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`; the plane wave is the first cavity function of the table."""
        key = (ends, carried, depth_ratio)
        table = self._uniform.get(key)
        if table is None:
            if len(self._uniform) >= MAX_KEPT:
                del self._uniform[next(iter(self._uniform))]
            table = self._uniform[key] = self._uniform_layout(*key)
        return evaluate(table, self.ka_max, np.zeros(len(ka), dtype=np.intp), ka, radiation)

    def _uniform_layout(
        self, ends: Ends, carried: tuple[bool, ...], depth_ratio: float
    ) -> ComplexArray:
        """Polynomials (1, cells, POWERS, n + 1)."""
        table = self._baffle.uniform_coefficients(ends, carried).copy()
        flat = np.array([self._heads])
        places = [self._place(*end) for end in ends]
        pairs = np.concatenate(
            [self._packed(place, np.repeat(flat, len(place))) for place in places]
            + [self._packed(flat, flat)]
        )
        tabulated = np.flatnonzero(pairs >= 0)
        own, cross = self.at_points(0, depth_ratio, pairs[tabulated])
        place = np.repeat(np.arange(len(ends)), [len(p) for p in places])
        # outward on both ends is against each other along the shell
        mine = np.array(carried, dtype=float)[place]
        theirs = float(sum(carried)) - mine
        both = float(sum(carried))
        mine, theirs = np.append(mine, both), np.append(theirs, both * (both - 1.0))
        self._lay(table, tabulated, own * mine[tabulated] - cross * theirs[tabulated])
        return table[None]

    def _layout(self, ends: Ends, depth_ratio: float) -> _Layout:
        key = (ends, depth_ratio)
        layout = self._kept.get(key)
        if layout is None:
            kinds = list(dict.fromkeys(ends))
            columns = [self._own_pairs(*end) for end in kinds]
            own = sum(len(pairs) for pairs in columns)
            if len(ends) == 2:
                columns.append(self._cross_pairs(*ends))
            walls = tuple(self._baffle.coefficients(*end) for end in kinds)
            pairs = np.concatenate(columns)
            shape = (*walls[0].shape[:3], len(pairs))
            cuts = np.cumsum([len(c) for c in columns])[:-1].tolist()
            layout = _Layout(np.zeros(shape, dtype=complex), cuts, pairs, own, walls, set())
            if len(self._kept) >= MAX_KEPT:
                del self._kept[next(iter(self._kept))]
            self._kept[key] = layout
        return layout

    def _fill(self, layout: _Layout, order: int, depth_ratio: float) -> None:
        """Lay out one order."""
        table = layout.table[order]
        table[..., : layout.own] = np.concatenate([wall[order] for wall in layout.walls], axis=2)
        tabulated = np.flatnonzero(layout.pairs >= 0)
        mine, other = self.at_points(order, depth_ratio, layout.pairs[tabulated])
        # outward on both ends is against each other along the shell
        points = np.where(tabulated >= layout.own, -other, mine)
        self._lay(table, tabulated, points)
        layout.filled.add(order)

    def _lay(self, table: ComplexArray, columns: IndexArray, points: ComplexArray) -> None:
        """Write values at the table's ka (K, columns) into columns of `table` (cells, POWERS, P),
        which holds the baffled end, and let them pass into it towards the last."""
        reach = round(float(self._ka[-1]) / CELL)
        cells: ComplexArray = (self._to_cells @ points.view(float)).view(complex)
        cells = cells.reshape(reach, POWERS, -1)
        fade = slice(reach - round(FADE / CELL), reach)
        cells[fade] = self._faded(cells[fade], table[fade][..., columns])
        if len(columns) == table.shape[2]:
            table[:reach] = cells
        else:
            table[:reach, :, columns] = cells

    def _faded(self, free: ComplexArray, wall: ComplexArray) -> ComplexArray:
        """Polynomials (cells, POWERS, P) that pass from `free` to `wall` over their span."""
        sample, fit = _cell_points()
        share = (np.arange(len(free))[:, None] + 0.5 + sample / CELL) / len(free)
        weight = (share**2 * (3.0 - 2.0 * share))[..., None]
        powers = sample[:, None] ** np.arange(POWERS)
        mixed: ComplexArray = fit @ (powers @ free + weight * (powers @ (wall - free)))
        return mixed

    def at_points(
        self, order: int, depth_ratio: float, pairs: IndexArray
    ) -> tuple[ComplexArray, ComplexArray]:
        """Self and cross terms at the table's values of ka, both (K, pairs), for outward motion.

        Parameters
        ----------
        pairs : packed indices over the head functions followed by the cavity functions
        """
        low, high = self.shapes
        near = min(max(depth_ratio, low), high)
        weight = _shape_weights(self._depths, near)
        basis = self._basis[order][:, pairs].astype(float)
        below, above = (_mix(weight, part[order]) @ basis for part in (self._low, self._high))
        ka, start = self._ka, float(self._switch[order])
        own, cross = np.zeros((2, len(ka), len(pairs)), dtype=complex)
        power = 2 * order + 1 + np.array([0, 2])
        under = ka[: len(below), None]
        ease = under**power / (1.0 + under**power)
        even, odd = (below[:, 2 * i] - 1j * ease[:, i, None] * below[:, 2 * i + 1] for i in (0, 1))
        share = np.clip(under - start, 0.0, 1.0)
        share = share**2 * (3.0 - 2.0 * share)
        own[: len(below)] = (1.0 - share) * 0.5 * (even + odd)
        cross[: len(below)] = (1.0 - share) * 0.5 * (even - odd)
        over = ka[len(ka) - len(above) :, None]
        share = np.clip(over - start, 0.0, 1.0)
        share = share**2 * (3.0 - 2.0 * share)
        own[-len(above) :] += share * (above[:, 0] - 1j * above[:, 1])
        turned = np.exp(-1j * over * near)
        cross[-len(above) :] += share * turned * (above[:, 2] - 1j * above[:, 3])
        if depth_ratio > high:  # farther apart, the ends hear each other as sources in free space
            further = (high + END_REACH) / (depth_ratio + END_REACH)
            cross *= further * np.exp(-1j * ka[:, None] * (depth_ratio - high))
        return own, cross

    def _place(self, kind: str, count: int) -> IndexArray:
        """Where the functions of an end stand in the table; -1 for those beyond it."""
        first, known = (0, self._heads) if kind == HEAD else (self._heads, self._openings)
        return np.where(np.arange(count) < known, first + np.arange(count), -1)

    def _packed(self, rows: IndexArray, cols: IndexArray) -> IndexArray:
        index = packing(self._heads + self._openings)[rows, cols]
        return np.where((rows >= 0) & (cols >= 0), index, -1)

    def _own_pairs(self, kind: str, count: int) -> IndexArray:
        place = self._place(kind, count)
        rows, cols = np.triu_indices(count)
        return self._packed(place[rows], place[cols])

    def _cross_pairs(self, first: tuple[str, int], second: tuple[str, int]) -> IndexArray:
        if first == second:
            return self._own_pairs(*first)
        rows, cols = self._place(*first), self._place(*second)
        return self._packed(np.repeat(rows, len(cols)), np.tile(cols, len(rows)))


def _mix(weight: FloatArray, shapes: FloatArray) -> FloatArray:
    """Weighted sum over the first axis, in the table's own precision."""
    flat = weight.astype(shapes.dtype) @ shapes.reshape(len(shapes), -1)
    return flat.astype(float).reshape(shapes.shape[1:])


def _shape_weights(depths: FloatArray, depth_ratio: float) -> FloatArray:
    """Weights of the tabulated shapes: one polynomial in 1 / (1 + L / a) through all (theory)."""
    nodes, x = 1.0 / (1.0 + depths), 1.0 / (1.0 + depth_ratio)
    gap = nodes[:, None] - nodes
    np.fill_diagonal(gap, 1.0)
    apart = x - nodes
    if np.any(np.abs(apart) < 1e-12):
        return (np.abs(apart) < 1e-12).astype(float)
    share = 1.0 / (gap.prod(axis=1) * apart)
    out: FloatArray = share / share.sum()
    return out


@kept(1)
def _cell_points() -> tuple[FloatArray, FloatArray]:
    """Sample points of a cell about its middle, and what makes powers from values there."""
    sample = 0.5 * CELL * np.cos((np.arange(POWERS) + 0.5) * (np.pi / POWERS))
    powers = sample[:, None] ** np.arange(POWERS)
    return sample, np.linalg.inv(powers)


def _cells_from_points(panels: FloatArray, ka: FloatArray) -> FloatArray:
    """Matrix (cells * POWERS, K) from values at the points to powers about each cell's middle.

    Every panel carries one polynomial through its points, ends included, so that neighbours agree
    where they meet.
    """
    sample, fit = _cell_points()
    count = round(float(panels[-1]) / CELL)
    out = np.zeros((count, POWERS, len(ka)))
    for start, stop in pairwise(panels):
        index = np.flatnonzero((ka > start - 1e-9) & (ka < stop + 1e-9))
        nodes = ka[index]
        first, last = int(start / CELL), round(stop / CELL)
        for cell in range(first, last):
            where = (cell + 0.5) * CELL + sample
            gap = nodes[:, None] - nodes
            np.fill_diagonal(gap, 1.0)
            ratio = (where[:, None, None] - nodes) / gap
            on = np.arange(len(nodes))
            ratio[:, on, on] = 1.0
            out[cell][:, index] = fit @ ratio.prod(axis=2)
    return out.reshape(count * POWERS, -1)


@kept(1)
def free_air() -> FreeAir:
    """The free outside air, its table read once and late."""
    return FreeAir()
