"""Which computed partial a heard line is: by where it was expected, with a probability, tested
against chance (theory 23)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.solver.partials import AIR
from kesselton.core.arrays import BoolArray, FloatArray
from kesselton.core.constants import CENTS_PER_NEPER, CENTS_PER_OCTAVE, SIGMAS_90
from kesselton.core.hearing.match_doubt import Laid, evidence, trust
from kesselton.core.hearing.note import Note
from kesselton.core.hearing.stroke_lines import StrokeLine
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction

SHIFT_CENTS, SHIFT_STEP = 240.0, 8.0
SHIFT_SD = 60.0
"""How far a whole drum may stand off its plan (sd, assumed)."""
APART_SD, ROUNDS = 30.0, 5
"""How far each head's share may stand off the drum as a whole (sd, assumed)."""
SPLIT_CENTS = 45.0
"""How far one line of a pair may stand from the middle of both (sd); ordinary films split (1,1) and
(2,1) by 40 to 145 cents."""
OWN_CENTS = 10.0
"""And what a partial may stand off besides what its drum does (sd), on top of its stated doubt."""
LEVEL_SD_DB = 9.0
RING_SD = 0.6
"""Of heard over computed: level, and logarithm of T60 (assumed)."""
STRAY = 0.5
"""Lines of other things in an octave."""
FAINTEST_DB = -60.0
LIKELY, SURE = 0.5, 0.975
"""Share of the odds from which a line may be a partial, and how far that must be trusted."""
NOTE_CENTS = 30.0
"""A line so near to the note is the fundamental."""
TRIES = 16
SEED = 11


@dataclass(frozen=True)
class Match:
    """What a heard line is taken for.

    Attributes
    ----------
    partial : index among the computed ones; None for a line of something else, or not told
    probability : that it is that partial, or that it is none
    cents, seconds : heard less computed, NaN where it is none
    """

    partial: int | None
    probability: float
    cents: float
    seconds: float


@dataclass(frozen=True)
class Matching:
    """Heard lines beside a computed drum.

    Attributes
    ----------
    matches : one for each line
    sure : False where lines shifted at random fit as well: then nothing is matched
    shift_cents : how far the drum as a whole stands off what was computed
    fundamental_hz, fundamental_half_cents : heard, at rest; None where it was not
    """

    matches: tuple[Match, ...]
    sure: bool
    shift_cents: float
    fundamental_hz: float | None
    fundamental_half_cents: float

    def cents(self, prediction: Prediction) -> float | None:
        """The fundamental as heard against the computed one."""
        if self.fundamental_hz is None:
            return None
        return cents_between(prediction.fundamental_hz, self.fundamental_hz)


def match(lines: Sequence[StrokeLine], prediction: Prediction) -> Matching:
    """Lay heard lines beside the computed partials of a drum.

    Notes
    -----
    Theory eq. 81. The drum as a whole may stand off by a common interval, each partial by its own
    doubt, one of a pair by half its split; level and ring count a little. The same is done with
    each line shifted by chance: where that fits as well, nothing is told.
    """
    if not lines:
        return Matching((), False, 0.0, None, math.inf)
    laid = lay(lines, prediction)
    sure = laid.beyond > 0.0
    given = _given(laid) if sure else [(None, 0.0)] * len(lines)
    matches = tuple(
        _told(line, prediction, partial, chance)
        for line, (partial, chance) in zip(lines, given, strict=True)
    )
    shift, first = laid.shift, prediction.partials.fundamental
    hit = [i for i, pairing in enumerate(matches) if pairing.partial == first]
    if not hit:
        return Matching(matches, sure, shift, None, math.inf)
    best = max(hit, key=lambda i: lines[i].level_db)
    return Matching(matches, sure, shift, lines[best].hz, lines[best].half_cents)


