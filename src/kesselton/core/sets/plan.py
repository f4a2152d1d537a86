"""Planning a set: which root, chord and intervals put every drum where it speaks (theory section
27)."""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from kesselton.core.acoustics.lug import lug_pitch, tensions
from kesselton.core.arrays import FloatArray, IndexArray, kept_property
from kesselton.core.choosing.brief import TOUCHES
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.sets.chords import Frame, cents_of, frames
from kesselton.core.sets.curve import Curve, Settings, drum_curves, present_interval
from kesselton.core.sets.kit import Member, Wish, distance_m, naming, offered
from kesselton.core.sets.roughness import roughness

OUTSIDE = 3.0
"""Cost of a half step outside the band in which a drum speaks. All costs are assumed; they rank."""
OFF_MIDDLE = 0.6
"""At the end of the band, where the music asks for another place in it."""
OFF_CHORD, MOST_OFF = 4.0, 150.0
"""Of a half step off the chord; further off costs no more."""
OFF_SHELL, SHELL_CENTS = 0.5, 350.0
"""Of each half step beyond 1 3/4 whole steps from the shell note (common practice: within one and
a half to two)."""
RETUNED, RETUNED_BY = 0.25, 0.15
"""Of a drum that is touched at all, and of each half step a head of it is moved."""
MOST_MOVED = 6.0
UNLIKE_LISTENER = 0.5
"""Of an interval that throws the sound away from whoever listens."""
TOO_NEAR, NEAR_CENTS = 2.0, 60.0
"""Of a note on one that is to be kept away from, and how far away it is gone."""
CLASH, ROUGHEST = 0.5, 0.6
"""Of two drums as rough together as any are; it varies little, so it ranks and does not judge."""
TALK, QUIET_DB, TALK_DB = 0.4, -20.0, 10.0
"""Of each 10 dB by which an answer is louder than 20 dB under its stroke."""
CLEAR_OF_CENTS = 20.0
"""A note so near to the one it has now counts as not moved."""
WANTED_IN_BAND = {"sparse": 0.35, "medium": 0.5, "busy": 0.65}
"""Where in its band a drum is wanted: dense playing wants higher (common practice; assumed)."""
BEST, APART_CENTS = 5, 50.0
"""Plans offered, and how far apart their roots are."""
MOST_LOOKED = 400_000
"""Settings of drums looked at before the search says it cannot be ended; a set of six takes some
thousand."""
LOUDEST = 5
"""Partials of each drum between which clashes are looked for."""


@dataclass(frozen=True, eq=False)
class Choice:
    """All settings a drum may be given, one row each.

    Attributes
    ----------
    now : row of how it is set now; the drum is not touched
    cost : (N,) what a setting costs by itself, its chord apart
    """

    member: Member
    curves: tuple[Curve, ...]
    settings: Settings
    now: int
    cost: FloatArray
    band: tuple[float, float] | None

    @kept_property
    def loud(self) -> tuple[FloatArray, FloatArray]:
        """Frequency and amplitude over the loudest of the loudest partials, (N, P) each."""
        s, order = self.settings, self._loudest
        hz = np.take_along_axis(s.hz, order, axis=1)
        loud = np.take_along_axis(s.sounding_j, order, axis=1)
        return hz, np.sqrt(loud / np.maximum(loud[:, :1], 1e-30))

    @kept_property
    def _loudest(self) -> IndexArray:
        return np.argsort(-self.settings.sounding_j, axis=1, kind="stable")[:, :LOUDEST]

    @kept_property
    def lines(self) -> Lines:
        """The same partials as they send sound and take it, (N, P) each."""
        s, order = self.settings, self._loudest
        hz, rate, share, energy = (
            np.take_along_axis(x, order, axis=1) for x in (s.hz, s.rate, s.share, s.energy_j)
        )
        omega, radiated = 2.0 * np.pi * hz, 2.0 * rate * share
        watt = radiated * energy
        sent = watt / np.maximum(watt.sum(axis=1, keepdims=True), 1e-30)
        return Lines(omega, rate, sent, (radiated / omega) ** 2)


@dataclass(frozen=True, eq=False)
class Lines:
    """Loud partials of a drum's settings, (N, P): rad/s, neper a second, share of the power that is
    sent at first, and how readily each takes up sound."""

    omega: FloatArray
    rate: FloatArray
    sent: FloatArray
    takes: FloatArray


