"""The pitch of a tap beside a rod: damped lines found, the (1,1) among them named (theory 21)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesselton.core.arrays import ComplexArray, FloatArray
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import InputError, check_range

BoolArray = NDArray[np.bool_]

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192000
LONGEST_S = 600.0
LOW_HZ, HIGH_HZ = 30.0, 1350.0
OVER_BAND = 2.37
"""Samples kept a second, over the highest frequency looked at."""
BAND, MIN_BAND_HZ = 3.6, 200.0
"""Where the lug pitch is known about, nothing further above it is looked at: a large drum has too
many tones for one look."""
SKIP_S = 0.0085
"""The click of the stick is over after this; what rings is left."""
SHORTEST_S, LONGEST_RING_S = 0.12, 0.40
PERIODS = 36.0
"""A low tone is listened to for so many periods at least, if the recording has them."""
PAIRS = 16
FASTEST, SLOWEST = 90.0, 1.2
"""Decay of lines that are of a drum, neper a second: T60 from 0.08 to 5.8 s; hum does not decay."""
MIN_2E_N0 = 20.0
"""A line counts from 13 dB of twice its energy over the noise density."""
NEAR = 0.033
"""Lines so close, in ln f, are the two of a pair."""
RATIOS = np.array([1.0, 1.48, 1.55, 1.92, 2.08, 2.36, 2.59, 2.78])
"""(1,1), (2,1), (0,2), (3,1), (1,2), (4,1), (2,2), (5,1) over the (1,1) of a head with its air
(Fletcher and Rossing, The Physics of Musical Instruments, after Christian et al. 1984; memory)."""
BREADTH = 0.045
BELOW = (0.42, 0.78)
"""Where the (0,1) stands under the (1,1): lower over deep air, higher over a closed shell."""
CENTRE_BREADTH = 0.12
"""The same about where the model has it, ln f: the muffled other head is not quite still."""
PAIR, PAIR_UNKNOWN = 0.10, 0.05
"""The two of a pair are no further apart, ln f, on the most uneven head that is worth clearing;
where the drum is not known the (2,1) and (0,2) must not be taken for such a pair."""
ALIKE = 1.0
"""And decay alike, ln: a finger on the centre sets the (0,1) apart from them."""
NEAR_SD = 0.073
"""The model's expectation for a drum is so good, ln f, one standard deviation: from trials."""
FARTHEST = 0.2
"""Nothing so far from the expectation, ln f, is taken: three half steps and a half."""
FAINTEST = 10.0**-2.4
"""A lug pitch so far under the loudest line, in energy, is not to be trusted."""
SURE = 0.9
SPLIT_GAIN = 12.0
CLIPPED = 0.985
CLIPPED_RUN = 8
ONSET_FRAME_S = 0.004
ONSET_RATIO = 6.0
APART_S = 0.12
MAX_TAPS = 200
"""More strokes than so many in one sound are no round of taps."""
SEED = 7


@dataclass(frozen=True)
class Line:
    """One damped line: hertz, neper a second, level under the strongest in decibels."""

    hz: float
    decay: float
    level_db: float

    @property
    def t60_s(self) -> float:
        """Seconds to a thousandth."""
        return math.log(1000.0) / self.decay


@dataclass(frozen=True)
class Tones:
    """Where else a tap sounds, over its (1,1): the (0,1) between two bounds, the (2,1), and all
    above."""

    centre: tuple[float, float] = BELOW
    second: float = float(RATIOS[1])
    above: tuple[float, ...] = tuple(RATIOS[1:].tolist())

    @classmethod
    def of(cls, centre: float, second: float, above: tuple[float, ...]) -> Tones:
        """Of a drum that is known (`lug.tap_tones`)."""
        wide = math.exp(CENTRE_BREADTH)
        return cls((centre / wide, centre * wide), second, above)


TYPICAL_TONES = Tones()