def with_note(
    matching: Matching, lines: Sequence[StrokeLine], note: Note | None, prediction: Prediction
) -> Matching:
    """With the fundamental as the note says, which is told apart from the pattern and surer; a note
    far off the plan is of no partial of this drum, and then nothing is its fundamental."""
    if note is None:
        return matching
    if not note.near:
        return replace(matching, fundamental_hz=None, fundamental_half_cents=math.inf)
    matches = list(matching.matches)
    first = prediction.partials.fundamental
    at = [i for i, line in enumerate(lines) if abs(cents_between(line.hz, note.hz)) < NOTE_CENTS]
    if at and not any(pairing.partial == first for pairing in matches):
        best = max(at, key=lambda i: lines[i].level_db)
        matches[best] = _told(lines[best], prediction, first, note.confidence)
    return replace(
        matching,
        matches=tuple(matches),
        fundamental_hz=note.hz,
        fundamental_half_cents=note.half_cents,
    )


def lay(lines: Sequence[StrokeLine], prediction: Prediction) -> Laid:
    """At least one line beside the partials, with the drum as a whole where most is explained, and
    how much better that fits than lines shifted by chance."""
    table = _Table(lines, prediction)
    shift, score, moved = table.best(table.heard)
    rng = np.random.default_rng(SEED)
    null = [table.best(table.heard + _thrown(rng, len(lines)))[1] for _ in range(TRIES)]
    return table.laid(shift, moved, (score - max(null)) / len(lines))


class _Table:
    """Every line against every partial."""

    def __init__(self, lines: Sequence[StrokeLine], prediction: Prediction) -> None:
        p = prediction.partials
        self.heard = CENTS_PER_NEPER * np.log([line.hz for line in lines])
        self.computed = CENTS_PER_NEPER * np.log(p.frequency_hz)
        half = np.array([line.half_cents for line in lines])
        own = np.hypot(prediction.uncertainty_cents / SIGMAS_90, OWN_CENTS)
        own = np.where(p.order > 0, np.hypot(own, SPLIT_CENTS), own)
        self.sd = np.hypot(own[None, :], half[:, None] / SIGMAS_90)
        self.half_cents, self.fundamental = half, p.fundamental
        self.level_db = np.array([line.level_db for line in lines])
        self.ring = np.log([line.t60_s for line in lines])
        self.computed_db = np.maximum(prediction.levels_db, FAINTEST_DB)
        self.level_off = self.level_db[:, None] - self.computed_db
        self.ring_off = self.ring[:, None] - np.log(p.t60_s)
        self.rest = -0.5 * ((self.level_off / LEVEL_SD_DB) ** 2 + (self.ring_off / RING_SD) ** 2)
        self.mean = -0.5 * 2.0  # what such a square is on average for the right partial
        self.stray = math.log(STRAY / CENTS_PER_OCTAVE) + self.mean - math.log(4.0)
        self.room = np.where(p.order > 0, 2, 1)
        self.room[p.branch == AIR] = 1
        self.on_batter = np.clip(p.batter_share, 0.0, 1.0)
        self.order = p.order

    def odds(self, heard: FloatArray, shift: float | FloatArray) -> FloatArray:
        """Log density (lines, partials) of each line as each partial."""
        off = (heard[:, None] - self.computed - shift) / self.sd
        out: FloatArray = -0.5 * off**2 - np.log(self.sd * math.sqrt(2.0 * math.pi)) + self.rest
        return out

    def best(self, heard: FloatArray) -> tuple[float, float, FloatArray]:
        """The shift of the whole under which most is explained, how well, and of each partial."""
        shifts = np.arange(-SHIFT_CENTS, SHIFT_CENTS + 1.0, SHIFT_STEP)
        scores = []
        for shift in shifts.tolist():
            best = np.maximum(self.odds(heard, shift).max(axis=1), self.stray)
            scores.append(float(best.sum()) - 0.5 * (shift / SHIFT_SD) ** 2)
        at = int(np.argmax(scores))
        apart = self._apart(heard, float(shifts[at]))
        odds = self.odds(heard, apart)
        best = np.maximum(odds.max(axis=1), self.stray)
        score = float(best.sum()) - 0.5 * (shifts[at] / SHIFT_SD) ** 2
        return float(shifts[at]), score, apart

    def _apart(self, heard: FloatArray, shift: float) -> FloatArray:
        """The shift of each partial where the heads stand off their plan each by its own interval:
        by the lines that are told, taken again and again by what they are then."""
        rows = np.column_stack((self.on_batter, 1.0 - self.on_batter))
        off = np.zeros(2)
        for _ in range(ROUNDS):
            moved = shift + rows @ off
            chance = np.exp(self.odds(heard, moved) - self.stray)
            share = chance / (1.0 + chance.sum(axis=1, keepdims=True))
            weight = share / self.sd**2
            seen = heard[:, None] - self.computed - shift
            square = np.einsum("lp,pi,pj->ij", weight, rows, rows)
            right = np.einsum("lp,lp,pi->i", weight, seen, rows)
            off = np.linalg.solve(square + np.eye(2) / APART_SD**2, right)
        out: FloatArray = shift + rows @ off
        return out

    def laid(self, shift: float, moved: FloatArray, beyond: float) -> Laid:
        """All of it for the drum as it stands where each partial has moved."""
        return Laid(
            odds=self.odds(self.heard, moved) - self.stray,
            off=self.heard[:, None] - self.computed - moved,
            sd=self.sd,
            level_off_db=self.level_off,
            ring_off=self.ring_off,
            heard=self.heard,
            computed=self.computed,
            level_db=self.level_db,
            ring=self.ring,
            half_cents=self.half_cents,
            computed_db=self.computed_db,
            order=self.order,
            room=self.room,
            on_batter=self.on_batter,
            fundamental=self.fundamental,
            shift=shift,
            beyond=beyond,
        )


