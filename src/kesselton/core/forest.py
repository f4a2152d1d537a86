"""A sum of small decision trees, as a logistic score: what was learned from many examples."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import FloatArray, IndexArray, kept
from kesselton.core.data import table


class Forest(NamedTuple):
    """Trees (T) of up to N nodes, written by `tools/forests.py`.

    Attributes
    ----------
    feature : (T, N) which of the evidence a node asks for; −1 at a leaf
    most : (T, N) up to this it goes to the left
    left, right : (T, N) the nodes that follow
    value : (T, N) what a leaf adds to the score
    start : the score of no tree

    References
    ----------
    Friedman, Greedy function approximation: a gradient boosting machine, Annals of Statistics 29,
    2001 (from memory).
    """

    feature: IndexArray
    most: FloatArray
    left: IndexArray
    right: IndexArray
    value: FloatArray
    start: float

    def share(self, values: FloatArray) -> FloatArray:
        """(R,) how likely what was learned is, from 0 to 1, by evidence (R, E)."""
        rows, trees = np.arange(len(values))[:, None], np.arange(len(self.feature))
        node = np.zeros((len(values), len(trees)), dtype=np.intp)
        while True:
            asked = self.feature[trees, node]
            inside = asked >= 0
            if not inside.any():
                break
            less = values[rows, asked] <= self.most[trees, node]
            on = np.where(less, self.left[trees, node], self.right[trees, node])
            node = np.where(inside, on, node)
        score = self.start + self.value[trees, node].sum(axis=1)
        out: FloatArray = 1.0 / (1.0 + np.exp(-score))
        return out


@kept(8)
def forest(name: str) -> Forest:
    """One that ships, by file name."""
    with table(name).open("rb") as stream:
        data = np.load(stream)
        index = [data[key].astype(np.intp) for key in ("feature", "left", "right")]
        most, value = (data[key].astype(float) for key in ("most", "value"))
        return Forest(index[0], most, index[1], index[2], value, float(data["start"]))
