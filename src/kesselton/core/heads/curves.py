"""Lug pitch against tension of many heads over one shell (theory eq. 28)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.film.film_part import End
from kesselton.core.acoustics.solver.lug import ONE_DIAMETER, SWING
from kesselton.core.acoustics.solver.modes import iterate
from kesselton.core.acoustics.solver.partials import air_round, outside_air
from kesselton.core.acoustics.solver.system import OPENING_FUNCTIONS, DrumSystem
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.heads.stack import Stack, functions_of
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.prediction.usable import tension_limits

MAX_ROUNDS = 12
PITCH_POINTS = 13
AIR_LOAD = 0.6
"""Air on a (1,1), as a share of density times radius: only to know where to look."""
FIRST_ZERO_OF_J1 = 3.8317
NEAREST_TO_SWING = 0.95


@dataclass(frozen=True, eq=False)
class Curves:
    """Lug pitch against tension of H heads over the closed shell, the other head muted.

    log T (1 - f^2 / f_c^2) is a polynomial in log f through `PITCH_POINTS` solved points per head:
    T has a pole at the lowest swing f_c of the air across the shell. Beyond the solved span T goes
    with the square of f.
    """

    heads: tuple[Head, ...]
    low: FloatArray
    high: FloatArray
    terms: FloatArray
    air_hz: float

    def tension(self, head: IndexArray, hz: FloatArray) -> FloatArray:
        """N/m (F,) of heads (F,) at lug pitches (F,)."""
        low, high = np.log(self.low[head]), np.log(self.high[head])
        x = np.log(hz)
        inside = np.clip(x, low, high)
        t = (2.0 * inside - low - high) / (high - low)
        angle = np.arccos(np.clip(t, -1.0, 1.0))
        series = np.cos(angle[:, None] * np.arange(self.terms.shape[1]))
        value = np.sum(series * self.terms[head], axis=1) + 2.0 * (x - inside)
        out: FloatArray = np.exp(value) / (1.0 - np.exp(2.0 * inside) / self.air_hz**2)
        return out

    def pitch(self, head: IndexArray, tension_n_per_m: FloatArray) -> FloatArray:
        """Lug pitch (F,) in hertz at tensions (F,)."""
        step = 1e-3
        hz = np.sqrt(self.low[head] * self.high[head])
        for _ in range(MAX_ROUNDS):
            here = self.tension(head, hz)
            slope = np.log(self.tension(head, hz * (1.0 + step)) / here) / np.log1p(step)
            move = np.log(tension_n_per_m / here) / np.maximum(slope, 1.0)
            hz = hz * np.exp(np.clip(move, -1.0, 1.0))
            if np.all(np.abs(move) < 1e-7):
                break
        return hz


def _solved(drum: Drum, heads: Sequence[Head]) -> Curves:
    """Lug pitch curves of heads on this shell, solved together.

    Notes
    -----
    Theory eq. 15 for the tension at a pitch, and one root each for the shift by decay.
    """
    functions = max(functions_of(head) for head in heads)
    mass = np.array([head.base_density_kg_per_m2 for head in heads])
    radius = drum.shell.radius_m
    # a span of lug pitches that holds every usable range
    limits = [tension_limits(head, drum.shell, drum.kind, "batter") for head in heads]
    air = 1.0 + AIR_LOAD * drum.air.density_kg_per_m3 * radius / mass
    scale = FIRST_ZERO_OF_J1 / (2.0 * np.pi * radius) / np.sqrt(mass * air)
    low = 0.8 * scale * np.sqrt([x.lowest.tension_n_per_m for x in limits])
    high = (
        1.15
        * scale
        * np.sqrt([max(x.highest.tension_n_per_m, 4.0 * x.lowest.tension_n_per_m) for x in limits])
    )
    air_hz = SWING * drum.air.sound_speed_m_per_s / (2.0 * np.pi * radius)
    high = np.minimum(high, NEAREST_TO_SWING * air_hz)
    low = np.minimum(low, 0.5 * high)
    count = len(heads)
    angle = (np.arange(PITCH_POINTS) + 0.5) * np.pi / PITCH_POINTS
    middle, half = 0.5 * np.log(low * high), 0.5 * np.log(high / low)
    hz = np.exp(middle[:, None] + half[:, None] * np.cos(angle))
    owner = np.repeat(np.arange(count), PITCH_POINTS)
    edge = drum.shell.edge_loss
    ends = [End(heads[0], 1.0, functions, edge)]
    if drum.resonant is None:
        ends.append(End(None, 0.0, OPENING_FUNCTIONS))
    alone = DrumSystem(
        ONE_DIAMETER,
        tuple(ends),
        radius,
        drum.shell.depth_m,
        drum.air,
        outside_air(drum) if drum.resonant is None else air_round(drum),
    )
    stack = Stack(alone, [(head,) for head in heads], owner, edge)
    omega = 2.0 * np.pi * hz.ravel()
    tension, start = stack.held_at(omega).factor(np.ones((len(owner), 1)))
    shape: ComplexArray = start.astype(complex)
    for _ in range(2):
        system = stack.at(tension[:, None])
        row = np.arange(len(owner))
        part, shape, _ = iterate(system, row, omega.astype(complex), shape, None, 1.0)
        tension = tension * (omega / part.real) ** 2
    values = np.log(tension * (1.0 - (hz.ravel() / air_hz) ** 2)).reshape(count, PITCH_POINTS)
    order = np.arange(PITCH_POINTS)
    terms = (2.0 / PITCH_POINTS) * values @ np.cos(angle[:, None] * order)
    terms[:, 0] *= 0.5
    return Curves(tuple(heads), low, high, terms, air_hz)


def head_curves(drum: Drum, heads: Sequence[Head]) -> Curves:
    """Lug pitch curves of plain and of stepped heads on a shell, in the order given."""
    groups = [[i for i, h in enumerate(heads) if bool(h.additions) is on] for on in (False, True)]
    low, high = np.empty(len(heads)), np.empty(len(heads))
    terms = np.empty((len(heads), PITCH_POINTS))
    for group in groups:
        if group:
            curves = _solved(drum, [heads[i] for i in group])
            low[group], high[group], terms[group] = curves.low, curves.high, curves.terms
    return Curves(tuple(heads), low, high, terms, curves.air_hz)
