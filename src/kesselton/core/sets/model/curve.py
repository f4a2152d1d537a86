"""One drum of a set over all the notes it can be given: heads, partials, bands (theory eq. 95)."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.arrays import FloatArray, kept, kept_property
from kesselton.core.errors import ConvergenceError
from kesselton.core.heads.curves import head_curves
from kesselton.core.heads.measures import HEARD_FROM, fundamental_index
from kesselton.core.heads.solved_pairs import SolvedPairs, Wishes, solve_pairs
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.speaks import OUTLASTS, choked_s, starts_cents
from kesselton.core.prediction.stroke import LISTENING_S, pulse_of
from kesselton.core.prediction.usable import tension_limits
from kesselton.core.sets.model.chords import cents_of

POINTS = 9
"""Settings solved from one end of what can be borne to the other; with 17 notes move by less than
a cent."""
GLIDES_AT = (1, 3, 6)
"""Of those, where glide by touch is worked out in full."""
LINES = 10
"""The loudest partials kept, of those solved."""
NOT_BORNE = math.log(0.98)


@dataclass(frozen=True, eq=False)
class Curve:
    """A drum whose heads stay so far apart, from the lowest note it bears to the highest.

    Attributes
    ----------
    interval_cents : resonant over batter lug pitch, nan for a drum open below
    notes : (K,) ascending, whole-drum note in cents over C1
    pitches_hz, tensions_n_per_m : (K, heads)
    hz, rate, share, energy_j : (K, P) of each partial: frequency, decay in neper a second, share of
        the decay that is sound, energy a stroke leaves in it
    note_t60_s : (K,)
    speaks : (K,) positive where the drum speaks, as a logarithm
    """

    interval_cents: float
    notes: FloatArray
    pitches_hz: FloatArray
    tensions_n_per_m: FloatArray
    hz: FloatArray
    rate: FloatArray
    share: FloatArray
    energy_j: FloatArray
    note_t60_s: FloatArray
    speaks: FloatArray

    @property
    def borne(self) -> tuple[float, float]:
        """Lowest and highest note the heads, rods and hoops bear, cents over C1."""
        return float(self.notes[0]), float(self.notes[-1])

    @kept_property
    def band(self) -> tuple[float, float] | None:
        """Where the drum speaks, cents over C1; None if nowhere."""
        fine = np.linspace(self.notes[0], self.notes[-1], 400)
        good = fine[_between(self.notes, self.speaks)(fine) >= 0.0]
        return (float(good[0]), float(good[-1])) if len(good) else None

    def at(self, notes: FloatArray) -> Settings:
        """What the drum does at notes (N,), which have to lie within what is borne."""
        notes = np.clip(notes, *self.borne)
        smooth, lines = (pieces(notes) for pieces in self._pieces)
        pitches, pulls = np.split(smooth, 2, axis=1)
        hz, rate, energy, share = np.split(lines, 4, axis=1)
        apart = np.full(len(notes), self.interval_cents)
        return Settings(
            apart, notes, np.exp(pitches), np.exp(pulls), np.exp(hz), np.exp(rate), share,
            np.exp(energy),
        )  # fmt: skip

    @kept_property
    def _pieces(self) -> tuple[Callable[[FloatArray], FloatArray], ...]:
        """Everything over the note: what the heads are set to, which is smooth, and the partials,
        which may bend where two of them meet."""
        from scipy.interpolate import CubicSpline

        heads = np.log(np.concatenate([self.pitches_hz, self.tensions_n_per_m], axis=1))
        logs = map(np.log, (self.hz, self.rate, self.energy_j))
        lines = np.concatenate([*logs, self.share], axis=1)
        return CubicSpline(self.notes, heads), _between(self.notes, lines)


@dataclass(frozen=True, eq=False)
class Settings:
    """N settings of one drum: the fields of `Curve`, one row for each."""

    interval_cents: FloatArray
    notes: FloatArray
    pitches_hz: FloatArray
    tensions_n_per_m: FloatArray
    hz: FloatArray
    rate: FloatArray
    share: FloatArray
    energy_j: FloatArray

    def __len__(self) -> int:
        return len(self.notes)

    @property
    def sounding_j(self) -> FloatArray:
        """(N, P) energy given off as sound in the first 0.2 s."""
        out: FloatArray = -np.expm1(-2.0 * self.rate * LISTENING_S) * self.share * self.energy_j
        return out

    @staticmethod
    def joined(parts: Sequence[Settings]) -> Settings:
        """All of them, one after the other."""
        names = Settings.__dataclass_fields__
        return Settings(*(np.concatenate([getattr(part, n) for part in parts]) for n in names))


def _between(x: FloatArray, y: FloatArray) -> Callable[[FloatArray], FloatArray]:
    """Values (N, ...) of y (K, ...) between the points solved: cubic pieces whose slopes never
    overshoot (Fritsch and Carlson, SIAM J. Numer. Anal. 17 (1980) 238)."""
    from scipy.interpolate import PchipInterpolator

    values: Callable[[FloatArray], FloatArray] = PchipInterpolator(x, y, axis=0)
    return values


def present_interval(drum: Drum) -> float:
    """Cents of the resonant over the batter head as it is set; nan for a drum open below."""
    if drum.resonant is None:
        return math.nan
    pair = tensions(drum)
    return cents_between(*(lug_pitch(drum, side, pair) for side in drum.sides))


@kept(48)
def drum_curves(
    drum: Drum, intervals: tuple[float, ...], touch: float = 1.0, a4_hz: float = 440.0
) -> tuple[Curve, ...]:
    """A drum at each of some intervals between its heads, over all notes it bears.

    Parameters
    ----------
    intervals : cents of the resonant over the batter lug pitch; one, nan, for a drum open below
    touch : impulse of the strokes against a medium one

    Raises
    ------
    ConvergenceError
        If a setting was not solved.

    Notes
    -----
    Theory eq. 95. All settings of a drum are solved at once, by the orders and with the accuracy of
    the search for heads (section 10): the note within 1.5 cents of the whole solution, three nodal
    diameters, muffling left out. An interval no note of which is borne gives no curve.
    """
    stroke = Stroke(beater=TYPICAL_BEATER[drum.kind], touch=touch)
    heads = [drum.setting(side).head for side in drum.sides]
    unlike = list(dict.fromkeys(heads))
    curves = head_curves(drum, unlike)
    place = np.array([unlike.index(head) for head in heads], dtype=np.intp)
    limits = [
        tension_limits(head, drum.shell, drum.kind, side, stroke)
        for head, side in zip(heads, drum.sides, strict=True)
    ]
    low = curves.pitch(place, np.array([limit.lowest.tension_n_per_m for limit in limits]))
    high = curves.pitch(place, np.array([limit.highest.tension_n_per_m for limit in limits]))
    high = np.minimum(high, curves.high[place])  # above it the air across the shell sounds
    spans, borne = [], []
    for cents in intervals:
        ratio = np.array([1.0, 2.0 ** (cents / const.CENTS_PER_OCTAVE)][: len(heads)])
        bottom, top = float((low / ratio).max()), float((high / ratio).min())
        if math.log(bottom / top) < NOT_BORNE:
            spans.append(np.geomspace(bottom, top, POINTS))
            borne.append(cents)
    if not borne:
        return ()
    count = len(borne) * POINTS
    nothing = np.full(count, np.nan)
    wishes = Wishes(
        np.zeros(count, dtype=int),
        np.zeros(count, dtype=int) if len(heads) > 1 else np.full(count, -1),
        np.repeat(borne, POINTS),
        nothing,
        nothing,
        np.concatenate(spans),
    )
    batters, resonants = heads[:1], heads[1:]
    out: list[Curve] = []
    solved = {}
    for rows, part in solve_pairs(drum, batters, resonants, wishes, curves):
        for local, row in enumerate(rows.tolist()):
            solved[row] = (part, local)
    looked = []
    for k in GLIDES_AT:
        part, local = solved[k + len(borne) // 2 * POINTS]
        looked.append(tuple(part.tensions_n_per_m[local].tolist()))
    log_glide = _log_glide(drum, looked, stroke, a4_hz)
    for number, cents in enumerate(borne):
        mine = [solved[number * POINTS + k] for k in range(POINTS)]
        out.append(_curve(drum, float(cents), mine, log_glide, stroke, a4_hz))
    return tuple(out)


def _curve(
    drum: Drum,
    cents: float,
    rows: list[tuple[SolvedPairs, int]],
    log_glide: Callable[[FloatArray], FloatArray],
    stroke: Stroke,
    a4_hz: float,
) -> Curve:
    part = rows[0][0]
    places = np.array([local for _unused, local in rows], dtype=np.intp)
    if any(pairs is not part for pairs, _unused in rows):
        raise ConvergenceError(_("One drum’s settings were not solved together."))
    if not part.settled[places].all():
        raise ConvergenceError(
            _("Some settings of {name!r} were not solved.").format(name=drum.name),
            _("Check its heads and size."),
        )
    hz, rate = part.frequency_hz[places], part.omega.imag[places]
    lowest = fundamental_index(part)[places]
    at = np.arange(len(places))
    pulse = pulse_of(stroke, part.tensions_n_per_m[places, :1], drum.shell.radius_m)
    functions = part.on_batter.shape[2]
    where = np.array([stroke.place])
    basis = np.array([head_basis(int(m), functions).values(where)[0] for m in part.order])
    here = np.sum(part.on_batter[places] * basis, axis=2)
    push = stroke.impulse_ns * pulse.spectrum(part.omega.real[places])
    energy = np.abs(here * push) ** 2 / (2.0 * square_area(part.order, drum.shell.radius_m))
    heard = part.head_share[places] > HEARD_FROM
    energy = np.where(heard, energy, 0.0)
    share = part.radiated_share[places]
    loud = (-np.expm1(-2.0 * rate * LISTENING_S) * share * energy).sum(axis=0)
    best = np.sort(np.argsort(-loud, kind="stable")[:LINES])
    note_hz, note_t60 = hz[at, lowest], part.t60_s[places][at, lowest]
    notes = np.array([cents_of(item, a4_hz) for item in note_hz])
    if np.any(np.diff(notes) <= 0.0):
        raise ConvergenceError(
            _("The pitch of {name!r} does not rise with tension.").format(name=drum.name)
        )
    ones = (part.order == 1) & heard
    ones &= np.cumsum(ones, axis=1) <= 2  # those of the first circle, as `speaks.outlasting`
    overtone = np.where(ones, part.t60_s[places], 0.0).max(axis=1)
    return Curve(
        cents,
        notes,
        part.lug_pitches_hz[places],
        part.tensions_n_per_m[places],
        np.minimum(hz, 2e4)[:, best],
        np.clip(rate, 1e-3, 1e4)[:, best],
        share[:, best],
        np.maximum(energy, 1e-15)[:, best],
        note_t60,
        _speaks(drum, log_glide(notes), note_t60, overtone, stroke),
    )


def _speaks(
    drum: Drum, log_glide: FloatArray, note_s: FloatArray, overtone_s: FloatArray, stroke: Stroke
) -> FloatArray:
    """How far inside the band in which it speaks a drum is, by the tests of `prediction.speaks`."""
    start = math.log(starts_cents(drum.kind, stroke.touch))
    out = np.minimum(start - log_glide, np.log(note_s / choked_s(drum.kind)))
    least = OUTLASTS.get(drum.kind)
    if least is not None:
        lead = note_s / np.maximum(overtone_s, 1e-3)
        out = np.minimum(out, np.log(lead / (least * lead[0])))
    return np.asarray(out)


def _log_glide(
    drum: Drum, pairs: list[tuple[float, ...]], stroke: Stroke, a4_hz: float
) -> Callable[[FloatArray], FloatArray]:
    """Logarithm of the cents a stroke starts sharp, by note: whole solutions of a few settings, a
    parabola between them. It hangs on the note much more than on what lies between the heads."""
    notes, glides = [], []
    for pair in pairs:
        modes = partials(drum, pair, lowest=4)
        first = modes.fundamental
        notes.append(cents_of(float(modes.frequency_hz[first]), a4_hz))
        glides.append(math.log(max(float(glide_cents(modes, stroke)[first]), 1e-3)))
    terms = np.polyfit(notes, glides, len(notes) - 1)
    return lambda at: np.asarray(np.polyval(terms, at))
