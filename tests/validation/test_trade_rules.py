"""Rules of thumb of the trade that must come out of the computed measures.

All of them: common practice, no published source.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import constructions
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.partials import Partials, partials
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import Candidates, choose
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head

SNARE, TOM, _, BASS, *_ = (entry.drum for entry in demo_workshop().entries)


def head(name: str, drum: Drum) -> Head:
    return next(c for c in constructions() if c.name == name).made_for(drum.shell.radius_m)


def at_one_note(drum: Drum, batters: list[str], resonant: str, hz: float) -> Candidates:
    brief = replace(typical_brief(drum), target="note", fundamental_hz=hz, school="unison")
    return choose(drum, brief, [head(b, drum) for b in batters], [head(resonant, drum)])


def by_name(found: Candidates, values: np.ndarray) -> dict[str, float]:
    names = [pair[0].name for pair in found.heads]
    return dict(zip(names, values.tolist(), strict=True))


def solved(drum: Drum, batter: Head, tension: float) -> Partials:
    one = drum.with_setting("batter", replace(drum.batter, head=batter).at_tension(tension))
    return partials(one, (tension, 3000.0), 900.0)  # so the lower of each pair is the batter's


def test_two_plies_are_shorter_than_one_at_the_same_note() -> None:
    names = ["single 10 mil, clear", "two-ply 7 + 7 mil, clear"]
    found = at_one_note(TOM, [*names, "two-ply 7 + 7 mil, fluid between"], names[0], 120.0)
    ring = by_name(found, found.measures.ring_s)
    assert ring[names[1]] < 0.95 * ring[names[0]]
    assert ring["two-ply 7 + 7 mil, fluid between"] < 0.9 * ring[names[1]]


def test_two_plies_answer_soft_strokes_less_and_last_longer() -> None:
    names = ["single 10 mil, clear", "two-ply 7 + 7 mil, clear"]
    found = at_one_note(TOM, names, names[0], 120.0)
    response = by_name(found, found.measures.response_db)
    assert response[names[1]] < response[names[0]]
    wear = by_name(found, found.measures.wear)
    assert wear[names[1]] > wear[names[0]]


def test_a_dot_lowers_the_centre_modes_and_leaves_the_edge_open() -> None:
    plain, dotted = head("single 10 mil, clear", TOM), head("single 10 mil, dot on top", TOM)
    one, other = solved(TOM, plain, 1500.0), solved(TOM, dotted, 1500.0)

    def drop(order: int) -> float:
        before = one.frequency_hz[one.find(order, 1)]
        return float(1200.0 * np.log2(before / other.frequency_hz[other.find(order, 1)]))

    assert drop(0) > 2.0 * drop(3) > 0.0
    t3 = other.t60_s[other.find(3, 1)] / one.t60_s[one.find(3, 1)]
    assert t3 > 0.9


def test_a_damping_ring_takes_off_the_edge_ring_most() -> None:
    plain, ringed = head("single 10 mil, clear", TOM), head("single 10 mil, damping ring", TOM)
    one, other = solved(TOM, plain, 1500.0), solved(TOM, ringed, 1500.0)

    def left(order: int) -> float:
        return float(other.t60_s[other.find(order, 1)] / one.t60_s[one.find(order, 1)])

    assert left(4) < left(2) < left(1) <= 1.02
    assert left(4) < 0.7


def test_the_floating_outer_ring_is_the_deadest() -> None:
    names = [
        "single 10 mil, clear",
        "two-ply 7 + 7 mil, clear",
        "two-ply 7 + 7 mil, damping ring",
        "two-ply 7 + 7 mil, floating outer ring",
    ]
    found = at_one_note(BASS, names, "single 10 mil, clear", 50.0)
    ring = by_name(found, found.measures.ring_s)
    assert [ring[n] for n in names] == sorted(ring.values(), reverse=True)


def test_a_thin_snare_side_answers_light_touch_most_and_bears_least() -> None:
    brief = replace(typical_brief(SNARE), school="interval", interval_cents=300.0)
    sides = ["snare side 2 mil", "snare side 3 mil", "snare side 5 mil"]
    found = choose(
        SNARE, brief, [head("single 10 mil, coated", SNARE)], [head(s, SNARE) for s in sides]
    )
    names = [pair[1].name for pair in found.heads]
    wires = dict(zip(names, found.measures.wires_db.tolist(), strict=True))
    assert wires[sides[0]] > wires[sides[1]] > wires[sides[2]]
    stress = dict(zip(names, found.measures.stress_share[:, 1].tolist(), strict=True))
    assert stress[sides[0]] > stress[sides[1]] > stress[sides[2]]


def test_control_built_in_narrows_what_can_be_had() -> None:
    """It can be made deader, never more open: the longest ring within reach is shorter."""
    names = ["single 10 mil, clear", "single 10 mil, damping ring"]
    longest = dict.fromkeys(names, 0.0)
    for hz in (85.0, 110.0, 140.0, 170.0):
        found = at_one_note(TOM, names, names[0], hz)
        for name, ring in by_name(found, found.measures.ring_s).items():
            longest[name] = max(longest[name], ring)
    assert longest[names[1]] < 0.9 * longest[names[0]]


def test_a_heavier_batter_and_touch_want_a_heavier_snare_side() -> None:
    from kesselton.core.heads.criteria import wanted_snare_side_mil

    brief = typical_brief(SNARE)
    light, heavy = head("single 7.5 mil, coated", SNARE), head("two-ply 7 + 7 mil, coated", SNARE)
    hard = replace(brief, touch="hard")
    assert wanted_snare_side_mil(light, brief) < wanted_snare_side_mil(heavy, brief)
    assert wanted_snare_side_mil(light, brief) < wanted_snare_side_mil(light, hard)
    assert wanted_snare_side_mil(light, replace(brief, touch="feather")) == pytest.approx(2.0, 0.2)