def _thrown(rng: np.random.Generator, count: int) -> FloatArray:
    """Shifts of 60 to 200 cents either way."""
    size = rng.uniform(60.0, 200.0, count)
    return np.asarray(size * rng.choice([-1.0, 1.0], count))


def paired(laid: Laid) -> list[tuple[int, int]]:
    """Lines and what they are likely to be, the surest first; a partial takes no more than it has
    room for."""
    chance = np.exp(laid.odds)
    share = chance / (1.0 + chance.sum(axis=1, keepdims=True))
    left = laid.room.copy()
    pairs: list[tuple[int, int]] = []
    taken: BoolArray = np.zeros(len(share), dtype=bool)
    for flat in np.argsort(share, axis=None)[::-1].tolist():
        line, partial = divmod(flat, share.shape[1])
        if share[line, partial] < LIKELY:
            break
        if not taken[line] and left[partial] > 0:
            taken[line] = True
            pairs.append((line, partial))
            left[partial] -= 1
    return pairs


def _given(laid: Laid) -> list[tuple[int | None, float]]:
    """Each line its partial, or none, and how likely that is: only what is to be trusted."""
    none = 1.0 / (1.0 + np.exp(laid.odds).sum(axis=1))
    out: list[tuple[int | None, float]] = [(None, share) for share in none.tolist()]
    pairs = paired(laid)
    if pairs:
        for (line, partial), share in zip(
            pairs, trust(evidence(laid, pairs)).tolist(), strict=True
        ):
            if share >= SURE:
                out[line] = (partial, share)
    return out


def _told(line: StrokeLine, prediction: Prediction, partial: int | None, chance: float) -> Match:
    if partial is None:
        return Match(None, chance, math.nan, math.nan)
    p = prediction.partials
    return Match(
        partial,
        chance,
        cents_between(float(p.frequency_hz[partial]), line.hz),
        line.t60_s - float(p.t60_s[partial]),
    )
