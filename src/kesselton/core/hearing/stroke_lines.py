"""All damped lines of a stroke on a whole drum, with what is doubtful of each (theory 23)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.clear.taps.tap_sound import reduced, ringing
from kesselton.core.constants import AUDIBLE_DECAY_NEPER, CENTS_PER_NEPER, SIGMAS_90
from kesselton.core.hearing.band_fit import SHOWS_GLIDE, Fitted, refined
from kesselton.core.hearing.note import Note
from kesselton.core.pitch import cents_between

HIGHEST_HZ = 1600.0
LOWEST_HZ = 24.0
BAND_HZ, OVERLAP_HZ = 150.0, 50.0
"""Bands are looked at one by one, each with so much of its neighbours."""
CONTACT_S = 0.012
"""After a blow begins, until the beater is off and its click over (assumed)."""
LONGEST_S = 1.6
SHORTEST_T60_S, LONGEST_T60_S = 0.05, 9.0
VAGUE_CENTS, VAGUE_S = 3.3, 0.055
"""By the fit alone, one standard deviation; and T60: set on strokes of the second maker's training
seeds, where 98 of 100 lines that were found right are surer and longer."""
BLOCK_S, ABOVE_FLOOR, AFTER, LEAST_BLOCKS = 0.04, 1.6, 2, 10
"""A band is looked at until no block of it stands so far over its end, and so many more."""
STANDS_OUT, LEAST_LINES = 12.0, 3
"""What a band is made of stands so far over the middle of all its eigenvalues; and at least so many
lines are tried."""
MOST_LINES = 24
"""In one band."""
MOST_ROWS = 70
AUDIBLE_DB = 36.0
SURE_2E_N0 = 120.0
"""Twice a line's energy over the density of what is left: about 21 dB."""
EARLY_S = 0.05
"""A pitch read early is read then."""
GLIDES_CENTS = (0, 2, 4, 6, 8, 11, 14, 18, 22, 27, 33, 40, 48, 57, 67, 80, 95, 112, 130, 150, 180)
GLIDE_RATES = (3.0, 60.0)
"""How fast a glide comes to rest, 1/s."""
TELLING = 0.1
"""Bands fainter than this share of the loudest, in amplitude, do not say whether there is one."""
GLIDE_SEEN = 0.004
"""How much sharper, as a logarithm, the bands must become together to glide."""
GLIDE_HEARD_S = 0.8
FAR_SHARE = 0.0035
"""A glide farther than that (6 cents) is worth a look for its rate."""
RATES = (3.5, 5.0, 7.0, 10.0, 14.0, 20.0, 28.0, 40.0)
RATES_AROUND, BANDS_TRIED = (0.75, 1.0, 1.33), 3
RATE_PRIOR = 0.3
"""What another rate than the first guess costs, over the square of its logarithm."""
ROUGH_RATES = (6.0, 20.0)
"""Tried before it is known."""
LOW_HZ, STRETCH = 480.0, 4.0
"""What stretches a head lies under that; a line swings it as its sound over this power of its
frequency, in energy: a drum is so poor at sounding low (two would do for a small drum; trials)."""
OFF_SHARE = 0.1
"""What it costs a band to glide otherwise than the rest, over the square of its logarithm."""
GLIDE_MOST = 2.5
"""How much more or less than the loudest bands another may glide."""
ROUNDS, FULLY = 2, 5
"""Of least squares: while lines are sorted out, and of those that stay."""
FILTER_S = 0.012
"""Half of the filter of a band: a short line is the louder the sooner it is looked at."""
LEAST_S, LEAST_SAMPLES = 0.15, 24
PITCH_SDS, PITCH_WIDTHS, PITCH_GLIDES, LEAST_CENTS = 6.5, 0.16, 0.4, 0.4
RING_SDS, RING_GLIDES, RING_LEAST = 4.0, 14.0, 0.26
"""What makes up the doubts; so that they hold nine times in ten on strokes of a second maker."""
SAME_CENTS = 3.0
ONE_LINE, TWIN = 0.3, 0.35
"""Of their own widths; lines nearer than that are one."""


@dataclass(frozen=True)
class Pair:
    """Two lines heard as one that beats: hertz between them, and how long both together ring to
    60 dB down, seconds."""

    split_hz: float
    t60_s: float


