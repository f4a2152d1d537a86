"""A head on a drum that is not there: what its rods, hoop, film and edge hide, and what it answers.

Richer than the rim the solver assumes: its own hoop, lugs and collar, modes on the whole tension
field with the air on both sides and the other head under its cushion, film that is not alike in
both directions, sometimes a dent in the edge; hands and gauges that are not exact (theory 20).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import drum_system
from kesselton.core.arrays import ComplexArray, FloatArray, kept
from kesselton.core.clear.rim import DIAL_PLACE, HARMONICS, Rim, dial_sees, field, rim_of
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.instrument.drum import Drum

LIGHTEST = 0.02
"""Of the heaviest shape, what one is taken to weigh at least."""
ORDERS, RANKS = 5, 3
RADII, AROUND = 14, 40
TAPPED_AT = 0.86
DIAL_THERE, DIAL_SLOPE = 80.0, 100.0
"""What the simulated dial reads at the start, and its divisions for a neper of tension."""
APART = 1.1
"""Mass and spring of the air are told apart by two frequencies so far apart."""
CUSHION = 3.0
"""Loss of the other head under its cushion, as a share of its restoring force."""


@dataclass(frozen=True)
class Hidden:
    """What is not as the construction says.

    Attributes
    ----------
    turn : how far each rod is out, turns
    hoop, collar, lug : over what is assumed
    lugs : scatter of the lugs among themselves
    grain : tension one way over the other, less one, half of it; and its direction
    dent_m, dent_rod : depth of a dent in the edge and the rod it lies at, 0 for none
    hand : a turn is so inexact, as a share; stick : what friction keeps back, turns
    pitch_cents, dial : noise of a reading
    """

    turn: tuple[float, ...]
    hoop: float = 1.0
    collar: float = 1.0
    lug: float = 1.0
    lugs: tuple[float, ...] = ()
    grain: float = 0.0
    grain_angle: float = 0.0
    dent_m: float = 0.0
    dent_rod: int = 0
    hand: float = 0.15
    stick: float = 0.004
    pitch_cents: float = 3.5
    dial: float = 0.75


def random_faults(rods: int, rng: np.random.Generator, out_turns: float = 0.12) -> Hidden:
    """What one drum among many hides."""
    dent = rng.random() < 0.1
    out = out_turns * rng.standard_normal(rods)
    return Hidden(
        tuple((out - out.mean()).tolist()),
        float(np.exp(0.3 * rng.standard_normal())),
        float(np.exp(0.25 * rng.standard_normal())),
        float(np.exp(0.25 * rng.standard_normal())),
        tuple(np.exp(0.05 * rng.standard_normal(rods)).tolist()),
        float(abs(0.004 * rng.standard_normal())),
        float(math.pi * rng.random()),
        float(4e-5 * rng.random()) if dent else 0.0,
        int(rng.integers(1, rods + 1)) if dent else 0,
    )


class SimulatedHead:
    """One head of a drum with everything it hides.

    Parameters
    ----------
    drum, side : as the technician knows them; the head is set near the drum's tension
    seed : of every chance there is in it
    """

    def __init__(self, drum: Drum, side: str, hidden: Hidden, seed: int) -> None:
        self.drum, self.side, self.hidden = drum, side, hidden
        self.rng = np.random.default_rng(seed)
        known = rim_of(drum, side, 1.0, hidden.hoop)
        self.rim: Rim = replace(
            known,
            collar_m2_per_n=known.collar_m2_per_n * hidden.collar,
            lug_n_per_m=known.lug_n_per_m * hidden.lug,
        )
        self._lugs = self.rim.lug_n_per_m * np.array(hidden.lugs or np.ones(known.rods))
        now = tensions(drum)
        self.start_n_per_m = now[drum.sides.index(side)]
        self.reference_hz = lug_pitch(drum, side, now)
        self.modes = _modes(drum, side, now, self.reference_hz)
        self.turns = self.start_n_per_m / self.rim.turn_n_per_m + np.array(hidden.turn)
        self.moves = 0

    def forces(self) -> FloatArray:
        """(rods,) newton in every rod; a slack rod pulls nothing."""
        pulling = np.ones(self.rim.rods, dtype=bool)
        for _ in range(self.rim.rods):
            force = self.rim.forces_of(np.where(pulling, self._lugs, 0.0)) @ self.turns
            slack = pulling & (force < 0.0)
            if not slack.any():
                break
            pulling &= ~slack
        return np.where(pulling, force, 0.0)

    def patterns(self) -> ComplexArray:
        """(H + 1,) patterns of the tension at the edge."""
        values: ComplexArray = self.rim.edge_per_newton @ self.forces()
        if self.hidden.dent_m:
            n = np.arange(HARMONICS + 1)
            width = math.radians(12.0)
            low = np.where(n == 0, 1.0, 2.0) * width / math.sqrt(2.0 * math.pi)
            low = self.hidden.dent_m * low * np.exp(-0.5 * (n * width) ** 2)
            at = 2.0 * math.pi * (self.hidden.dent_rod - 1) / self.rim.rods
            values = values - self.rim.edge_stiffness * low * np.exp(-1j * n * at)
        return values

    def tension(self) -> float:
        """Mean tension, N/m."""
        return float(self.patterns()[0].real)

    def pitches(self) -> FloatArray:
        """(rods,) lug pitch at every rod, Hz, without noise."""
        return self.modes.heard(self.rim, self.patterns(), self.hidden)

    def dial_tensions(self) -> FloatArray:
        """(rods,) tension under a dial at every rod, N/m."""
        seen = dial_sees(self.rim.poisson, DIAL_PLACE)
        wave = np.exp(1j * np.outer(self.rim.angles, np.arange(HARMONICS + 1)))
        out: FloatArray = (wave @ (seen * self.patterns())).real
        return out

    def local_cents(self) -> FloatArray:
        """(rods,) tension beside every rod over the mean, as cents of pitch."""
        seen = np.arange(HARMONICS + 1) <= self.rim.rods // 2
        wave = np.exp(1j * np.outer(self.rim.angles, np.arange(HARMONICS + 1)))
        at = (wave @ (seen * self.patterns())).real
        out: FloatArray = 0.5 * CENTS * np.log(np.maximum(at, 1.0) / at.mean())
        return out

    # what a technician does and reads

    def read_pitches(self) -> FloatArray:
        """(rods,) lug pitches as an ear with a meter reads them."""
        noise = self.hidden.pitch_cents * self.rng.standard_normal(self.rim.rods)
        out: FloatArray = self.pitches() * np.exp(noise / CENTS)
        return out

    def read_dial(self, kappa: float | None = None, there: float = DIAL_THERE) -> FloatArray:
        """(rods,) divisions of a dial: one is about one per cent at the tension it starts from, or
        as steep and at what reading as is given."""
        noise = self.hidden.dial * self.rng.standard_normal(self.rim.rods)
        slope = DIAL_SLOPE if kappa is None else kappa / self.start_n_per_m
        sunk = slope * (self.start_n_per_m / self.dial_tensions() - 1.0)
        out: FloatArray = np.maximum(there - sunk + noise, 0.0)
        return out

    def read_torque(self, diameter_m: float) -> FloatArray:
        """(rods,) newton metre of a torque key at every rod, each with its own friction."""
        friction = 0.15 * np.exp(0.2 * self.rng.standard_normal(self.rim.rods))
        out: FloatArray = friction * self.forces() * diameter_m
        return out

    def turn(self, turns: FloatArray) -> None:
        """Turn rods as a hand does: not exactly, and friction keeps a little back."""
        moved = turns != 0.0
        inexact = 1.0 + self.hidden.hand * self.rng.standard_normal(len(turns))
        kept = np.sign(turns) * np.minimum(self.hidden.stick, np.abs(turns))
        self.turns = np.maximum(self.turns + np.where(moved, turns * inexact - kept, 0.0), 0.0)
        self.moves += int(moved.sum())


def _seen_by_head(
    drum: Drum, side: str, now: tuple[float, ...], omega: float, still: bool
) -> list[FloatArray]:
    """D(omega) of one head per order, (RANKS, RANKS): the air and the other head folded in, or the
    other head standing still."""
    system = drum_system(drum, now, tuple(range(ORDERS)))
    value, _ = system.matrices(np.arange(ORDERS), np.full(ORDERS, omega, dtype=complex))
    own = system.slices[drum.sides.index(side)]
    out = []
    for row in range(ORDERS):
        d = value[row].astype(complex)
        far = np.ones(d.shape[0], dtype=bool)
        far[own] = False
        block = d[own, own]
        if far.any() and not still:
            other = d[np.ix_(far, far)]
            for place, part in enumerate(system.slices[: len(now)]):
                if part != own:  # under its cushion
                    k = now[place] * system.unit_stiffness[place, row, part]
                    at = np.arange(part.start, part.stop) - (part.start if part.start < own.start
                                                             else own.stop)  # fmt: skip
                    other[at, at] += 1j * CUSHION * k
            link = d[own][:, far]
            block = block - link @ np.linalg.solve(other, link.T)
        out.append(block.real[:RANKS, :RANKS])
    return out


def _positive(mass: FloatArray) -> FloatArray:
    """A mass as it is, or with what moves by no mass of its own made light: near a swing of the air
    what a head seems to weigh has any sign, and that of one shape says nothing of the others."""
    values, shapes = np.linalg.eigh(mass)
    out: FloatArray = (shapes * np.maximum(values, LIGHTEST * values[-1])) @ shapes.T
    return mass if values[0] > 0.0 else out


@kept(16)
def _modes(drum: Drum, side: str, now: tuple[float, ...], hz: float) -> _Modes:
    return _Modes(drum, side, now, hz)


class _Modes:
    """Modes of a head on any tension field, with the air and the other head taken as they are at
    the lug pitch: D(omega) there is a spring less a mass times omega squared."""

    def __init__(self, drum: Drum, side: str, now: tuple[float, ...], hz: float) -> None:
        orders = tuple(range(ORDERS))
        squares = (2.0 * math.pi * hz) ** 2 * (APART**2 - 1.0)
        first, masses = [], []
        tried = [
            [_seen_by_head(drum, side, now, 2.0 * math.pi * f, still) for f in (hz, APART * hz)]
            for still in (False, True)
        ]
        for m in orders:
            for low, high in tried:
                mass = (low[m] - high[m]) / squares
                if np.linalg.eigvalsh(mass)[0] > 0.0:
                    break  # else the other head is near its own pitch: it is taken to stand still
            first.append(low[m])
            masses.append(_positive(mass))
        system = drum_system(drum, now, orders)
        index = drum.sides.index(side)
        units = [system.unit_stiffness[index, m, system.slices[index]][:RANKS] for m in orders]
        springs = [
            a + (2.0 * math.pi * hz) ** 2 * mass - now[index] * np.diag(unit)
            for a, mass, unit in zip(first, masses, units, strict=True)
        ]
        s, ws = np.polynomial.legendre.leggauss(RADII)
        s, ws = 0.5 * (s + 1.0), 0.5 * ws
        theta = 2.0 * math.pi * np.arange(AROUND) / AROUND
        self.s, self.theta = np.repeat(s, AROUND), np.tile(theta, RADII)
        weight = np.repeat(ws * s, AROUND) * (2.0 * math.pi / AROUND)
        radial, turning, self._label = [], [], []
        whole = []
        for m in orders:
            basis = head_basis(m, RANKS)
            here = basis.values(self.s)
            step = 1e-5
            slope = (basis.values(self.s + step) - basis.values(self.s - step)) / (2.0 * step)
            for rank in range(RANKS):
                for wave, turn in ((np.cos, lambda x: -np.sin(x)), (np.sin, np.cos)):
                    if m == 0 and wave is np.sin:
                        continue
                    radial.append(slope[:, rank] * wave(m * self.theta))
                    turning.append(here[:, rank] * m * turn(m * self.theta) / self.s)
                    self._label.append((m, rank, wave))
                    whole.append(units[m][rank])
        gr, gt = np.array(radial).T, np.array(turning).T
        norm = np.einsum("pi,p,pi->i", gr, weight, gr) + np.einsum("pi,p,pi->i", gt, weight, gt)
        gain = np.sqrt(np.array(whole) / norm)
        self._gr, self._gt, self._weight = gr * gain, gt * gain, weight
        size = len(self._label)
        mass, spring = np.zeros((size, size)), np.zeros((size, size))
        for i, (m, rank, wave) in enumerate(self._label):
            for j, (m2, rank2, wave2) in enumerate(self._label):
                if m == m2 and wave is wave2:
                    mass[i, j] = masses[m][rank, rank2]
                    spring[i, j] = springs[m][rank, rank2]
        self._lower = np.linalg.inv(np.linalg.cholesky(mass))
        self._spring, self._gain = spring, gain
        self._values = {m: head_basis(m, RANKS).values(np.array([TAPPED_AT]))[0] for m in orders}

    def solve(
        self, rim: Rim, patterns: ComplexArray, hidden: Hidden
    ) -> tuple[FloatArray, FloatArray]:
        """Frequencies (M,) in hertz and shapes (size, M) on a tension field."""
        rr, tt, rt = field(rim, patterns, self.s, self.theta)
        mean = float(patterns[0].real)
        grain, way = hidden.grain * mean, 2.0 * (self.theta - hidden.grain_angle)
        rr, tt, rt = rr + grain * np.cos(way), tt - grain * np.cos(way), rt - grain * np.sin(way)
        w = self._weight[:, None]
        cross = self._gr.T @ (w * rt[:, None] * self._gt)
        k = self._gr.T @ (w * rr[:, None] * self._gr) + self._gt.T @ (w * tt[:, None] * self._gt)
        k += cross + cross.T + self._spring
        values, vectors = np.linalg.eigh(self._lower @ k @ self._lower.T)
        hz = np.sqrt(np.maximum(values, 0.0)) / (2.0 * math.pi)
        return hz, self._lower.T @ vectors

    def at_rods(self, shapes: FloatArray, angles: FloatArray) -> FloatArray:
        """(rods, M) displacement where a rod is tapped."""
        rows = [
            self._gain[i] * self._values[m][rank] * wave(m * angles)
            for i, (m, rank, wave) in enumerate(self._label)
        ]
        out: FloatArray = np.array(rows).T @ shapes
        return out

    def centre_moves(self, shapes: FloatArray) -> FloatArray:
        """(M,) True where most of a mode moves the middle of the head."""
        still = [i for i, (m, _, _) in enumerate(self._label) if m == 0]
        share = (shapes[still] ** 2).sum(axis=0) / (shapes**2).sum(axis=0)
        out: FloatArray = share > 0.5
        return out

    def heard(self, rim: Rim, patterns: ComplexArray, hidden: Hidden) -> FloatArray:
        """(rods,) pitch of the (1,1) pair, weighted by the energy each rod gives its two."""
        hz, shapes = self.solve(rim, patterns, hidden)
        results = [i for i, (m, rank, _) in enumerate(self._label) if m == 1 and rank == 0]
        share = (np.abs(shapes[results]) ** 2).sum(axis=0)
        pair = np.argsort(-share)[:2]
        weight = self.at_rods(shapes, rim.angles)[:, pair] ** 2
        out: FloatArray = np.exp((weight * np.log(hz[pair])).sum(axis=1) / weight.sum(axis=1))
        return out
