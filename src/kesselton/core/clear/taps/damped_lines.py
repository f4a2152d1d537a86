"""A sound as a sum of damped lines: frequency, decay, amplitude (theory 21)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import ComplexArray, FloatArray

LOW_HZ = 30.0
PAIRS = 16
FASTEST, SLOWEST = 90.0, 1.2
"""Decay of lines that are of a drum, neper a second: T60 from 0.08 to 5.8 s; hum does not decay."""
MIN_2E_N0 = 20.0
"""A line counts from 13 dB of twice its energy over the noise density."""
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


def damped_lines(
    x: FloatArray, rate: float, high_hz: float
) -> tuple[FloatArray, FloatArray, ComplexArray, float]:
    """Frequency, decay and amplitude of the damped lines of a tap, and the noise density."""
    many = min(2 * PAIRS, len(x) // 3 - 2)
    poles = esprit(x, many)
    angle = np.angle(poles)
    poles, angle = poles[angle > 0.0], angle[angle > 0.0]
    hz = angle * rate / (2.0 * np.pi)
    decay = -np.log(np.abs(poles)) * rate
    good = (hz > LOW_HZ) & (hz < high_hz) & (decay < 4.0 * FASTEST) & (decay > -8.0)
    hz, decay = hz[good], decay[good]
    for _ in range(2):
        if len(hz) == 0:
            break
        amplitude, left = amplitudes(x, rate, hz, decay)
        density = max(float(np.mean(left**2)) / (rate / 2.0), 1e-20)
        shown = np.abs(amplitude) ** 2 / (4.0 * np.maximum(decay, SLOWEST))
        keep = (2.0 * shown / density > MIN_2E_N0) | (decay < SLOWEST)
        hz, decay = hz[keep], decay[keep]
    if len(hz) == 0:
        return hz, decay, np.zeros(0, dtype=complex), 1e-20
    amplitude, left = amplitudes(x, rate, hz, decay)
    density = max(float(np.mean(left**2)) / (rate / 2.0), 1e-20)
    drum = (decay > SLOWEST) & (decay < FASTEST)  # hum is fitted, so that it does no harm
    order = np.argsort(hz[drum])
    return hz[drum][order], decay[drum][order], amplitude[drum][order], density


def esprit(x: FloatArray, many: int) -> ComplexArray:
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


def waves(count: int, rate: float, hz: FloatArray, decay: FloatArray) -> FloatArray:
    """Cosine and sine of every line (N, 2 lines)."""
    time = np.arange(count) / rate
    wave = np.exp(np.outer(time, 2j * np.pi * hz - decay))
    out: FloatArray = np.concatenate((wave.real, -wave.imag), axis=1)
    return out


def amplitudes(
    x: FloatArray, rate: float, hz: FloatArray, decay: FloatArray
) -> tuple[ComplexArray, FloatArray]:
    """Amplitudes by least squares, and what they leave of the sound."""
    columns = waves(len(x), rate, hz, decay)
    size = columns.shape[1]
    square = columns.T @ columns
    square[np.diag_indices(size)] *= 1.0 + 1e-9
    parts = np.linalg.solve(square, columns.T @ x)
    return parts[: len(hz)] + 1j * parts[len(hz) :], x - columns @ parts


@dataclass(frozen=True, eq=False)
class FittedLines:
    """One line or two after refinement; `rest` is the energy they leave."""

    hz: FloatArray
    decay: FloatArray
    amplitude: ComplexArray
    rest: float


def refined(x: FloatArray, rate: float, hz: FloatArray, decay: FloatArray) -> FittedLines:
    """Least squares over frequency, decay and amplitude of one or two lines."""
    many = len(hz)
    time = np.arange(len(x)) / rate
    f, d = hz.astype(float).copy(), decay.astype(float).copy()
    amplitude, left = amplitudes(x, rate, f, d)
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
        new, after = amplitudes(x, rate, nf, nd)
        now = float(after @ after)
        if now > rest * (1.0 + 1e-12):
            break
        done = rest - now < 1e-5 * rest
        f, d, amplitude, left, rest = nf, nd, new, after, now
        if done:
            break
    return FittedLines(f, d, amplitude, rest)
