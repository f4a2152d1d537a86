"""Of many heads one speaks for those that are alike; what is found is what trying all would find."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.heads import choose as module
from kesselton.core.heads.alike import few_groups, groups
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import choose
from kesselton.core.instrument.head import Addition, Head


def films(many: int, seed: int = 1) -> list[Head]:
    rng = np.random.default_rng(seed)
    return [Head(f"own {n}", plies_m=(float(rng.uniform(1.4e-4, 4.5e-4)),)) for n in range(many)]


def test_groups_are_of_one_construction_and_near() -> None:
    heads = films(200)
    dotted = replace(heads[0], name="dot", additions=(Addition("dot", 0.0, 0.05, 2e-4),))
    found = groups([*heads, dotted], 0.02)
    assert sorted(h.name for group in found for h in group) == sorted(
        h.name for h in [*heads, dotted]
    )
    for group in found:
        mass = [head.base_density_kg_per_m2 for head in group]
        assert max(mass) <= 1.02 * min(mass) * (1 + 1e-9)
        assert len({bool(head.additions) for head in group}) == 1
    upper, lower, apart = few_groups(heads, heads, 100)
    assert len(upper) * len(lower) <= 100
    assert 0.0 < apart <= 0.64


@pytest.mark.parametrize("entry", [0, 1, 3])
def test_what_is_found_by_groups_is_among_the_best_of_all(
    entry: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    workshop = demo_workshop()
    drum = workshop.entries[entry].drum
    above = [one.head for one in offers(drum, workshop, "batter")] + films(12, 2)
    below = [one.head for one in offers(drum, workshop, "resonant")][:4] + films(4, 3)
    brief = replace(typical_brief(drum), school="interval", interval_cents=300.0)
    every = choose(drum, brief, above, below)
    assert every.alike == 0.0
    monkeypatch.setattr(module, "MOST_SETTINGS", 60)
    some = choose(drum, brief, above, below)
    assert some.alike > 0.0
    assert some.asked == every.asked
    total = every.scores.total()
    ranked = [every.heads[n] for n in every.order().tolist()]
    best = some.heads[int(some.order()[0])]
    lost = float(total[every.order()[0]] - total[every.heads.index(best)])
    assert lost < 0.05, (ranked.index(best), lost)


def test_heads_that_nobody_could_tell_apart_end(monkeypatch: pytest.MonkeyPatch) -> None:
    workshop = demo_workshop()
    drum = workshop.entries[1].drum
    same = [Head(f"same {n}", plies_m=(2.5e-4,)) for n in range(40)]
    brief = replace(typical_brief(drum), school="interval", interval_cents=300.0)
    monkeypatch.setattr(module, "MOST_SETTINGS", 60)
    found = choose(drum, brief, same, same)
    assert 0 < len(found) <= 60
    assert found.asked == 1600


def test_a_first_answer_comes_long_before_the_whole(monkeypatch: pytest.MonkeyPatch) -> None:
    """Of the same drum and brief, and not far behind: the best of it is nearly the best of all."""
    workshop = demo_workshop()
    drum = workshop.entries[1].drum
    own = films(30, 4)
    brief = replace(typical_brief(drum), school="interval", interval_cents=300.0)
    seen: list[tuple[int, module.Candidates]] = []
    told: list[int] = []

    def progress(done: int, of: int) -> bool:
        told.append(done)
        return True

    whole = choose(drum, brief, own, own, progress, lambda one: seen.append((max(told), one)))
    (done, first), *more = seen
    assert not more
    assert done == 0  # nothing of the whole was worked out before
    assert len(first) <= module.FIRST_SETTINGS < len(whole)
    assert first.asked == whole.asked == 900
    best = int(first.order()[0])
    place = whole.place_of(first, best)
    assert place is not None
    assert whole.heads[place] == first.heads[best]
    total = whole.scores.total()
    assert float(total[whole.order()[0]] - total[place]) < 0.05
    few: list[module.Candidates] = []
    choose(drum, brief, own[:5], own[:5], first=few.append)
    assert not few  # the whole is there as soon