@dataclass(frozen=True)
class Heard:
    """What one tap says.

    Attributes
    ----------
    lug_pitch_hz : of the (1,1), its two lines weighted by the energy the tap gave them
    middle_hz : the middle of its two lines
    spread_cents : standard deviation
    confidence : share of likelihood the (1,1) has among what else it could be
    second_hz : of the (2,1), None if it was not heard
    lines : all lines, low to high
    at_s : when it was
    """

    lug_pitch_hz: float
    middle_hz: float
    spread_cents: float
    confidence: float
    second_hz: float | None
    lines: tuple[Line, ...]
    at_s: float = 0.0


def checked(samples: FloatArray, rate_hz: float) -> FloatArray:
    """One channel of sound ready to be listened to.

    Parameters
    ----------
    samples : (N,) or (N, channels), from -1 to 1

    Raises
    ------
    InputError
        In words, what keeps it from being used.
    """
    check_range(rate_hz, LOWEST_RATE_HZ, HIGHEST_RATE_HZ, "Sample rate", "Hz")
    sound = np.asarray(samples, dtype=float)
    if sound.ndim == 2:
        sound = sound.mean(axis=1)
    if len(sound) / rate_hz > LONGEST_S:
        raise InputError(
            f"The sound is {len(sound) / rate_hz / 60.0:.0f} minutes long.",
            f"Permitted: up to {LONGEST_S / 60.0:.0f} minutes; cut out the taps.",
        )
    if not np.isfinite(sound).all():
        raise InputError("The sound has samples that are no numbers.", "Record it again.")
    if len(sound) < SHORTEST_S * rate_hz or float(np.abs(sound).max()) < 1e-4:
        raise InputError("There is nothing but silence.", "Tap louder, or check the microphone.")
    return sound - float(sound.mean())


def onsets(sound: FloatArray, rate_hz: float) -> list[int]:
    """Sample numbers at which taps begin."""
    frame = max(int(ONSET_FRAME_S * rate_hz), 8)
    edge = np.diff(sound, prepend=sound[0])
    count = len(sound) // frame
    energy = (edge[: count * frame].reshape(count, frame) ** 2).sum(axis=1) + 1e-14
    quiet = float(np.percentile(energy, 20))
    found: list[int] = []
    last = -(10**9)
    hold = int(APART_S * rate_hz / frame)
    top = float(energy.max())
    for i in range(count):
        before = float(energy[max(i - 5, 0) : i].mean()) if i else quiet
        here = float(energy[i])
        loud = here > ONSET_RATIO * before and here > 4.0 * quiet and here > 2e-3 * top
        if loud and i - last > hold:
            found.append(i * frame)
            last = i
    return found


def hear_all(
    samples: FloatArray, rate_hz: float, near_hz: float | None = None, tones: Tones = TYPICAL_TONES
) -> tuple[list[Heard], list[str]]:
    """Every tap of a recording, and in words why others were left out.

    Raises
    ------
    InputError
        If there is no tap in it at all.
    """
    sound = checked(samples, rate_hz)
    starts = onsets(sound, rate_hz)
    if not starts:
        raise InputError(
            "No tap stands out of this sound.", "Tap louder, nearer to the microphone."
        )
    if len(starts) > MAX_TAPS:
        raise InputError(
            f"This sound has {len(starts)} strokes: no round of taps, but playing or speech.",
            "Cut out one round, a tap at each rod.",
        )
    heard, left = [], []
    for start, stop in zip(starts, [*starts[1:], len(sound)], strict=True):
        try:
            heard.append(hear(sound[max(start - int(0.02 * rate_hz), 0) : stop], rate_hz, near_hz,
                              tones, start / rate_hz))  # fmt: skip
        except InputError as error:
            left.append(f"At {start / rate_hz:.1f} s: {error.message} {error.remedy}")
    return heard, left


