"""What the trade takes for a job, and what it does not: rules of common practice, one by one.

All of them: common practice, no published source; how much each counts is assumed. What can be
computed (ring, response, feel, stress) is judged elsewhere; this is what technicians agree on
before anybody computes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from kesselton.core import constants as const
from kesselton.core.heads.brief import TOUCHES, Brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import is_snare_side
from kesselton.core.language import N_

GOOD, NEVER = 1.0, 0.1
FILM, FIBRE, ARAMID = "polyester_film", "textured_fibre", "aramid_weave"
SOFT, HARD = 0.8, 1.5
"""Touches, as impulses against a medium one, from which heads are chosen for it."""
SLACK_CENTS = -50.0
"""A bottom this far under the batter counts as below it."""
WIDEST_OF_BASS = 450.0
SNARE_THIRD, SNARE_FIFTH = 250.0, 750.0
CLOSE_LEAST, CLOSE_MOST = 50.0, 550.0
"""A close microphone hears a tom's heads apart beyond a fourth."""
NEAR_CENTS = 60.0
"""So near to an interval is that interval."""
CONCERT_CENTS = (-700.0, -500.0, 0.0, 500.0, 700.0)
"""Of the other head of a concert bass drum: unison, a fourth, a fifth, up or down."""


@dataclass(frozen=True)
class Pair:
    """A pair at its setting, under a brief."""

    drum: Drum
    brief: Brief
    batter: Head
    resonant: Head | None
    cents: float

    @property
    def touch(self) -> float:
        """Impulse of the strokes against a medium one."""
        return TOUCHES[self.brief.touch].value

    @property
    def close_and_hard(self) -> bool:
        """Struck hard before close microphones."""
        return self.touch > HARD and self.brief.microphones == "close"


@dataclass(frozen=True)
class Rule:
    """One rule: for whom, what it thinks of a pair (1 well, 0.1 never), and in words why."""

    kinds: tuple[str, ...]
    when: Callable[[Pair], bool]
    thinks: Callable[[Pair], float]
    why: str


def controlled(head: Head) -> bool:
    """True if control is built in: ring, dot, fluid, vents, or two plies."""
    return bool(head.additions or head.interlayer or head.edge_vents or len(head.plies_m) > 1)


def tough(head: Head) -> bool:
    """True if it outlasts a single 10 mil ply: two plies, a dot, a thicker ply, or no film."""
    return len(head.plies_m) > 1 or _mil(head) >= 12.0 or _dotted(head) or not _film(head)


def quick(head: Head) -> bool:
    """True if it answers a soft stroke: a single undamped ply of film no thicker than 10 mil, or a
    head that is no film."""
    return not _film(head) or (not controlled(head) and _mil(head) <= 10.5)


def _mil(head: Head) -> float:
    return head.film_thickness_m / const.METRE_PER_MIL


def _film(head: Head) -> bool:
    return head.material == FILM


def _single_ten(head: Head) -> bool:
    return not controlled(head) and 9.0 <= _mil(head) <= 10.5


def _animal_or_fibre(head: Head) -> bool:
    return head.is_skin or head.material == FIBRE


def _graded(good: bool, else_: float) -> float:
    return GOOD if good else else_


def _concert(p: Pair) -> float:
    heads = [h for h in (p.batter, p.resonant) if h is not None]
    if all(_animal_or_fibre(head) for head in heads):
        return GOOD
    return 0.25 if all(_animal_or_fibre(h) or h.coating_kg_per_m2 for h in heads) else NEVER


def _damped_bass(p: Pair) -> float:
    return _graded(controlled(p.batter) and not p.batter.is_skin, 0.3)


def _feathered_bass(p: Pair) -> float:
    open_ = _single_ten(p.batter)
    ported = p.resonant is not None and p.resonant.port_diameter_m > 0.0
    return min(_graded(open_, 0.3), _graded(not ported, NEVER))


def _beaten(p: Pair) -> float:
    return _graded(not _film(p.batter) or _mil(p.batter) >= 9.5, 0.4)


