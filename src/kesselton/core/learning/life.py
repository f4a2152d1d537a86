"""How long heads last: what the log saw of them, against what is assumed before (theory 85)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from scipy.special import ndtr

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import SIDES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept, Played

HOURS_A_SHOW = 2.5
"""Where only one of both was noted; assumed."""
FACTOR_90 = 3.0
"""Before anything is noted a life may be this factor longer or shorter, nine times in ten."""
SCATTER_LN = 0.4
"""From one head of a kind to the next on one drum (sd of the logarithm); assumed."""
GRID = 241


@dataclass(frozen=True)
class Life:
    """One head on one side, from when it was fitted.

    Attributes
    ----------
    begun, ended : first and last entry of it; `over` False while it lies on the drum
    fitted : whether that it was new at `begun` is known
    broken : whether it ended by that
    shows : played on it, as noted
    """

    side: str
    head: Head
    begun: str
    ended: str
    fitted: bool
    over: bool
    broken: bool
    shows: float
    entries: tuple[str, ...]


@dataclass(frozen=True)
class Outlook:
    """What is left of a head in use, in shows.

    Attributes
    ----------
    left, low, high : median and where it lies nine times in ten
    whole : of a head of this kind on this drum when new, median
    seen : lives that were seen to their end
    """

    life: Life
    left: float
    low: float
    high: float
    whole: float
    seen: int

    def due(self, shows_a_day: float) -> tuple[datetime, datetime] | None:
        """When half of such heads, and when the first in twenty, would be over; None where nobody
        plays."""
        if shows_a_day <= 0.0:
            return None
        last = datetime.fromisoformat(self.life.ended)
        days = (min(shows / shows_a_day, 36500.0) for shows in (self.left, self.low))
        half, first = (last + timedelta(days=one) for one in days)
        return half, first


def shows_of(kept: Kept | Played) -> float:
    """Shows played before an entry since the one before it; hours where only they were noted."""
    return kept.shows if kept.shows > 0.0 else kept.hours / HOURS_A_SHOW


def lives(log: Sequence[Kept] | Sequence[Played], drum: Drum) -> list[Life]:
    """Every head of a drum, by side and then by time."""
    read = (one if isinstance(one, Played) else Played.of(one) for one in log)
    told = sorted(read, key=lambda one: one.on)
    out = []
    for side in SIDES:
        run: list[Played] = []
        known, broken = False, False
        for one in told:
            if side not in one.heads:
                continue
            mine = one.side in ("", side)
            before = run[-1].heads[side] if run else one.heads[side]
            other = before is not one.heads[side] and before != one.heads[side]
            if run and ((one.event == "fitted" and mine) or other or broken):
                out.append(_life(side, run, known, True, broken, _upto(one)))
                run, known, broken = [], False, False
            run.append(one)
            known = known or (one.event == "fitted" and mine)
            broken = broken or (one.event == "broken" and mine)
        if run:
            here = side in drum.sides and drum.setting(side).head == run[-1].heads[side]
            out.append(_life(side, run, known, broken or not here, broken, 0.0))
    return out


def _upto(one: Played) -> float:
    """Shows noted with a new head were played on the old one."""
    return shows_of(one)


def _life(
    side: str, run: Sequence[Played], fitted: bool, over: bool, broken: bool, more: float
) -> Life:
    head = run[0].heads[side]
    # what was played before the head was fitted is noted with its first entry
    shows = sum(shows_of(one) for one in run[1:]) + more
    if not fitted:
        shows += shows_of(run[0])
    times = tuple(one.on for one in run)
    return Life(side, head, run[0].on, run[-1].on, fitted, over, broken, shows, times)


def usual_shows(drum: Drum, side: str, head: Head) -> float:
    """Shows a head lasts before anything was noted, the middle of what is assumed.

    Notes
    -----
    Common practice, no published source, as ratios only: two plies outlast one, the side nobody
    strikes outlasts the other, thin snare sides go sooner, hides last long, a patch under a beater
    gives about five times.
    """
    shows = 40.0
    if len(head.plies_m) > 1:
        shows *= 1.5
    if head.coating_kg_per_m2 > 0.0:
        shows *= 0.9
    if head.is_skin:
        shows *= 3.0
    if side == "resonant":
        shows *= 2.0 if drum.kind == "snare" else 4.0
    if any(a.kind == "patch" for a in head.additions) and side == "batter":
        shows *= 5.0
    return shows


def outlook(drum: Drum, side: str, all_lives: Sequence[Life]) -> Outlook | None:
    """What is left of the head in use on a side; None where none lies there or nothing was played.

    Notes
    -----
    Theory 85: the median life of such heads on this drum is unknown, lognormal with what is assumed
    before; lives that ended say where it is, heads in use that it is longer. What is left of the
    one in use follows.
    """
    now = next((one for one in all_lives if one.side == side and not one.over), None)
    if now is None or sum(one.shows for one in all_lives if one.side == side) <= 0.0:
        return None
    alike = [x for x in all_lives if x.side == side and x.head == now.head and x.shows > 0.0]
    first, wide = math.log(usual_shows(drum, side, now.head)), math.log(FACTOR_90) / 1.645
    grid = first + wide * np.linspace(-4.0, 4.0, GRID)
    weight = np.exp(-0.5 * ((grid - first) / wide) ** 2)
    seen = 0
    for one in alike:
        far = (math.log(one.shows) - grid) / SCATTER_LN
        if one.over and one.fitted:
            weight *= np.exp(-0.5 * far**2)
            seen += 1
        else:  # it lasted at least so long
            weight *= ndtr(-far)
    weight /= weight.sum()
    left, low, high = _left(now.shows, grid, weight, (0.5, 0.05, 0.95))
    whole = math.exp(float(np.interp(0.5, np.cumsum(weight), grid)))
    return Outlook(now, left, low, high, whole, seen)


AT_ONCE = 8
"""Of the grid of shows so many are looked at, then so many of those between two of them."""
COUNTS = 1e-12
"""Lives less likely than this do not count."""


def _left(
    used: float, grid: FloatArray, weight: FloatArray, shares: tuple[float, ...]
) -> tuple[float, ...]:
    """Shows until each of some shares of heads that lasted `used` is over."""
    shows = max(used, 0.5) * _FURTHER
    logs = np.log(shows)
    counts = weight > COUNTS * weight.max()
    grid, weight = grid[counts], weight[counts]

    def alive(at: FloatArray) -> FloatArray:
        out: FloatArray = ndtr((grid - at[:, None]) / SCATTER_LN) @ weight
        return out

    places = np.linspace(0, len(shows) - 1, 2 * AT_ONCE).astype(int)
    coarse = alive(logs[places])
    found = []
    for share in shares:
        at, gone = places, 1.0 - coarse / coarse[0]
        while True:
            low = max(int(np.searchsorted(gone, share, side="right")) - 1, 0)
            first, last = int(at[low]), int(at[min(low + 1, len(at) - 1)])
            if last - first <= 1:
                pair = slice(low, low + 2)
                found.append(max(float(np.interp(share, gone[pair], shows[at[pair]])) - used, 0.0))
                break
            at = np.unique(np.linspace(first, last, AT_ONCE).astype(int))
            gone = 1.0 - alive(logs[at]) / coarse[0]
    return tuple(found)


_FURTHER = np.geomspace(1.0, 300.0, 400)


def shows_a_day(log: Sequence[Kept] | Sequence[Played]) -> float:
    """How often the drum is played, over its whole log; 0 where that is not noted."""
    told: list[Kept | Played] = sorted(log, key=lambda one: one.on)
    if len(told) < 2:
        return 0.0
    first, last = (datetime.fromisoformat(one.on) for one in (told[0], told[-1]))
    days = (last - first).total_seconds() / 86400.0
    return sum(shows_of(one) for one in told[1:]) / days if days >= 1.0 else 0.0