def hear(
    samples: FloatArray,
    rate_hz: float,
    near_hz: float | None = None,
    tones: Tones = TYPICAL_TONES,
    at_s: float = 0.0,
) -> Heard:
    """The lug pitch of one tap.

    Parameters
    ----------
    samples : (N,) one tap, from just before it
    near_hz : what the model expects of this drum, None if the drum is not known
    tones : where it expects the others

    Raises
    ------
    InputError
        If it is clipped, too short, or the (1,1) cannot be named with confidence: better no number
        than a wrong one.

    Notes
    -----
    Theory eqs. 48 to 50.

    References
    ----------
    Roy and Kailath, ESPRIT, IEEE Trans. ASSP 37, 1989 (from memory).
    """
    sound = checked(samples, rate_hz)
    _refuse_clipped(sound)
    start = _start(sound, rate_hz)
    high, longest = HIGH_HZ, LONGEST_RING_S
    if near_hz is not None:
        high = min(HIGH_HZ, max(BAND * near_hz, MIN_BAND_HZ))
        longest = max(longest, PERIODS / near_hz)
    x, rate = _reduced(sound, rate_hz, start + int(SKIP_S * rate_hz), high, longest)
    x = x[: _ringing(x, rate, longest)]
    if len(x) < SHORTEST_S * rate:
        raise InputError("The tap is cut off or damped at once.", "Tap again and let it ring.")
    hz, decay, amplitude, density = _lines(x, rate, high)
    if len(hz) == 0:
        raise InputError(
            "No tone stands out of the noise.", "Tap again, louder or nearer to the microphone."
        )
    energy = np.abs(amplitude) ** 2 / (4.0 * decay)
    place, own, confidence = _choose(hz, decay, energy, near_hz, tones)
    if confidence < SURE:
        raise InputError(
            "Several tones could be the lug pitch.",
            "Mute the other head, touch the centre, and tap again.",
        )
    if near_hz is not None and abs(math.log(hz[place] / near_hz)) > FARTHEST:
        raise InputError(
            f"The tone at {hz[place]:.0f} Hz is far from the {near_hz:.0f} Hz to be expected.",
            "Check which head sounds, or set the drum’s pitch anew, and tap again.",
        )
    if energy[place] < FAINTEST * energy.max():
        raise InputError(
            "The lug pitch is drowned by what sounds above it.", "Tap with something softer."
        )
    pitch, middle, spread = _refine(x, rate, hz, decay, amplitude, own, density)
    level = 10.0 * np.log10(energy / energy.max())
    found = tuple(
        Line(float(f), float(d), float(v)) for f, d, v in zip(hz, decay, level, strict=True)
    )
    return Heard(pitch, middle, spread, confidence, _second(hz, energy, pitch, tones), found, at_s)


def _refuse_clipped(sound: FloatArray) -> None:
    top = float(np.abs(sound).max())
    flat = np.abs(sound) > CLIPPED * top
    if top > 0.5 and flat.sum() >= CLIPPED_RUN:
        runs = np.diff(np.flatnonzero(np.diff(np.concatenate(([0], flat.view(np.int8), [0])))))[::2]
        if len(runs) and int(runs.max()) >= CLIPPED_RUN and int((runs >= 4).sum()) >= 3:
            raise InputError("The sound is clipped.", "Move the microphone away, or tap softer.")


def _start(sound: FloatArray, rate_hz: float) -> int:
    """Where the tap begins: the steepest rise of a short energy."""
    frame = max(int(0.002 * rate_hz), 4)
    count = len(sound) // frame
    energy = (sound[: count * frame].reshape(count, frame) ** 2).sum(axis=1)
    strong = np.flatnonzero(energy > 0.2 * energy[: max(int(0.5 * rate_hz / frame), 1)].max())
    return int(strong[0]) * frame


