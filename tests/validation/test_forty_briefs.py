"""What common practice takes for a job is among the first three of the real search, and what it
never takes is not: common practice, no published source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import pytest

from kesselton.app.workshop.head_stock import offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.constants import METRE_PER_INCH, METRE_PER_MIL
from kesselton.core.heads.brief import Brief, typical_brief
from kesselton.core.heads.choose import Candidates, choose
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head

WORKSHOP = demo_workshop()
SNARE, RACK, FLOOR, BASS, CONCERT, ROPE = (entry.drum for entry in WORKSHOP.entries[:6])


@dataclass(frozen=True)
class Took:
    """One of the first: batter, resonant, cents of the resonant over the batter, batter in N/m."""

    batter: Head
    resonant: Head | None
    cents: float
    pull: float


Says = Callable[[Took], bool]


def mil(head: Head | None) -> float:
    return 0.0 if head is None else head.film_thickness_m / METRE_PER_MIL


def has(head: Head | None, *kinds: str) -> bool:
    return head is not None and any(a.kind in kinds for a in head.additions)


def plain(head: Head | None) -> bool:
    return (
        head is not None
        and head.material == "polyester_film"
        and not (head.additions or head.interlayer or head.edge_vents or len(head.plies_m) > 1)
    )


def skin_or_fibre(head: Head | None) -> bool:
    return head is not None and head.material != "polyester_film"


def two_ply(t: Took) -> bool:
    return len(t.batter.plies_m) > 1


def ringed(head: Head | None) -> bool:
    return head is not None and any(a.kind != "dot" for a in head.additions)


def built_in(t: Took) -> bool:
    return not plain(t.batter) and t.batter.material == "polyester_film"


def ported(t: Took) -> bool:
    return t.resonant is not None and t.resonant.port_diameter_m > 0.0


def single_ten(t: Took) -> bool:
    return plain(t.batter) and 9.0 <= mil(t.batter) <= 10.5


def thin_single(t: Took) -> bool:
    return plain(t.batter) and mil(t.batter) <= 10.5


def lasting(t: Took) -> bool:
    return two_ply(t) or mil(t.batter) >= 12.0 or has(t.batter, "dot") or skin_or_fibre(t.batter)


def snare_side(t: Took) -> bool:
    return mil(t.resonant) <= 9.0


def slack_below(t: Took) -> bool:
    return t.cents < -50.0


def heavier_below(t: Took) -> bool:
    return mil(t.resonant) > 1.1 * mil(t.batter)


def ten_up(t: Took) -> bool:
    return mil(t.batter) >= 9.5


def near_front(t: Took) -> bool:
    return -50.0 <= t.cents <= 500.0


def both(one: Says, other: Says) -> Says:
    return lambda t: one(t) and other(t)


def either(one: Says, other: Says) -> Says:
    return lambda t: one(t) or other(t)


def not_(says: Says) -> Says:
    return lambda t: not says(t)


def third_to_fifth(t: Took) -> bool:
    return 250.0 <= t.cents <= 750.0


def thick_side(t: Took) -> bool:
    return mil(t.resonant) >= 2.9


def firm(t: Took) -> bool:
    return t.pull > 600.0


FIBRE_BOTH: Says = lambda t: skin_or_fibre(t.batter) and skin_or_fibre(t.resonant)  # noqa: E731
CLEAR_FILM: Says = lambda t: plain(t.batter) and not t.batter.coating_kg_per_m2  # noqa: E731
CLOSE_HARD = {"touch": "hard", "microphones": "close"}
LARGE = replace(
    RACK,
    name="large tom",
    shell=replace(RACK.shell, head_diameter_m=16 * METRE_PER_INCH, depth_m=0.4),
)
SMALL = replace(
    RACK,
    name="small tom",
    shell=replace(RACK.shell, head_diameter_m=10 * METRE_PER_INCH, depth_m=0.18),
)

CASES: list[tuple[str, Drum, dict[str, Any], Says, Says]] = [
    # concert bass: fibre or skin, smooth film last, two thirds out, firm, not slack
    ("concert bass", CONCERT, {}, FIBRE_BOTH, either(CLEAR_FILM, not_(firm))),
    ("concert bass, soft", CONCERT, {"touch": "feather"}, FIBRE_BOTH, CLEAR_FILM),
    ("concert bass, hard", CONCERT, {"touch": "hard"}, FIBRE_BOTH, CLEAR_FILM),
    ("concert bass, live hall", CONCERT, {"room": "live"}, FIBRE_BOTH, CLEAR_FILM),
    ("concert bass, busy", CONCERT, {"density": "busy"}, FIBRE_BOTH, CLEAR_FILM),
    ("concert bass, close", CONCERT, {"microphones": "close"}, FIBRE_BOTH, CLEAR_FILM),
    ("concert bass, firm", CONCERT, {"feel": "firm"}, both(FIBRE_BOTH, firm), CLEAR_FILM),
    # bass on a pedal
    ("bass, hard and close", BASS, CLOSE_HARD, both(built_in, ported), CLEAR_FILM),
    ("bass, very hard, close, busy", BASS, {**CLOSE_HARD, "touch": "very_hard", "density": "busy"},
     both(built_in, ported), CLEAR_FILM),
    ("bass, hard, close, long", BASS, {**CLOSE_HARD, "durability": "long"}, built_in, CLEAR_FILM),
    ("bass, hard and busy", BASS, {"touch": "hard", "density": "busy"}, built_in, CLEAR_FILM),
    ("bass, feathered", BASS, {"touch": "feather"}, both(thin_single, not_(ported)), either(two_ply, ported)),
    ("bass, light", BASS, {"touch": "light"}, both(thin_single, not_(ported)), either(two_ply, ported)),
    ("bass, light, large room", BASS, {"touch": "light", "room": "large"},
     both(thin_single, not_(ported)), ported),
    ("bass, medium, close", BASS, {"microphones": "close"}, both(ported, ten_up), not_(near_front)),
    ("bass, medium", BASS, {}, both(ten_up, near_front), not_(near_front)),
    ("bass, sparse", BASS, {"density": "sparse"}, both(ten_up, near_front), not_(near_front)),
    # rack tom: 10 over 10, never a slack bottom by accident
    ("rack tom", RACK, {}, both(single_ten, lambda t: 9 <= mil(t.resonant) <= 10.5),
     either(slack_below, heavier_below)),
    ("rack tom, signature", RACK, {"role": "signature"}, single_ten, either(slack_below, heavier_below)),
    ("rack tom, soft", RACK, {"touch": "feather"}, thin_single, either(two_ply, slack_below)),
    ("rack tom, light", RACK, {"touch": "light"}, thin_single, either(two_ply, slack_below)),
    ("rack tom, hard", RACK, {"touch": "hard"}, lasting, slack_below),
    ("rack tom, very hard and long", RACK, {"touch": "very_hard", "durability": "long"}, lasting,
     either(thin_single, slack_below)),
    ("rack tom, close and hard", RACK, CLOSE_HARD, lasting, slack_below),
    ("rack tom, sparse", RACK, {"density": "sparse"}, single_ten, slack_below),
    ("rack tom, resonant higher", RACK, {"school": "resonant_higher"}, lambda t: t.cents > 50, slack_below),
    ("rack tom, batter higher", RACK, {"school": "batter_higher"}, slack_below, lambda t: t.cents > 0),
    ("floor tom", FLOOR, {}, single_ten, either(slack_below, heavier_below)),
    ("floor tom, hard and long", FLOOR, {"touch": "hard", "durability": "long"}, lasting, thin_single),
    ("floor tom, soft", FLOOR, {"touch": "light"}, thin_single, two_ply),
    ("large tom", LARGE, {}, single_ten, heavier_below),
    ("small tom", SMALL, {}, single_ten, heavier_below),
    # snare: third to fifth above is normal, snare sides only
    ("snare", SNARE, {}, both(snare_side, third_to_fifth), either(not_(snare_side), slack_below)),
    ("snare at C4", SNARE, {"target": "batter", "batter_hz": 261.6}, both(snare_side, third_to_fifth),
     either(not_(snare_side), slack_below)),
    ("snare, any interval", SNARE, {"school": "all"}, third_to_fifth, slack_below),
    ("snare, soft", SNARE, {"touch": "feather"}, both(thin_single, lambda t: mil(t.resonant) < 3.5), two_ply),
    ("snare, light", SNARE, {"touch": "light"}, thin_single, two_ply),
    ("snare, hard", SNARE, {"touch": "hard"}, both(lasting, thick_side), thin_single),
    ("snare, very hard and long", SNARE, {"touch": "very_hard", "durability": "long"},
     both(lasting, thick_side), thin_single),
    ("snare, hard, large room", SNARE, {"touch": "hard", "room": "large"},
     lambda t: mil(t.resonant) >= 4.5, lambda t: mil(t.resonant) < 2.5),
    ("snare, close", SNARE, CLOSE_HARD, lasting, slack_below),
    # rope
    ("field drum", ROPE, {}, lambda t: skin_or_fibre(t.batter), CLEAR_FILM),
    ("field drum, hard", ROPE, {"touch": "hard"}, lambda t: skin_or_fibre(t.batter), CLEAR_FILM),
]  # fmt: skip


def first_three(drum: Drum, brief: Brief) -> list[Took]:
    heads = [[o.head for o in offers(drum, WORKSHOP, side)] for side in drum.sides]
    found: Candidates = choose(drum, brief, heads[0], heads[1])
    out: list[Took] = []
    for number in found.order().tolist()[:3]:
        pair = found.heads[number]
        cents = float(found.wishes.interval_cents[number])
        pull = float(found.solved.tensions_n_per_m[number, 0])
        out.append(Took(pair[0], pair[1], cents, pull))
    return out


def words(took: list[Took]) -> str:
    return "; ".join(
        f"{t.batter.name} over {t.resonant.name if t.resonant else '–'}, {t.cents:+.0f} cents, "
        f"{t.pull:.0f} N/m"
        for t in took
    )


def test_there_are_forty_of_all_kinds() -> None:
    assert len(CASES) >= 40
    assert {case[1].kind for case in CASES} == {"tom", "snare", "bass", "concert_bass", "rope"}


@pytest.mark.parametrize("case", CASES, ids=[case[0] for case in CASES])
def test_what_the_trade_takes(case: tuple[str, Drum, dict[str, Any], Says, Says]) -> None:
    _, drum, asked, takes, never = case
    took = first_three(drum, replace(typical_brief(drum), **asked))
    assert len(took) == 3
    assert any(takes(t) for t in took), f"not among the first three: {words(took)}"
    assert not any(never(t) for t in took), f"what is never taken: {words(took)}"
