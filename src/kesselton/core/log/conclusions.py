"""What the entries of a drum's log say together, each with the entries it comes from.

Nothing here is done by itself: it is offered to whoever knows the drum. The rules are common
practice, no published source; how often something must have been seen is assumed.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import pairwise
from statistics import fmean, median, stdev

from kesselton.core.constants import SIDES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.log.life import Life, lives, usual_shows
from kesselton.core.pitch import cents_between

ALWAYS, ALWAYS_OF = 0.8, 4
OFTEN, OFTEN_DAYS = 3, 30
EARLY = 0.5
DAMPER = 0.10
DIFFERS_CENTS = 15.0
LEAST_CENTS = 4.0
READ_CENTS = 4.0
"""What an interval between two lug pitches is read to, one standard deviation; assumed."""
T_90 = (6.31, 2.92, 2.35, 2.13, 2.02, 1.94, 1.89, 1.86, 1.83, 1.81, 1.8, 1.78)
"""Student's t that holds nine times in ten, of two values, three, and so on (Gosset, Biometrika 6
(1908) 1; values from tables)."""
VAGUE_CENTS = 100.0
"""An interval known no better than to a half step is no conclusion; assumed."""
DAYS = 2
"""First days that must have been seen before anything is said of them."""


@dataclass(frozen=True)
class Conclusion:
    """What may follow.

    Attributes
    ----------
    code : which rule
    values : its figures and names, by what they are
    entries : when the entries it comes from were kept
    """

    code: str
    entries: tuple[str, ...]
    values: Mapping[str, object] = field(default_factory=dict)


def conclusions(log: Sequence[Kept], drum: Drum) -> list[Conclusion]:
    """All that follows from a log, the plainest first; nothing where too little was kept."""
    entries = sorted((entry for entry in log if not entry.left_out), key=lambda item: item.on)
    all_lives = lives(entries, drum)
    rules: tuple[Callable[[], list[Conclusion]], ...] = (
        lambda: _first_day(entries),
        lambda: _by_damp(entries),
        lambda: _endings(entries, "player"),
        lambda: _endings(entries, "room"),
        lambda: _early_pits(entries, drum, all_lives),
        lambda: _always_taped(entries),
        lambda: _dead_when_soft(entries),
        lambda: _low_end(entries),
        lambda: _often_retuned(entries),
        lambda: _heads_differ(entries, all_lives),
    )
    return [conclusion for rule in rules for conclusion in rule()]


def _when(entries: Sequence[Kept]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(entry.on for entry in entries))


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


def _first_day(entries: Sequence[Kept]) -> list[Conclusion]:
    drops, of = [], []
    for before, after in pairwise(entries):
        if after.event == "next_day" and before.event in ("fitted", "pressed"):
            moved = _moved(before, after)
            if moved:
                drops.append(fmean(moved))
                of += [before, after]
    if len(drops) < DAYS:
        return []
    mean = fmean(drops)
    if abs(mean) < LEAST_CENTS:
        return [Conclusion("first_day_holds", _when(of))]
    code = "first_day_drops" if mean < 0 else "first_day_rises"
    return [Conclusion(code, _when(of), {"cents": abs(mean)})]


def _by_damp(entries: Sequence[Kept]) -> list[Conclusion]:
    """Cents for a tenth more humidity, from entries between which nobody turned."""
    damp, moved_by, of = [], [], []
    for before, after in pairwise(entries):
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
    code = "falls_by_damp" if slope < 0 else "rises_by_damp"
    return [Conclusion(code, _when(of), {"cents": abs(slope)})]


def _endings(log_entries: Sequence[Kept], who: str) -> list[Conclusion]:
    """The interval and the ring each player, or each room, ends on."""
    by: dict[str, list[Kept]] = defaultdict(list)
    for log_entry in log_entries:
        name = getattr(log_entry, who)
        if name and log_entry.fits in ("", "right") and log_entry.event in ("set", "retuned"):
            by[name].append(log_entry)
    out = []
    for name, entries in sorted(by.items()):
        pairs = [entry.lug_pitches_hz for entry in entries if len(entry.lug_pitches_hz) == 2]
        if len(pairs) < 2:
            continue
        cents = [cents_between(*pair) for pair in pairs]
        half = T_90[min(len(pairs), len(T_90)) - 2] * math.hypot(stdev(cents), READ_CENTS)
        if half > VAGUE_CENTS:
            continue
        rings = [line.t60_s for line in (entry.note_line for entry in entries) if line is not None]
        notes = [entry.heard_hz or entry.computed_hz for entry in entries]
        known = [hz for hz in notes if hz is not None]
        values = {
            "name": name,
            "apart": fmean(cents),
            "half": half,
            "hz": median(known) if known else None,
            "t60_s": median(rings) if rings else None,
        }
        out.append(Conclusion("ends_on", _when(entries), values))
    return out


def _early_pits(entries: Sequence[Kept], drum: Drum, all_lives: Sequence[Life]) -> list[Conclusion]:
    of, sides = [], set()
    for life in all_lives:
        if not life.fitted:
            continue
        early = 0.0 < life.shows < EARLY * usual_shows(drum, life.side, life.head)
        ran = [entry for entry in entries if entry.on in life.entries]
        pitted = [entry for entry in ran if entry.side in ("", life.side) and "pits" in entry.signs]
        gone = [entry for entry in ran if entry.event == "broken"]
        if early and (pitted or (life.broken and gone)):
            of += pitted or gone
            sides.add(life.side)
    if not of:
        return []
    return [Conclusion("early_pits", _when(of), {"sides": tuple(sorted(sides))})]


def _always_taped(entries: Sequence[Kept]) -> list[Conclusion]:
    out = []
    for side in SIDES:
        taped = [entry for entry in entries if any(m.side == side for m in entry.drum.mufflers)]
        if len(entries) >= ALWAYS_OF and len(taped) >= ALWAYS * len(entries):
            out.append(Conclusion("always_muffled", _when(taped), {"side": side}))
    return out


def _dead_when_soft(entries: Sequence[Kept]) -> list[Conclusion]:
    pitched = [entry for entry in entries if entry.lug_pitches_hz]
    if len(pitched) < 3:
        return []
    middle = median(entry.lug_pitches_hz[0] for entry in pitched)
    of = [
        entry
        for entry in pitched
        if entry.lug_pitches_hz[0] < middle
        and ("dead" in entry.signs or dict(entry.marks).get("response", 0) == -2)
    ]
    if len(of) < 2:
        return []
    return [Conclusion("dead_when_low", _when(of))]


def _low_end(entries: Sequence[Kept]) -> list[Conclusion]:
    of = [
        entry
        for entry in entries
        if "wanders" in entry.signs
        or (dict(entry.marks).get("rebound", 0) == -2 and entry.fits == "low")
    ]
    if len(of) < 2:
        return []
    return [Conclusion("weak_low_end", _when(of))]


def _often_retuned(entries: Sequence[Kept]) -> list[Conclusion]:
    turned = [entry for entry in entries if entry.event in ("retuned", "drifted")]
    for first in range(len(turned) - OFTEN + 1):
        part = turned[first : first + OFTEN]
        begin, end = (datetime.fromisoformat(entry.on) for entry in (part[0], part[-1]))
        if (end - begin).days <= OFTEN_DAYS:
            values = {"times": OFTEN, "days": (end - begin).days}
            return [Conclusion("often_retuned", _when(part), values)]
    return []


def _heads_differ(log_entries: Sequence[Kept], all_lives: Sequence[Life]) -> list[Conclusion]:
    """Two heads of one kind on one side: how far the drum stood off what was computed on each."""
    out = []
    for side in SIDES:
        off: dict[object, list[tuple[float, tuple[Kept, ...]]]] = defaultdict(list)
        for life in (life for life in all_lives if life.side == side):
            ran = [x for x in log_entries if x.on in life.entries and x.heard_hz and x.computed_hz]
            if ran:
                cents = [cents_between(x.computed_hz or 1.0, x.heard_hz or 1.0) for x in ran]
                off[life.head].append((median(cents), tuple(ran)))
        for results in off.values():
            if len(results) < 2:
                continue
            apart = max(cents for cents, _ in results) - min(cents for cents, _ in results)
            if math.isfinite(apart) and apart > DIFFERS_CENTS:
                entries = [entry for _, ran in results for entry in ran]
                values = {"side": side, "cents": apart}
                out.append(Conclusion("heads_differ", _when(entries), values))
    return out
