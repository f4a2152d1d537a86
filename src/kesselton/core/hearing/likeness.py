"""How alike two strokes are: by note, ring, brightness, and where their lines lie (theory 86)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.instrument.kept import Kept

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray

LOW_HZ, HIGH_HZ, BINS = 40.0, 1600.0, 40
WIDTH_BINS, REACH = 0.8, 4.0
"""Lines are spread over their neighbours: 1.3 half steps, as split pairs are."""
NOTE_CENTS, RING_LN, BRIGHT_OCTAVES, SPECTRUM_ANGLE = 40.0, 0.3, 0.35, 0.5
"""What counts as one step of unlikeness; assumed."""
ALIKE = 6.0
"""Strokes that are farther from one than this many steps are not like it."""
ALIKE_OCTAVES = ALIKE * NOTE_CENTS / CENTS_PER_OCTAVE
"""And their notes are no farther apart than this."""
SIZE = 3 + BINS


def fingerprint(kept: Kept) -> tuple[float, ...] | None:
    """What of a kept stroke is compared, SIZE numbers: its note in octaves, ln of its T60,
    brightness in octaves over the note, and where its level lies; None where no stroke was kept.

    Without numpy, which the first window does without.
    """
    lines = [line for line in kept.lines if line.hz > 0.0 and line.t60_s > 0.0]
    if not lines:
        return None
    levels = [math.pow(10.0, line.level_db / 20.0) for line in lines]
    loudest = max(range(len(lines)), key=lambda n: levels[n])
    note = kept.heard_hz if kept.heard_hz is not None else lines[loudest].hz
    near = min(lines, key=lambda line: abs(math.log(line.hz / note)))
    octaves = [math.log2(line.hz / note) for line in lines]
    bright = sum(a * o for a, o in zip(levels, octaves, strict=True)) / sum(levels)
    across = math.log(HIGH_HZ / LOW_HZ) / (BINS - 1)
    seen = [0.0] * BINS
    for line, level in zip(lines, levels, strict=True):
        place = math.log(line.hz / LOW_HZ) / across
        first = max(math.ceil(place - REACH), 0)
        for step in range(first, min(math.floor(place + REACH), BINS - 1) + 1):
            seen[step] += level * math.exp(-0.5 * ((step - place) / WIDTH_BINS) ** 2)
    size = max(math.hypot(*seen), 1e-12)
    return (math.log2(note), math.log(near.t60_s), bright, *(value / size for value in seen))


def unlike(wanted: Sequence[float], others: FloatArray) -> FloatArray:
    """How far (N, SIZE) strokes are from one, (N,): 1 is a step of one kind, 0 the same."""
    import numpy as np

    values = np.asarray(wanted)
    note = CENTS_PER_OCTAVE * (others[:, 0] - values[0]) / NOTE_CENTS
    ring = (others[:, 1] - values[1]) / RING_LN
    bright = (others[:, 2] - values[2]) / BRIGHT_OCTAVES
    angle = np.arccos(np.clip(others[:, 3:] @ values[3:], -1.0, 1.0)) / SPECTRUM_ANGLE
    out: FloatArray = np.sqrt(note**2 + ring**2 + bright**2 + angle**2)
    return out
