"""Planning a set: which root, chord and intervals put every drum where it speaks (theory section
27)."""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.sets.model.chords import Frame, frames
from kesselton.core.sets.model.kit import Member, Wish, distance_m, naming
from kesselton.core.sets.model.roughness import roughness
from kesselton.core.sets.search.choice import (
    NOTE_STEP,
    RETUNED,
    Choice,
    choice,
    counts,
    first_note,
    talk_db,
)
from kesselton.core.sets.search.plan import Clash, Plan, tuned

OFF_CHORD, MOST_OFF = 4.0, 150.0
"""Of a half step off the chord; further off costs no more."""
CLASH, ROUGHEST = 0.5, 0.6
"""Of two drums as rough together as any are; it varies little, so it ranks and does not judge."""
TALK, QUIET_DB, TALK_DB = 0.4, -20.0, 10.0
"""Of each 10 dB by which an answer is louder than 20 dB under its stroke."""
BEST, APART_CENTS = 5, 50.0
"""Plans offered, and how far apart their roots are."""
MOST_LOOKED = 400_000
"""Settings of drums looked at before the search says it cannot be ended; a set of six takes some
thousand."""
FAR_CENTS = 200.0
"""Notes further outside the band are not looked at while the chord has nearer ones."""
CROSSING = 8.0
"""Of a smaller drum that is not higher than a larger one, where that cannot be avoided; assumed."""
LEAST_STEP = 80.0
"""Between neighbouring drums of a chord."""
FEW_FRAMES = 24


