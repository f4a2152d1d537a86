"""What a proper bearing edge would buy a drum whose edge is worn or of the wrong size."""

from __future__ import annotations

from dataclasses import dataclass, replace

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.shell import Shell
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.prediction.speaks import Shares, Speaking, speaking_or_why

OFF_M = 0.0008
"""A contact circle so far from the usual is worth a cut; assumed."""


@dataclass(frozen=True)
class Recut:
    """A drum with a sound edge of its profile and size, at the same lug pitches.

    Attributes
    ----------
    speaks : where it would speak
    ring_s, fundamental_hz : of the fundamental then
    """

    speaks: Speaking
    ring_s: float
    fundamental_hz: float


def wants_recut(shell: Shell) -> bool:
    """True if an edge is worn, or its contact circle is not where its profile puts it."""
    return shell.worn.name != "sound" or abs(shell.radius_m - _sound(shell).radius_m) > OFF_M


def recut(drum: Drum, now: Prediction, shares: Shares | None = None) -> Recut | None:
    """What the edge would buy; None if it is sound.

    Raises
    ------
    KesseltonError
        If the drum with such an edge cannot be solved.
    """
    if not wants_recut(drum.shell):
        return None
    then = replace(drum, shell=_sound(drum.shell))
    for side, hz in zip(drum.sides, now.lug_pitches_hz, strict=True):
        then = then.with_setting(side, drum.setting(side).at_pitch(hz))
    prediction = predict(then, now.stroke)
    speaks = speaking_or_why(then, prediction.tensions_n_per_m, now.stroke, shares or Shares())
    ring = float(prediction.struck_t60_s[prediction.partials.fundamental])
    return Recut(speaks, ring, prediction.fundamental_hz)


def _sound(shell: Shell) -> Shell:
    return replace(shell, wear=None, contact_radius_m=None)
