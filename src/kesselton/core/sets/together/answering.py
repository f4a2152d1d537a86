"""Who sets whom talking: a stroke on one drum, and what another drum's heads and wires do (theory
section 26)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.partials import AIR, decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import LISTENING_S, energies_j
from kesselton.core.prediction.wires import ACROSS, Lying, lying

LOUDEST = 16
"""Partials of a struck drum that count: the rest is 30 dB and more under them."""
LOOKED_S, STEPS = 1.0, 101
WIRES_LOOKED_S, WIRES_STEPS = 0.4, 1600
RINGS_DB = 20.0
"""An answer rings until it is so far under its own height."""
HEARD_DB = -30.0
"""Answers further under the stroke than this are not heard beside it; assumed."""
MIN_DISTANCE_M = 0.05


@dataclass(frozen=True, eq=False)
class Ready:
    """A drum as it is set, solved, and with its wires lying on it if they are engaged."""

    drum: Drum
    prediction: Prediction
    on: Lying | None

    @property
    def rate(self) -> FloatArray:
        """Neper a second of every partial, muffling counted, (P,)."""
        return decay_rate(self.prediction.partials.t60_s)


def ready(prediction: Prediction) -> Ready:
    """A predicted drum, made ready to answer others.

    Raises
    ------
    InputError, ConvergenceError
        If its wires cannot lie on it.
    """
    drum = prediction.drum
    laid = drum.lying_wires
    return Ready(drum, prediction, None if laid is None else lying(prediction.partials, laid))


@dataclass(frozen=True)
class Answer:
    """How one drum answers a stroke on another.

    Attributes
    ----------
    level_db : sound of the answering heads over that of the stroke, both 1 m away, mean of the
        first 0.2 s
    time_s : until it is 20 dB under its own height
    led_by_hz : partial of the answering drum that sounds loudest
    wires_db : how far its head goes beyond what lifts the wires, dB over it; nan without wires,
        inf where they hang off anyway
    wires_s : for how long
    wires_hz : the note of the struck drum that drives them most
    """

    struck: int
    answering: int
    level_db: float
    time_s: float
    led_by_hz: float
    wires_db: float
    wires_s: float
    wires_hz: float

    @property
    def wires_over(self) -> bool:
        """Whether wires leave the head."""
        return self.wires_db > 0.0


def coupling(prediction: Prediction, omega: FloatArray, radiation: FloatArray) -> FloatArray:
    """Force on each motion over the sound pressure at the drum, m^2/sqrt(kg), (P,).

    Notes
    -----
    Theory eq. 91, S^2 = 4 pi c 2 d / (rho w^2) at modal mass 1 kg, d the decay by radiation alone:
    reciprocity, a small source that sends alike to all sides (L. E. Kinsler et al., Fundamentals
    of Acoustics, on reciprocity, from memory).
    """
    air = prediction.drum.air
    c, rho = air.sound_speed_m_per_s, air.density_kg_per_m3
    out: FloatArray = np.sqrt(4.0 * math.pi * c * 2.0 * radiation / (rho * omega**2))
    return out


def sound_pressures(struck: Ready, stroke: Stroke, distance_m: float) -> FloatArray:
    """Peak sound pressure of each partial at first, (P,) Pa (theory eq. 92)."""
    p, air = struck.prediction.partials, struck.drum.air
    energy = energies_j(p, stroke, struck.prediction.lines)
    watt = 2.0 * struck.rate * p.radiated_share * energy
    near = max(distance_m, MIN_DISTANCE_M)
    rho_c = air.density_kg_per_m3 * air.sound_speed_m_per_s
    out: FloatArray = np.sqrt(2.0 * rho_c * watt / (4.0 * math.pi * near**2))
    return out


def answer(
    struck: Ready, answering: Ready, stroke: Stroke, distance_m: float, pair: tuple[int, int]
) -> Answer:
    """How one drum answers a stroke on another.

    Parameters
    ----------
    stroke : on the struck drum
    pair : numbers of both, for the answer
    """
    p = struck.prediction.partials
    pressure = sound_pressures(struck, stroke, distance_m)
    loud = np.argsort(-pressure)[:LOUDEST]
    drive = 2.0 * np.pi * p.frequency_hz[loud] + 1j * struck.rate[loud]
    far = sound_pressures(struck, stroke, 1.0)
    lasts = 2.0 * struck.rate * LISTENING_S
    against = float(np.sum(0.5 * far**2 * -np.expm1(-lasts) / lasts))
    return driven(answering, drive, pressure[loud], pair, against)


def tone(answering: Ready, hz: float, pascal: float, number: int) -> Answer:
    """How a drum answers a tone played in the room that goes on: peak pressure at the drum."""
    drive = np.array([2.0 * np.pi * hz + 0j])
    return driven(answering, drive, np.array([pascal]), (-1, number), 0.5 * pascal**2)


def driven(
    answering: Ready,
    drive: ComplexArray,
    pressure: FloatArray,
    pair: tuple[int, int],
    against: float,
) -> Answer:
    """How a drum answers lines of sound that begin together.

    Parameters
    ----------
    drive, pressure : (L,) complex rad/s and peak Pa of each at the drum
    against : mean square of the sound pressure its level is told against, Pa^2 at 1 m

    Notes
    -----
    Theory eq. 93: q_i = S_i p (e^(j w_j t) - e^(j w_i t)) / (w_i^2 - w_j^2), every motion by every
    line, the energies of different lines added. Wires lie on the head and load it; what would
    throw them off is told, not followed.
    """
    prediction, p = answering.prediction, answering.prediction.partials
    keep = np.flatnonzero(p.branch != AIR)
    omega = 2.0 * np.pi * p.frequency_hz[keep] + 1j * answering.rate[keep]
    radiation = answering.rate[keep] * p.radiated_share[keep]
    s = coupling(prediction, omega.real, radiation)
    amplitude = np.abs(s[:, None] * pressure / _apart(omega, drive))
    air = answering.drum.air
    rho_c = air.density_kg_per_m3 * air.sound_speed_m_per_s
    # mean square of the pressure 1 m away, of each motion driven by each line, at some times
    loud = rho_c / (4.0 * math.pi) * radiation * omega.real**2
    time = np.linspace(0.0, LOOKED_S, STEPS)
    turn = (drive.real - omega.real[:, None])[..., None] * time
    own, line = (np.exp(-x.imag[:, None] * time) for x in (omega, drive))
    swing = line**2 + own[:, None] ** 2 - 2.0 * line * own[:, None] * np.cos(turn)
    each = loud[:, None] * np.einsum("ij,ijt->it", amplitude**2, swing)
    heard = time <= LISTENING_S
    together = each.sum(axis=0)
    level = 10.0 * math.log10(max(float(together[heard].mean()), 1e-30) / max(against, 1e-30))
    top = int(np.argmax(together))
    later = np.flatnonzero(together[top:] > together[top] * 10.0 ** (-RINGS_DB / 10.0))
    last = float(time[top + int(later[-1])]) if len(later) else 0.0
    led = float(p.frequency_hz[keep][int(np.argmax(each[:, heard].mean(axis=1)))])
    over, over_s, over_hz = math.nan, 0.0, 0.0
    if answering.on is not None:
        over, over_s, over_hz = _wires(answering, answering.on, drive, pressure)
    return Answer(*pair, level, last, led, over, over_s, over_hz)


def _apart(omega: ComplexArray, drive: ComplexArray) -> ComplexArray:
    """w_i^2 - w_j^2 (I, J), never nought: two equal lines drive each other through their decay."""
    own = (1j * omega.real - omega.imag)[:, None]
    line = (1j * drive.real - drive.imag)[None, :]
    gap = line**2 + 2.0 * omega.imag[:, None] * line + np.abs(omega[:, None]) ** 2
    least = 1e-6 * np.abs(own) ** 2
    out: ComplexArray = np.where(np.abs(gap) < least, least, gap)
    return out


def _wires(
    answering: Ready, on: Lying, drive: ComplexArray, pressure: FloatArray
) -> tuple[float, float, float]:
    """How far beyond what lifts its wires a head goes, for how long, and driven by which note."""
    if on.leaves_m_per_s2 <= 0.0:
        return math.inf, math.inf, 0.0
    p = answering.prediction.partials
    bare = coupling(
        answering.prediction,
        2.0 * np.pi * p.frequency_hz[on.index],
        answering.rate[on.index] * p.radiated_share[on.index],
    )
    s = bare @ on.mix  # the same sound on the loaded motions
    amplitude = s[:, None] * pressure / _apart(on.omega, drive)
    middle = slice(ACROSS // 2, None, 2 * ACROSS)
    along = on.on_wires[:, middle]
    time = np.linspace(0.0, 1.0, WIRES_STEPS) ** 2 * WIRES_LOOKED_S  # denser at first
    waves = np.exp((1j * drive.real - drive.imag)[:, None] * time)
    own = np.exp((1j * on.omega.real - on.omega.imag)[:, None] * time)
    # the head's acceleration: each part with the square of its own frequency
    forced = amplitude * np.abs(drive) ** 2
    free = amplitude.sum(axis=1) * on.omega.real**2
    motion = along.T @ (forced @ waves - free[:, None] * own)
    whole = np.abs(motion.real).max(axis=0)
    share = np.abs(along).max(axis=1) @ (np.abs(forced) ** 2)
    over = 20.0 * math.log10(max(float(whole.max()), 1e-12) / on.leaves_m_per_s2)
    beyond = np.flatnonzero(whole > on.leaves_m_per_s2)
    lasts = float(time[beyond[-1]]) if len(beyond) else 0.0
    return over, lasts, float(drive[int(np.argmax(share))].real / (2.0 * np.pi))


def matrix(
    drums: Sequence[Ready], strokes: Sequence[Stroke], distances_m: FloatArray
) -> list[list[Answer | None]]:
    """Every drum struck, every other answering; rows are the struck.

    Parameters
    ----------
    strokes : one for each drum
    distances_m : (D, D) between them
    """
    return [
        [
            None
            if i == j
            else answer(drums[i], drums[j], strokes[i], float(distances_m[i, j]), (i, j))
            for j in range(len(drums))
        ]
        for i in range(len(drums))
    ]
