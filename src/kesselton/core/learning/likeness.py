"""How alike two strokes are: by note, ring, brightness, and where their lines lie (theory 86)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.instrument.kept import Kept

LOW_HZ, HIGH_HZ, BINS = 40.0, 1600.0, 40
WIDTH_BINS = 0.8
"""Lines are spread over their neighbours: 1.3 half steps, as split pairs are."""
NOTE_CENTS, RING_LN, BRIGHT_OCTAVES, SPECTRUM_ANGLE = 40.0, 0.3, 0.35, 0.5
"""What counts as one step of unlikeness; assumed."""
ALIKE = 6.0
"""Strokes that are farther from one than this many steps are not like it."""
ALIKE_OCTAVES = ALIKE * NOTE_CENTS / 1200.0
"""And their notes are no farther apart than this."""
SIZE = 3 + BINS


def fingerprint(kept: Kept) -> FloatArray | None:
    """What of a kept stroke is compared: (SIZE,) note in octaves, ln of T60, brightness in octaves
    over the note, and where its level lies; None where no stroke was kept."""
    lines = [line for line in kept.lines if line.hz > 0.0 and line.t60_s > 0.0]
    if not lines:
        return None
    hz = np.array([line.hz for line in lines])
    level = 10.0 ** (np.array([line.level_db for line in lines]) / 20.0)
    loudest = int(np.argmax(level))
    note = kept.heard_hz if kept.heard_hz is not None else float(hz[loudest])
    near = int(np.argmin(np.abs(np.log2(hz / note))))
    out = np.zeros(SIZE)
    out[0] = math.log2(note)
    out[1] = math.log(lines[near].t60_s)
    out[2] = float(np.sum(level * np.log2(hz / note)) / np.sum(level))
    place = np.log(hz / LOW_HZ) / math.log(HIGH_HZ / LOW_HZ) * (BINS - 1)
    spread = np.exp(-0.5 * ((np.arange(BINS)[:, None] - place) / WIDTH_BINS) ** 2)
    seen = spread @ level
    out[3:] = seen / max(float(np.linalg.norm(seen)), 1e-12)
    return out


def unlike(one: FloatArray, others: FloatArray) -> FloatArray:
    """How far (N, SIZE) strokes are from one, (N,): 1 is a step of one kind, 0 the same."""
    note = 1200.0 * (others[:, 0] - one[0]) / NOTE_CENTS
    ring = (others[:, 1] - one[1]) / RING_LN
    bright = (others[:, 2] - one[2]) / BRIGHT_OCTAVES
    angle = np.arccos(np.clip(others[:, 3:] @ one[3:], -1.0, 1.0)) / SPECTRUM_ANGLE
    out: FloatArray = np.sqrt(note**2 + ring**2 + bright**2 + angle**2)
    return out
