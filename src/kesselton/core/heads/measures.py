"""What a player would notice of many solved pairs: ring, brightness, response, feel, reserve."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.acoustics.solver.fundamental import first_motion
from kesselton.core.arrays import FloatArray, IndexArray
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.heads.brief import TOUCHES, Brief
from kesselton.core.heads.curves import Curves
from kesselton.core.heads.solved_pairs import SolvedPairs
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.prediction.glide import glide_limit_n_per_m
from kesselton.core.prediction.speaks import LEAD, OUTLASTS, choked_s, starts_cents
from kesselton.core.prediction.stroke import LISTENING_S, ear_weight, pulse_of, stick_stiffness
from kesselton.core.prediction.usable import CREEP_SHARE, HeadRange, tension_limits

SOFT_IMPULSE_NS = 0.015
ATTACK_S = 0.03
HEARD_FROM = 0.15
"""Energy in the films above which a mode is one of the heads."""
BEAT_LOW_HZ, BEAT_HIGH_HZ = 0.7, 12.0
"""Beats slower than this are a swell, faster ones a roughness (Zwicker and Fastl, section 11, from
memory)."""
TYPICAL_PLY_M = 0.000254
WORN_BY_STRESS = 3.0
"""How much sooner a head at its creep limit is worn than a slack one; assumed."""
TYPICAL_SIDE_M, SIDE_LASTS = 0.0000762, 3.0
"""A 3 mil snare side, slack, outlasts the batter by so much; assumed."""
PLY_BONUS = 1.3
"""Two plies outlast one of the same mass; common practice, the factor is assumed."""
COATING_GAIN = 0.9
"""A coating wears where it is struck; common practice, the factor is assumed."""


@dataclass(frozen=True, eq=False)
class Measures:
    """One value per pair, all (C,) unless said.

    Attributes
    ----------
    fundamental_hz, fundamental_t60_s : of the lowest (0,1)
    ring_s : T60 of the partials weighted by the sound each gives: how long the stroke seems to last
    brightness_hz : centre of gravity of the sound in the first 0.2 s
    attack : share of the sound energy within the first 30 ms
    response_db : sound of the first 30 ms of a soft stroke as the ear weighs it, in dB over 1 nJ:
        how readily the drum speaks
    wires_db : velocity of a snare side from the same stroke, dB over 1 mm/s; nan on other drums
    beat_hz, beat_depth : strongest beat of two partials of one order, 0 if none; depth 0..1
    stiffness_n_per_m : of the batter head under the beater at rest
    stress_share : (C, sides) film stress over what the film bears without creeping on
    up_cents, down_cents : (C, sides) from the lug pitch to the limits of the usable range
    speaks : (C,) 0 where the drum speaks at that setting, else how far it is from it, a negative
        logarithm: by glide, by overtones that outlast the note, or choked
    like_cents, like_length : (C,) how far overtones lie from those of the stroke that is wanted, as
        intervals over the note, and the logarithm by which their T60 differ; nan without one
    like_brightness_hz : (C,) that of the stroke, of its lines as far up as the search knows all
    wear : expected life of the batter head, of a snare drum of whichever goes first, against a
        single 10 mil head under a medium touch
    """

    fundamental_hz: FloatArray
    fundamental_t60_s: FloatArray
    ring_s: FloatArray
    brightness_hz: FloatArray
    attack: FloatArray
    response_db: FloatArray
    wires_db: FloatArray
    beat_hz: FloatArray
    beat_depth: FloatArray
    stiffness_n_per_m: FloatArray
    stress_share: FloatArray
    up_cents: FloatArray
    down_cents: FloatArray
    wear: FloatArray
    speaks: FloatArray
    like_cents: FloatArray
    like_length: FloatArray
    like_brightness_hz: FloatArray


def measure_pairs(
    drum: Drum,
    solved: SolvedPairs,
    heads: list[tuple[Head, ...]],
    brief: Brief,
    ranges: list[tuple[HeadRange, ...]],
) -> Measures:
    """Measures of solved pairs.

    Parameters
    ----------
    heads : (C) the heads of each pair, batter first
    ranges : (C) their usable ranges with pitches, in the same order
    """
    beater = BEATERS[brief.beater]
    stroke = brief.stroke
    freq, t60 = solved.frequency_hz, solved.t60_s
    decay = solved.omega.imag
    functions = solved.on_batter.shape[2]
    place = np.array([stroke.place])
    basis = np.array([head_basis(int(m), functions).values(place)[0] for m in solved.order])
    here = np.sum(solved.on_batter * basis, axis=2)
    pulse = pulse_of(stroke, solved.tensions_n_per_m[:, :1], drum.shell.radius_m)
    spectrum = pulse.spectrum(solved.omega.real)
    modal = square_area(solved.order, drum.shell.radius_m)
    # energy in joule a stroke of 1 N s leaves in each partial (theory eq. 17)
    energy = np.abs(here * spectrum) ** 2 / (2.0 * modal)
    heard = solved.head_share > HEARD_FROM
    gone = -np.expm1(-2.0 * decay * LISTENING_S)
    sound = np.where(heard, solved.radiated_share * gone * energy, 0.0)
    total = np.maximum(sound.sum(axis=1), 1e-30)
    early = np.where(
        heard, solved.radiated_share * -np.expm1(-2.0 * decay * ATTACK_S) * energy, 0.0
    )
    spoken = early * ear_weight(freq)
    whole = np.where(heard, solved.radiated_share * energy, 0.0).sum(axis=1)
    lowest = fundamental_index(solved)
    rows = np.arange(len(freq))
    beat_hz, beat_depth = _beats(solved, np.where(heard, np.sqrt(sound), 0.0))
    thickness = np.array([[h.film_thickness_m for h in pair] for pair in heads])
    bearable = CREEP_SHARE * np.array(
        [[h.substance.yield_pa.value for h in pair] for pair in heads]
    )
    stress = solved.tensions_n_per_m / thickness / bearable
    pitch = solved.lug_pitches_hz
    high = np.array([[r.highest_pitch_hz for r in pair] for pair in ranges])
    low = np.array([[r.lowest_pitch_hz for r in pair] for pair in ranges])
    wear = _wear(heads, stress, brief, drum.kind == "snare")
    return Measures(
        freq[rows, lowest],
        t60[rows, lowest],
        np.sum(np.where(heard, sound * t60, 0.0), axis=1) / total,
        np.sum(np.where(heard, sound * freq, 0.0), axis=1) / total,
        early.sum(axis=1) / np.maximum(whole, 1e-30),
        10.0 * np.log10(np.maximum(spoken.sum(axis=1), 1e-30) * SOFT_IMPULSE_NS**2 / 1e-9),
        _wires(solved, here * spectrum / modal, drum.kind == "snare"),
        beat_hz,
        beat_depth,
        stick_stiffness(solved.tensions_n_per_m[:, 0], drum.shell.radius_m, beater.radius_m),
        stress,
        CENTS_PER_NEPER * np.log(high / pitch),
        CENTS_PER_NEPER * np.log(pitch / low),
        wear,
        _speaks(drum, solved, heads, brief, lowest),
        *_like(solved, np.where(heard, sound, 0.0), freq[rows, lowest], brief),
    )


def _like(
    solved: SolvedPairs, sound: FloatArray, note: FloatArray, brief: Brief
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """How far overtones are from those of a stroke: each of its lines from the partial it can best
    be, by pitch and by level, weighted by how loud it is; as far up as the search knows all."""
    count, like = len(note), brief.like
    if like is None:
        nothing = np.full(count, np.nan)
        return nothing, nothing.copy(), nothing.copy()
    loudest = np.maximum(sound.max(axis=1, keepdims=True), 1e-30)
    level = 10.0 * np.log10(np.maximum(sound / loudest, 1e-9))
    cents = CENTS_PER_NEPER * np.log(solved.frequency_hz / note[:, None])
    off, long, weights = np.empty((3, len(like.lines), count))
    rows = np.arange(count)
    known = np.empty((len(like.lines), count))
    highest = cents[:, solved.order == solved.order.max()].max(axis=1)
    for place, line in enumerate(like.lines):
        up = CENTS_PER_NEPER * math.log(line.hz / like.fundamental_hz)
        known[place] = 10.0 ** (line.level_db / 10.0) * (up < highest + LIKE_CENTS)
        weights[place] = np.sqrt(known[place]) * (up > OVERTONE_CENTS)
        apart = cents - up
        cost = (apart / LIKE_CENTS) ** 2 + ((level - line.level_db) / LIKE_DB) ** 2
        best = np.argmin(cost, axis=1)
        off[place] = np.minimum(np.abs(apart[rows, best]), FARTHEST_CENTS)
        long[place] = np.abs(np.log(solved.t60_s[rows, best] / line.t60_s))
    share = weights / np.maximum(weights.sum(axis=0), 1e-30)
    length = np.sum(share * np.minimum(long, FARTHEST_LN), axis=0)
    hz = np.array([line.hz for line in like.lines])
    bright = (hz @ known) / np.maximum(known.sum(axis=0), 1e-30)
    return np.asarray(np.sum(share * off, axis=0)), np.asarray(length), np.asarray(bright)


OVERTONE_CENTS = 50.0
"""A line this far over the note is an overtone."""
LIKE_CENTS, LIKE_DB = 40.0, 9.0
FARTHEST_CENTS, FARTHEST_LN = 150.0, 2.0
"""A line that is nowhere counts as this far; assumed."""


def _speaks(
    drum: Drum,
    solved: SolvedPairs,
    heads: list[tuple[Head, ...]],
    brief: Brief,
    lowest: IndexArray,
) -> FloatArray:
    """How far each pair is from where its drum speaks, as `prediction.speaks` tests it."""
    rows = np.arange(len(lowest))
    note = solved.t60_s[rows, lowest]
    batters = [pair[0] for pair in heads]
    start = starts_cents(drum.kind, brief.stroke.touch)
    clear = {
        head: glide_limit_n_per_m(head, drum.shell, brief.stroke, start)
        for head in dict.fromkeys(batters)
    }
    out = np.log(solved.tensions_n_per_m[:, 0] / np.array([clear[head] for head in batters]))
    out = np.minimum(out, np.log(note / choked_s(drum.kind)))
    least = OUTLASTS.get(drum.kind)
    if least is not None:  # of open heads; rings damp note and overtones each in their own way
        ones = (solved.order == 1) & (solved.head_share > HEARD_FROM)
        overtone = np.where(ones, solved.t60_s, 0.0).max(axis=1)
        open_ = np.array(
            [not any(a.kind != "dot" for h in pair for a in h.additions) for pair in heads]
        )
        lead = np.log(note / np.maximum(overtone, 1e-3) / (least * LEAD))
        out = np.minimum(out, np.where(open_, lead, 0.0))
    worst: FloatArray = np.minimum(out, 0.0)
    return worst


def head_ranges(drum: Drum, curves: Curves, side: str) -> dict[Head, HeadRange]:
    """Usable ranges of all heads on one side, pitches from the curves."""
    limits = [tension_limits(head, drum.shell, drum.kind, side) for head in curves.heads]
    index = np.arange(len(limits))
    low, high = (
        curves.pitch(index, np.array([getattr(limit, end).tension_n_per_m for limit in limits]))
        for end in ("lowest", "highest")
    )
    return {
        head: HeadRange(side, head_range.lower, head_range.upper, float(low[i]), float(high[i]))
        for i, (head, head_range) in enumerate(zip(curves.heads, limits, strict=True))
    }


def fundamental_index(solved: SolvedPairs) -> IndexArray:
    """(C,) index of the lowest partial without nodal diameter that the heads carry."""
    fits = (solved.order == 0) & (solved.head_share > HEARD_FROM)
    return first_motion(solved.frequency_hz, solved.swing, fits)


def _wires(solved: SolvedPairs, amplitude: NDArray[np.complex128], snare: bool) -> FloatArray:
    """Root mean square velocity of the resonant head after a soft stroke, dB over 1 mm/s.

    Of every partial, the velocity that its share of the kinetic energy on that head means for its
    film mass; what lies in order 0 and 1 moves the wires, which cross the middle.
    """
    if not snare or solved.tensions_n_per_m.shape[1] < 2:
        return np.full(len(amplitude), np.nan)
    crossing = solved.order <= 1
    share = 1.0 - solved.batter_share
    speed2 = np.abs(amplitude) ** 2 * share * np.where(crossing, 1.0, 0.0)
    speed2 = speed2 / np.maximum(solved.resonant_kg_per_m2[:, None], 1e-9)
    rms = np.sqrt(np.maximum(speed2.sum(axis=1), 1e-30)) * SOFT_IMPULSE_NS
    out: FloatArray = 20.0 * np.log10(rms / 1e-3)
    return out


def _beats(solved: SolvedPairs, amplitude: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Beat rate and depth of the strongest beat among partials of one order, both (C,)."""
    count = len(amplitude)
    best, rate = np.zeros(count), np.zeros(count)
    loudest = np.maximum(amplitude.max(axis=1), 1e-30)
    for order in np.unique(solved.order):
        own = np.flatnonzero(solved.order == order)
        for i, j in itertools.pairwise(own):
            apart = solved.frequency_hz[:, j] - solved.frequency_hz[:, i]
            weak = np.minimum(amplitude[:, i], amplitude[:, j])
            strong = np.maximum(amplitude[:, i], amplitude[:, j])
            depth = weak / np.maximum(strong, 1e-30) * (strong / loudest)
            depth = np.where((apart > BEAT_LOW_HZ) & (apart < BEAT_HIGH_HZ), depth, 0.0)
            better = depth > best
            best[better], rate[better] = depth[better], apart[better]
    return rate, best


