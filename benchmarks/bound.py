"""What a perfect detector could know of each line of a made stroke: the bound of Cramér and Rao.

Gaussian noise whose covariance is known (the microphone's is white; the room answers the stroke with
noise that dies away, so its covariance goes with the stroke itself); the law of the glide is known,
not how far each line glides; all lines within the band are unknown. Their frequencies and decays can
then not be known better, on the whole, than by the inverse of the Fisher information (S. M. Kay,
Fundamentals of Statistical Signal Processing: Estimation Theory, 1993, sections 3.8 and 15.7, from
memory; what is known beforehand of a glide is added as van Trees does). Two lines that are one to any
ear are judged by their mean, and so is the bound.
"""

from __future__ import annotations

import math

import numpy as np
from scipy.linalg import solve_triangular

from benchmarks.made_stroke import BEGINS_S, MadeStroke, PutIn
from benchmarks.taps2 import RATE_HZ

BAND_HZ = 200.0
FROM_S, TO_S = 0.012, 1.6
"""After the stroke: from when the beater is off, as long as the ears listen."""
QUIETEST_DB = -55.0
"""Fainter neighbours are part of the noise."""


GLIDE_SPREAD = 0.5
"""How much lines of one stroke glide otherwise than by the middle of them, ln (one standard deviation):
what is known beforehand."""
LEAST_GLIDE = 0.0005


def bounds(made: MadeStroke, which: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Standard deviation of the pitch, cents, and of T60, as a share, of lines (K,)."""
    spectrum = np.fft.fft(made.disturbed.dry, 1 << 18)
    both = [_bound(made, spectrum, int(i)) for i in which]
    return np.array([b[0] for b in both]), np.array([b[1] for b in both])


def within(sd: np.ndarray, limit: float) -> np.ndarray:
    """Chance (K,) that a normal error of such a deviation stays within a limit."""
    return np.array([math.erf(limit / one / math.sqrt(2.0)) for one in sd])


def _bound(made: MadeStroke, spectrum: np.ndarray, index: int) -> tuple[float, float]:
    centre, ring = float(made.hz[index]), float(made.t60_s[index])
    lines, own = made.put_in, made.made_of[index]
    loud = max(line.energy for line in lines) * 10.0 ** (QUIETEST_DB / 10.0)
    near = [
        i for i, line in enumerate(lines)
        if i in own or (abs(line.hz - centre) < 0.5 * BAND_HZ and line.energy > loud)
    ]  # fmt: skip
    time = np.arange(FROM_S, TO_S, 1.0 / BAND_HZ)
    slopes = _slopes([lines[i] for i in near], made.disturbed.glide_rate, time, centre)
    low = np.linalg.cholesky(_covariance(made, spectrum, centre, time))
    white = solve_triangular(low, slopes, lower=True)
    information = 2.0 * (white.conj().T @ white).real
    middle = float(np.median([line.glide for line in lines]))
    place = np.arange(len(near)) * KNOWN
    information[place + 4, place + 4] += (GLIDE_SPREAD * max(middle, LEAST_GLIDE)) ** -2
    scale = 1.0 / np.sqrt(np.maximum(np.diag(information), 1e-300))
    spread = np.linalg.pinv(information * np.outer(scale, scale), rcond=1e-13)
    spread *= np.outer(scale, scale)
    by_hz, by_ring = _of_means(made, index, near)
    cents = 1200.0 / math.log(2.0) * math.sqrt(max(by_hz @ spread @ by_hz, 0.0)) / centre
    return cents, math.sqrt(max(by_ring @ spread @ by_ring, 0.0)) / ring


def _of_means(made: MadeStroke, index: int, near: list[int]) -> tuple[np.ndarray, np.ndarray]:
    """How the mean frequency and ring of a line go with what is unknown of those it is made of."""
    own = made.made_of[index]
    by_hz, by_ring = np.zeros(KNOWN * len(near)), np.zeros(KNOWN * len(near))
    whole = sum(made.put_in[i].energy for i in own)
    for i in own:
        line, at = made.put_in[i], KNOWN * near.index(i)
        share, decay = line.energy / whole, math.log(1000.0) / line.t60_s
        longer, higher = line.t60_s - made.t60_s[index], line.hz - made.hz[index]
        gone = math.exp(-0.4 * decay)
        louder = 0.4 * gone / (1.0 - gone) - 1.0 / decay  # of its energy, ln, by the decay
        by_hz[at] = share / (2.0 * math.pi)
        by_hz[at + 1] = share * higher * louder
        by_hz[at + 2] = 2.0 * share * higher
        by_ring[at + 1] = share * (longer * louder - line.t60_s / decay)
        by_ring[at + 2] = 2.0 * share * longer
    return by_hz, by_ring


KNOWN = 5
"""Unknown of each line: angular frequency, decay, logarithm of the amplitude, phase, glide."""


def _slopes(lines: list[PutIn], rate: float, time: np.ndarray, centre: float) -> np.ndarray:
    """Of the band (N,) by what is unknown of each line, (N, 5 L)."""
    run = -np.expm1(-rate * time) / rate
    columns = []
    for line in lines:
        decay = math.log(1000.0) / line.t60_s
        ahead = time + line.glide * run
        turn = 2.0 * np.pi * (line.hz * ahead - centre * time) + line.phase
        wave = 0.5 * line.amplitude * np.exp(1j * turn - decay * time)
        glides = 2j * np.pi * line.hz * run * wave
        columns += [1j * ahead * wave, -time * wave, wave, 1j * wave, glides]
    return np.column_stack(columns)


def _covariance(
    made: MadeStroke, spectrum: np.ndarray, centre: float, time: np.ndarray
) -> np.ndarray:
    """(N, N) of what lies over a band: the microphone's noise and the room's answer."""
    over = made.disturbed
    many = len(spectrum)
    width = round(BAND_HZ / RATE_HZ * many)
    middle = round(centre / RATE_HZ * many)
    part = spectrum[np.arange(middle - width // 2, middle - width // 2 + width) % many]
    # the band of the stroke at BAND_HZ samples a second, its middle brought to zero
    band = np.fft.ifft(np.fft.ifftshift(part)) * width / many
    first = round((BEGINS_S + FROM_S) * BAND_HZ)
    reach = int(0.5 * BAND_HZ)
    lag = np.arange(reach)
    shifted = np.column_stack([band[first - m + np.arange(len(time))] for m in lag])
    tail = over.room**2 * np.exp(-2.0 * 6.9 / over.room_t60_s * lag / BAND_HZ)
    room = (shifted * (RATE_HZ / BAND_HZ * tail)) @ shifted.conj().T
    return room + np.eye(len(time)) * over.noise**2 * BAND_HZ / RATE_HZ
