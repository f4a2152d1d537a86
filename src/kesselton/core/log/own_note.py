"""A drum's own fundamental and ring: what its log says the model is off by, on this drum.

What nobody stated about a drum (film mass, edge, air, recoil) is off by the same from one entry to
the next, as the mode shapes say how much at each setting; what was read anew is off anew. So a few
strokes narrow the first and never the second (theory 82).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.arrays import FloatArray
from kesselton.core.constants import SIDES, SIGMAS_90
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.shell import Shell
from kesselton.core.log.offset import evidence, offset_words
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import Prediction, heard
from kesselton.core.prediction.uncertainty import decay_error, error_terms

RING_SCATTER = 0.15
"""The same of a ring, natural logarithm: one drum's T60 differs by up to 1.4 with the place struck
(recordings of model-2, section 11)."""
ODD = 0.5
"""An entry that is more likely wrong than not is named."""
CHANGED, EACH_SIDE, MOST_LOOKED_AT = 3.0, 2, 24
"""Log odds from which it is asked whether something changed, entries before and after, and newest
entries that are looked at."""
CHANGE_CENTS = 30.0
"""What a head of another kind, or work on the shell, moves the note at the same lug pitches, one
standard deviation: a ply 10 to 40 cents, an inch of depth 15 to 26; assumed."""
OF_A_HEAD = ("film", "plies")
READ_ANEW = ("pull",)


@dataclass(frozen=True)
class Computed:
    """What the model says of a drum as it is set, and what that may be off by.

    Attributes
    ----------
    hz : fundamental
    terms : cents at the 90 % half-width of each thing nobody stated, by `error_terms`
    t60_s, t60_error : of the fundamental, with its factor (theory eq. 27)
    """

    hz: float
    terms: tuple[tuple[str, float], ...]
    t60_s: float
    t60_error: float

    @property
    def half_cents(self) -> float:
        """Half-width before anything is learned."""
        return math.hypot(*(cents for _, cents in self.terms))

    @property
    def read_anew(self) -> float:
        """The part of it that no entry can narrow."""
        return math.hypot(*(cents for name, cents in self.terms if _kind(name) in READ_ANEW))


def computed(drum: Drum, stroke: Stroke | None = None) -> Computed:
    """Solve what is needed of a drum: its fundamental.

    Raises
    ------
    InputError, ConvergenceError
        If a setting asks for the impossible or a mode was not found.
    """
    blow = stroke or Stroke(beater=TYPICAL_BEATER[drum.kind])
    modes, _ = heard(drum, partials(drum, tensions(drum), lowest=4), blow)
    terms = {name: float(of[modes.fundamental]) for name, of in error_terms(drum, modes).items()}
    at = modes.fundamental
    ring, error = float(modes.t60_s[at]), float(decay_error(modes)[at])
    return Computed(float(modes.frequency_hz[at]), tuple(terms.items()), ring, error)


def computed_of(prediction: Prediction) -> Computed:
    """The same from what was solved for the screen."""
    at = prediction.partials.fundamental
    terms = error_terms(prediction.drum, prediction.partials)
    return Computed(
        prediction.fundamental_hz,
        tuple((name, float(of[at])) for name, of in terms.items()),
        float(prediction.partials.t60_s[at]),
        float(prediction.t60_error[at]),
    )


def computed_then(kept: Kept) -> Computed:
    """What the model says today of a drum as it was kept.

    Raises
    ------
    InputError, ConvergenceError
        As `computed`.
    """
    beater = kept.beater or TYPICAL_BEATER[kept.drum.kind]
    return computed(kept.drum, Stroke(kept.place, beater, kept.touch))


@dataclass(frozen=True)
class Point:
    """One entry as the learner sees it.

    Attributes
    ----------
    on : when it was kept
    cents, half_cents : heard above computed, and the doubt of what was heard
    ring : natural logarithm of heard over computed T60; None where none was heard
    heads : which specimen of head lay on batter and resonant side, counted from the first
    """

    on: str
    cents: float
    half_cents: float
    ring: float | None
    heads: tuple[int, ...]
    computed: Computed


@dataclass(frozen=True)
class Own:
    """What a drum's own log says it stands off the model, at one setting.

    Attributes
    ----------
    points : entries it comes from
    cents, half_cents : its own offset, nine times in ten
    total_cents : half-width of the fundamental with it: what is read anew comes on top
    before_cents : the same half-width before anything was learned
    ring, ring_half : factor on the model's T60, and the half-width of its logarithm; None where no
        ring was heard
    ring_count : entries the ring comes from
    odd : entries that do not fit the others
    changed : the entry from which on the drum sounds as if a head were of another kind, or the
        shell another, and by how many cents; None where nothing says so
    """

    points: tuple[Point, ...]
    cents: float
    half_cents: float
    total_cents: float
    before_cents: float
    ring: float | None
    ring_half: float
    ring_count: int
    odd: tuple[Point, ...]
    changed: tuple[str, float] | None = None

    @property
    def count(self) -> int:
        """Entries it comes from."""
        return len(self.points)


def specimens(log: Sequence[Kept]) -> list[tuple[Kept, dict[str, int]]]:
    """Entries, oldest first, and which heads lay on the drum then, per side: a head that was fitted
    is another specimen, of its kind or of another."""
    out: list[tuple[Kept, dict[str, int]]] = []
    heads: dict[str, Head] = {}
    numbers, last = dict.fromkeys(SIDES, 0), 0
    for entry in sorted(log, key=lambda kept: kept.on):
        for side in entry.drum.sides:
            head = entry.drum.setting(side).head
            fitted = entry.event == "fitted" and entry.side in ("", side)
            if fitted or heads.get(side, head) != head:
                last += 1
                numbers[side] = last
            heads[side] = head
        out.append((entry, dict(numbers)))
    return out


def specimens_now(log: Sequence[Kept], drum: Drum) -> dict[str, int]:
    """Which specimens lie on the drum now: those of the last entry, or new ones."""
    if not log:
        return dict.fromkeys(SIDES, 0)
    last = max(log, key=lambda kept: kept.on)
    now = replace(last, drum=drum, event="set", side="", on="9999-12-31")
    return specimens([*log, now])[-1][1]


def of_this_drum(log: Sequence[Kept], drum: Drum) -> list[tuple[Kept, tuple[int, ...]]]:
    """Entries that speak of the drum as it is built now, and which heads lay on it.

    Another shell, edge or mount begins anew, and so does a mended one.
    """
    out: list[tuple[Kept, tuple[int, ...]]] = []
    for entry, numbers in specimens(log):
        if entry.event == "mended":
            out.clear()
        if entry.left_out or entry.heard_hz is None or entry.drum.kind != drum.kind:
            continue
        if _acoustic(entry.drum.shell) == _acoustic(drum.shell):
            out.append((entry, tuple(numbers[side] for side in entry.drum.sides)))
    return out


def heads_now(log: Sequence[Kept], drum: Drum) -> tuple[int, ...]:
    """Which specimens lie on the heads of the drum now."""
    numbers = specimens_now(log, drum)
    return tuple(numbers[side] for side in drum.sides)


def _acoustic(shell: Shell) -> Shell:
    """What of a shell changes what it sounds like."""
    return replace(shell, rod_thread="no12_24", lugs=None, shell_note_hz=None)


def point(kept: Kept, heads: tuple[int, ...], then: Computed) -> Point:
    """An entry with a stroke, as the learner sees it."""
    assert kept.heard_hz is not None
    line = kept.note_line
    ring = None if line is None else math.log(line.t60_s / then.t60_s)
    cents = cents_between(then.hz, kept.heard_hz)
    return Point(kept.on, cents, kept.heard_half_cents, ring, heads, then)


def own_note(points: Sequence[Point], now: Computed, heads: tuple[int, ...]) -> Own | None:
    """What the entries say of the drum as it is set now; None where there are none.

    Parameters
    ----------
    now, heads : the setting that is asked about, and which specimens lie on it

    Notes
    -----
    Theory 82: the unstated are normal with the model's own budget, known by how much they move
    each entry; entries scatter by what they show, and one or two may be wrong.
    """
    if not points:
        return None
    rows = _rows([*points, Point("", 0.0, 0.0, None, heads, now)])
    seen = np.array([observed.cents for observed in points])
    offset = offset_words(rows[:-1], rows[-1], seen, _read_sd(points))
    odd = tuple(
        observed
        for observed, chance in zip(points, offset.wrong.tolist(), strict=True)
        if chance > ODD
    )
    kept = [observed for observed in points if observed not in odd] or list(points)
    ring, ring_half, rings = _ring(kept, now)
    total = math.hypot(offset.half_cents, now.read_anew, SIGMAS_90 * offset.scatter_cents)
    return Own(
        tuple(kept), offset.cents, offset.half_cents, total, now.half_cents, ring, ring_half, rings,
        odd if len(kept) < len(points) else (), _changed(kept),
    )  # fmt: skip


def _changed(points: Sequence[Point]) -> tuple[str, float] | None:
    """From which entry on the drum sounds as if it were another, where that explains far more."""
    results = sorted(points, key=lambda item: item.on)[-MOST_LOOKED_AT:]
    if len(results) < 2 * EACH_SIDE:
        return None
    seen = np.array([observed.cents for observed in results])
    read_sd = _read_sd(results)
    rows = _rows(results)
    together = evidence(rows, seen, read_sd)
    best, at = CHANGED, None
    for place in range(EACH_SIDE, len(results) - EACH_SIDE + 1):
        since = np.where(np.arange(len(results)) < place, 0.0, CHANGE_CENTS)
        gained = evidence(np.column_stack((rows, since)), seen, read_sd) - together
        if gained > best:
            best, at = gained, place
    if at is None:
        return None
    return results[at].on, float(np.mean(seen[at:]) - np.mean(seen[:at]))


def _kind(name: str) -> str:
    return name.partition(" ")[0]


def _rows(points: Sequence[Point]) -> FloatArray:
    """What each unknown that stays does to each entry, cents per standard deviation: (N, U)."""
    columns: dict[tuple[str, int], int] = {}
    entries: list[tuple[int, int, float]] = []
    for row, observed in enumerate(points):
        for name, cents in observed.computed.terms:
            if _kind(name) in READ_ANEW:
                continue
            specimen = -1
            if _kind(name) in OF_A_HEAD:
                specimen = observed.heads[0 if name.endswith("batter") else -1]
            column = columns.setdefault((name, specimen), len(columns))
            entries.append((row, column, cents / SIGMAS_90))
    out = np.zeros((len(points), len(columns)))
    for row, column, cents in entries:
        out[row, column] = cents
    return out


def _read_sd(points: Sequence[Point]) -> FloatArray:
    """What is off anew in each entry by what was read, cents, one standard deviation."""
    read = [
        math.hypot(observed.computed.read_anew, observed.half_cents) / SIGMAS_90
        for observed in points
    ]
    return np.array(read)


def _ring(points: Sequence[Point], now: Computed) -> tuple[float | None, float, int]:
    """One factor on the losses of a drum."""
    results = [observed.ring for observed in points if observed.ring is not None]
    if not results:
        return None, 0.0, 0
    prior = math.log1p(now.t60_error) / SIGMAS_90
    weight = 1.0 / prior**2 + len(results) / RING_SCATTER**2
    mean = sum(results) / RING_SCATTER**2 / weight
    return math.exp(mean), SIGMAS_90 / math.sqrt(weight), len(results)
