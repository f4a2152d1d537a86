"""The air outside the drum, behind an interface: what solves the heads asks only for a matrix."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from kesselton.core.acoustics.bessel import cavity_basis, head_basis, overlap, packing
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.data import table
from kesselton.core.errors import InputError
from kesselton.core.language import _

HEAD, OPENING = "head", "opening"
CELL, POWERS = 0.5, 10
MANY = 64
"""Values of ka from which they are gathered by cell."""
_RISING = np.arange(1.0, POWERS)


@dataclass(frozen=True, eq=False)
class AddedMass:
    """Mass the outside air adds to the ends, in units of air density x radius.

    Real part: mass that moves along; negative imaginary part: radiation. Second axis: the value,
    and its derivative by ka.

    Attributes
    ----------
    own : per end (F, 2, P), packed upper triangle (see `bessel.packing`)
    cross : from one end to the other, displacements positive along the shell, or None where they
        do not hear each other: (F, 2, P) packed between ends of the same kind and size (it is
        symmetric then), else (F, 2, n1 n2)
    """

    own: tuple[ComplexArray, ...]
    cross: ComplexArray | None = None


Ends = tuple[tuple[str, int], ...]
"""Kind and number of functions of each end."""


class OutsideAir(Protocol):
    """Added mass of the outside air on the ends of a drum."""

    @property
    def ka_max(self) -> float:
        """Highest ka the model covers."""
        ...

    def __hash__(self) -> int: ...

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """Added mass between all functions of all ends.

        Parameters
        ----------
        orders : (F,) nodal diameters m
        ends : per end (kind, number of functions); kinds "head" and "opening"
        depth_ratio : shell depth over contact radius
        ka : (F,), complex, near the real axis
        radiation : share of the radiation that is let go; less than 1 only on the way to a root

        Raises
        ------
        InputError
            When Re ka leaves what the model covers.
        """
        ...

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """Added mass between every function and the motion of a shell that carries its heads along,
        then of that motion on itself: (F, 2, n + 1), value and derivative by ka.

        Parameters
        ----------
        carried : per end True if the shell carries it
        """
        ...

    def mass_error(self, depth_ratio: float) -> float:
        """Share of the added mass that may be wrong for a real drum (90 %)."""
        ...

    @property
    def start(self) -> OutsideAir:
        """Air whose reactive part alone is always positive: where a search that strays begins."""
        ...


class BaffledAir:
    """Each end in an infinite wall of its own: Rayleigh's integral (theory eqs. 7 and 8).

    Notes
    -----
    Two ends do not hear each other, and a thin shell's neighbourhood is taken for a wall: the
    lowest partial comes out 40 to 60 cents low and its radiation ten times too strong. The
    uncertainty of a prediction says so.

    References
    ----------
    Lord Rayleigh, The Theory of Sound, vol. II, section 278 (from memory).
    """

    ka_max: float

    def __init__(self) -> None:
        with table("baffle.npz").open("rb") as stream:
            data = np.load(stream)
            self.ka_max = float(data["ka_max"])
            self._tables = {HEAD: data["head"], OPENING: data["aperture"]}
        self._parts: dict[tuple[str, int], ComplexArray] = {}
        self._uniform: dict[tuple[Ends, tuple[bool, ...]], ComplexArray] = {}

    def coefficients(self, kind: str, count: int) -> ComplexArray:
        """Polynomials in ka of the packed matrices, cell by cell: (orders, cells, POWERS, P).

        The table holds one Chebyshev series over the whole span; short cells are ten times
        faster to evaluate and, for an entire function, as exact.
        """
        key = (kind, count)
        if key not in self._parts:
            table = self._tables[kind]
            size = round((np.sqrt(8 * table.shape[2] + 1) - 1) / 2)
            if count > size:
                raise InputError(
                    _("The outside air is tabulated for {size} functions, not {count}.").format(
                        size=size, count=count
                    )
                )
            part = table[:, :, packing(size)[np.triu_indices(count)]]
            cells = _cell_matrix(self.ka_max, part.shape[1]) @ part
            self._parts[key] = cells.reshape(len(part), -1, POWERS, part.shape[2])
        return self._parts[key]

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`; the ends do not hear each other."""
        del depth_ratio  # a baffle has no depth
        blocks = {
            end: evaluate(self.coefficients(*end), self.ka_max, orders, ka, radiation)
            for end in set(ends)
        }
        return AddedMass(tuple(blocks[end] for end in ends))

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`."""
        del depth_ratio
        table = self.uniform_coefficients(ends, carried)[None]
        return evaluate(table, self.ka_max, np.zeros(len(ka), dtype=np.intp), ka, radiation)

    def uniform_coefficients(self, ends: Ends, carried: tuple[bool, ...]) -> ComplexArray:
        """Polynomials (cells, POWERS, n + 1); the uniform motion is expanded in head functions."""
        key = (ends, carried)
        if key not in self._uniform:
            self._uniform[key] = self._make_uniform(ends, carried)
        return self._uniform[key]

    def _make_uniform(self, ends: Ends, carried: tuple[bool, ...]) -> ComplexArray:
        size = round((np.sqrt(8 * self._tables[HEAD].shape[2] + 1) - 1) / 2)
        flat = overlap(0, size, 1)[:, 0]
        every = self.coefficients(HEAD, size)[0][..., packing(size)] @ flat
        parts = [
            every[..., :count] if moved else np.zeros((*every.shape[:2], count), dtype=complex)
            for (_unused, count), moved in zip(ends, carried, strict=True)
        ]
        return np.concatenate((*parts, (every @ flat)[..., None] * sum(carried)), axis=2)

    def mass_error(self, depth_ratio: float) -> float:
        """A wall that is not there: a free cylinder of any depth carries up to 40 % less."""
        del depth_ratio
        return 0.4

    @property
    def start(self) -> OutsideAir:
        """Itself."""
        return self


@dataclass(frozen=True)
class BetweenAir:
    """On the way from one air to another, `share` of it gone."""

    first: OutsideAir
    last: OutsideAir
    share: float

    @property
    def ka_max(self) -> float:
        """Where the nearer of the two ends."""
        return min(self.first.ka_max, self.last.ka_max)

    @property
    def start(self) -> OutsideAir:
        """Where it came from."""
        return self.first

    def mass_error(self, depth_ratio: float) -> float:
        """That of the first."""
        return self.first.mass_error(depth_ratio)

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`."""
        added_mass, other = (
            air.added_mass(orders, ends, depth_ratio, ka, radiation)
            for air in (self.first, self.last)
        )
        own = [a + self.share * (b - a) for a, b in zip(added_mass.own, other.own, strict=True)]
        if other.cross is None:
            return AddedMass(tuple(own))
        mixed = self.share * other.cross
        if added_mass.cross is not None:
            mixed += (1.0 - self.share) * added_mass.cross
        return AddedMass(tuple(own), mixed)

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`."""
        values, other = (
            air.uniform(ends, carried, depth_ratio, ka, radiation)
            for air in (self.first, self.last)
        )
        out: ComplexArray = values + self.share * (other - values)
        return out


