"""Readings of a round as natural logarithms of tension, with their noise (theory 19)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.solver.lug import tension_from_pitch, tensions
from kesselton.core.arrays import FloatArray
from kesselton.core.clear.clearing_records import Clearing, Round
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.instrument.drum import Drum
from kesselton.core.measure.gauges import DIAL_NOISE, PITCH_NOISE_CENTS, DialFit
from kesselton.core.measure.rods import TORQUE_SCATTER

MODEL_CENTS = 1.5
"""What the linear rim cannot say of a reading, one standard deviation; assumed."""
DIAL_MODEL = 0.004
"""The same of a dial, ln of tension: where it stands by a millimetre; assumed."""
MODEL_SHARE = 0.05
"""The same for a rod far out, as a share of how far; from trials on the simulated head."""
SECOND_ORDER = 1.2
"""What a pitch leaves the linear rim by, for the square of the unevenness, all in ln of tension;
from the modes on the whole field. Pitch shows a part of the unevenness only: 1 in HIDES."""
HIDES = 1.5
TYPICAL_DIVISIONS = 100.0
"""Divisions for a neper of tension before a dial is calibrated: about one for each per cent."""
SECOND_SPREAD = 4.0


@dataclass(frozen=True, eq=False)
class Look:
    """Readings of a round as natural logarithms of tension: rows kind by kind."""

    kind: list[str]
    rod: list[int]
    value: FloatArray
    noise: FloatArray


def start_of(drum: Drum, clearing: Clearing, dial: DialFit | None) -> tuple[float, float]:
    """Mean tension when the first round was read, and the lug pitch that belongs to it."""
    pitches = [t.value for t in clearing.rounds[0].taps if t.kind == "lug_pitch"]
    if not pitches:
        pitches = [t.value for r in clearing.rounds for t in r.taps if t.kind == "lug_pitch"]
    if pitches:
        hz = math.exp(sum(math.log(p) for p in pitches) / len(pitches))
        return tension_from_pitch(drum, clearing.side, hz), hz
    dials = [t.value for t in clearing.rounds[0].taps if t.kind == "dial"]
    if dial is not None and dials:
        thickness = drum.setting(clearing.side).head.film_thickness_m
        return dial.tension(sum(dials) / len(dials), thickness), math.nan
    return tensions(drum)[drum.sides.index(clearing.side)], math.nan


def look_at(
    record: Round, begun: float, ref_hz: float, dial: DialFit | None, thickness_m: float
) -> Look:
    """The readings of one round, against the mean tension and pitch when clearing was begun."""
    kinds, at, value, noise = [], [], [], []
    for tap in record.taps:
        kinds.append(tap.kind)
        at.append(tap.rod - 1)
        if tap.kind == "dial":
            own = tap.spread or DIAL_NOISE
            if dial is None:
                value.append(tap.value / TYPICAL_DIVISIONS)
                noise.append(own / TYPICAL_DIVISIONS)
            else:
                tension = dial.tension(tap.value, thickness_m)
                value.append(math.log(tension / begun))
                noise.append(math.hypot(own / dial.slope(tension), DIAL_MODEL))
            continue
        if tap.kind == "torque":
            value.append(math.log(tap.value))
            noise.append(tap.spread / tap.value if tap.spread else TORQUE_SCATTER)
            continue
        typical = PITCH_NOISE_CENTS if tap.kind == "lug_pitch" else SECOND_SPREAD
        value.append(2.0 * math.log(tap.value / ref_hz))
        noise.append(2.0 * math.hypot(tap.spread or typical, MODEL_CENTS) / CENTS)
    values, noises = np.array(value), np.array(noise)
    of = np.array(kinds)
    uneven = 0.0
    for kind in set(kinds):
        away = values[of == kind] - values[of == kind].mean()
        noises[of == kind] = np.hypot(noises[of == kind], MODEL_SHARE * away)
        shows = {"lug_pitch": HIDES, "dial": 1.0}.get(kind, 0.0)
        uneven = max(uneven, shows * float(np.sqrt(np.mean(away**2))))
    tones = (of == "lug_pitch") | (of == "second_partial")
    noises[tones] = np.hypot(noises[tones], SECOND_ORDER * uneven**2)
    return Look(kinds, at, values, noises)
