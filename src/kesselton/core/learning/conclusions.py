"""What the entries of a drum's log say together, each with the entries it comes from.

Nothing here is done by itself: it is offered to whoever knows the drum. The rules are common
practice, no published source; how often something must have been seen is assumed.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from statistics import fmean, median, stdev

from kesselton.core.constants import SIDES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.learning.life import Life, lives, usual_shows
from kesselton.core.pitch import cents_between, interval_name

ALWAYS, ALWAYS_OF = 0.8, 4
OFTEN, OFTEN_DAYS = 3, 30
EARLY = 0.5
DAMPER = 0.10
PITS, DEAD, ROLLING = ("pit", "dent"), ("dead", "choke", "no ring"), ("roll", "wander", "bounce")
DIFFERS_CENTS = 15.0
LEAST_CENTS = 4.0
READ_CENTS = 4.0
"""What an interval between two lug pitches is read to, one standard deviation; assumed."""
T_90 = (6.31, 2.92, 2.35, 2.13, 2.02, 1.94, 1.89, 1.86, 1.83, 1.81, 1.8, 1.78)
"""Student's t that holds nine times in ten, of two values, three, and so on (Gosset, Biometrika 6
(1908) 1; values from tables)."""
DAYS = 2
"""First days that must have been seen before anything is said of them."""


@dataclass(frozen=True)
class Conclusion:
    """What may follow, in words, and when the entries it comes from were kept."""

    words: str
    entries: tuple[str, ...]


def conclusions(log: Sequence[Kept], drum: Drum) -> list[Conclusion]:
    """All that follows from a log, the plainest first; nothing where too little was kept."""
    told = sorted((one for one in log if not one.left_out), key=lambda one: one.on)
    all_lives = lives(told, drum)
    rules: tuple[Callable[[], list[Conclusion]], ...] = (
        lambda: _first_day(told),
        lambda: _by_damp(told),
        lambda: _endings(told, "player"),
        lambda: _endings(told, "room"),
        lambda: _early_pits(told, drum, all_lives),
        lambda: _always_taped(told),
        lambda: _dead_when_soft(told),
        lambda: _low_end(told),
        lambda: _often_retuned(told),
        lambda: _heads_differ(told, all_lives),
    )
    return [one for rule in rules for one in rule()]


def _when(entries: Sequence[Kept]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(one.on for one in entries))


def _moved(before: Kept, after: Kept) -> list[float]:
    """Cents each head has moved from one entry to another, where it is the same head."""
    out = []
    for place, side in enumerate(after.drum.sides):
        if side not in before.drum.sides or place >= min(
            len(before.lug_pitches_hz), len(after.lug_pitches_hz)
        ):
            continue
        if before.drum.setting(side).head == after.drum.setting(side).head:
            out.append(cents_between(before.lug_pitches_hz[place], after.lug_pitches_hz[place]))
    return out


def _first_day(told: Sequence[Kept]) -> list[Conclusion]:
    drops, of = [], []
    for before, after in pairwise(told):
        if after.event == "next_day" and before.event in ("fitted", "pressed"):
            moved = _moved(before, after)
            if moved:
                drops.append(fmean(moved))
                of += [before, after]
    if len(drops) < DAYS:
        return []
    mean = fmean(drops)
    if abs(mean) < LEAST_CENTS:
        return [Conclusion("New heads hold their pitch on the first day.", _when(of))]
    then = "tune it that much high" if mean < 0 else "it rises on its own"
    way = "drops" if mean < 0 else "rises"
    return [Conclusion(f"On the first day pitch {way} {abs(mean):.0f} cents: {then}.", _when(of))]


def _by_damp(told: Sequence[Kept]) -> list[Conclusion]:
    """Cents for a tenth more humidity, from entries between which nobody turned."""
    damp, moved_by, of = [], [], []
    for before, after in pairwise(told):
        if after.event not in ("drifted", "next_day") or before.event in ("fitted", "pressed"):
            continue
        more = round(after.drum.air.relative_humidity - before.drum.air.relative_humidity, 6)
        moved = _moved(before, after)
        if abs(more) >= DAMPER and moved:
            damp.append(more / DAMPER)
            moved_by.append(fmean(moved))
            of += [before, after]
    if len(damp) < 2:
        return []
    slope = sum(d * m for d, m in zip(damp, moved_by, strict=True)) / sum(d * d for d in damp)
    way = "falls" if slope < 0 else "rises"
    return [
        Conclusion(f"Per 10 % more humidity pitch {way} about {abs(slope):.0f} cents.", _when(of))
    ]


def _endings(told: Sequence[Kept], who: str) -> list[Conclusion]:
    """The interval and the ring each player, or each room, ends on."""
    by: dict[str, list[Kept]] = defaultdict(list)
    for one in told:
        name = getattr(one, who)
        if name and one.fits in ("", "right") and one.event in ("set", "retuned"):
            by[name].append(one)
    out = []
    for name, entries in sorted(by.items()):
        pairs = [one.lug_pitches_hz for one in entries if len(one.lug_pitches_hz) == 2]
        if len(pairs) < 2:
            continue
        cents = [cents_between(*pair) for pair in pairs]
        half = T_90[min(len(pairs), len(T_90)) - 2] * math.hypot(stdev(cents), READ_CENTS)
        rings = [line.t60_s for line in (one.note_line for one in entries) if line is not None]
        said = f"{name} settles on {_interval(fmean(cents))} (± {half:.0f} cents)"
        notes = [one.heard_hz or one.computed_hz for one in entries]
        known = [hz for hz in notes if hz is not None]
        if known:
            said += f", at {median(known):.1f} Hz"
        if rings:
            said += f", decay {median(rings):.1f} s"
        out.append(Conclusion(f"{said}.", _when(entries)))
    return out


def _interval(cents: float) -> str:
    name = interval_name(cents)
    if abs(cents) < 50.0:
        return name
    return f"{name}, {'resonant' if cents > 0 else 'batter'} higher"


def _says(one: Kept, words: Sequence[str]) -> bool:
    text = one.verdict.casefold()
    return any(word in text for word in words)


def _early_pits(told: Sequence[Kept], drum: Drum, all_lives: Sequence[Life]) -> list[Conclusion]:
    of, sides = [], set()
    for life in all_lives:
        if not life.fitted:
            continue
        early = 0.0 < life.shows < EARLY * usual_shows(drum, life.side, life.head)
        ran = [one for one in told if one.on in life.entries]
        pitted = [one for one in ran if one.side in ("", life.side) and _says(one, PITS)]
        gone = [one for one in ran if one.event == "broken"]
        if early and (pitted or (life.broken and gone)):
            of += pitted or gone
            sides.add(life.side)
    if not of:
        return []
    return [
        Conclusion(
            f"Early pits or break ({' and '.join(sorted(sides))}): use a tougher head, two "
            "plies or a dot.",
            _when(of),
        )
    ]


def _always_taped(told: Sequence[Kept]) -> list[Conclusion]:
    out = []
    for side in SIDES:
        taped = [one for one in told if any(m.side == side for m in one.drum.mufflers)]
        if len(told) >= ALWAYS_OF and len(taped) >= ALWAYS * len(told):
            out.append(
                Conclusion(
                    f"The {side} head is always muffled: a head with a ring, a dot or two plies "
                    "is drier, but never more open.",
                    _when(taped),
                )
            )
    return out


def _dead_when_soft(told: Sequence[Kept]) -> list[Conclusion]:
    pitched = [one for one in told if one.lug_pitches_hz]
    if len(pitched) < 3:
        return []
    middle = median(one.lug_pitches_hz[0] for one in pitched)
    of = [
        one
        for one in pitched
        if one.lug_pitches_hz[0] < middle
        and (_says(one, DEAD) or dict(one.marks).get("response", 0) == -2)
    ]
    if len(of) < 2:
        return []
    return [Conclusion("Dead at low tension: a thinner head would still respond.", _when(of))]


def _low_end(told: Sequence[Kept]) -> list[Conclusion]:
    of = [
        one
        for one in told
        if _says(one, ROLLING) or (dict(one.marks).get("rebound", 0) == -2 and one.fits == "low")
    ]
    if len(of) < 2:
        return []
    return [
        Conclusion(
            "Weak low end, or pitch wanders from rod to rod: check bearing edge and head size "
            "(Measure, Bare shell).",
            _when(of),
        )
    ]


def _often_retuned(told: Sequence[Kept]) -> list[Conclusion]:
    turned = [one for one in told if one.event in ("retuned", "drifted")]
    for first in range(len(turned) - OFTEN + 1):
        part = turned[first : first + OFTEN]
        begin, end = (datetime.fromisoformat(one.on) for one in (part[0], part[-1]))
        if (end - begin).days <= OFTEN_DAYS:
            return [
                Conclusion(
                    f"Retuned {OFTEN} times in {(end - begin).days} days: check edge, rods and "
                    "hoop.",
                    _when(part),
                )
            ]
    return []


def _heads_differ(told: Sequence[Kept], all_lives: Sequence[Life]) -> list[Conclusion]:
    """Two heads of one kind on one side: how far the drum stood off what was computed on each."""
    out = []
    for side in SIDES:
        off: dict[object, list[tuple[float, tuple[Kept, ...]]]] = defaultdict(list)
        for life in (one for one in all_lives if one.side == side):
            ran = [x for x in told if x.on in life.entries and x.heard_hz and x.computed_hz]
            if ran:
                cents = [cents_between(x.computed_hz or 1.0, x.heard_hz or 1.0) for x in ran]
                off[life.head].append((median(cents), tuple(ran)))
        for found in off.values():
            if len(found) < 2:
                continue
            apart = max(cents for cents, _ in found) - min(cents for cents, _ in found)
            if math.isfinite(apart) and apart > DIFFERS_CENTS:
                entries = [one for _, ran in found for one in ran]
                out.append(
                    Conclusion(
                        f"Two {side} heads of the same kind differ by {apart:.0f} cents on this "
                        "drum: do not reuse numbers from the last head.",
                        _when(entries),
                    )
                )
    return out