def _reduced(
    sound: FloatArray, rate_hz: float, start: int, high_hz: float, longest_s: float
) -> tuple[FloatArray, float]:
    """Band below `high_hz` from `start` on, with as few samples as it needs."""
    by = max(int(rate_hz // (OVER_BAND * high_hz)), 1)
    half = 8 * by
    n = np.arange(-half, half + 1)
    cut = 1.08 * high_hz / rate_hz
    kernel = 2.0 * cut * np.sinc(2.0 * cut * n) * np.hanning(2 * half + 3)[1:-1]
    padded = np.concatenate((np.zeros(half), sound, np.zeros(half)))
    last = min(len(sound), start + int(1.1 * longest_s * rate_hz))
    places = np.arange(start, max(last, start + 1), by)
    places = places[places + 2 * half < len(padded)]
    windows = np.lib.stride_tricks.sliding_window_view(padded, 2 * half + 1)[places]
    return windows @ kernel, rate_hz / by


def _ringing(x: FloatArray, rate: float, longest_s: float) -> int:
    """How many samples there are before the ring meets the background."""
    frame = int(0.02 * rate)
    count = min(len(x), int(longest_s * rate)) // frame
    if count < 3:
        return len(x)
    energy = (x[: count * frame].reshape(count, frame) ** 2).mean(axis=1)
    floor = float(np.min(energy))
    over = np.flatnonzero(energy > 1.6 * floor)
    last = int(over[-1]) + 2 if len(over) else count
    return min(max(last * frame, int(1.3 * SHORTEST_S * rate)), count * frame, len(x))


def _lines(
    x: FloatArray, rate: float, high_hz: float
) -> tuple[FloatArray, FloatArray, ComplexArray, float]:
    """Frequency, decay and amplitude of the damped lines of a tap, and the noise density."""
    many = min(2 * PAIRS, len(x) // 3 - 2)
    poles = _esprit(x, many)
    angle = np.angle(poles)
    poles, angle = poles[angle > 0.0], angle[angle > 0.0]
    hz = angle * rate / (2.0 * np.pi)
    decay = -np.log(np.abs(poles)) * rate
    good = (hz > LOW_HZ) & (hz < high_hz) & (decay < 4.0 * FASTEST) & (decay > -8.0)
    hz, decay = hz[good], decay[good]
    for _ in range(2):
        if len(hz) == 0:
            break
        amplitude, left = _amplitudes(x, rate, hz, decay)
        density = max(float(np.mean(left**2)) / (rate / 2.0), 1e-20)
        shown = np.abs(amplitude) ** 2 / (4.0 * np.maximum(decay, SLOWEST))
        keep = (2.0 * shown / density > MIN_2E_N0) | (decay < SLOWEST)
        hz, decay = hz[keep], decay[keep]
    if len(hz) == 0:
        return hz, decay, np.zeros(0, dtype=complex), 1e-20
    amplitude, left = _amplitudes(x, rate, hz, decay)
    density = max(float(np.mean(left**2)) / (rate / 2.0), 1e-20)
    drum = (decay > SLOWEST) & (decay < FASTEST)  # hum is fitted, so that it does no harm
    order = np.argsort(hz[drum])
    return hz[drum][order], decay[drum][order], amplitude[drum][order], density


def _esprit(x: FloatArray, many: int) -> ComplexArray:
    """Poles of a sum of damped exponentials, by rotational invariance of its signal space.

    The space is found by a few products with a random start instead of a whole decomposition.
    """
    rows = len(x) // 3
    hankel = np.lib.stride_tricks.sliding_window_view(x, len(x) - rows + 1)
    start = np.random.default_rng(SEED).standard_normal((hankel.shape[1], many + 8))
    q = np.linalg.qr(hankel @ start)[0]
    for _ in range(2):
        q = np.linalg.qr(hankel @ (hankel.T @ q))[0]
    u = q @ np.linalg.svd(q.T @ hankel, full_matrices=False)[0][:, :many]
    turn = np.linalg.lstsq(u[:-1], u[1:], rcond=None)[0]
    out: ComplexArray = np.linalg.eigvals(turn).astype(complex)
    return out


def _waves(count: int, rate: float, hz: FloatArray, decay: FloatArray) -> FloatArray:
    time = np.arange(count) / rate
    wave = np.exp(np.outer(time, 2j * np.pi * hz - decay))
    out: FloatArray = np.concatenate((wave.real, -wave.imag), axis=1)
    return out


def _amplitudes(
    x: FloatArray, rate: float, hz: FloatArray, decay: FloatArray
) -> tuple[ComplexArray, FloatArray]:
    waves = _waves(len(x), rate, hz, decay)
    size = waves.shape[1]
    square = waves.T @ waves
    square[np.diag_indices(size)] *= 1.0 + 1e-9
    parts = np.linalg.solve(square, waves.T @ x)
    return parts[: len(hz)] + 1j * parts[len(hz) :], x - waves @ parts


def _choose(
    hz: FloatArray, decay: FloatArray, energy: FloatArray, near_hz: float | None, tones: Tones
) -> tuple[int, BoolArray, float]:
    """Which line is the strongest of the (1,1), which are of it, and how sure that is.

    For every cluster taken as the (1,1): how well the others stand at a head's ratios, how strong
    it is, whether something strong lies below where nothing should, how far it is from what the
    model expects. On an uneven head the two of the pair stand so far apart that they come as two
    clusters: they are one answer.
    """
    groups = _groups(hz)
    strength = np.array([energy[g].sum() for g in groups])
    middle = np.array([float(np.average(hz[g], weights=energy[g])) for g in groups])
    ring = np.array([float(np.average(decay[g], weights=energy[g])) for g in groups])
    weight = np.maximum(10.0 * np.log10(strength / strength.max()) + 45.0, 0.0) / 45.0
    score = np.empty(len(groups))
    usual = float(np.median(ring))
    expected = np.array(tones.above)
    wide = PAIR_UNKNOWN if near_hz is None else PAIR
    for i, f in enumerate(middle):
        pair = _pair(middle, ring, i, wide)
        above = ~pair & (middle > f)
        ratio = np.log(middle[:, None] / f / expected)
        near = np.exp(-0.5 * (ratio / BREADTH) ** 2).max(axis=1)
        below = ~pair & (middle < f)
        share = middle / f
        allowed = (share > tones.centre[0]) & (share < tones.centre[1])
        fit = float((weight * near)[above].sum() - 0.5 * (weight * (1.0 - near))[above].sum())
        wrong = float(weight[below & ~allowed].sum()) + 0.4 * float(weight[below & allowed].sum())
        score[i] = 2.2 * fit - 4.0 * wrong + 3.0 * weight[i]
        score[i] -= 0.5 * abs(math.log(ring[i] / usual))
        if near_hz is not None:
            score[i] -= 0.5 * (math.log(f / near_hz) / NEAR_SD) ** 2
    chance = np.exp(score - score.max())
    chance /= chance.sum()
    together = _pair(middle, ring, int(np.argmax(score)), wide)
    own = np.zeros(len(hz), dtype=bool)
    own[np.concatenate([g for g, of in zip(groups, together, strict=True) if of])] = True
    place = int(np.argmax(np.where(own, energy, -1.0)))
    return place, own, float(chance[together].sum())


def _pair(middle: FloatArray, ring: FloatArray, i: int, wide: float) -> BoolArray:
    """Which clusters may be the two of a pair with one of them, itself included."""
    near = np.abs(np.log(middle / middle[i])) < wide
    out: BoolArray = near & (np.abs(np.log(ring / ring[i])) < ALIKE)
    return out


def _groups(hz: FloatArray) -> list[FloatArray]:
    """Indices of lines that stand together, low to high."""
    cuts = np.flatnonzero(np.diff(np.log(hz)) > NEAR) + 1
    return list(np.split(np.arange(len(hz)), cuts))


def _second(hz: FloatArray, energy: FloatArray, pitch: float, tones: Tones) -> float | None:
    """The (2,1), if a strong line stands where it belongs."""
    there = np.abs(np.log(hz / pitch / tones.second)) < BREADTH
    if not there.any():
        return None
    strong = energy[there] > 0.02 * energy.max()
    if not strong.any():
        return None
    return float(np.average(hz[there], weights=energy[there]))


def _refine(
    x: FloatArray,
    rate: float,
    hz: FloatArray,
    decay: FloatArray,
    amplitude: ComplexArray,
    own: BoolArray,
    density: float,
) -> tuple[float, float, float]:
    """Pitch, middle and standard deviation in cents of the (1,1), one line or two.

    What other lines give is taken away; then Gauss and Newton on one line, and on two, which
    count only where they explain much more.
    """
    others = np.logical_not(own)
    left = x
    if others.any():
        waves = _waves(len(x), rate, hz[others], decay[others])
        left = x - waves @ np.concatenate((amplitude[others].real, amplitude[others].imag))
    energy = np.abs(amplitude[own]) ** 2 / (4.0 * decay[own])
    top = int(np.argmax(energy))
    one = _newton(left, rate, hz[own][[top]], decay[own][[top]])
    best, two = one, None
    if own.sum() >= 2:
        pair = np.argsort(-energy)[:2]
        two = _newton(left, rate, hz[own][pair], decay[own][pair])
    else:
        apart = 0.006 * hz[own][top]
        start = hz[own][[top, top]] + np.array([-apart, apart])
        two = _newton(left, rate, start, decay[own][[top, top]])
    noise = density * rate / 2.0
    if two is not None and (one.rest - two.rest) / noise > SPLIT_GAIN and two.sane:
        best = two
    # over the tapped rod a line is as loud as the square of its shape there, and so is the share of
    # the tap's energy that it gets
    pitch = math.exp(float(np.average(np.log(best.hz), weights=np.abs(best.amplitude))))
    middle = math.exp(float(np.mean(np.log(best.hz))))
    found = float((np.abs(best.amplitude) ** 2 / (4.0 * best.decay)).sum())
    strength = math.sqrt(max(2.0 * found / density, 1.0))
    bound = 2.2 * float(best.decay[0]) / math.log(1000.0) / strength / pitch * CENTS
    return pitch, middle, max(1.5 * bound, 0.5)


@dataclass(frozen=True, eq=False)
class _Fitted:
    hz: FloatArray
    decay: FloatArray
    amplitude: ComplexArray
    rest: float

    @property
    def sane(self) -> bool:
        """True if the two lines are two and of one kind."""
        gap = abs(math.log(float(self.hz[0] / self.hz[1])))
        alike = abs(math.log(float(self.decay[0] / self.decay[1]))) < 1.0
        share = np.abs(self.amplitude)
        return 0.0008 < gap < PAIR and alike and float(share.min() / share.max()) > 0.05


def _newton(x: FloatArray, rate: float, hz: FloatArray, decay: FloatArray) -> _Fitted:
    """Least squares over frequency, decay and amplitude of one or two lines."""
    many = len(hz)
    time = np.arange(len(x)) / rate
    f, d = hz.astype(float).copy(), decay.astype(float).copy()
    amplitude, left = _amplitudes(x, rate, f, d)
    rest = float(left @ left)
    for _ in range(6):
        wave = np.exp(np.outer(time, 2j * np.pi * f - d))
        moved = amplitude * wave
        columns = np.concatenate(
            (wave.real, -wave.imag, (time[:, None] * moved).real, (time[:, None] * moved).imag),
            axis=1,
        )
        square = columns.T @ columns
        size = len(square)
        square[np.diag_indices(size)] *= 1.0 + 1e-7
        step = np.linalg.solve(square, columns.T @ left)
        by_d, by_f = -step[2 * many : 3 * many], -step[3 * many :] / (2.0 * np.pi)
        limit = max(float(np.abs(by_f / f).max()) / 0.004, float(np.abs(by_d / d).max()) / 0.4, 1.0)
        nf, nd = f + by_f / limit, np.clip(d + by_d / limit, SLOWEST, FASTEST)
        new, after = _amplitudes(x, rate, nf, nd)
        now = float(after @ after)
        if now > rest * (1.0 + 1e-12):
            break
        done = rest - now < 1e-5 * rest
        f, d, amplitude, left, rest = nf, nd, new, after, now
        if done:
            break
    return _Fitted(f, d, amplitude, rest)


def pooled(heard: list[Heard]) -> tuple[float, float]:
    """Lug pitch and its standard deviation in cents from several taps at one rod.

    Raises
    ------
    InputError
        If there are none.
    """
    if not heard:
        raise InputError("No tap was heard.", "Tap the rod.")
    value = np.log([h.lug_pitch_hz for h in heard])
    if len(heard) == 1:
        return float(np.exp(value[0])), heard[0].spread_cents
    middle = float(np.median(value))
    own = float(np.sqrt(1.0 / np.sum(1.0 / np.array([h.spread_cents for h in heard]) ** 2)))
    scatter = CENTS * 1.48 * float(np.median(np.abs(value - middle))) / math.sqrt(len(heard))
    return math.exp(middle), max(own, scatter, 0.3)