@dataclass(frozen=True)
class AirWithMore:
    """Air to which something is added: where it ends and begins is as without."""

    air: OutsideAir

    @property
    def ka_max(self) -> float:
        """See `OutsideAir.ka_max`."""
        return self.air.ka_max

    @property
    def start(self) -> OutsideAir:
        """See `OutsideAir.start`."""
        return self.air.start

    def mass_error(self, depth_ratio: float) -> float:
        """See `OutsideAir.mass_error`."""
        return self.air.mass_error(depth_ratio)


@dataclass(frozen=True)
class ScaledAir(AirWithMore):
    """Air whose mass and radiation are `factor` times another's: what its doubt comes to."""

    factor: float

    def added_mass(
        self,
        orders: IndexArray,
        ends: Ends,
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> AddedMass:
        """See `OutsideAir.added_mass`."""
        added_mass = self.air.added_mass(orders, ends, depth_ratio, ka, radiation)
        cross = None if added_mass.cross is None else self.factor * added_mass.cross
        return AddedMass(tuple(self.factor * own for own in added_mass.own), cross)

    def uniform(
        self,
        ends: Ends,
        carried: tuple[bool, ...],
        depth_ratio: float,
        ka: ComplexArray,
        radiation: float = 1.0,
    ) -> ComplexArray:
        """See `OutsideAir.uniform`."""
        return self.factor * self.air.uniform(ends, carried, depth_ratio, ka, radiation)


@kept(32)
def volumes(kind: str, count: int) -> FloatArray:
    """Integral f s ds of the functions of an end without nodal diameter, (count,)."""
    family = head_basis if kind == HEAD else cavity_basis
    out: FloatArray = family(0, count).hankel(np.zeros(1))[0]
    return out


def evaluate(
    coefficients: ComplexArray,
    ka_max: float,
    orders: IndexArray,
    ka: ComplexArray,
    radiation: float,
) -> ComplexArray:
    """Values and slopes (F, 2, P) of polynomials (orders, cells, POWERS, P) at ka (F,).

    Raises
    ------
    InputError
        When Re ka leaves 0..ka_max.
    """
    if ka.real.max() > ka_max or ka.real.min() < 0.0:
        worst = float(ka.real.max())
        raise InputError(
            _("The frequency is too high for a drum of this size (ka = {worst:.3g}).").format(
                worst=worst
            ),
            _("Outside air is tabulated for ka from 0 to {ka_max:g}.").format(ka_max=ka_max),
        )
    cell = np.minimum((ka.real / CELL).astype(int), round(ka_max / CELL) - 1)
    offset = (ka - (cell + 0.5) * CELL)[:, None]
    features = np.empty((len(ka), 2, POWERS), dtype=complex)
    features[:, 0, 0] = 1.0
    features[:, 0, 1:] = offset
    np.multiply.accumulate(features[:, 0], axis=1, out=features[:, 0])
    features[:, 1, 0] = 0.0
    features[:, 1, 1:] = features[:, 0, :-1] * _RISING
    if len(ka) <= MANY:
        out: ComplexArray = features @ _eased(coefficients[orders, cell], radiation)
        return out
    # many drums at once share few cells: one product for each
    number = orders * coefficients.shape[1] + cell
    ranked = np.argsort(number, kind="stable")
    cuts = np.flatnonzero(np.diff(number[ranked])) + 1
    out = np.empty((len(ka), 2, coefficients.shape[3]), dtype=complex)
    for members in np.split(ranked, cuts):
        table = _eased(coefficients[orders[members[0]], cell[members[0]]], radiation)
        out[members] = (features[members].reshape(-1, POWERS) @ table).reshape(len(members), 2, -1)
    return out


def _eased(table: ComplexArray, radiation: float) -> ComplexArray:
    """Coefficients with a share of their radiation."""
    return table if radiation == 1.0 else table.real + 1j * radiation * table.imag


@kept(4)
def _cell_matrix(ka_max: float, count: int) -> np.ndarray:
    """Turns a Chebyshev series over 0..ka_max into powers about the middle of each cell."""
    angle = (np.arange(POWERS) + 0.5) * (np.pi / POWERS)
    offset = 0.5 * CELL * np.cos(angle)
    fit = np.linalg.inv(offset[:, None] ** np.arange(POWERS))
    middle = (np.arange(round(ka_max / CELL)) + 0.5) * CELL
    turn = np.arccos(np.clip(2.0 * (middle[:, None] + offset) / ka_max - 1.0, -1.0, 1.0))
    series = np.cos(turn[..., None] * np.arange(count))
    out: np.ndarray = (fit @ series).reshape(-1, count)
    return out


@kept(1)
def baffled_air() -> BaffledAir:
    """The baffled outside air, its table read once and late."""
    return BaffledAir()
