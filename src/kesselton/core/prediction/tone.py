"""A tone to tune to, and two of them that beat."""

from __future__ import annotations

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import check_range
from kesselton.core.language import _
from kesselton.core.prediction.render import Sound, edges

RATE_HZ = 48000
LOWEST_HZ, HIGHEST_HZ = 20.0, 2000.0
SHORTEST_S, LONGEST_S = 0.5, 60.0
OVERTONES = (1.0, 0.5, 0.25, 0.12)
"""Levels of its harmonics: a bare sine of a low drum is not heard from a small loudspeaker, and an
ear takes the pitch from the harmonics all the same; assumed."""
EDGE_S, LEVEL = 0.03, 0.35


def tone(hz: float, seconds: float, against_hz: float | None = None) -> Sound:
    """A long tone with soft ends; with `against_hz` two of them, which beat.

    Raises
    ------
    InputError
        If a pitch or the length cannot be.

    Examples
    --------
    >>> sound = tone(220.0, 0.5)
    >>> len(sound.samples) / sound.rate_hz
    0.5
    """
    check_range(seconds, SHORTEST_S, LONGEST_S, _("Length of the tone"), "s", "seconds")
    samples = _one(hz, seconds)
    if against_hz is not None:
        samples = 0.5 * (samples + _one(against_hz, seconds))
    return Sound(samples * edges(len(samples), RATE_HZ, EDGE_S), RATE_HZ, False)


def _one(hz: float, seconds: float) -> FloatArray:
    check_range(hz, LOWEST_HZ, HIGHEST_HZ, _("Reference tone"), "Hz", "hz")
    time = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    out = np.zeros(len(time))
    for number, level in enumerate(OVERTONES, start=1):
        if number * hz < 0.45 * RATE_HZ:
            out += level * np.sin(2.0 * np.pi * number * hz * time)
    scaled: FloatArray = LEVEL / sum(OVERTONES) * out
    return scaled