def _side_wear(sides: list[Head], stress_share: FloatArray) -> FloatArray:
    """Expected life of a head that is not struck: of a thin one under high stress shorter than that
    of the batter (common practice in direction, factors assumed)."""
    film = np.array([head.film_thickness_m / TYPICAL_SIDE_M for head in sides])
    strained = 1.0 + (WORN_BY_STRESS - 1.0) * np.clip(stress_share, 0.0, 1.5) ** 2
    out: FloatArray = SIDE_LASTS * film / strained
    return out


def _wear(
    heads: list[tuple[Head, ...]], stress: FloatArray, brief: Brief, snare: bool
) -> FloatArray:
    """Expected life of the head that goes first: on a snare drum it may be the one below."""
    struck = _batter_wear([pair[0] for pair in heads], stress[:, 0], brief)
    if not snare or stress.shape[1] < 2:
        return struck
    return np.minimum(struck, _side_wear([pair[1] for pair in heads], stress[:, 1]))


def _batter_wear(batters: list[Head], stress_share: FloatArray, brief: Brief) -> FloatArray:
    """Expected life of the batter head (common practice in direction, factors assumed)."""
    film = np.array([head.film_thickness_m / TYPICAL_PLY_M for head in batters])
    plies = np.array([PLY_BONUS if len(head.plies_m) > 1 else 1.0 for head in batters])
    coat = np.array([COATING_GAIN if head.coating_kg_per_m2 > 0 else 1.0 for head in batters])
    dots = np.array(
        [1.0 + sum(a.thickness_m / TYPICAL_PLY_M for a in head.additions if a.kind == "dot")
         for head in batters]
    )  # fmt: skip
    strained = 1.0 + (WORN_BY_STRESS - 1.0) * np.clip(stress_share, 0.0, 1.5) ** 2
    out: FloatArray = film * plies * coat * dots / strained / TOUCHES[brief.touch].value
    return out
