"""How long heads last: what the log saw of them, against what is assumed before (theory 85)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from operator import attrgetter

import numpy as np
from scipy.special import ndtr

from kesselton.core.arrays import FloatArray, kept
from kesselton.core.constants import SIDES, SIGMAS_90
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept, Played

HOURS_A_SHOW = 2.5
"""Where only one of both was noted; assumed."""
FACTOR_90 = 3.0
"""Before anything is noted a life may be this factor longer or shorter, nine times in ten."""
SCATTER_LN = 0.4
"""From one head of a kind to the next on one drum (sd of the logarithm); assumed."""
WIDE = math.log(FACTOR_90) / SIGMAS_90
GRID_AT = np.linspace(-4.0, 4.0, 241)
"""Where medians of lives are looked at, in standard deviations."""
ENDS = ("fitted", "broken")


@dataclass(frozen=True)
class Life:
    """One head on one side, from when it was fitted.

    Attributes
    ----------
    begun, ended : first and last entry of it; `over` False while it lies on the drum
    fitted : whether that it was new at `begun` is known
    broken : whether it ended by that
    shows : played on it, as noted
    by_choice : it gave way to a head of another kind, unbroken: it might have lasted longer
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
    by_choice: bool = False


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
        half, first = (last + timedelta(days=day) for day in days)
        return half, first


def shows_of(kept: Kept | Played) -> float:
    """Shows played before an entry since the one before it; hours where only they were noted."""
    return kept.shows if kept.shows > 0.0 else kept.hours / HOURS_A_SHOW


def lives(log: Sequence[Kept] | Sequence[Played], drum: Drum) -> list[Life]:
    """Every head of a drum, by side and then by time."""
    read = [played if isinstance(played, Played) else Played.of(played) for played in log]
    playeds = sorted(read, key=attrgetter("on"))
    return [life for side in SIDES for life in _of_side(side, playeds, drum)]


def _of_side(side: str, playeds: Sequence[Played], drum: Drum) -> list[Life]:
    """The heads of one side, by time."""
    mine = [played for played in playeds if side in played.heads]
    if not mine:
        return []
    shows = [shows_of(played) for played in mine]
    out: list[Life] = []
    begin, known, broken = 0, False, False

    def end(upto: int, over: bool, more: float, next_head: Head | None) -> None:
        # what was played before the head was fitted is noted with its first entry
        played = sum(shows[begin + 1 : upto]) + more + (0.0 if known else shows[begin])
        head, times = mine[begin].heads[side], tuple(played.on for played in mine[begin:upto])
        chosen = not broken and next_head is not None and next_head != head
        life = Life(side, head, times[0], times[-1], known, over, broken, played, times, chosen)
        out.append(life)

    before = None
    for at, reading in enumerate(mine):
        # most entries say nothing of heads: a hundred thousand are gone through for all drums
        if reading.heads is before and reading.event not in ENDS and not broken:
            continue
        before = reading.heads
        here = reading.side in ("", side)
        other = at > 0 and mine[at - 1].heads[side] != reading.heads[side]
        if at > begin and ((reading.event == "fitted" and here) or other or broken):
            # shows noted with a new head were played on the old one
            end(at, True, shows[at], reading.heads[side])
            begin, known, broken = at, False, False
        known = known or (reading.event == "fitted" and here)
        broken = broken or (reading.event == "broken" and here)
    now = drum.setting(side).head if side in drum.sides else None
    end(len(mine), broken or now != mine[begin].heads[side], 0.0, now)
    return out


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
    now = next((life for life in all_lives if life.side == side and not life.over), None)
    if now is None or sum(life.shows for life in all_lives if life.side == side) <= 0.0:
        return None
    alike = [x for x in all_lives if x.side == side and x.head == now.head and x.shows > 0.0]
    first = math.log(usual_shows(drum, side, now.head))
    grid = first + WIDE * GRID_AT
    weight = np.exp(-0.5 * GRID_AT**2)
    logs = np.log([life.shows for life in alike])[:, None]
    ended = np.array(
        [life.over and life.fitted and not life.by_choice for life in alike], dtype=bool
    )
    seen = int(ended.sum())
    far = (logs - grid) / SCATTER_LN
    weight *= np.exp(-0.5 * np.sum(far[ended] ** 2, axis=0))
    weight *= np.prod(ndtr(-far[~ended]), axis=0)  # these lasted at least so long
    weight /= weight.sum()
    left, low, high = _left(now.shows, first, weight, (0.5, 0.05, 0.95))
    whole = math.exp(float(np.interp(0.5, np.cumsum(weight), grid)))
    return Outlook(now, left, low, high, whole, seen)


STEP = 0.02
LOWEST, HIGHEST = -300, 900
"""Of the logarithm of shows, in steps, about the middle of what is assumed."""
FARTHEST = round(math.log(300.0) / STEP)
"""No head is followed longer than 300 times what it was played already."""


@kept(1)
def _alive() -> FloatArray:
    """Share of heads alive at each step, for each life of the grid (theory 85)."""
    steps = STEP * np.arange(LOWEST, HIGHEST + 1)[:, None]
    return np.asarray(ndtr((WIDE * GRID_AT - steps) / SCATTER_LN))


def _left(
    used: float, first: float, weight: FloatArray, shares: tuple[float, ...]
) -> tuple[float, ...]:
    """Shows until each of some shares of heads that lasted `used` is over; `first` is the logarithm
    of what is assumed, `weight` over the grid about it."""
    now = math.log(max(used, 0.5)) - first
    begin = min(max(math.floor(now / STEP) + 1 - LOWEST, 0), HIGHEST - LOWEST)
    rows = _alive()[begin : begin + FARTHEST]
    today = float(ndtr((WIDE * GRID_AT - now) / SCATTER_LN) @ weight)
    gone = np.concatenate([[0.0], 1.0 - (rows @ weight) / today])
    steps = STEP * (np.arange(len(rows)) + begin + LOWEST)
    shows = np.exp(first + np.concatenate([[now], steps]))
    return tuple(max(float(item) - used, 0.0) for item in np.interp(shares, gone, shows))


def shows_a_day(log: Sequence[Kept] | Sequence[Played]) -> float:
    """How often the drum is played, over its whole log; 0 where that is not noted."""
    results: list[Kept | Played] = sorted(log, key=attrgetter("on"))
    if len(results) < 2:
        return 0.0
    first, last = (datetime.fromisoformat(item.on) for item in (results[0], results[-1]))
    days = (last - first).total_seconds() / 86400.0
    return sum(shows_of(item) for item in results[1:]) / days if days >= 1.0 else 0.0


def outlooks(drum: Drum, log: Sequence[Kept] | Sequence[Played]) -> list[Outlook]:
    """What is left of each head that lies on a drum, where playing was noted."""
    all_lives = lives(log, drum)
    result = (outlook(drum, side, all_lives) for side in drum.sides)
    return [candidate for candidate in result if candidate is not None]