@dataclass(frozen=True)
class StrokeLine:
    """One damped line of a stroke.

    Attributes
    ----------
    hz, half_cents : at rest, and how far it may be off nine times in ten
    early_hz : 50 ms after the stroke
    t60_s, t60_doubt : to fall by 60 dB; off by this share nine times in ten
    level_db : under the loudest, energy of the first 0.2 s
    pair : what it is with the line beside it where both are heard as one (`core.hearing.pairs`)
    """

    hz: float
    half_cents: float
    early_hz: float
    t60_s: float
    t60_doubt: float
    level_db: float
    pair: Pair | None = None


@dataclass(frozen=True)
class HeardStroke:
    """A stroke as it was heard.

    Attributes
    ----------
    lines : by frequency
    at_s : when it began
    note : the fundamental, told apart from the lines; None where it cannot be
    faults : what is wrong with the sound (`core.hearing.sound_faults`)
    """

    lines: tuple[StrokeLine, ...]
    at_s: float
    note: Note | None = None
    faults: tuple[str, ...] = ()


def stroke_lines(stroke: FloatArray, rate_hz: float, at_s: float = 0.0) -> HeardStroke:
    """Lines of one stroke that begins with the sound (N,)."""
    x, rate = reduced(
        stroke, rate_hz, int(CONTACT_S * rate_hz), HIGHEST_HZ + 2.0 * BAND_HZ, LONGEST_S
    )
    x = x[: max(ringing(x, rate, LONGEST_S), int(0.2 * rate))]
    if len(x) < LEAST_S * rate:
        return HeardStroke((), at_s)
    bands = [_band(x, rate, low) for low in np.arange(LOWEST_HZ, HIGHEST_HZ, BAND_HZ)]
    bands = [band for band in bands if len(band.y) >= LEAST_SAMPLES]
    if not bands:
        return HeardStroke((), at_s)
    fits = [
        line
        for band, glide in zip(bands, _glides(bands, _rate(bands)), strict=True)
        for line in _fitted(band, glide)
    ]
    return HeardStroke(_told(_single(sorted(fits, key=lambda line: line.hz))), at_s)


@dataclass(frozen=True)
class Glide:
    """How far sharp, as a share of the frequency, a stroke begins, and how fast it comes to rest,
    1/s."""

    share: float
    rate: float

    def turned(self, time: FloatArray) -> FloatArray:
        """Seconds by which a phase runs ahead, (N,)."""
        out: FloatArray = self.share * -np.expm1(-self.rate * time) / self.rate
        return out


@dataclass(frozen=True)
class _Fit:
    """A line as fitted: decay in neper a second, amplitude, share it glides by, doubts (sd)."""

    hz: float
    decay: float
    amplitude: float
    glide: Glide
    hz_sd: float
    decay_sd: float
    sure: float


def _energy(line: _Fit) -> float:
    return line.amplitude**2 * -math.expm1(-0.4 * line.decay) / line.decay


@dataclass(frozen=True, eq=False)
class _Band:
    """A band brought down to zero (N,), its rate, its middle, the second of its first sample, and
    the rate of the sound it is of."""

    y: ComplexArray
    rate: float
    centre: float
    begins: float
    source: float

    @property
    def time(self) -> FloatArray:
        return np.arange(len(self.y)) / self.rate


def _kernel(rate: float) -> FloatArray:
    reach = int(rate * FILTER_S)
    n = np.arange(-reach, reach + 1)
    cut = (0.5 * BAND_HZ + OVERLAP_HZ) / rate
    out: FloatArray = 2.0 * cut * np.sinc(2.0 * cut * n) * np.hanning(2 * reach + 3)[1:-1]
    return out


def _band(x: FloatArray, rate: float, low: float) -> _Band:
    """The filter is symmetric and used where it lies wholly in the sound: a damped line stays
    one."""
    centre = low + 0.5 * BAND_HZ
    kernel = _kernel(rate)
    reach = len(kernel) // 2
    time = np.arange(-reach, reach + 1) / rate
    by = max(int(rate / (2.6 * (0.5 * BAND_HZ + OVERLAP_HZ))), 1)
    places = np.arange(0, len(x) - 2 * reach, by)
    windows = np.lib.stride_tricks.sliding_window_view(x, 2 * reach + 1)[::by][: len(places)]
    turned = kernel * np.exp(-2j * np.pi * centre * time)
    parts = windows @ np.column_stack((turned.real, turned.imag))
    back = np.exp(-2j * np.pi * centre * places / rate)
    y = (parts[:, 0] + 1j * parts[:, 1]) * back
    y = y[: _rings_to(y, rate / by)]
    return _Band(y, rate / by, centre, reach / rate, rate)


