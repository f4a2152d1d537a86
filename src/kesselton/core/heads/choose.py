"""Which heads to buy for a drum: every pair solved, measured, judged and put in order."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import FloatArray, IndexArray
from kesselton.core.constants import CENTS_PER_NEPER, SIDES
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.heads.alike import few_groups
from kesselton.core.heads.apart import PITCH, PULL, Apart
from kesselton.core.heads.brief import TOUCHES, Brief
from kesselton.core.heads.criteria import CRITERIA, Scores, reason, say, score, wanted_stiffness
from kesselton.core.heads.curves import Curves, head_curves
from kesselton.core.heads.custom import judged, pair_of
from kesselton.core.heads.measures import Measures, head_ranges, measure_pairs
from kesselton.core.heads.solved_pairs import SolvedPairs, Wishes, solve_pairs
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.language import N_, _
from kesselton.core.pitch import ratio_of
from kesselton.core.prediction.stroke import stick_stiffness
from kesselton.core.prediction.usable import HeadRange

PATCHED, FELT_WORN = (
    N_("; about five times as long with a patch"),
    N_("; its coating wears the felt"),
)
"""Common practice, no published source."""
Progress = Callable[[int, int], bool]
"""Told how many of how many are solved; False ends the search."""
MOST_SETTINGS = 4000
"""So many pairs at intervals are all tried. Of more, one head speaks for those that are alike, and
the members of the best groups go on to the next round: seconds instead of half an hour."""
FIRST_SETTINGS = 240
"""So many are tried for the first answer, where there are more than twice as many to try."""
KEPT_OF = 4
"""A quarter of the groups of each side goes on."""
OUT_BY_CENTS = 1.0
"""A pair this much outside a range is still inside: rounding of the range's own pitch."""


class CancelledError(KesseltonError):
    """The search was told to stop."""

    code = "stopped"


TOO_HIGH = N_("the {side} head would be too high: {limit}")
TOO_LOW = N_("the {side} head would be too low: {limit}")


@dataclass(frozen=True, eq=False)
class Candidates:
    """C pairs at the settings that meet the target, and how they do; those that cannot are apart.

    Attributes
    ----------
    heads : (C) batter first
    ranges : (C) usable range per head
    wishes, solved, measures, scores : of the same pairs
    beyond_cents : (C,) how far the worst lug pitch lies outside its usable range, 0 inside
    beyond_why : (C) the limit that is in the way, "" inside
    """

    drum: Drum
    brief: Brief
    heads: list[tuple[Head, ...]]
    ranges: list[tuple[HeadRange, ...]]
    wishes: Wishes
    solved: SolvedPairs
    measures: Measures
    scores: Scores
    beyond_cents: FloatArray
    beyond_why: list[str]
    asked: int
    alike: float = 0.0
    """How far apart in mass heads are that speak for each other, where not every pair was tried."""

    def __len__(self) -> int:
        return len(self.heads)

    @property
    def feasible(self) -> IndexArray:
        """Indices of the pairs that can be set so."""
        return np.flatnonzero(self.beyond_cents <= 0.0)

    def order(self, weight: FloatArray | None = None) -> IndexArray:
        """Feasible pairs, best first."""
        index = self.feasible
        total = self.scores.total(weight)[index]
        return index[np.argsort(-total, kind="stable")]

    def fitted(self, index: int) -> Drum:
        """The drum with a pair on it, each head set by its lug pitch."""
        drum = self.drum
        for number, side in enumerate(drum.sides):
            head = self.heads[index][number]
            tension = float(self.solved.tensions_n_per_m[index, number])
            setting = HeadSetting(head, tension).at_pitch(
                float(self.solved.lug_pitches_hz[index, number])
            )
            drum = drum.with_setting(side, setting)
        return drum

    def place_of(self, others: Candidates, index: int) -> int | None:
        """Where a pair of another answer stands here, at the same interval; None if nowhere."""
        wanted, cents = others.heads[index], others.wishes.interval_cents[index]
        mine = enumerate(zip(self.heads, self.wishes.interval_cents, strict=True))
        return next((n for n, (h, c) in mine if h == wanted and abs(c - cents) < 0.01), None)

    def pareto(self, first: str, second: str) -> IndexArray:
        """Feasible pairs that no other beats in both of two criteria, by the first descending."""
        keys = [criterion.key for criterion in CRITERIA]
        index = self.feasible
        x = self.scores.score[keys.index(first)][index]
        y = self.scores.score[keys.index(second)][index]
        best, front = -np.inf, []
        for place in np.lexsort((-y, -x)):
            if y[place] > best:
                best = float(y[place])
                front.append(int(index[place]))
        return np.array(front, dtype=np.intp)

    def nearest(self) -> tuple[int, float, str] | None:
        """The pair that misses least: index, cents, and which limit; None if some fit."""
        if len(self.feasible) or not len(self):
            return None
        index = int(np.argmin(self.beyond_cents))
        return index, float(self.beyond_cents[index]), self.beyond_why[index]