@dataclass(frozen=True)
class Tuned:
    """One drum of a plan.

    Attributes
    ----------
    name : of the drum
    note_cents : over C1
    interval_cents : between its heads; nan for a drum open below
    pitches_hz, tensions_n_per_m : of its heads, batter first
    moved_cents : how far each head is moved
    off_chord_cents : how far its note is from the chord
    outside_cents : how far it is above (or, negative, below) where it speaks, 0 within
    as_is : it is not touched
    """

    name: str
    note_cents: float
    interval_cents: float
    pitches_hz: tuple[float, ...]
    tensions_n_per_m: tuple[float, ...]
    moved_cents: tuple[float, ...]
    off_chord_cents: float
    outside_cents: float
    shell_cents: float
    as_is: bool


@dataclass(frozen=True)
class Clash:
    """Two drums that sound rough together, or set each other talking, by number."""

    one: int
    other: int
    rough: float
    talk_db: float


@dataclass(frozen=True)
class Plan:
    """One way to tune a set; `cost` is what `drums` and `clashes` together cost."""

    frame: Frame
    drums: tuple[Tuned, ...]
    clashes: tuple[Clash, ...]
    cost: float

    @property
    def fits(self) -> bool:
        """Whether every drum of the chord is on it and speaks."""
        return all(
            abs(one.off_chord_cents) < CLEAR_OF_CENTS and one.outside_cents == 0.0
            for one in self.drums
        )


