"""What the air inside and outside puts into D(w) for the moving ends, order by order."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.air.cavity import cross_products, own_products
from kesselton.core.acoustics.air.outside import AddedMass
from kesselton.core.acoustics.bessel import packing
from kesselton.core.arrays import ComplexArray, IndexArray


def _by_order(features: ComplexArray, tables: ComplexArray, family: IndexArray) -> ComplexArray:
    """features (F, J, K) times tables[family] (F, K, P), one product per run of equal orders."""
    many = features.shape[1]
    out = np.empty((len(family), many, tables.shape[2]), dtype=complex)
    cuts = [0, *(np.flatnonzero(np.diff(family)) + 1).tolist(), len(family)]
    for start, stop in itertools.pairwise(cuts):
        block = features[start:stop].reshape(many * (stop - start), -1) @ tables[family[start]]
        out[start:stop] = block.reshape(stop - start, many, -1)
    return out


@dataclass(frozen=True, eq=False)
class AirPart:
    """The ends as the air sees them.

    Attributes
    ----------
    families : orders there are, each once
    kinds, sizes, slices : per end: head or opening, functions, place among the unknowns
    cavities : duct modes inside
    """

    families: tuple[int, ...]
    kinds: tuple[str, ...]
    sizes: tuple[int, ...]
    slices: tuple[slice, ...]
    cavities: int

    def fill(
        self,
        both: ComplexArray,
        family: IndexArray,
        turn: ComplexArray,
        outside: AddedMass,
        cavity: ComplexArray | None,
    ) -> None:
        """Write D and dD/dw of the air into `both` (F, 2, n, n).

        Parameters
        ----------
        family : (F,) which of the orders
        turn : (F, 2, 2) from added mass and its derivative to D and dD/dw
        cavity : functions of the air inside, None for a head without a shell
        """
        if len(self.kinds) == 2:
            assert cavity is not None
            self._fill_pair(both, family, turn, outside, cavity)
            return
        packed = turn @ outside.own[0]
        if cavity is not None:
            packed += _by_order(cavity[:, :2], self._own_table(0), family)
        moving = self.slices[-1].stop
        both[:, :, :moving, :moving] = packed[:, :, packing(moving)]

    def _own_table(self, side: int) -> ComplexArray:
        return own_products(self.families, self.kinds[side], self.sizes[side], self.cavities)

    def _fill_pair(
        self,
        both: ComplexArray,
        family: IndexArray,
        turn: ComplexArray,
        outside: AddedMass,
        cavity: ComplexArray,
    ) -> None:
        """Write what the air does to two ends, and from one to the other, into `both`."""
        first, second = self.slices
        kinds, sizes = (self.kinds[0], self.kinds[1]), (self.sizes[0], self.sizes[1])
        alike = kinds[0] == kinds[1] and sizes[0] == sizes[1]
        if alike:  # every block is symmetric and all use one table
            spread = packing(sizes[0])
            blocks = _by_order(cavity, self._own_table(0), family)
            if outside.cross is not None:
                blocks[:, 2:] += turn @ outside.cross
            cross = blocks[:, 2:, spread]
            same = outside.own[0] is outside.own[1]
            both[:, :, first, first] = (blocks[:, :2] + turn @ outside.own[0])[:, :, spread]
            both[:, :, second, second] = (
                both[:, :, first, first]
                if same
                else (blocks[:, :2] + turn @ outside.own[1])[:, :, spread]
            )
        else:
            for side, part in enumerate(self.slices):
                block = _by_order(cavity[:, :2], self._own_table(side), family)
                block += turn @ outside.own[side]
                both[:, :, part, part] = block[:, :, packing(sizes[side])]
            table = cross_products(self.families, kinds, sizes, self.cavities)
            mixed = _by_order(cavity[:, 2:, : self.cavities], table, family)
            if outside.cross is not None:
                mixed += turn @ outside.cross
            cross = mixed.reshape(len(family), 2, *sizes)
        both[:, :, first, second] = cross
        both[:, :, second, first] = cross.transpose(0, 1, 3, 2)