def reason_words(candidates: Candidates, number: int, row: int) -> str:
    """How one pair does in one criterion, in words, with the rules of the trade it goes against."""
    criterion, scores = CRITERIA[row], candidates.scores
    values = (scores.value[row, number], scores.wanted[row], scores.score[row, number])
    text = reason(criterion, *(float(value) for value in values))
    touch = TOUCHES[candidates.brief.touch]
    if criterion.key == "wear" and touch.value != 1.0 and candidates.drum.kind != "snare":
        text = _("{own} under medium touch; {touch}: {text}").format(
            own=say(criterion, values[0] * touch.value), touch=touch.label, text=text
        )
    if criterion.key == "wear" and candidates.drum.kind == "bass":
        text += _(PATCHED)
        if (
            "felt" in candidates.brief.beater
            and candidates.heads[number][0].coating_kg_per_m2 > 0.0
        ):
            text += _(FELT_WORN)
    if criterion.key == "custom":
        cents = float(candidates.wishes.interval_cents[number])
        against = judged(
            pair_of(candidates.drum, candidates.brief, candidates.heads[number], cents)
        )[1]
        text = ": ".join((text, "; ".join(against))) if against else text
    return text


def choose(
    drum: Drum,
    brief: Brief,
    batters: Sequence[Head],
    resonants: Sequence[Head],
    progress: Progress | None = None,
    first: Callable[[Candidates], None] | None = None,
) -> Candidates:
    """Solve and judge every pair of heads on a drum for a brief.

    Parameters
    ----------
    drum : shell and air; what is on it now does not count
    batters, resonants : heads to choose from; `resonants` does not count on a drum open below
    first : told what a few that speak for all others come to, long before the whole answer

    Raises
    ------
    InputError
        If there is nothing to choose from, a head does not fit, or the brief does not suit the
        drum.
    CancelledError
        If `progress` says so.
    """
    brief.check_fits(drum)
    batters = list(dict.fromkeys(batters))
    resonants = [] if drum.resonant is None else list(dict.fromkeys(resonants))
    if not batters or (drum.resonant is not None and not resonants):
        missing = "batter" if not batters else "resonant"
        raise InputError(
            _("No {missing} head matches.").format(missing=missing),
            _("Clear the filter, or add a head to the library."),
            "library",
        )
    for head in (*batters, *resonants):
        head.check_fits(drum.shell.radius_m)
    intervals = brief.apart(drum)
    asked = _settings(batters, resonants, intervals)
    apart = 0.0
    if first is not None and asked > 2 * FIRST_SETTINGS:
        first(_first_look(drum, brief, batters, resonants, intervals, progress))
    while _settings(batters, resonants, intervals) > MOST_SETTINGS:
        upper, lower, wide = few_groups(batters, resonants, MOST_SETTINGS // len(intervals))
        apart = max(apart, wide)
        candidates = _judged(drum, brief, _speakers(upper), _speakers(lower), intervals, progress)
        before = len(batters), len(resonants)
        batters, resonants = (
            _promising(candidates, place, groups) for place, groups in enumerate((upper, lower))
        )
        if before == (len(batters), len(resonants)):  # all alike to the last digit: any will do
            few = int((MOST_SETTINGS / len(intervals)) ** 0.5)
            batters, resonants = batters[:few], resonants[:few]
    return replace(
        _judged(drum, brief, batters, resonants, intervals, progress), asked=asked, alike=apart
    )


def _settings(
    batters: Sequence[Head], resonants: Sequence[Head], intervals: Sequence[Apart]
) -> int:
    """How many there are of every pair at every interval."""
    return len(batters) * max(len(resonants), 1) * len(intervals)


def _first_look(
    drum: Drum,
    brief: Brief,
    batters: list[Head],
    resonants: list[Head],
    intervals: Sequence[Apart],
    progress: Progress | None,
) -> Candidates:
    """A few pairs at every interval, each speaking for those that are alike."""
    asked = _settings(batters, resonants, intervals)
    most = max(FIRST_SETTINGS // len(intervals), 1)
    upper, lower, apart = few_groups(batters, resonants, most)
    while len(upper) * max(len(lower), 1) > most:  # every construction is one group and still
        longer = upper if len(upper) >= len(lower) else lower
        longer.pop()

    def keep_on(done: int, of: int) -> bool:
        return progress is None or progress(0, asked)

    candidates = _judged(drum, brief, _speakers(upper), _speakers(lower), intervals, keep_on)
    return replace(candidates, asked=asked, alike=apart)


def _speakers(groups: list[list[Head]]) -> list[Head]:
    return [group[0] for group in groups]


def _promising(candidates: Candidates, place: int, groups: list[list[Head]]) -> list[Head]:
    """Members of the groups whose heads stand in the best pairs, a quarter of all groups."""
    if not groups:
        return []
    order = (
        candidates.order().tolist() or np.argsort(candidates.beyond_cents, kind="stable").tolist()
    )
    speakers = list(dict.fromkeys(candidates.heads[number][place] for number in order))
    members = {group[0]: group for group in groups}
    keep = max(len(groups) // KEPT_OF, 1)
    return [head for speaker in speakers[:keep] for head in members[speaker]]


Grid = tuple[IndexArray, IndexArray, IndexArray]


def _grid(
    batters: Sequence[object], resonants: Sequence[object], intervals: Sequence[object]
) -> Grid:
    """Every pair at every interval: batter, resonant (-1 for none), which interval."""
    shape = (len(batters), max(len(resonants), 1), len(intervals))
    batter, resonant, number = (part.ravel() for part in np.indices(shape))
    below = resonant if resonants else np.full(len(batter), -1)
    return batter, below, number


def _judged(
    drum: Drum,
    brief: Brief,
    batters: Sequence[Head],
    resonants: Sequence[Head],
    intervals: Sequence[Apart],
    progress: Progress | None,
) -> Candidates:
    """Every pair at every interval."""
    curves = head_curves(drum, list(dict.fromkeys([*batters, *resonants])))
    grid = _grid(batters, resonants, intervals)
    wishes = _wishes(drum, brief, batters, grid, intervals, curves)
    return _judge(drum, brief, batters, resonants, curves, wishes, progress)


def _wishes(
    drum: Drum,
    brief: Brief,
    batters: Sequence[Head],
    grid: Grid,
    intervals: Sequence[Apart],
    curves: Curves,
) -> Wishes:
    """What is asked of pairs at intervals."""
    batter, resonant, number = grid
    count = len(batter)
    nothing = np.full(count, np.nan)
    note = brief.note_hz
    fundamental = nothing if note is None else np.full(count, note)
    batter_hz = nothing.copy()
    if brief.target == "batter":
        batter_hz[:] = brief.batter_hz
    elif brief.target == "feel":
        per_tension = float(
            stick_stiffness(np.array(1.0), drum.shell.radius_m, BEATERS[brief.beater].radius_m)
        )
        place = {head: i for i, head in enumerate(curves.heads)}
        index = np.array([place[head] for head in batters], dtype=np.intp)
        tension = np.full(len(batters), wanted_stiffness(drum, brief) / per_tension)
        batter_hz = curves.pitch(index, tension)[batter]
    by_pitch, by_pull = (
        np.array([a.value if a.measure == measure else np.nan for a in intervals])
        for measure in (PITCH, PULL)
    )
    return Wishes(batter, resonant, by_pitch[number], by_pull[number], fundamental, batter_hz)


def _judge(
    drum: Drum,
    brief: Brief,
    batters: Sequence[Head],
    resonants: Sequence[Head],
    curves: Curves,
    wishes: Wishes,
    progress: Progress | None,
) -> Candidates:
    blocks, done = [], 0
    for index, solved in solve_pairs(drum, batters, resonants, wishes, curves):
        blocks.append((index, solved))
        done += len(index)
        if progress is not None and not progress(done, len(wishes)):
            raise CancelledError(_("The search was stopped."), _("Start it again at any time."))
    index = np.concatenate([block for block, _unused in blocks])
    solved = _joined([s for _unused, s in blocks])
    keep = np.flatnonzero(solved.settled)
    keep = keep[np.argsort(index[keep], kind="stable")]
    solved, wishes = _part(solved, keep), wishes.part(index[keep])
    if resonants:  # where the pull decided, the interval came out
        cents = CENTS_PER_NEPER * np.log(solved.lug_pitches_hz[:, 1] / solved.lug_pitches_hz[:, 0])
        wishes = replace(wishes, interval_cents=cents)
    heads: list[tuple[Head, ...]] = [
        (batters[b], resonants[r]) if resonants else (batters[b],)
        for b, r in zip(wishes.batter, wishes.resonant, strict=True)
    ]
    known = [head_ranges(drum, curves, side) for side in drum.sides]
    ranges = [tuple(of[h] for of, h in zip(known, pair, strict=True)) for pair in heads]
    measures = measure_pairs(drum, solved, heads, brief, ranges)
    beyond, why = _beyond(measures, ranges)
    among = beyond <= 0.0 if np.any(beyond <= 0.0) else np.ones(len(beyond), dtype=bool)
    scores = score(drum, brief, measures, heads, wishes.interval_cents, among)
    return Candidates(
        drum, brief, heads, ranges, wishes, solved, measures, scores, beyond, why, int(done)
    )


def _beyond(
    measures: Measures, ranges: list[tuple[HeadRange, ...]]
) -> tuple[FloatArray, list[str]]:
    """How far outside the usable range the worst head is, (C,) cents, and what is in the way."""
    up, down = -measures.up_cents, -measures.down_cents
    both = np.concatenate((up, down), axis=1)
    worst = np.argmax(both, axis=1)
    beyond = both[np.arange(len(both)), worst] - OUT_BY_CENTS
    sides = up.shape[1]
    why = []
    for row, place in enumerate(worst):
        if beyond[row] <= 0.0:
            why.append("")
            continue
        limits = ranges[row][int(place) % sides]
        above = place < sides
        limit = limits.highest if above else limits.lowest
        side = SIDES[int(place) % sides]
        why.append((_(TOO_HIGH) if above else _(TOO_LOW)).format(side=side, limit=limit.label))
    stretched = 0.5 * CENTS_PER_NEPER * np.log(np.maximum(measures.stress_share, 1e-9))
    for row in np.flatnonzero(stretched.max(axis=1) > np.maximum(beyond, 0.0)).tolist():
        place = int(np.argmax(stretched[row]))
        beyond[row] = stretched[row, place]
        why[row] = _(TOO_HIGH).format(side=SIDES[place], limit=_("it would keep stretching"))
    return np.maximum(beyond, 0.0), why


NARROW = 0.15
"""Margin to where a film keeps stretching below which it is not chosen without a word; assumed."""


def cautions(candidates: Candidates, number: int) -> list[str]:
    """What to be told before a pair is put on; nothing of most."""
    margin = 1.0 - candidates.measures.stress_share[number]
    out = []
    for place, share in enumerate(margin.tolist()):
        if share < NARROW:
            name = candidates.heads[number][place].name
            out.append(
                _(
                    "{head} stands {percent:.0f} % below where it keeps stretching: it goes flat "
                    "and wears sooner. Check it after each show."
                ).format(head=name, percent=100.0 * max(share, 0.0))
            )
    return out


def out_of_reach(candidates: Candidates) -> list[str]:
    """What of a stroke no pair that can be set comes near, in words; nothing where all can be."""
    like, index = candidates.brief.like, candidates.feasible
    if like is None or not len(index):
        return []
    keys = [criterion.key for criterion in CRITERIA]

    def best(key: str) -> tuple[float, float, float]:
        row = keys.index(key)
        value = candidates.scores.value[row][index]
        return float(value.min()), float(value.max()), float(candidates.scores.wanted[row])

    out = []
    for key, text in (
        ("like_ring", _("a decay of {wanted:.2f} s ({end} {value:.2f} s)")),
        ("like_bright", _("its brightness of {wanted:.0f} Hz ({end} {value:.0f} Hz)")),
    ):
        low, high, wanted = best(key)
        if high < REACHED * wanted:
            out.append(text.format(wanted=wanted, end=_("at most"), value=high))
        elif low > wanted / REACHED:
            out.append(text.format(wanted=wanted, end=_("at least"), value=low))
    low, _unused, _unused = best("like_partials")
    if low > APART_CENTS:
        out.append(_("its overtones ({low:.0f} cents off at best)").format(low=low))
    low, _unused, _unused = best("like_lengths")
    if low > APART_PERCENT:
        out.append(_("the decay of its overtones ({low:.0f} % off at best)").format(low=low))
    return out


REACHED = 0.87
"""Within 15 % of what is wanted it is reached."""
APART_CENTS, APART_PERCENT = 25.0, 40.0


def nearest_brief(candidates: Candidates) -> Brief | None:
    """The brief moved as little as it takes for one pair to fit; None if none would."""
    missed = candidates.nearest()
    if missed is None:
        return None
    index, cents, _unused = missed
    measures = candidates.measures
    above = -float(measures.up_cents[index].min()) >= -float(measures.down_cents[index].min())
    factor = ratio_of(-cents - 5.0 if above else cents + 5.0)
    brief = candidates.brief
    if brief.note_hz is not None:
        return replace(brief, target="note", fundamental_hz=brief.note_hz * factor, like=None)
    hz = float(candidates.solved.lug_pitches_hz[index, 0]) * factor
    return replace(brief, target="batter", batter_hz=hz)


def _joined(parts: list[SolvedPairs]) -> SolvedPairs:
    values = {
        name: np.concatenate([_padded(getattr(part, name), name, parts) for part in parts])
        for name in SolvedPairs.__dataclass_fields__
        if name != "order"
    }
    return SolvedPairs(order=parts[0].order, **values)


def _padded(value: np.ndarray, name: str, parts: list[SolvedPairs]) -> np.ndarray:
    """Shapes on the batter head have as many functions as the largest block."""
    if name != "on_batter":
        return value
    most = max(part.on_batter.shape[2] for part in parts)
    return np.pad(value, ((0, 0), (0, 0), (0, most - value.shape[2])))


def _part(solved: SolvedPairs, index: IndexArray) -> SolvedPairs:
    values = {
        name: getattr(solved, name)[index]
        for name in SolvedPairs.__dataclass_fields__
        if name != "order"
    }
    return SolvedPairs(order=solved.order, **values)