def changed_between(before: Plan, after: Plan) -> int:
    """Which drum two plans set otherwise: the first of them."""
    return next(
        number
        for number, (old, new) in enumerate(zip(before.drums, after.drums, strict=True))
        if old.pitches_hz != new.pitches_hz
    )


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
            raise InputError("There is no drum in the set.", "Add one.", "seats")
        for one in self.members:
            with naming(one):
                self.choices.append(choice(one, self.wish, self.a4_hz))
        self._in_chord = [i for i, one in enumerate(self.members) if not one.seat.apart]
        self._place = {drum: place for place, drum in enumerate(self._in_chord)}

    # costs

    def framed(self, frame: Frame) -> list[tuple[list[int], FloatArray]]:
        """For each drum the settings that count under a chord, and what each costs."""
        out = []
        for number, one in enumerate(self.choices):
            if one.member.seat.locked:
                rows = [one.now]
            elif one.member.seat.apart:
                rows = list(range(len(one.settings)))
            else:
                rows = self._rows(one, frame, self._place[number])
            out.append((rows, self._own(frame, number, rows)))
        return out

    def _own(self, frame: Frame, number: int, rows: Sequence[int]) -> FloatArray:
        """What settings of a drum cost by themselves, on the chord or off it."""
        one, mine = self.choices[number], np.array(rows)
        if one.member.seat.apart:
            return np.asarray(one.cost[mine])
        off = np.abs(frame.off(self._place[number], one.settings.notes[mine]))
        return np.asarray(one.cost[mine] + OFF_CHORD * np.minimum(off, MOST_OFF) / 100.0)

    def _rows(self, choice: Choice, frame: Frame, place: int) -> list[int]:
        """Settings on the chord's notes, on the ends of what is borne, and as it is."""
        rows, start = {choice.now}, 0
        for curve, count in zip(choice.curves, _counts(choice.curves), strict=True):
            low, high = curve.borne
            speaks = curve.band or curve.borne
            wanted = frame.notes(
                place, max(low, speaks[0] - FAR_CENTS), min(high, speaks[1] + FAR_CENTS)
            )
            if not wanted:  # the nearest it can be given
                near = frame.nearest(place, 0.5 * (speaks[0] + speaks[1]))
                wanted = [min(max(near, low), high)]
            for note in wanted:
                step = round((note - _first_note(curve)) / NOTE_STEP)
                rows.add(start + min(max(step, 0), count - 1))
            start += count
        return sorted(rows)

    def pair(self, one: int, other: int, rows: Sequence[int], others: Sequence[int]) -> FloatArray:
        """What settings of two drums cost together, (rows, others)."""
        rough, talk = self.clash(one, other, rows, others)
        talking = np.maximum(talk - QUIET_DB, 0.0) / TALK_DB
        out: FloatArray = CLASH * rough / ROUGHEST + TALK * talking
        return out

    def clash(
        self, one: int, other: int, rows: Sequence[int], others: Sequence[int]
    ) -> tuple[FloatArray, FloatArray]:
        """Roughness, and level in dB of the louder answer, of settings of two drums."""
        key = (one, other)
        if key not in self._pairs:
            shape = len(self.choices[one].settings), len(self.choices[other].settings)
            self._pairs[key] = np.full(shape, np.nan), np.full(shape, np.nan)
        known, talk = self._pairs[key]
        a, b = np.array(rows), np.array(others)
        block = np.ix_(a, b)
        if np.isnan(known[block]).any():
            apart = distance_m(self.members[one].seat, self.members[other].seat)
            (hz, loud), (other_hz, other_loud) = self.choices[one].loud, self.choices[other].loud
            known[block] = roughness(
                hz[a][:, None], loud[a][:, None], other_hz[b][None], other_loud[b][None]
            )
            talk[block] = _talk(self.choices[one], self.choices[other], a, b, apart)
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
            looked.append((float(sum(cost.min() for _, cost in framed)), frame, framed))
        looked.sort(key=lambda one: one[0])
        found: list[tuple[float, int, Frame, list[int]]] = []
        seen = itertools.count()
        budget = [MOST_LOOKED]
        for least, frame, framed in looked:
            worst = _worst(found, count)
            if least >= worst:
                break
            for cost, rows in self._in_frame(framed, worst, budget):
                _put(found, (cost, next(seen), frame, rows), count)
        if not found:  # nothing rises from large to small: told by what it costs
            if math.isfinite(self._crossing):
                raise InputError("This set cannot be planned.", "Unlock some drums.", "seats")
            self._crossing = CROSSING
            return self.best(count)
        found.sort(key=lambda one: one[:2])
        return [self._plan(frame, rows, cost) for cost, _, frame, rows in found]

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
        inside = [not one.seat.apart for one in self.members]

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
                        "There are too many ways to tune this set.",
                        "Lock some drums, or choose one chord and one school.",
                    )
                if place + 1 == count:
                    worst = float(bound[index])
                    picked = enumerate([*chosen, index])
                    best = [(worst, [framed[i][0][k] for i, k in picked])]
                else:
                    rest = [more[index] for more in after]
                    go(place + 1, float(own[index]), rest, [*chosen, index])

        go(0, 0.0, [own for _, own in framed], [])
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
        for number, (one, row) in enumerate(zip(self.choices, rows, strict=True)):
            off = 0.0
            if not one.member.seat.apart:
                note = one.settings.notes[[row]]
                off = float(frame.off(self._place[number], note)[0])
            drums.append(_tuned(one, row, off, self.a4_hz))
        return Plan(frame, tuple(drums), self.clashes(rows), cost)

    def clashes(self, rows: Sequence[int]) -> tuple[Clash, ...]:
        """Every pair of drums as they would be set, the roughest first."""
        out = []
        for i, j in itertools.combinations(range(len(rows)), 2):
            rough, talk = self.clash(i, j, [rows[i]], [rows[j]])
            out.append(Clash(i, j, float(rough[0, 0]), float(talk[0, 0])))
        return tuple(sorted(out, key=lambda one: -one.rough))

    # a few minutes

    def few_changes(self, most: int = 3) -> list[Plan]:
        """The drums as they are, and after one, two … changes: each the single change that makes
        the set cheapest. Stops where nothing helps by as much as touching a drum costs."""
        rows = [one.now for one in self.choices]
        whole = sorted(self.frames(), key=lambda one: self.cost_of(one, rows))[:FEW_FRAMES]
        framed = [self.framed(frame) for frame in whole]
        out = [self._plan(whole[0], rows, self.cost_of(whole[0], rows))]
        for _ in range(most):
            tries = []
            for frame, offers in zip(whole, framed, strict=True):
                base = self.cost_of(frame, rows)
                for drum, (mine, own) in enumerate(offers):
                    if rows[drum] == self.choices[drum].now:
                        tries += self._one_change(frame, rows, drum, mine, own, base)
            if not tries:
                break
            cost, frame, changed = min(tries, key=lambda one: one[0])
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


FAR_CENTS = 200.0
"""Notes further outside the band are not looked at while the chord has nearer ones."""
NOTE_STEP = 10.0
"""Cents between the notes of a curve that are looked at."""
NEAREST_M = 0.05
SAME_CENTS = 2.0
CROSSING = 8.0
"""Of a smaller drum that is not higher than a larger one, where that cannot be avoided; assumed."""
LEAST_STEP = 80.0
"""Between neighbouring drums of a chord."""
FEW_FRAMES = 24


def _counts(curves: Sequence[Curve]) -> list[int]:
    """How many notes of each curve are looked at."""
    return [int((c.borne[1] - _first_note(c)) / NOTE_STEP) + 1 for c in curves]