def _rings_to(y: ComplexArray, rate: float) -> int:
    """Samples of a band until what rings in it is lost in what is there at its end."""
    block = max(int(BLOCK_S * rate), 1)
    many = len(y) // block
    if many < LEAST_BLOCKS:
        return len(y)
    power = (np.abs(y[: many * block]) ** 2).reshape(many, block).mean(axis=1)
    floor = float(power[-max(many // 6, 2) :].mean())
    above = np.flatnonzero(power > ABOVE_FLOOR * floor)
    last = int(above[-1]) + 1 if len(above) else 0
    return min(max(last + AFTER, LEAST_BLOCKS) * block, len(y))


def _rate(bands: list[_Band]) -> float:
    """How fast the glide of a stroke comes to rest, 1/s.

    A head is stretched by the square of how far it swings (theory eq. 20), so twice as fast as the
    line decays that swings it farthest. Its decay is good enough before the glide is known. Where a
    stroke glides far that is one guess among others, and that rate is taken which leaves least.
    """
    rough = _glides(bands, None)
    low = [(b, g) for b, g in zip(bands, rough, strict=True) if b.centre < LOW_HZ]
    fits = [(band, _looked(band, glide)) for band, glide in low]
    lines = [line for band, fit in fits if fit for line in _own(band, rough[0].rate, fit)]
    rate = rough[0].rate
    if lines:
        stretching = max(lines, key=lambda line: _energy(line) / line.hz**STRETCH)
        rate = float(np.clip(2.0 * stretching.decay, *GLIDE_RATES))
    if max(glide.share for glide in rough) < FAR_SHARE:
        return rate
    sharpest = _sharpest(bands)
    tried = sorted({rate, *(sharpest * by for by in RATES_AROUND)})
    left = [_left(bands, value) + RATE_PRIOR * math.log(value / rate) ** 2 for value in tried]
    return math.exp(_top(np.log(tried), -np.array(left), int(np.argmin(left))))


def _sharpest(bands: list[_Band]) -> float:
    """The rate under which a stroke is most of few sharp lines, 1/s."""
    loud, weight = _loud(bands)
    shares = np.expm1(np.array(GLIDES_CENTS[::2]) / CENTS_PER_NEPER)
    each = [[_sharpness(bands[i], shares, rate) for i in loud] for rate in RATES]
    whole = np.einsum("b,rbs->rs", weight[loud], np.log(each))
    return RATES[int(np.argmax(whole.max(axis=1)))]


def _left(bands: list[_Band], rate: float) -> float:
    """What the loudest bands leave with lines that glide at a rate, as a logarithm."""
    loud, weight = _loud(bands)
    loudest = loud[np.argsort(weight[loud])[::-1][:BANDS_TRIED]]
    glides = _glides(bands, rate)
    fits = [_looked(bands[i], glides[i]) for i in loudest]
    return float(sum(math.log(fit.variance) for fit in fits if fit is not None))


def _loud(bands: list[_Band]) -> tuple[IndexArray, FloatArray]:
    """Which bands tell of a glide, and how much each counts (B,)."""
    power = np.array([float(np.vdot(b.y, b.y).real) for b in bands])
    weight = np.sqrt(power / power.max())
    return np.flatnonzero(weight > TELLING), weight


def _glides(bands: list[_Band], rate: float | None) -> list[Glide]:
    """How far each band glides; how fast it comes to rest is common to all, and looked for if it is
    not given.

    That glide is taken under which a band is most of few sharp lines: the fourth powers of its
    spectrum stand highest. f - f_rest goes with the square of the fundamental's amplitude (theory
    eq. 20), so with e^(-rate t).
    """
    shares = np.expm1(np.array(GLIDES_CENTS) / CENTS_PER_NEPER)
    rates = ROUGH_RATES if rate is None else (rate,)
    loud, weight = _loud(bands)
    each = np.array([[_sharpness(bands[i], shares, r) for i in loud] for r in rates])
    whole = np.einsum("b,rbs->rs", weight[loud], np.log(each / each[:, :, :1]))
    k, at = np.unravel_index(int(np.argmax(whole)), whole.shape)
    if whole[k, at] < GLIDE_SEEN:
        return [Glide(0.0, rates[k])] * len(bands)
    of_loud = dict(zip(loud.tolist(), each[k], strict=True))
    of_band = np.array(
        [of_loud[i] if i in of_loud else _sharpness(band, shares, rates[k])
         for i, band in enumerate(bands)]
    )  # fmt: skip
    gained = np.log(of_band / of_band[:, :1])
    own = gained - OFF_SHARE * np.log(np.maximum(shares, 1e-6) / shares[at]) ** 2
    near = (shares > shares[at] / GLIDE_MOST) & (shares < shares[at] * GLIDE_MOST)
    best = np.argmax(np.where(near, own, -np.inf), axis=1)
    return [Glide(_top(shares, item, int(i)), rates[k]) for item, i in zip(own, best, strict=True)]


def _top(places: FloatArray, height: FloatArray, at: int) -> float:
    """Where a curve (S,) is highest near its highest place, by a parabola through three."""
    if not 1 < at < len(places) - 1:
        return float(places[at])
    x, y = places[at - 1 : at + 2] - places[at], height[at - 1 : at + 2] - height[at]
    left, right = y[0] / x[0], y[2] / x[2]
    bend = (right - left) / (x[2] - x[0])
    if bend >= 0.0:
        return float(places[at])
    return float(places[at] + np.clip(0.5 * (x[0] - left / bend), 0.5 * x[0], 0.5 * x[2]))


def _sharpness(band: _Band, shares: FloatArray, rate: float) -> FloatArray:
    """Of the spectrum of a band, with each share of glide taken out, (S,)."""
    y = band.y[: int(GLIDE_HEARD_S * band.rate)]
    run = _run(band, rate)[: len(y)]
    back = np.exp(-2j * np.pi * band.centre * np.multiply.outer(shares, run))
    square = np.abs(np.fft.fft(back * y, 512, axis=1)) ** 2
    out: FloatArray = np.sum(square**2, axis=1) / np.sum(square, axis=1) ** 2
    return out


def _looked(band: _Band, glide: Glide) -> Fitted | None:
    """Lines of a band and its neighbours as far as a first look tells them."""
    glide_hz = band.centre * glide.share
    hz, decay = _candidates(band, glide_hz * _run(band, glide.rate))
    return _pruned(band, hz, decay, np.full(len(hz), glide_hz), glide.rate, ROUNDS)


def _run(band: _Band, rate: float) -> FloatArray:
    """(N,) seconds the phase of a band runs ahead with a glide of 1."""
    return Glide(1.0, rate).turned(band.time + band.begins)


def _fitted(band: _Band, glide: Glide) -> list[_Fit]:
    """Lines of one band, its own ones only."""
    fit = _looked(band, glide)
    if fit is None:
        return []
    # several of one frequency fit a line that glides as well as one that is let glide
    apart = _apart(fit, (len(band.y) - 1) / band.rate)
    glide_hz = _as_the_rest(fit, glide.rate)
    full = _pruned(band, fit.hz[apart], fit.decay[apart], glide_hz[apart], glide.rate, FULLY)
    return [] if full is None else _own(band, glide.rate, full)


def _as_the_rest(fit: Fitted, rate: float) -> FloatArray:
    """(L,) hertz of glide: lines too short to show theirs have it as those that do, on the mean by
    energy."""
    slow = fit.decay < SHOWS_GLIDE * rate
    if not slow.any():
        return fit.glide_hz
    energy = np.abs(fit.amplitude[slow]) ** 2 / fit.decay[slow]
    return np.where(slow, fit.glide_hz, np.average(fit.glide_hz[slow], weights=energy))


def _candidates(band: _Band, ahead: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Frequency and decay of lines a band may be made of, `ahead` cycles of glide taken out."""
    poles = _poles(band.y * np.exp(-2j * np.pi * ahead), min(MOST_LINES, len(band.y) // 4))
    hz = np.angle(poles) * band.rate / (2.0 * np.pi)
    decay = -np.log(np.abs(poles)) * band.rate
    fastest = 2.0 * AUDIBLE_DECAY_NEPER / SHORTEST_T60_S
    good = (decay > -2.0) & (decay < fastest)  # loud neighbours too: they must be explained
    return hz[good], np.maximum(decay[good], 0.3)


def _own(band: _Band, glide_rate: float, fit: Fitted) -> list[_Fit]:
    """Of a band's lines those in its middle, as they are outside of its filter."""
    centre, out, spread = band.centre, [], fit.spread()
    slowest, fastest = (AUDIBLE_DECAY_NEPER / t for t in (LONGEST_T60_S, SHORTEST_T60_S))
    for i in range(len(fit.hz)):
        f, d = float(fit.hz[i]) + centre, float(fit.decay[i])
        mine = abs(f - centre) <= 0.5 * BAND_HZ + 1.0
        if mine and slowest < d < fastest and f > LOWEST_HZ:
            back = math.exp(d * (band.begins + CONTACT_S))
            amplitude = float(np.abs(fit.amplitude[i])) * back / abs(_response(band, f, d))
            share = float(fit.glide_hz[i]) / f
            out.append(
                _Fit(f, d, amplitude, Glide(share, glide_rate), float(spread[i]) / (2.0 * math.pi),
                     float(spread[i]), float(fit.sure[i]))
            )  # fmt: skip
    return out


def _pruned(
    band: _Band,
    hz: FloatArray,
    decay: FloatArray,
    glide_hz: FloatArray,
    rate: float,
    rounds: int,
) -> Fitted | None:
    """Lines fitted together, without those nothing shows."""
    run = _run(band, rate)
    while len(hz):
        fit = refined(band.y, band.rate, hz, decay, glide_hz, run, rate, rounds)
        keep = fit.sure > SURE_2E_N0
        if keep.all():
            return fit
        worst = np.argsort(fit.sure)[: max(1, int((~keep).sum() // 2))]
        hz, decay, glide_hz = (np.delete(v, worst) for v in (fit.hz, fit.decay, fit.glide_hz))
    return None


def _apart(fit: Fitted, seconds: float) -> IndexArray:
    """Lines of a fit without those that lie within a stronger one's width."""
    energy = np.abs(fit.amplitude) ** 2 * -np.expm1(-2.0 * fit.decay * seconds) / fit.decay
    out: list[int] = []
    for i in np.argsort(energy)[::-1].tolist():
        width = ONE_LINE * (fit.decay[i] + fit.decay[out]) / (2.0 * np.pi)
        if not np.any(np.abs(fit.hz[i] - fit.hz[out]) < width):
            out.append(i)
    return np.array(sorted(out), dtype=np.intp)


def _response(band: _Band, hz: float, decay: float) -> complex:
    """What the filter of a band makes of a line off its middle."""
    kernel = _kernel(band.source)
    n = np.arange(len(kernel)) - len(kernel) // 2
    turn = 2j * np.pi * (hz - band.centre) - decay
    return complex(np.sum(kernel * np.exp(turn * n / band.source)))


def _poles(y: ComplexArray, many: int) -> ComplexArray:
    """Poles of a sum of damped exponentials (N,), by rotational invariance (see `damped_lines`)."""
    rows = min(len(y) // 3, MOST_ROWS)
    hankel = np.lib.stride_tricks.sliding_window_view(y, len(y) - rows + 1)
    value, vector = np.linalg.eigh(hankel @ hankel.conj().T)
    floor = float(np.median(value))
    many = min(many, max(int((value > STANDS_OUT * floor).sum()), LEAST_LINES))
    u = vector[:, np.argsort(value)[::-1][:many]]
    turn = np.linalg.lstsq(u[:-1], u[1:], rcond=None)[0]
    return np.asarray(np.linalg.eigvals(turn), dtype=complex)


def _single(lines: list[_Fit]) -> list[_Fit]:
    """Each line once: of two nearer than their own width, found in two bands, the surer one."""
    out: list[_Fit] = []
    for line in lines:
        if out:
            width = max(TWIN * (line.decay + out[-1].decay) / (2.0 * np.pi), 0.15)
            if line.hz - out[-1].hz < width:
                if line.sure > out[-1].sure:
                    out[-1] = line
                continue
        out.append(line)
    return out


def _told(lines: list[_Fit]) -> tuple[StrokeLine, ...]:
    """Lines that can be heard, in the terms of a technician."""
    energy = np.array([_energy(line) for line in lines])
    level = 10.0 * np.log10(energy / energy.max()) if len(lines) else energy
    return tuple(
        StrokeLine(
            line.hz,
            _half_cents(line),
            line.hz * (1.0 + _early_share(line)),
            AUDIBLE_DECAY_NEPER / line.decay,
            _ring_doubt(line),
            float(db),
        )
        for line, db in zip(lines, level, strict=True)
        if db > -AUDIBLE_DB and not _vague(line)
    )


def _vague(line: _Fit) -> bool:
    """Whether what was fitted is so short, or so loosely where it is, that it is mostly a piece of
    another line or of the room: half of those are."""
    loose = CENTS_PER_NEPER * line.hz_sd > VAGUE_CENTS * line.hz
    return loose or line.decay > AUDIBLE_DECAY_NEPER / VAGUE_S


def _half_cents(line: _Fit) -> float:
    """How far a frequency may be off nine times in ten: by noise, by neighbours within its own
    width, by a glide that is not quite what was fitted."""
    noise = PITCH_SDS * line.hz_sd / line.hz
    width = PITCH_WIDTHS * line.decay / math.pi / line.hz
    glide = PITCH_GLIDES * _early_share(line)
    return CENTS_PER_NEPER * math.sqrt(noise**2 + width**2 + glide**2) + LEAST_CENTS


def _ring_doubt(line: _Fit) -> float:
    """By which share a T60 may be off nine times in ten, by the same three."""
    noise, glide = RING_SDS * line.decay_sd / line.decay, RING_GLIDES * _early_share(line)
    return math.sqrt(noise**2 + glide**2 + RING_LEAST**2)


def _early_share(line: _Fit) -> float:
    """How far sharp a line still is 50 ms after the stroke; what was fitted begins after it."""
    return line.glide.share * math.exp(-line.glide.rate * (EARLY_S - CONTACT_S))


def pooled(strokes: Sequence[HeardStroke]) -> tuple[StrokeLine, ...]:
    """Lines of several strokes on one drum taken together: those that are in at least half of them,
    each by the mean of what the surest say."""
    if len(strokes) == 1:
        return strokes[0].lines
    groups = _same([line for stroke in strokes for line in stroke.lines])
    return tuple(_mean(group) for group in groups if 2 * len(group) >= len(strokes))


def together(takes: Sequence[tuple[StrokeLine, ...]]) -> tuple[StrokeLine, ...]:
    """Lines heard with the drum struck at several places or with several beaters: all of them, for
    what one place does not give another may."""
    if len(takes) == 1:
        return takes[0]
    return tuple(_mean(group) for group in _same([line for take in takes for line in take]))


def _same(lines: list[StrokeLine]) -> list[list[StrokeLine]]:
    """Lines in groups that are one line, by frequency."""
    groups: list[list[StrokeLine]] = []
    for line in sorted(lines, key=lambda line: line.hz):
        near = bool(groups) and cents_between(groups[-1][-1].hz, line.hz) < max(
            line.half_cents + groups[-1][-1].half_cents, SAME_CENTS
        )
        if near:
            groups[-1].append(line)
        else:
            groups.append([line])
    return groups


def _mean(group: list[StrokeLine]) -> StrokeLine:
    weight = np.array([1.0 / line.half_cents**2 for line in group])
    weight /= weight.sum()
    hz = math.exp(float(weight @ np.log([line.hz for line in group])))
    spread = float(np.std([cents_between(group[0].hz, line.hz) for line in group]))
    stated = 1.0 / math.sqrt(sum(1.0 / line.half_cents**2 for line in group))
    return StrokeLine(
        hz,
        max(stated, SIGMAS_90 * spread / math.sqrt(len(group))),
        math.exp(float(weight @ np.log([line.early_hz for line in group]))),
        math.exp(float(weight @ np.log([line.t60_s for line in group]))),
        min(line.t60_doubt for line in group),
        max(line.level_db for line in group),
    )
