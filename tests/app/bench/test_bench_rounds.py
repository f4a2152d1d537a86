"""Three rounds on the bench that is not there, on every head of the drum list, by tap and dial."""

from __future__ import annotations

import numpy as np
import pytest

from kesselton.app.bench.clearing import cleared, dial_fit
from kesselton.app.bench.simulated_bench import SimulatedBench
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.errors import InputError

WORKSHOP = demo_workshop()
HEADS = [(place, side) for place, one in enumerate(WORKSHOP.entries) for side in one.drum.sides]


@pytest.mark.parametrize(("place", "side"), HEADS)
def test_every_head_of_the_rack_comes_clear(place: int, side: str) -> None:
    entry, fit = WORKSHOP.entries[place], dial_fit(WORKSHOP)
    bench, clearing = SimulatedBench(), Clearing(side=side)
    loose = 0
    for _ in range(3):
        for source in ("bench_tap", "bench_dial"):
            for rod in range(1, entry.drum.shell.rods + 1):
                at = (entry.id, entry.drum, clearing, rod, fit)
                try:
                    clearing = clearing.with_tap(bench.read(source, *at)[0])
                except InputError:
                    loose += 1
        found = cleared(entry, WORKSHOP, clearing)
        assert found.notes == ()  # nothing is wrong with these drums but their rods
        clearing = clearing.turned(tuple(found.plan.turns.tolist()))
    assert loose == 0 or entry.drum.kind == "bass"  # the dial stands at its stop there
    head = bench.head(entry.id, entry.drum, clearing)
    assert np.ptp(1200.0 * np.log2(head.pitches())) < 10.0
