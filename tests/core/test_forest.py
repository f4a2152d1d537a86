"""What was learned from examples is asked as it was written."""

from __future__ import annotations

import math

import numpy as np
import pytest

from kesselton.core.forest import Forest, forest

SHIPPED = {"tap_right.npz": 37, "tap_whole.npz": 37, "match_doubt.npz": 33}


def one_by_one(asked: Forest, row: np.ndarray) -> float:
    score = asked.start
    for tree in range(len(asked.feature)):
        node = 0
        while asked.feature[tree, node] >= 0:
            less = row[asked.feature[tree, node]] <= asked.most[tree, node]
            node = int((asked.left if less else asked.right)[tree, node])
        score += float(asked.value[tree, node])
    return 1.0 / (1.0 + math.exp(-score))


def test_a_tree_of_two_questions_by_hand() -> None:
    small = Forest(
        feature=np.array([[1, -1, 0, -1, -1]]),
        most=np.array([[2.0, 0.0, -1.0, 0.0, 0.0]]),
        left=np.array([[1, -1, 3, -1, -1]]),
        right=np.array([[2, -1, 4, -1, -1]]),
        value=np.array([[9.0, 1.0, 9.0, -1.0, 0.5]]),
        start=0.25,
    )
    rows = np.array([[0.0, 2.0], [-1.0, 2.1], [0.0, 3.0]])
    told = 1.0 / (1.0 + np.exp(-np.array([1.25, -0.75, 0.75])))
    np.testing.assert_allclose(small.share(rows), told, rtol=1e-12)


@pytest.mark.parametrize(("name", "width"), SHIPPED.items())
def test_those_that_ship_answer_for_many_as_for_one(name: str, width: int) -> None:
    asked = forest(name)
    assert asked.feature.max() < width
    rows = np.random.default_rng(3).normal(0.0, 3.0, (40, width))
    together = asked.share(rows)
    for row, share in zip(rows, together, strict=True):
        assert share == pytest.approx(one_by_one(asked, row), rel=1e-9)
    assert together.std() > 0.01  # it asks something
