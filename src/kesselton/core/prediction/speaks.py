"""Where a drum speaks: within what can be borne, the narrower band in which its note is clear,
outlasts its overtones and does not choke (theory section 8)."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.lug import lug_pitch
from kesselton.core.acoustics.solver.partials import AIR, Partials, partials
from kesselton.core.errors import ConvergenceError, KesseltonError
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.usable import head_range

OUTLASTS = {"tom": 0.8, "bass": 0.8, "concert_bass": 0.9}
"""How much of its lead over its overtones a note may lose: the (0,1) rings longer than the longest
(1,1) when the heads are slack, by a quarter on open heads, and falls behind as they are drawn. Fits
where common practice puts toms and bass drums (12 in about 110 to 165 Hz, 22 in 40 to 60 Hz); a
snare is not tuned for its note, so it has no such end. Assumed."""
LEAD = 1.25
"""Of open heads, slack: theory section 8."""
CHOKED_S = {"snare": 0.2, "rope": 0.25, "bass": 0.9}
OTHERS_CHOKED_S = 0.3
"""T60 of the (0,1), nothing laid on the heads, under which a drum is choked by its shell's air and
its edge; of a pedal bass drum, under which no boom is left (between wrinkles and boom, common
practice). Assumed."""
STARTS_CENTS = {"bass": 300.0, "concert_bass": 160.0}
OTHERS_START_CENTS = 60.0
"""Glide of the stroke asked for above which a note is not clear from the start: a third of a
whole step, more in low drums, where a fall is part of the sound; assumed."""
STEPS = 9
CLOSE_LN = 0.004
"""Ends are found to so much, ln of tension: 3 cents."""


@dataclass(frozen=True)
class Shares:
    """How strict a technician is, as factors on what is assumed."""

    outlasts: float = 1.0
    glide: float = 1.0


@dataclass(frozen=True)
class End:
    """One end of the band: whole-drum note, lug pitch per head, and what makes it: "glide",
    "choked", "overtones" or "load"."""

    fundamental_hz: float
    lug_pitches_hz: tuple[float, ...]
    name: str
    label: str
    reason: str


@dataclass(frozen=True)
class Speaking:
    """Where a drum speaks, its heads moved together.

    Attributes
    ----------
    low, high : the ends, or None where it speaks nowhere
    never, code : why it speaks nowhere, and which of "no_tension", "not_computed", "overlap" or
        the name of an end that is; ""
    """

    low: End | None
    high: End | None
    never: str = ""
    code: str = ""


@dataclass(frozen=True)
class _Test:
    """One thing that must hold, as a logarithm that is positive where it does."""

    name: str
    label: str
    reason: str
    value: Callable[[Partials], float]


def speaking(
    drum: Drum, pair: tuple[float, ...], stroke: Stroke | None = None, shares: Shares | None = None
) -> Speaking:
    """The band in which a drum speaks when its heads are moved together from tensions `pair`.

    Raises
    ------
    ConvergenceError
        If a drum within the band that can be borne was not solved.
    """
    blow = stroke or Stroke(beater=TYPICAL_BEATER[drum.kind])
    spans = []
    for side, tension in zip(drum.sides, pair, strict=True):
        usable = head_range(drum, side, stroke=blow)
        low, high = usable.lowest.tension_n_per_m, usable.highest.tension_n_per_m
        spans.append((math.log(low / tension), math.log(high / tension)))
    bottom, top = max(s[0] for s in spans), min(s[1] for s in spans)
    if bottom >= top:
        return Speaking(None, None, _("no tension suits both heads at this interval"), "no_tension")
    known: dict[float, Partials] = {}

    def at(x: float) -> Partials:
        if x not in known:
            known[x] = partials(drum, tuple(t * math.exp(x) for t in pair), lowest=4)
        return known[x]

    tests = _tests(drum, blow, shares or Shares(), outlasting(at(bottom)))
    grid = np.linspace(bottom, top, STEPS).tolist()
    values = np.array([[test.value(at(x)) for x in grid] for test in tests])
    if not np.any(np.all(values >= 0.0, axis=0)):  # narrower than a step: looked at more closely
        best = int(np.argmax(values.min(axis=0)))
        low, high = grid[max(best - 1, 0)], grid[min(best + 1, STEPS - 1)]
        grid = np.linspace(low, high, STEPS).tolist()
        values = np.array([[test.value(at(x)) for x in grid] for test in tests])
    good = np.flatnonzero(np.all(values >= 0.0, axis=0))
    if not len(good):
        least = np.min(np.max(values, axis=1))
        worst = tests[int(np.argmin(np.max(values, axis=1)))]
        if least < 0.0:
            return Speaking(None, None, worst.reason, worst.name)
        return Speaking(None, None, _("the lower and upper limits overlap"), "overlap")
    ends = []
    for first, step, borne in ((int(good[0]), -1, bottom), (int(good[-1]), 1, top)):
        beyond = first + step
        if not 0 <= beyond < len(grid):  # the tests hold as far as it is borne
            ends.append(_end(drum, pair, borne, at(borne), "load", _(BORNE), _(BORNE_WHY)))
            continue
        inside, outside = grid[first], grid[beyond]
        while abs(outside - inside) > CLOSE_LN:
            middle = 0.5 * (inside + outside)
            fine = all(test.value(at(middle)) >= 0.0 for test in tests)
            inside, outside = (middle, outside) if fine else (inside, middle)
        broken = min(tests, key=lambda test: test.value(at(outside)))
        ends.append(_end(drum, pair, inside, at(inside), broken.name, broken.label, broken.reason))
    return Speaking(ends[0], ends[1])


BORNE, BORNE_WHY = (
    N_("load limit"),
    N_("past it heads, rods or hoops are overloaded or slack"),
)


def _end(drum: Drum, pair: tuple[float, ...], x: float, modes: Partials, *words: str) -> End:
    moved = tuple(t * math.exp(x) for t in pair)
    pitches = tuple(lug_pitch(drum, side, moved) for side in drum.sides)
    return End(float(modes.frequency_hz[modes.fundamental]), pitches, *words)


def starts_cents(kind: str, touch: float) -> float:
    """Glide with which a note still starts clear on a kind of drum: who strikes hard lets it fall
    further, in proportion (real hard strokes start 100 to 340 cents sharp; assumed)."""
    return STARTS_CENTS.get(kind, OTHERS_START_CENTS) * max(touch, 1.0)


def choked_s(kind: str) -> float:
    """T60 of the note under which that kind is choked."""
    return CHOKED_S.get(kind, OTHERS_CHOKED_S)


def _tests(drum: Drum, blow: Stroke, shares: Shares, lead: float) -> list[_Test]:
    """All of them; `lead` is T60 of the note over its overtones' where the heads are slack."""
    kind = drum.kind
    start, choked = shares.glide * starts_cents(kind, blow.touch), choked_s(kind)

    def glide(modes: Partials) -> float:
        return math.log(start / max(float(glide_cents(modes, blow)[modes.fundamental]), 1e-3))

    def ring(modes: Partials) -> float:
        return math.log(float(modes.t60_s[modes.fundamental]) / choked)

    tests = [
        _Test(
            "glide",
            _("glide"),
            _("below it the required stroke starts over {start:.0f} cents sharp").format(
                start=start
            ),
            glide,
        ),
        _Test(
            "choked",
            _("choked"),
            _("above it the fundamental decays within {choked:.2g} s").format(choked=choked),
            ring,
        ),
    ]
    if kind in OUTLASTS:
        least = min(shares.outlasts * OUTLASTS[kind], 1.0)

        def outlasts(modes: Partials) -> float:
            return math.log(outlasting(modes) / (least * lead))

        lost = 100.0 * (1.0 - least)
        words = _(
            "above it the fundamental loses {lost:.0f} % of its decay lead over the overtones"
        ).format(lost=lost)
        tests.append(_Test("overtones", _("overtones too long"), words, outlasts))
    return tests


def outlasting(modes: Partials) -> float:
    """T60 of the lowest (0,1) over the longest of the first two (1,1) of the heads.

    Raises
    ------
    ConvergenceError
        If no (1,1) was found.
    """
    ones = np.flatnonzero((modes.order == 1) & (modes.branch != AIR))[:2]
    if not len(ones):
        raise ConvergenceError(_("The overtones were not found."), _("Check the heads."))
    return float(modes.t60_s[modes.fundamental] / modes.t60_s[ones].max())


def speaking_or_why(
    drum: Drum, pair: tuple[float, ...], stroke: Stroke, shares: Shares
) -> Speaking:
    """The same; what could not be computed is said as such."""
    try:
        return speaking(drum, pair, stroke, shares)
    except KesseltonError as error:
        words = _("not computed: {one_line}").format(one_line=error.one_line())
        return Speaking(None, None, words, "not_computed")