def _first_note(curve: Curve) -> float:
    """The lowest note looked at; roots go in the same steps."""
    return NOTE_STEP * math.ceil(curve.borne[0] / NOTE_STEP)


def offers(member: Member, wish: Wish) -> tuple[float, ...]:
    """Intervals between a drum's heads that are solved: those offered, and the present one."""
    drum, present = member.drum, present_interval(member.drum)
    if drum.one_pull is not None or drum.resonant is None or member.seat.locked:
        return (present,)
    near = (cents for cents in offered(member, wish) if abs(cents - present) >= SAME_CENTS)
    return (*near, present)


def note_now(drum: Drum, curve: Curve) -> float:
    """The note of a drum as it is set, by the curve of its interval, cents over C1."""
    return _note_of(curve, lug_pitch(drum, "batter", tensions(drum)))


def choice(member: Member, wish: Wish, a4_hz: float) -> Choice:
    """All settings of a drum, with what each costs by itself."""
    drum, present = member.drum, present_interval(member.drum)
    touch = TOUCHES[wish.touch].value
    curves = drum_curves(drum, offers(member, wish), touch, a4_hz)
    if not any(_same(curve.interval_cents, present) for curve in curves):
        raise InputError(
            f"{drum.name!r} cannot be planned: its heads bear no note at the interval they have.",
            "Look at its heads in Tuning.",
        )
    now = next(c for c in curves if _same(c.interval_cents, present))
    batter = lug_pitch(drum, "batter", tensions(drum))
    if member.seat.apart:  # its batter head by feel, as it is; the other head may be moved
        parts = [curve.at(np.array([_note_of(curve, batter)])) for curve in curves]
    else:
        parts = [
            curve.at(_first_note(curve) + NOTE_STEP * np.arange(count, dtype=np.float64))
            for curve, count in zip(curves, _counts(curves), strict=True)
        ]
    settings = Settings.joined([*parts, now.at(np.array([_note_of(now, batter)]))])
    place = len(settings) - 1
    cost, band = _own_cost(member, wish, curves, settings, place, a4_hz, present)
    return Choice(member, curves, settings, place, cost, band)


def _note_of(curve: Curve, batter_hz: float) -> float:
    """The note a drum sounds when its batter head is at a lug pitch."""
    here = float(np.interp(math.log(batter_hz), np.log(curve.pitches_hz[:, 0]), curve.notes))
    for _ in range(4):
        off = math.log(batter_hz / float(curve.at(np.array([here])).pitches_hz[0, 0]))
        here += off * CENTS_PER_OCTAVE / math.log(2.0)
    return here


def _same(one: float, other: float) -> bool:
    return (math.isnan(one) and math.isnan(other)) or abs(one - other) < 0.01


def _own_cost(
    member: Member,
    wish: Wish,
    curves: Sequence[Curve],
    settings: Settings,
    now: int,
    a4_hz: float,
    present: float,
) -> tuple[FloatArray, tuple[float, float] | None]:
    notes, cost = settings.notes, np.zeros(len(settings))
    for curve in curves:
        mine = np.array([_same(float(x), curve.interval_cents) for x in settings.interval_cents])
        low, high = curve.band or (math.nan, math.nan)
        if curve.band is None:
            cost[mine] += 2.0 * OUTSIDE
            continue
        out = np.maximum(np.maximum(low - notes[mine], notes[mine] - high), 0.0)
        middle = low + WANTED_IN_BAND[wish.density] * (high - low)
        cost[mine] += OUTSIDE * out / 100.0
        if not member.seat.apart:
            off = np.abs(notes[mine] - middle) / (0.5 * max(high - low, 100.0))
            cost[mine] += OFF_MIDDLE * off**2
    band = next((c.band for c in curves if _same(c.interval_cents, present)), None)
    shell = member.drum.shell.shell_note_hz
    if shell is not None:
        beyond = np.abs(notes - cents_of(shell, a4_hz)) - SHELL_CENTS
        cost += OFF_SHELL * np.minimum(np.maximum(beyond, 0.0) / 100.0, 4.0)
    moved = np.abs(np.log2(settings.pitches_hz / settings.pitches_hz[now])) * CENTS_PER_OCTAVE
    half_steps = np.minimum(moved / 100.0, MOST_MOVED).sum(axis=1)
    touched = moved.max(axis=1) > 1.0
    cost += np.where(touched, RETUNED + RETUNED_BY * half_steps, 0.0)
    schools = offered(member, wish)
    apart = settings.interval_cents
    if not np.isnan(apart).all():
        strange = np.array([min(abs(float(x) - s) for s in schools) for x in apart])
        if (member.seat.school or wish.school) != "best":
            cost += 1.5 * np.minimum(strange / 100.0, 2.0)
        away = apart > 50.0 if wish.listener == "house" else apart < -50.0
        cost += np.where(away, UNLIKE_LISTENER, 0.0)
    if not member.seat.apart:
        cost += _by_music(notes, wish, a4_hz)
    return cost, band