@dataclass(eq=False)
class Planner:
    """A set worked out once, planned as often as its wish is changed.

    Parameters
    ----------
    members : its drums, low to high, those apart from the chord last
    """

    members: tuple[Member, ...]
    wish: Wish
    a4_hz: float = 440.0
    choices: list[Choice] = field(default_factory=list)
    _pairs: dict[tuple[int, int], tuple[FloatArray, FloatArray]] = field(default_factory=dict)
    _in_chord: list[int] = field(default_factory=list)
    _place: dict[int, int] = field(default_factory=dict)
    _crossing: float = math.inf
    _known_pairs: tuple[tuple[int, ...], float] | None = None

    def __post_init__(self) -> None:
        if not self.members:
            raise InputError(_("The set has no drums."), _("Add one."), "seats")
        for drum_choice in self.members:
            with naming(drum_choice):
                self.choices.append(choice(drum_choice, self.wish, self.a4_hz))
        self._in_chord = [i for i, member in enumerate(self.members) if not member.seat.apart]
        self._place = {drum: place for place, drum in enumerate(self._in_chord)}

    # costs

    def framed(self, frame: Frame) -> list[tuple[list[int], FloatArray]]:
        """For each drum the settings that count under a chord, and what each costs."""
        out = []
        for number, drum_choice in enumerate(self.choices):
            if drum_choice.member.seat.locked:
                rows = [drum_choice.now]
            elif drum_choice.member.seat.apart:
                rows = list(range(len(drum_choice.settings)))
            else:
                rows = self._rows(drum_choice, frame, self._place[number])
            out.append((rows, self._own(frame, number, rows)))
        return out

    def _own(self, frame: Frame, number: int, rows: Sequence[int]) -> FloatArray:
        """What settings of a drum cost by themselves, on the chord or off it."""
        drum_choice, mine = self.choices[number], np.array(rows)
        if drum_choice.member.seat.apart:
            return np.asarray(drum_choice.cost[mine])
        off = np.abs(frame.off(self._place[number], drum_choice.settings.notes[mine]))
        return np.asarray(drum_choice.cost[mine] + OFF_CHORD * np.minimum(off, MOST_OFF) / 100.0)

    def _rows(self, choice: Choice, frame: Frame, place: int) -> list[int]:
        """Settings on the chord's notes, on the ends of what is borne, and as it is."""
        rows, start = {choice.now}, 0
        for curve, count in zip(choice.curves, counts(choice.curves), strict=True):
            low, high = curve.borne
            speaks = curve.band or curve.borne
            wanted = frame.notes(
                place, max(low, speaks[0] - FAR_CENTS), min(high, speaks[1] + FAR_CENTS)
            )
            if not wanted:  # the nearest it can be given
                near = frame.nearest(place, 0.5 * (speaks[0] + speaks[1]))
                wanted = [min(max(near, low), high)]
            for note in wanted:
                step = round((note - first_note(curve)) / NOTE_STEP)
                rows.add(start + min(max(step, 0), count - 1))
            start += count
        return sorted(rows)

    def pair(
        self, number: int, other: int, rows: Sequence[int], others: Sequence[int]
    ) -> FloatArray:
        """What settings of two drums cost together, (rows, others)."""
        rough, talk = self.clash(number, other, rows, others)
        talking = np.maximum(talk - QUIET_DB, 0.0) / TALK_DB
        out: FloatArray = CLASH * rough / ROUGHEST + TALK * talking
        return out

    def clash(
        self, number: int, other: int, rows: Sequence[int], others: Sequence[int]
    ) -> tuple[FloatArray, FloatArray]:
        """Roughness, and level in dB of the louder answer, of settings of two drums."""
        key = (number, other)
        if key not in self._pairs:
            shape = len(self.choices[number].settings), len(self.choices[other].settings)
            self._pairs[key] = np.full(shape, np.nan), np.full(shape, np.nan)
        known, talk = self._pairs[key]
        a, b = np.array(rows), np.array(others)
        block = np.ix_(a, b)
        if np.isnan(known[block]).any():
            apart = distance_m(self.members[number].seat, self.members[other].seat)
            (hz, loud), (other_hz, other_loud) = self.choices[number].loud, self.choices[other].loud
            known[block] = roughness(
                hz[a][:, None], loud[a][:, None], other_hz[b][None], other_loud[b][None]
            )
            talk[block] = talk_db(self.choices[number], self.choices[other], a, b, apart)
        return known[block], talk[block]

    # the search

    def frames(self) -> list[Frame]:
        """All chords at all roots that are looked at."""
        inside = self._in_chord
        if not inside:
            return [Frame("notes", 0.0, tuple(range(0, 1200, 100)), True)]
        borne = [curve.borne for curve in self.choices[inside[0]].curves]
        low, high = min(x[0] for x in borne), max(x[1] for x in borne)
        return frames(self.wish, len(inside), low, high, self.a4_hz)

    def best(self, count: int = BEST) -> list[Plan]:
        """The best plans, unlike each other, cheapest first.

        Notes
        -----
        Exact: chords and roots are taken in the order of what they cost at least, and a branch is
        left only where it must cost more than what is found. Drums of a chord take different notes,
        the larger the lower.
        """
        looked = []
        for frame in self.frames():
            framed = self.framed(frame)
            looked.append((float(sum(cost.min() for _unused, cost in framed)), frame, framed))
        looked.sort(key=lambda item: item[0])
        results: list[tuple[float, int, Frame, list[int]]] = []
        seen = itertools.count()
        budget = [MOST_LOOKED]
        for least, frame, framed in looked:
            worst = _worst(results, count)
            if least >= worst:
                break
            for cost, rows in self._in_frame(framed, worst, budget):
                _put(results, (cost, next(seen), frame, rows), count)
        if not results:  # nothing rises from large to small: told by what it costs
            if math.isfinite(self._crossing):
                raise InputError(_("This set cannot be planned."), _("Unlock some drums."), "seats")
            self._crossing = CROSSING
            return self.best(count)
        results.sort(key=lambda item: item[:2])
        return [self._plan(frame, rows, cost) for cost, _unused, frame, rows in results]

    def _in_frame(
        self,
        framed: list[tuple[list[int], FloatArray]],
        worst: float,
        budget: list[int],
    ) -> list[tuple[float, list[int]]]:
        """The cheapest settings under one chord, if cheaper than `worst`."""
        count, best = len(framed), []
        blocks = {
            (i, j): self.pair(i, j, framed[i][0], framed[j][0])
            for i, j in itertools.combinations(range(count), 2)
        }
        notes = [
            self.choices[i].settings.notes[np.array(framed[i][0])] for i in range(count)
        ]  # fmt: skip
        inside = [not member.seat.apart for member in self.members]

        later_least = [
            sum(float(blocks[i, j].min()) for i, j in blocks if i >= place)
            for place in range(1, count + 1)
        ]  # what pairs of drums still to come cost at least

        def go(place: int, cost: float, ahead: list[FloatArray], chosen: list[int]) -> None:
            """`ahead` is what each setting of the drums still to come costs with those chosen."""
            nonlocal worst, best
            own = cost + ahead[0]
            after = []
            bound = own + later_least[place]
            for later in range(place + 1, count):
                more = ahead[later - place] + blocks[place, later]
                if inside[place] and inside[later]:  # the larger drum the lower note
                    least = notes[place] + LEAST_STEP * (later - place)
                    more = np.where(notes[later] >= least[:, None], more, more + self._crossing)
                after.append(more)
                bound = bound + more.min(axis=1)
            for index in np.argsort(bound, kind="stable").tolist():
                if bound[index] >= worst:
                    return  # all that follow cost more
                budget[0] -= 1
                if budget[0] < 0:
                    raise InputError(
                        _("There are too many ways to tune this set."),
                        _("Lock some drums, or choose one chord and one interval."),
                    )
                if place + 1 == count:
                    worst = float(bound[index])
                    picked = enumerate([*chosen, index])
                    best = [(worst, [framed[i][0][k] for i, k in picked])]
                else:
                    rest = [more[index] for more in after]
                    go(place + 1, float(own[index]), rest, [*chosen, index])

        go(0, 0.0, [own for _unused, own in framed], [])
        return best

    def cost_of(self, frame: Frame, rows: Sequence[int]) -> float:
        """What settings cost together under a chord."""
        own = sum(float(self._own(frame, i, [row])[0]) for i, row in enumerate(rows))
        return own + self._together(tuple(rows))

    def _together(self, rows: tuple[int, ...]) -> float:
        """What the pairs of drums cost, whatever the chord."""
        if self._known_pairs is None or self._known_pairs[0] != rows:
            both = itertools.combinations(range(len(rows)), 2)
            cost = sum(float(self.pair(i, j, [rows[i]], [rows[j]])[0, 0]) for i, j in both)
            self._known_pairs = (rows, cost)
        return self._known_pairs[1]

    def _plan(self, frame: Frame, rows: Sequence[int], cost: float) -> Plan:
        drums = []
        for number, (drum_choice, row) in enumerate(zip(self.choices, rows, strict=True)):
            off = 0.0
            if not drum_choice.member.seat.apart:
                note = drum_choice.settings.notes[[row]]
                off = float(frame.off(self._place[number], note)[0])
            drums.append(tuned(drum_choice, row, off, self.a4_hz))
        return Plan(frame, tuple(drums), self.clashes(rows), cost)

    def clashes(self, rows: Sequence[int]) -> tuple[Clash, ...]:
        """Every pair of drums as they would be set, the roughest first."""
        out = []
        for i, j in itertools.combinations(range(len(rows)), 2):
            rough, talk = self.clash(i, j, [rows[i]], [rows[j]])
            out.append(Clash(i, j, float(rough[0, 0]), float(talk[0, 0])))
        return tuple(sorted(out, key=lambda item: -item.rough))

    # a few minutes

    def few_changes(self, most: int = 3) -> list[Plan]:
        """The drums as they are, and after one, two … changes: each the single change that makes
        the set cheapest. Stops where nothing helps by as much as touching a drum costs."""
        rows = [drum_choice.now for drum_choice in self.choices]
        whole = sorted(self.frames(), key=lambda item: self.cost_of(item, rows))[:FEW_FRAMES]
        framed = [self.framed(frame) for frame in whole]
        out = [self._plan(whole[0], rows, self.cost_of(whole[0], rows))]
        for _unused in range(most):
            tries = []
            for frame, offers in zip(whole, framed, strict=True):
                base = self.cost_of(frame, rows)
                for drum, (mine, own) in enumerate(offers):
                    if rows[drum] == self.choices[drum].now:
                        tries += self._one_change(frame, rows, drum, mine, own, base)
            if not tries:
                break
            cost, frame, changed = min(tries, key=lambda item: item[0])
            if cost > out[-1].cost - RETUNED:
                break
            rows = changed
            out.append(self._plan(frame, rows, cost))
        return out

    def _one_change(
        self,
        frame: Frame,
        rows: list[int],
        drum: int,
        mine: list[int],
        own: FloatArray,
        base: float,
    ) -> list[tuple[float, Frame, list[int]]]:
        """The cheapest change of one drum that leaves the drums rising, if there is one."""

        def with_others(at: list[int]) -> FloatArray:
            out = np.zeros(len(at))
            for other, row in enumerate(rows):
                if other > drum:
                    out += self.pair(drum, other, at, [row])[:, 0]
                elif other < drum:
                    out += self.pair(other, drum, [row], at)[0]
            return out

        before = float(self._own(frame, drum, [rows[drum]])[0] + with_others([rows[drum]])[0])
        change = own + with_others(mine) - before
        for k in np.argsort(change, kind="stable").tolist():
            changed = [*rows[:drum], mine[k], *rows[drum + 1 :]]
            if mine[k] != rows[drum] and (self._rises(changed) or not self._rises(rows)):
                return [(base + float(change[k]), frame, changed)]
        return []

    def _rises(self, rows: Sequence[int]) -> bool:
        notes = [
            float(self.choices[i].settings.notes[rows[i]])
            for i in self._in_chord
        ]  # fmt: skip
        return all(b > a + LEAST_STEP for a, b in itertools.pairwise(notes))


def _worst(results: list[tuple[float, int, Frame, list[int]]], count: int) -> float:
    return math.inf if len(results) < count else max(item[0] for item in results)


def _put(
    results: list[tuple[float, int, Frame, list[int]]],
    new: tuple[float, int, Frame, list[int]],
    count: int,
) -> None:
    """Keep a plan among the best unless a better one is like it: nearly the same chord."""
    for place, old in enumerate(results):
        if _alike(old[2], new[2]) or old[3] == new[3]:
            if new[0] < old[0]:
                results[place] = new
            return
    results.append(new)
    if len(results) > count:
        results[:] = heapq.nsmallest(count, results, key=lambda item: item[:2])


def _alike(frame: Frame, other: Frame) -> bool:
    if frame.chord != other.chord or frame.tones != other.tones:
        return False
    gap = abs(frame.root_cents - other.root_cents)
    return (min(gap, CENTS_PER_OCTAVE - gap) if frame.free else gap) < APART_CENTS