def _bass_interval(p: Pair) -> float:
    return _graded(SLACK_CENTS <= p.cents <= WIDEST_OF_BASS, 0.5)


def _lasting(p: Pair) -> float:
    return _graded(tough(p.batter), 0.4)


def _dotted(head: Head) -> bool:
    return any(a.kind == "dot" for a in head.additions)


def _light(p: Pair) -> float:
    return _graded(not controlled(p.batter) and _mil(p.batter) < 12.0, 0.4)


def _ten_over_ten(p: Pair) -> float:
    if p.resonant is None:
        return GOOD
    below = p.resonant
    if below.film_thickness_m > 1.1 * p.batter.film_thickness_m or _ringed(below):
        return NEVER
    plain = not controlled(below) and _film(below) and not below.coating_kg_per_m2
    too_thin = _mil(below) < 7.0 and p.brief.school != "resonant_higher"
    return _graded(plain, 0.6) * (0.7 if too_thin else 1.0)


def _ringed(head: Head) -> bool:
    return any(a.kind != "dot" for a in head.additions)


def _thin_below(p: Pair) -> float:
    thinner = p.resonant is None or p.resonant.film_thickness_m < 0.9 * p.batter.film_thickness_m
    return _graded(thinner, 0.8)


def _close_interval(p: Pair) -> float:
    return _graded(p.resonant is None or CLOSE_LEAST <= abs(p.cents) <= CLOSE_MOST, 0.6)


def _front(p: Pair) -> float:
    if p.resonant is None or not _ringed(p.resonant):
        return GOOD
    double = any(a.thickness_m > 10.0 * const.METRE_PER_MIL for a in p.resonant.additions)
    return 0.5 if double else 0.9


def _medium_snare(p: Pair) -> float:
    single = _single_ten(p.batter)
    return _graded(single and p.batter.coating_kg_per_m2 > 0.0, 0.9)


def _medium_tom(p: Pair) -> float:
    return _graded(_single_ten(p.batter), 0.75)


def _not_slack_below(p: Pair) -> float:
    return _graded(p.resonant is None or p.cents >= SLACK_CENTS, NEVER)


def _snare_interval(p: Pair) -> float:
    if p.cents < SLACK_CENTS:
        return NEVER
    return _graded(SNARE_THIRD <= p.cents <= SNARE_FIFTH, 0.7)


def _snare_batter(p: Pair) -> float:
    return _graded(p.batter.coating_kg_per_m2 > 0.0 or not _film(p.batter), 0.5)


def _snare_side(p: Pair) -> float:
    if p.resonant is None:
        return GOOD
    thin = is_snare_side(p.resonant.film_thickness_m, p.resonant.material)
    return _graded(thin, NEVER)


def _roped(p: Pair) -> float:
    return _graded(_animal_or_fibre(p.batter) or p.batter.material == ARAMID, 0.7)


def _roped_high(p: Pair) -> float:
    if p.batter.material == ARAMID:
        return GOOD
    return 0.8 if p.batter.is_skin else 0.6


def _no_skin(p: Pair) -> float:
    return _graded(not p.batter.is_skin, 0.6)


