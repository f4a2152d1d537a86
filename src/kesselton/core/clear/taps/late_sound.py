"""What still sounds of a stroke or a tap after a while: its strong lines, where one of them comes
to rest, and how it dies (theory 109)."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray, IndexArray
from kesselton.core.constants import CENTS_PER_NEPER

LOWEST_HZ, HIGHEST_HZ, HIGH_HZ = 22.0, 600.0, 800.0
"""Where a note may be, and what is listened to."""
LONGEST_S = 1.6
LOOKS_S = ((0.30, 1.0), (0.12, 0.5), (0.06, 0.3))
"""When a stroke is looked at, the latest first: what is loud then is the note, and is at rest."""
STRONG_DB = 16.0
"""Under the loudest that still sounds; a note lies no lower (72 of 72 recorded toms)."""
STANDS_OUT_DB = 14.0
"""Over what lies around it."""
SATELLITE_CENTS, SATELLITE_DB = 260.0, 6.0
"""Weaker neighbours so near are sides of a line that dies or glides."""
HUM_HZ, HUM_OFF_HZ, HUM_FALLS_DB, HUM_OVERTONES = (50.0, 60.0), 0.7, 2.0, 8
HUM_SIDES_HZ, HUM_SIDES_DB = 30.0, 20.0
"""What a window makes of hum beside it."""
EARLY_S, FIRST_S, FIRST_FOR_S = 0.05, 0.02, 0.1
LATE_FROM_S, OVER_FLOOR_DB, DEEP_DB = 0.12, 6.0, 28.0
NARROW, WIDE = 6.5, 3.0
"""Filters about the note, in periods of it."""
LONGEST_T60_S, SHORTEST_T60_S = 12.0, 0.06
MOST_AWAY, MOST_SHARP = 1.2, 1.5
"""So far a line may come to rest from where it was seen, and begin sharp."""
LEAST_SAMPLES, SILENT = 8, 1e-12
INDEPENDENT = 10.0
"""Of what is told of a line at rest, so much is taken to be independent; assumed."""


class Look(NamedTuple):
    """A spectrum of a part of a stroke: its peaks, Hz and dB under the loudest one, how far each
    stands out, and how far it has fallen in the second half."""

    hz: FloatArray
    level_db: FloatArray
    out_db: FloatArray
    fallen_db: FloatArray


class Settled(NamedTuple):
    """A line once it has come to rest, and how well that is told (sd, Hz); how far it stands off
    that when heard late; 50 ms after the stroke; T60 of what rings on and of the first tenth of a
    second, NaN where not told."""

    hz: float
    sd_hz: float
    drift_cents: float
    early_hz: float
    t60_s: float
    first_t60_s: float


def rings_s(x: FloatArray, rate: float) -> float:
    """Seconds until a stroke is lost in what is there at its end."""
    block = max(int(0.03 * rate), 1)
    many = len(x) // block
    if many < 4:
        return len(x) / rate
    power = (x[: many * block] ** 2).reshape(many, block).mean(axis=1)
    floor = float(np.mean(power[-max(many // 8, 2) :]))
    over = np.flatnonzero(power > 1.5 * floor)
    last = int(over[-1]) + 2 if len(over) else many
    return min(last * block, len(x)) / rate


def look_at(x: FloatArray, rate: float, begin: float, end: float) -> Look:
    """A part of a sound (N,) that begins with the blow, by seconds."""
    part = x[int(begin * rate) : int(end * rate)]
    half = len(part) // 2
    size = 1 << max(14, (8 * len(part) - 1).bit_length())
    hz: FloatArray = np.fft.rfftfreq(size, 1.0 / rate).astype(float)
    level = _spectrum_db(part, size)
    inside = (hz > LOWEST_HZ) & (hz < HIGHEST_HZ)
    inner = level[1:-1]
    top = np.flatnonzero((inner > level[:-2]) & (inner >= level[2:]) & inside[1:-1]) + 1
    halves = [_spectrum_db(values, size)[top] for values in (part[:half], part[half : 2 * half])]
    around = np.array([np.median(level[(hz > f / 1.6) & (hz < f * 1.6)]) for f in hz[top].tolist()])
    loudest = float(level[top].max()) if len(top) else 0.0
    return Look(hz[top], level[top] - loudest, level[top] - around, halves[0] - halves[1])


def _spectrum_db(part: FloatArray, size: int) -> FloatArray:
    windowed = (part - part.mean()) * np.hanning(len(part))
    out: FloatArray = 10.0 * np.log10(np.abs(np.fft.rfft(windowed, size)) ** 2 + 1e-20)
    return out


def without_hum(look: Look, low_hz: float = LOWEST_HZ, high_hz: float = HIGHEST_HZ) -> Look:
    """What may be of the drum between two pitches, levels under the loudest of that."""
    hz = look.hz
    hum = _hum(hz) & (look.fallen_db < HUM_FALLS_DB)
    for i in np.flatnonzero(hum).tolist():
        far_under = look.level_db < look.level_db[i] - HUM_SIDES_DB
        side = (np.abs(hz - hz[i]) < HUM_SIDES_HZ) & far_under
        hum |= side
    may = (hz > low_hz) & (hz < high_hz) & ~hum
    kept = Look(*(values[may] for values in look))
    if not may.any():
        return kept
    return kept._replace(level_db=kept.level_db - kept.level_db.max())


def strong_in(look: Look) -> IndexArray:
    """Peaks that may be the note, by frequency."""
    hz, level = look.hz, look.level_db
    strong = (level > -STRONG_DB) & (look.out_db > STANDS_OUT_DB)
    for i in np.flatnonzero(strong).tolist():
        apart = np.abs(CENTS_PER_NEPER * np.log(hz / hz[i]))
        strong[i] = not np.any((apart < SATELLITE_CENTS) & (level > level[i] + SATELLITE_DB))
    return np.flatnonzero(strong)


def _hum(hz: FloatArray) -> BoolArray:
    """Which peaks stand where mains hum."""
    off = [np.abs(hz - base * np.maximum(np.rint(hz / base), 1.0)) for base in HUM_HZ]
    out: BoolArray = (np.min(off, axis=0) < HUM_OFF_HZ) & (hz < HUM_HZ[0] * HUM_OVERTONES)
    return out


def settled(x: FloatArray, rate: float, hz: float, look: tuple[float, float]) -> Settled:
    """Pitch and decay of the line about `hz`, of which a part was looked at, by seconds."""
    narrow = _brought_down(x, rate, hz, NARROW / hz)
    wide = _brought_down(x, rate, hz, WIDE / hz)
    begin, end = (int(value * rate) for value in look)
    at_rest, sd = _at_rest(narrow[min(begin, int(LATE_FROM_S * rate)) : end], rate)
    late = _slope_hz(narrow[begin:end], rate)
    drift = CENTS_PER_NEPER * abs(late - at_rest) / hz
    span = int(max(0.02, 1.5 / hz) * rate)
    at = max(int(EARLY_S * rate), span)
    early = hz + _slope_hz(wide[at - span : at + span + 1], rate)
    late_t60, of_first = _decays(narrow, wide, rate)
    rest = float(np.clip(hz + at_rest, hz / MOST_AWAY, hz * MOST_AWAY))
    early = float(np.clip(early, rest, rest * MOST_SHARP))
    return Settled(rest, sd, drift, early, late_t60, of_first)


def _brought_down(x: FloatArray, rate: float, hz: float, long_s: float) -> ComplexArray:
    """The band about a pitch, brought down to zero (N,), by a Hann window of that length."""
    time = np.arange(len(x)) / rate
    kernel = np.hanning(max(min(int(long_s * rate), len(x) - 2), 3) | 1)
    return np.convolve(x * np.exp(-2j * np.pi * hz * time), kernel / kernel.sum(), "same")


def _at_rest(part: ComplexArray, rate: float) -> tuple[float, float]:
    """Where a line comes to rest and how well that is told (sd), Hz from where it was brought down:
    it stands above by the square of how far it swings (theory eq. 20), and no more than it did."""
    turn = part[1:] * part[:-1].conj()
    power = np.abs(turn)
    if len(turn) < LEAST_SAMPLES or float(power.max()) < SILENT:
        return 0.0, math.inf  # nothing of it is left
    hz = np.angle(turn) * rate / (2.0 * math.pi)
    weight = np.sqrt(power)
    square = power / power.max()
    columns = np.stack((np.ones(len(hz)), square), axis=1)
    moment = columns.T @ (weight[:, None] * columns)
    moment += np.eye(2) * SILENT * np.trace(moment)  # a level that does not change tells no slope
    rest, slope = np.linalg.solve(moment, columns.T @ (weight * hz))
    if slope < 0.0:  # it beats with a neighbor
        rest = float(np.average(hz, weights=weight))
        slope = 0.0
    off = hz - rest - slope * square
    spread = float(np.average(off**2, weights=weight))
    return float(rest), math.sqrt(spread / INDEPENDENT)


def _slope_hz(part: ComplexArray, rate: float) -> float:
    """Mean turn of a line, weighted by its power."""
    turn = np.sum(part[1:] * part[:-1].conj())
    return float(np.angle(turn)) * rate / (2.0 * math.pi)


def _decays(narrow: ComplexArray, wide: ComplexArray, rate: float) -> tuple[float, float]:
    """T60 of what rings on, by a straight line through its level until it nears the floor, and of
    the first tenth of a second."""
    level = 20.0 * np.log10(np.abs(narrow) + 1e-12)
    block = max(int(0.04 * rate), 1)
    many = len(level) // block
    blocks = level[: many * block].reshape(many, block).mean(axis=1)
    if many < 2:
        return math.nan, math.nan
    floor = float(blocks[-max(many // 6, 2) : -1].min()) if many > 4 else -math.inf
    over = np.flatnonzero(blocks > floor + OVER_FLOOR_DB)
    upto = (int(over[-1]) + 1) * block if len(over) else len(level)
    begin = int(min(LATE_FROM_S, 0.3 * upto / rate) * rate)
    from_there = blocks[min(begin // block, many - 1) :]
    deep = np.flatnonzero(from_there < from_there[0] - DEEP_DB)
    if len(deep):
        upto = min(upto, begin + (int(deep[0]) + 1) * block)
    first = int(FIRST_S * rate)
    early = 20.0 * np.log10(np.abs(wide) + 1e-12)[first : first + int(FIRST_FOR_S * rate)]
    return _t60(level[begin:upto], rate), _t60(early, rate)


def _t60(level_db: FloatArray, rate: float) -> float:
    """Of a straight line through a level; NaN where it does not fall."""
    if len(level_db) < 8:
        return math.nan
    slope = float(np.polyfit(np.arange(len(level_db)) / rate, level_db, 1)[0])
    t60 = -60.0 / slope if slope < 0.0 else math.inf
    return t60 if SHORTEST_T60_S < t60 < LONGEST_T60_S else math.nan
