"""All settings a drum of a set may be given, and what each costs by itself (theory section 27)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.arrays import FloatArray, IndexArray, kept_property
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import TOUCHES
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.sets.model.chords import cents_of
from kesselton.core.sets.model.curve import Curve, Settings, drum_curves, present_interval
from kesselton.core.sets.model.kit import Member, Wish, offered

OUTSIDE = 3.0
"""Cost of a half step outside the band in which a drum speaks. All costs are assumed; they rank."""
OFF_MIDDLE = 0.6
"""At the end of the band, where the music asks for another place in it."""
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
WANTED_IN_BAND = {"sparse": 0.35, "medium": 0.5, "busy": 0.65}
"""Where in its band a drum is wanted: dense playing wants higher (common practice; assumed)."""
LOUDEST = 5
"""Partials of each drum between which clashes are looked for."""
NOTE_STEP = 10.0
"""Cents between the notes of a curve that are looked at."""
NEAREST_M = 0.05
SAME_CENTS = 2.0


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


def counts(curves: Sequence[Curve]) -> list[int]:
    """How many notes of each curve are looked at."""
    return [int((c.borne[1] - first_note(c)) / NOTE_STEP) + 1 for c in curves]


def first_note(curve: Curve) -> float:
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
    if not any(same(curve.interval_cents, present) for curve in curves):
        raise InputError(
            _("{name!r} cannot be planned: at its interval the heads have no usable pitch.").format(
                name=drum.name
            ),
            _("Check its heads in Tuning."),
        )
    now = next(c for c in curves if same(c.interval_cents, present))
    batter = lug_pitch(drum, "batter", tensions(drum))
    if member.seat.apart:  # its batter head by feel, as it is; the other head may be moved
        parts = [curve.at(np.array([_note_of(curve, batter)])) for curve in curves]
    else:
        parts = [
            curve.at(first_note(curve) + NOTE_STEP * np.arange(count, dtype=np.float64))
            for curve, count in zip(curves, counts(curves), strict=True)
        ]
    settings = Settings.joined([*parts, now.at(np.array([_note_of(now, batter)]))])
    place = len(settings) - 1
    cost = _own_cost(member, wish, curves, settings, place, a4_hz)
    return Choice(member, curves, settings, place, cost)


def _note_of(curve: Curve, batter_hz: float) -> float:
    """The note a drum sounds when its batter head is at a lug pitch."""
    here = float(np.interp(math.log(batter_hz), np.log(curve.pitches_hz[:, 0]), curve.notes))
    for _unused in range(4):
        off = math.log(batter_hz / float(curve.at(np.array([here])).pitches_hz[0, 0]))
        here += off * CENTS_PER_OCTAVE / math.log(2.0)
    return here


def same(value: float, other: float) -> bool:
    return (math.isnan(value) and math.isnan(other)) or abs(value - other) < 0.01


def _own_cost(
    member: Member,
    wish: Wish,
    curves: Sequence[Curve],
    settings: Settings,
    now: int,
    a4_hz: float,
) -> FloatArray:
    notes, cost = settings.notes, np.zeros(len(settings))
    for curve in curves:
        mine = np.array([same(float(x), curve.interval_cents) for x in settings.interval_cents])
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
    return cost


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


def talk_db(
    first: Choice, second: Choice, a: IndexArray, b: IndexArray, distance_m: float
) -> FloatArray:
    """Level of the louder of the two answers a stroke on one gets from the other, dB over the
    stroke, (a, b): every motion driven by every line, by how near they lie (theory eq. 96)."""
    lines, other = first.lines, second.lines
    gap = lines.omega[a][:, None, :, None] - other.omega[b][None, :, None, :]
    width = lines.rate[a][:, None, :, None] + other.rate[b][None, :, None, :]
    near = 1.0 / (gap**2 + width**2)
    # S^2 p^2 / 8 with S^2 = 4 pi c 2 d / (rho w^2), p^2 = 2 rho c W / (4 pi r^2)
    c = first.member.drum.air.sound_speed_m_per_s
    scale = 0.25 * (c / max(distance_m, NEAREST_M)) ** 2
    there = np.einsum("ai,abij,bj->ab", lines.sent[a], near, other.takes[b])
    back = np.einsum("bj,abij,ai->ab", other.sent[b], near, lines.takes[a])
    out: FloatArray = 10.0 * np.log10(np.maximum(scale * np.maximum(there, back), 1e-9))
    return out