RULES: tuple[Rule, ...] = (
    Rule(
        ("concert_bass",),
        lambda p: True,
        _concert,
        N_("fiber or skin on both sides: smooth film sounds brittle"),
    ),
    Rule(
        ("concert_bass",),
        lambda p: p.brief.school == "all",
        lambda p: _graded(
            any(abs(p.cents - concert_cent) <= NEAR_CENTS for concert_cent in CONCERT_CENTS), 0.8
        ),
        N_("other head in unison, or a fourth or a fifth from the playing head"),
    ),
    Rule(
        ("bass",),
        lambda p: p.close_and_hard or (p.touch > HARD and p.brief.density == "busy"),
        _damped_bass,
        N_("hard playing with close mics: built-in muffling"),
    ),
    Rule(
        ("bass",),
        lambda p: p.brief.microphones == "close",
        lambda p: _graded(p.resonant is None or p.resonant.port_diameter_m > 0.0, 0.7),
        N_("with close mics: a port in the front head"),
    ),
    Rule(
        ("bass",),
        lambda p: p.touch < SOFT and p.brief.microphones == "acoustic",
        _feathered_bass,
        N_("feathered playing: undamped single 10 mil, no port"),
    ),
    Rule(
        ("bass",),
        lambda p: not p.close_and_hard,
        _front,
        N_("front head: plain, or one ring; two rings only for hard playing with close mics"),
    ),
    Rule(("bass",), lambda p: True, _beaten, N_("pedal beater: 10 mil or more")),
    Rule(
        ("bass",),
        lambda p: p.brief.school == "all",
        _bass_interval,
        N_("bass drum: heads equal, or front up to a third higher"),
    ),
    Rule(
        ("bass", "tom", "snare"),
        lambda p: p.touch > HARD or p.brief.durability == "long",
        _lasting,
        N_("hard playing, long season: two plies, a dot or a thick ply"),
    ),
    Rule(
        ("tom", "snare"),
        lambda p: p.touch < SOFT and p.brief.durability != "long",
        _light,
        N_("light touch: a single thin, undamped ply"),
    ),
    Rule(
        ("tom",),
        lambda p: SOFT <= p.touch <= HARD and p.brief.durability == "normal",
        _medium_tom,
        N_("usual start: 10 mil over 10 mil"),
    ),
    Rule(
        ("tom",),
        lambda p: True,
        _ten_over_ten,
        N_("resonant: single clear ply without a ring, no heavier than the batter"),
    ),
    Rule(
        ("tom",),
        lambda p: p.brief.school == "resonant_higher",
        _thin_below,
        N_("resonant higher: a thinner head below, tighter"),
    ),
    Rule(
        ("tom",),
        lambda p: p.brief.microphones == "close" and p.brief.school in ("all", "resonant_higher"),
        _close_interval,
        N_("with close mics: heads a half step to a fourth apart"),
    ),
    Rule(
        ("snare", "tom"),
        lambda p: p.brief.density == "sparse" or p.brief.feel == "soft",
        _no_skin,
        N_("fat and low: film; a skin only for its own sound"),
    ),
    Rule(
        ("tom", "bass"),
        lambda p: p.brief.school == "all",
        _not_slack_below,
        N_("resonant not slacker than batter unless requested"),
    ),
    Rule(
        ("snare",), lambda p: True, _snare_side, N_("under wires: only a thin snare side responds")
    ),
    Rule(("snare",), lambda p: True, _snare_batter, N_("coated batter, for brushes and wires")),
    Rule(
        ("snare",),
        lambda p: True,
        lambda p: _graded(p.batter.material != ARAMID, 0.3),
        N_("woven aramid: for marching and field drums"),
    ),
    Rule(
        ("snare",),
        lambda p: SOFT <= p.touch <= HARD and p.brief.durability == "normal",
        _medium_snare,
        N_("usual start: single 10 mil, coated"),
    ),
    Rule(
        ("snare",),
        lambda p: p.brief.school == "all" or p.brief.school == "resonant_higher",
        _snare_interval,
        N_("snare side a third to a fifth above the batter"),
    ),
    Rule(("rope",), lambda p: True, _roped, N_("rope drum: skin, fiber or woven aramid")),
    Rule(
        ("rope",),
        lambda p: p.brief.feel == "firm" and p.brief.target == "feel",
        _roped_high,
        N_("rope drum, very tight: woven aramid before fiber"),
    ),
)


def pair_of(drum: Drum, brief: Brief, heads: tuple[Head, ...], cents: float) -> Pair:
    """A pair of a search, batter first."""
    return Pair(drum, brief, heads[0], heads[1] if len(heads) > 1 else None, float(cents))


def judged(pair: Pair) -> tuple[float, list[str]]:
    """How well a pair agrees with custom, 0 to 1, and the rules it goes against, worst first."""
    against: list[tuple[float, str]] = []
    value = 1.0
    for rule in RULES:
        if pair.drum.kind in rule.kinds and rule.when(pair):
            points = rule.thinks(pair)
            value *= points
            if points < GOOD:
                against.append((points, rule.why))
    return value, [why for _, why in sorted(against)]
