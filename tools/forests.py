"""Fits small decision trees to examples, and writes them as the program reads them.

Needs what only learning needs: pip install -r requirements/bench.lock
"""

from __future__ import annotations

import numpy as np

from kesselton.core.data import table

TREES, RATE, LEAVES, AT_A_LEAF, OF_ALL = 300, 0.06, 12, 15, 0.7
"""Trees, how much each adds, leaves and examples at a leaf, share of the examples a tree sees."""


def fitted(rows: np.ndarray, so: np.ndarray) -> dict[str, np.ndarray]:
    """Arrays of `kesselton.core.forest.Forest` that tell from evidence (R, E) if it is so (R)."""
    from sklearn.ensemble import GradientBoostingClassifier

    model = GradientBoostingClassifier(
        n_estimators=TREES, learning_rate=RATE, max_leaf_nodes=LEAVES, max_depth=None,
        min_samples_leaf=AT_A_LEAF, subsample=OF_ALL, max_features=0.5, random_state=0,
    )  # fmt: skip
    rows = rows.astype(np.float32)
    model.fit(rows, so)
    trees = [one.tree_ for one in model.estimators_[:, 0]]
    shape = (len(trees), max(tree.node_count for tree in trees))
    feature, left, right = (np.full(shape, -1, dtype=np.int16) for _ in range(3))
    most, value = (np.zeros(shape, dtype=np.float32) for _ in range(2))
    for row, tree in enumerate(trees):
        part = slice(tree.node_count)
        inside = tree.children_left >= 0
        feature[row, part] = np.where(inside, tree.feature, -1)
        left[row, part], right[row, part] = tree.children_left, tree.children_right
        most[row, part] = tree.threshold
        value[row, part] = RATE * tree.value[:, 0, 0]
    chance = float(np.mean(so))
    return {
        "feature": feature, "most": most, "left": left, "right": right, "value": value,
        "start": np.array(np.log(chance / (1.0 - chance))),
    }  # fmt: skip


def write(name: str, arrays: dict[str, np.ndarray]) -> None:
    """For `kesselton.core.forest.forest`, which finds it by the same name."""
    np.savez_compressed(table(name), **arrays)
