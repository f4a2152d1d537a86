"""Everything the screens and the shell show about one drum, computed in one go."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core.bessel import FloatArray
from kesselton.core.drum import Drum
from kesselton.core.lug import lug_pitch, tensions
from kesselton.core.outside import OutsideAir
from kesselton.core.partials import HIGHEST_HZ, Partials, partials
from kesselton.core.stroke import Stroke, levels_db
from kesselton.core.uncertainty import uncertainty_cents


@dataclass(frozen=True, eq=False)
class Prediction:
    """A drum as it will sound.

    Attributes
    ----------
    tensions_n_per_m, lug_pitches_hz : per head, batter first (other head muted)
    stresses_pa : film stress per head
    levels_db, uncertainty_cents : (P,), see `stroke` and `uncertainty`
    """

    drum: Drum
    tensions_n_per_m: tuple[float, ...]
    lug_pitches_hz: tuple[float, ...]
    stresses_pa: tuple[float, ...]
    partials: Partials
    levels_db: FloatArray
    uncertainty_cents: FloatArray

    @property
    def fundamental_hz(self) -> float:
        """What a stroke on the whole drum sounds: both heads moving together."""
        return float(self.partials.frequency_hz[self.partials.fundamental])


def predict(
    drum: Drum,
    stroke: Stroke | None = None,
    highest_hz: float = HIGHEST_HZ,
    outside: OutsideAir | None = None,
) -> Prediction:
    """Solve a drum as it is set.

    Raises
    ------
    InputError, ConvergenceError
        If a setting asks for the impossible or a mode was not found.
    """
    solved = tensions(drum, outside)
    found = partials(drum, solved, highest_hz, outside=outside)
    pitches = tuple(_pitch(drum, side, solved, outside) for side in drum.sides)
    stresses = tuple(
        tension / drum.setting(side).head.film_thickness_m
        for side, tension in zip(drum.sides, solved, strict=True)
    )
    return Prediction(
        drum,
        solved,
        pitches,
        stresses,
        found,
        levels_db(found, stroke or Stroke()),
        uncertainty_cents(drum, found),
    )


def _pitch(drum: Drum, side: str, solved: tuple[float, ...], outside: OutsideAir | None) -> float:
    """Muted lug pitch; a muted reading is its own answer, as tightly as it was inverted."""
    reading = drum.setting(side).reading
    if reading is not None and (reading.other_head == "muted" or drum.resonant is None):
        return reading.hz
    return lug_pitch(drum, side, solved, outside=outside)
