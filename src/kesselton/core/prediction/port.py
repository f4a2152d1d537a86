"""A ported drum beside itself without the port, as a player notices it (theory eq. 79)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.acoustics.solver.partials import AIR, decay_rate
from kesselton.core.arrays import FloatArray
from kesselton.core.instrument.drum import Drum
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.inside import falls_s, power_inside
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.prediction.stroke import energies_j, sounding_j

BOOM_HZ = 300.0
"""Below it lies the boom of a bass drum, above it the click of its beater (assumed)."""
EARLY_DB = 10.0
"""The fall that early decay goes by (ISO 3382-1)."""
DROP_DB = 20.0
"""How far the sound must fall to be felt as over (assumed)."""


@dataclass(frozen=True)
class PortView:
    """What a port makes of a drum: of it as it is, against the same without its ports.

    Attributes
    ----------
    note_cents, level_db : how much higher and louder
    ring, early : ratio of the note's T60 and of the first 10 dB's decay
    far_share : share of the note's movement on the far head, without the port and with it
    boom_outside_s, boom_inside_s : until what sounds below 300 Hz is 20 dB down, at 1 m and for a
        microphone inside
    """

    note_cents: float
    level_db: float
    ring: float
    early: float
    far_share: tuple[float, float]
    boom_outside_s: float
    boom_inside_s: float


def without_port(drum: Drum) -> Drum | None:
    """The same drum, its heads at the same lug pitches or tensions and uncut; None where no head
    has a port."""
    heads = {side: drum.setting(side).head for side in drum.sides}
    if not any(head.port_diameter_m > 0.0 for head in heads.values()):
        return None
    out = drum
    for side, head in heads.items():
        whole = replace(head, port_diameter_m=0.0)
        out = out.with_setting(side, replace(out.setting(side), head=whole))
    return out


def port_view(prediction: Prediction) -> PortView | None:
    """What the ports of a predicted drum do; None where it has none.

    Raises
    ------
    KesseltonError
        If the drum without ports cannot be computed.
    """
    plain = without_port(prediction.drum)
    if plain is None:
        return None
    before = predict(plain, prediction.stroke)
    at, was = prediction.partials.fundamental, before.partials.fundamental
    p = prediction.partials
    low = (p.frequency_hz < BOOM_HZ) & (p.branch != AIR)
    energy, decay = energies_j(p, prediction.stroke, prediction.lines), decay_rate(p.t60_s)
    outside, inside = _power_outside(prediction), power_inside(p, energy)
    return PortView(
        cents_between(before.fundamental_hz, prediction.fundamental_hz),
        _level_db(prediction) - _level_db(before),
        float(prediction.struck_t60_s[at] / before.struck_t60_s[was]),
        _first_s(prediction) / _first_s(before),
        (1.0 - float(before.partials.batter_share[was]), 1.0 - float(p.batter_share[at])),
        falls_s(outside[low], decay[low], DROP_DB),
        falls_s(inside[low], decay[low], DROP_DB),
    )


def _power_outside(prediction: Prediction) -> FloatArray:
    """Sound power each partial gives off at first, (P,) W; none of what the air in the port does by
    itself: it lies under the note, where little is heard, and would count for most of it."""
    p = prediction.partials
    energy = energies_j(p, prediction.stroke, prediction.lines)
    power = p.radiated_share * 2.0 * decay_rate(p.t60_s) * energy
    return np.asarray(np.where(p.branch != AIR, power, 0.0))


def _level_db(prediction: Prediction) -> float:
    """What the heads give in the first 0.2 s, dB."""
    heard = sounding_j(prediction.partials, prediction.stroke, prediction.lines)
    return float(10.0 * np.log10(heard[prediction.partials.branch != AIR].sum()))


def _first_s(prediction: Prediction) -> float:
    """Seconds until the sound of the heads is 10 dB lower."""
    return falls_s(_power_outside(prediction), decay_rate(prediction.partials.t60_s), EARLY_DB)