def _by_music(notes: FloatArray, wish: Wish, a4_hz: float) -> FloatArray:
    """What notes cost by those of the pieces, in any octave."""
    out = np.zeros(len(notes))

    def off(all_hz: tuple[float, ...]) -> FloatArray:
        given = np.array([cents_of(hz, a4_hz) for hz in all_hz])
        gap = np.abs((notes[:, None] - given + 600.0) % CENTS_PER_OCTAVE - 600.0)
        nearest: FloatArray = gap.min(axis=1)
        return nearest

    if wish.avoid_hz:
        out += TOO_NEAR * np.maximum(1.0 - off(wish.avoid_hz) / NEAR_CENTS, 0.0)
    if wish.agree_hz:
        out += TOO_NEAR * np.minimum(off(wish.agree_hz) / NEAR_CENTS, 1.0)
    return out


def _tuned(choice: Choice, row: int, off: float, a4_hz: float) -> Tuned:
    s = choice.settings
    note, cents = float(s.notes[row]), float(s.interval_cents[row])
    curve = next(c for c in choice.curves if _same(c.interval_cents, cents))
    outside = 0.0
    if curve.band is not None:
        low, high = curve.band
        outside = note - high if note > high else note - low if note < low else 0.0
    moved = np.log2(s.pitches_hz[row] / s.pitches_hz[choice.now]) * CENTS_PER_OCTAVE
    shell = choice.member.drum.shell.shell_note_hz
    return Tuned(
        choice.member.name,
        note,
        cents,
        tuple(s.pitches_hz[row].tolist()),
        tuple(s.tensions_n_per_m[row].tolist()),
        tuple(moved.tolist()),
        off,
        outside if curve.band is not None else math.nan,
        math.nan if shell is None else note - cents_of(shell, a4_hz),
        bool(np.all(np.abs(moved) <= 1.0)),
    )


def _talk(
    first: Choice, second: Choice, a: IndexArray, b: IndexArray, distance_m: float
) -> FloatArray:
    """Level of the louder of the two answers a stroke on one gets from the other, dB over the
    stroke, (a, b): every motion driven by every line, by how near they lie (theory eq. 96)."""
    one, other = first.lines, second.lines
    gap = one.omega[a][:, None, :, None] - other.omega[b][None, :, None, :]
    width = one.rate[a][:, None, :, None] + other.rate[b][None, :, None, :]
    near = 1.0 / (gap**2 + width**2)
    # S^2 p^2 / 8 with S^2 = 4 pi c 2 d / (rho w^2), p^2 = 2 rho c W / (4 pi r^2)
    c = first.member.drum.air.sound_speed_m_per_s
    scale = 0.25 * (c / max(distance_m, NEAREST_M)) ** 2
    there = np.einsum("ai,abij,bj->ab", one.sent[a], near, other.takes[b])
    back = np.einsum("bj,abij,ai->ab", other.sent[b], near, one.takes[a])
    out: FloatArray = 10.0 * np.log10(np.maximum(scale * np.maximum(there, back), 1e-9))
    return out


def _worst(found: list[tuple[float, int, Frame, list[int]]], count: int) -> float:
    return math.inf if len(found) < count else max(one[0] for one in found)


def _put(
    found: list[tuple[float, int, Frame, list[int]]],
    new: tuple[float, int, Frame, list[int]],
    count: int,
) -> None:
    """Keep a plan among the best unless a better one is like it: nearly the same chord."""
    for place, old in enumerate(found):
        if _alike(old[2], new[2]) or old[3] == new[3]:
            if new[0] < old[0]:
                found[place] = new
            return
    found.append(new)
    if len(found) > count:
        found[:] = heapq.nsmallest(count, found, key=lambda one: one[:2])


def _alike(one: Frame, other: Frame) -> bool:
    if one.chord != other.chord or one.tones != other.tones:
        return False
    gap = abs(one.root_cents - other.root_cents)
    return (min(gap, CENTS_PER_OCTAVE - gap) if one.free else gap) < APART_CENTS
