"""Damped lines fitted to a band of a stroke by least squares, gliding or not (theory 23)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray

GLIDE_OWN_HZ = 4.0
"""What a line may glide beyond its band (sd)."""
GLIDE_HZ = (-2.0, 40.0)
SHOWS_GLIDE = 2.0
"""A line that decays faster than so many times its glide is over before it."""
FIRM, NOTHING = 1e-9, 1e-14
"""Added to what is solved, as a share of its diagonal; and what rounding leaves of a band."""


@dataclass(frozen=True, eq=False)
class Fitted:
    """Lines of a band about its middle (L,): hertz, neper a second, amplitude, hertz by which each
    glides, and twice the energy over the density of what is left, whose variance is kept with the
    sums of the fit."""

    hz: FloatArray
    decay: FloatArray
    amplitude: ComplexArray
    glide_hz: FloatArray
    sure: FloatArray
    variance: float
    sums: _Sums

    def spread(self) -> FloatArray:
        """(L,) standard deviation of a decay, and of a frequency in radians a second."""
        square = _of_lines(self.sums, self.amplitude)
        square[np.diag_indices(len(square))] *= 1.0 + FIRM
        own = np.maximum(np.diag(np.linalg.inv(square)).real[len(self.hz) :], 0.0)
        out: FloatArray = np.sqrt(0.5 * self.variance * own)
        return out


def refined(
    y: ComplexArray,
    rate: float,
    hz: FloatArray,
    decay: FloatArray,
    glide_hz: FloatArray,
    run: FloatArray,
    glide_rate: float,
    rounds: int,
) -> Fitted:
    """Least squares over all lines of a band; doubts by its curvature and what it leaves.

    Parameters
    ----------
    run : (N,) seconds a phase runs ahead with a glide of 1
    """
    time = np.arange(len(y)) / rate
    f, d, g = hz.copy(), decay.copy(), glide_hz.copy()
    slow = decay < SHOWS_GLIDE * glide_rate  # the others have no glide of their own
    power = float(np.vdot(y, y).real)
    sounds = np.stack((y, time * y, run * y))
    best, kept = math.inf, None
    for i in range(rounds):
        sums = _sums(_waves(rate, f, d, g, run), time, run, slow, sounds)
        a = _amplitudes(sums.plain, sums.heard[:, 0])
        rest = power - 2.0 * float(np.vdot(a, sums.heard[:, 0]).real)
        rest = max(rest + float(np.vdot(a, sums.plain @ a).real), NOTHING * power)
        if rest > best * (1.0 - 1e-4):
            break
        best, kept = rest, (f, d, g, a, sums)
        if i == rounds - 1:
            break
        square, right = _normal(sums, a, slow, rest / len(y) / (2.0 * np.pi * GLIDE_OWN_HZ) ** 2)
        step = np.linalg.solve(square, right)
        many = len(f)
        by, turn = step[many : 2 * many], step[2 * many :].imag / (2.0 * np.pi)
        limit = max(float(np.abs(by).max()) / 6.0, 1.0)
        f = f + by.imag / (2.0 * np.pi) / limit
        d = np.maximum(d - by.real / limit, 0.2)
        g = g.copy()
        g[slow] = np.clip(g[slow] + turn / limit, *GLIDE_HZ)
    assert kept is not None
    f, d, g, a, sums = kept
    many = len(f)
    variance = best / max(len(y) - 2 * many, 1)
    energy = np.abs(a) ** 2 * -np.expm1(-2.0 * d * time[-1]) / (2.0 * d)
    sure = 2.0 * energy / (variance / rate + 1e-300)
    return Fitted(f, d, a, g, sure, variance, sums)


def _waves(
    rate: float, hz: FloatArray, decay: FloatArray, glide_hz: FloatArray, run: FloatArray
) -> ComplexArray:
    """(L, N) damped lines that begin with 1; by doubling, since an exponential each is dear."""
    many = len(run)
    out = np.empty((len(hz), many), dtype=complex)
    out[:, 0] = 1.0
    turn = (2j * np.pi * hz - decay) / rate
    done = 1
    while done < many:
        more = min(done, many - done)
        np.multiply(out[:, :more], np.exp(done * turn)[:, None], out=out[:, done : done + more])
        done += more
    common = float(glide_hz[0])
    out *= _turned(common * run)
    own = glide_hz != common
    if own.any():
        out[own] *= _turned(np.multiply.outer(glide_hz[own] - common, run))
    return out


def _turned(cycles: FloatArray) -> ComplexArray:
    """(…,) a wave by so many cycles: sine and cosine are cheaper than an exponential."""
    phase = 2.0 * math.pi * cycles
    out = np.empty(phase.shape, dtype=complex)
    np.cos(phase, out=out.real)
    np.sin(phase, out=out.imag)
    return out


class _Sums(NamedTuple):
    """Sums over a band of its lines on each other: as they are, times the time, times its square;
    of those that glide, times what they run ahead, the same and the time, its square; and of the
    lines on the sound, on it times the time, times what it runs ahead (L, 3)."""

    plain: ComplexArray
    timed: ComplexArray
    twice: ComplexArray
    ahead: ComplexArray
    ahead_timed: ComplexArray
    ahead_twice: ComplexArray
    heard: ComplexArray


def _sums(
    wave: ComplexArray, time: FloatArray, run: FloatArray, slow: BoolArray, sounds: ComplexArray
) -> _Sums:
    """All in one product: of the columns of least squares most differ by a weight only."""
    gliding = wave[slow]
    rows = np.concatenate(
        (wave, time * wave, time**2 * wave, run * gliding, run * time * gliding,
         run**2 * gliding, sounds)
    )  # fmt: skip
    all_ = wave.conj() @ rows.T
    many, few = len(wave), int(slow.sum())
    ends = np.cumsum([0, many, many, many, few, few, few, len(sounds)]).tolist()
    return _Sums(*(all_[:, a:b] for a, b in itertools.pairwise(ends)))


def _amplitudes(square: ComplexArray, right: ComplexArray) -> ComplexArray:
    firm = square.copy()
    firm[np.diag_indices(len(firm))] *= 1.0 + FIRM
    return np.asarray(np.linalg.solve(firm, right), dtype=complex)


def _of_lines(sums: _Sums, a: ComplexArray) -> ComplexArray:
    """(2 L, 2 L) of the equations, for amplitudes and for frequencies and decays."""
    many = len(a)
    square = np.empty((2 * many, 2 * many), dtype=complex)
    square[:many, :many] = sums.plain
    square[:many, many:] = sums.timed * a
    square[many:, many:] = sums.twice * (a.conj()[:, None] * a)
    square[many:, :many] = square[:many, many:].conj().T
    return square


def _normal(
    sums: _Sums, a: ComplexArray, slow: BoolArray, glide_weight: float
) -> tuple[ComplexArray, ComplexArray]:
    """Equations for what is to be added to amplitudes, to frequencies and decays, to glides."""
    of, ours = a.conj(), a[slow]
    many, few = len(a), len(ours)
    size = 2 * many + few
    lines, glides = slice(2 * many), slice(2 * many, size)
    square = np.empty((size, size), dtype=complex)
    square[lines, lines] = _of_lines(sums, a)
    square[:many, glides] = sums.ahead * ours
    square[many : 2 * many, glides] = sums.ahead_timed * (of[:, None] * ours)
    square[glides, glides] = sums.ahead_twice[slow] * (of[slow][:, None] * ours)
    square[glides, lines] = square[lines, glides].conj().T
    place = np.arange(size)
    firm = FIRM * square[place, place].real
    strength = np.diagonal(sums.plain).real[slow] * np.abs(ours) ** 2
    firm[glides] += glide_weight + FIRM * strength
    square[place, place] += firm
    heard, timed, ahead = sums.heard.T
    right = np.concatenate(
        (heard - sums.plain @ a, of * (timed - sums.timed @ a),
         of[slow] * (ahead[slow] - sums.ahead.conj().T @ a))
    )  # fmt: skip
    return square, right
