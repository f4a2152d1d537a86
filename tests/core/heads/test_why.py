"""Why a pair stands where it stands: points that add up, by hand."""

from __future__ import annotations

import numpy as np
import pytest

from kesselton.app.workshop.usual_drums import usual_drum
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import Candidates, choose
from kesselton.core.heads.why import MOST_TOLD, TIED_POINTS, TOLD_POINTS, why
from kesselton.core.instrument.head import Head


@pytest.fixture(scope="module")
def found() -> Candidates:
    drum = usual_drum("tom")
    heads = [
        Head("single 7.5 mil", plies_m=(190.5e-6,)),
        Head("single 10 mil", plies_m=(254e-6,)),
        Head("single 10 mil, coated", plies_m=(254e-6,), coating_kg_per_m2=0.04),
        Head("two-ply 7 + 7 mil", plies_m=(177.8e-6, 177.8e-6)),
    ]
    return choose(drum, typical_brief(drum), heads, heads)


def test_differences_add_up_to_the_difference_of_the_totals(found: Candidates) -> None:
    order = found.order()
    total = 100.0 * found.scores.total()
    share = 100.0 * found.scores.weight / found.scores.weight.sum()
    first, second = int(order[0]), int(order[1])
    told = why(found, first)
    assert (told.place, told.rival) == (1, second)
    gains = share * (found.scores.score[:, first] - found.scores.score[:, second])
    assert gains.sum() == pytest.approx(total[first] - total[second])
    for row, points in (*told.ahead, *((r, -p) for r, p in told.behind)):
        assert points == pytest.approx(gains[row])
        assert abs(points) >= TOLD_POINTS
    assert len(told.ahead) <= MOST_TOLD
    named = sum(p for _r, p in told.ahead) - sum(p for _r, p in told.behind)
    assert named + told.rest == pytest.approx(total[first] - total[second])
    assert all(a[1] >= b[1] for a, b in zip(told.ahead, told.ahead[1:], strict=False))


def test_the_others_are_compared_with_the_first(found: Candidates) -> None:
    order = found.order()
    first, last = int(order[0]), int(order[-1])
    told = why(found, last)
    assert (told.place, told.rival) == (len(order), first)
    assert sum(p for _row, p in told.behind) > sum(p for _row, p in told.ahead)


def test_ties_are_counted_and_what_lacks_is_what_a_perfect_pair_would_add(
    found: Candidates,
) -> None:
    order = found.order()
    total = 100.0 * found.scores.total()
    number = int(order[2])
    told = why(found, number)
    others = [int(n) for n in order if n != number]
    assert told.ties == sum(abs(total[n] - total[number]) <= TIED_POINTS for n in others)
    for row, points in told.lacks:
        share = 100.0 * found.scores.weight[row] / found.scores.weight.sum()
        assert points == pytest.approx(share * (1.0 - found.scores.score[row, number]))


def test_with_one_weight_alone_nothing_else_is_told(found: Candidates) -> None:
    weight = np.zeros_like(found.scores.weight)
    weight[4] = 1.0
    told = why(found, int(found.order(weight)[-1]), weight)
    assert {row for row, _points in (*told.ahead, *told.behind, *told.lacks)} <= {4}
