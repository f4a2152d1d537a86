"""Everything the screens and the shell show about one drum, computed in one go."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.air.outside import OutsideAir
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import (
    HIGHEST_HZ,
    Partials,
    decay_rate,
    partials,
    select,
)
from kesselton.core.arrays import FloatArray, kept_property
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.glide import EARLY_S, glide_cents
from kesselton.core.prediction.muffling import Lines, muffled
from kesselton.core.prediction.port_flow import struck_t60_s
from kesselton.core.prediction.stroke import Decay, decays, energies_j, level_spl_db, levels_db
from kesselton.core.prediction.uncertainty import Budget, decay_error, error_budget


@dataclass(frozen=True, eq=False)
class Prediction:
    """A drum as it will sound.

    Attributes
    ----------
    tensions_n_per_m, lug_pitches_hz : per head, batter first (other head muted)
    stresses_pa : film stress per head
    lines : each partial as two lines where muffling lies on a head, else None
    levels_db, t60_error : (P,), see `stroke` and `uncertainty`
    budget : what makes each partial unsure, and from where
    stroke : what it is struck with
    level_spl_db : dB SPL at 1 m, mean of the first 0.2 s
    decay : early and late
    struck_t60_s : (P,) from this stroke until a partial is 60 dB down: shorter than its T60 where a
        hole takes more from a strong swing than from a weak one
    glide_cents, early_glide_cents : (P,) how much sharper than at rest, at first and after 50 ms
    """

    drum: Drum
    tensions_n_per_m: tuple[float, ...]
    lug_pitches_hz: tuple[float, ...]
    stresses_pa: tuple[float, ...]
    partials: Partials
    lines: Lines | None
    levels_db: FloatArray
    budget: Budget
    t60_error: FloatArray
    stroke: Stroke
    level_spl_db: float
    decay: Decay
    glide_cents: FloatArray
    early_glide_cents: FloatArray
    struck_t60_s: FloatArray

    @kept_property
    def uncertainty_cents(self) -> FloatArray:
        """Half-width of the 90 % interval of every partial, (P,)."""
        return self.budget.total

    @property
    def fundamental_hz(self) -> float:
        """What a stroke on the whole drum sounds: both heads moving together."""
        return float(self.partials.frequency_hz[self.partials.fundamental])

    @property
    def fundamental_t60_s(self) -> float:
        """How long the fundamental rings, late decay, s."""
        return float(self.partials.t60_s[self.partials.fundamental])


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

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> found = predict(usual_drum("tom"))
    >>> round(found.fundamental_hz, 1)
    126.2
    >>> round(found.fundamental_t60_s, 1)
    1.4
    """
    solved = tensions(drum, outside)
    blow = stroke or Stroke(beater=TYPICAL_BEATER[drum.kind])
    modes, lines = heard(drum, partials(drum, solved, highest_hz, outside=outside), blow)
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
        modes,
        lines,
        levels_db(modes, blow, lines),
        error_budget(drum, modes),
        decay_error(modes),
        blow,
        level_spl_db(modes, blow, lines),
        decays(modes, blow, lines),
        glide_cents(modes, blow, 0.0, lines),
        glide_cents(modes, blow, EARLY_S, lines),
        struck_t60_s(modes, energies_j(modes, blow, lines)),
    )


def heard(drum: Drum, modes: Partials, stroke: Stroke) -> tuple[Partials, Lines | None]:
    """Partials as they are heard with the drum's muffling on: the mean of both lines of each,
    weighted by what the stroke gives them, and the lines themselves.
    """
    if not drum.mufflers:
        return modes, None
    system = modes.system
    on_side = {
        side: modes.shape[:, part] for side, part in zip(drum.sides, system.slices, strict=False)
    }
    omega = 2.0 * np.pi * modes.frequency_hz + 1j * decay_rate(modes.t60_s)
    lines = muffled(
        modes.order,
        omega,
        on_side,
        drum.mufflers,
        drum.shell.radius_m,
        drum.shell.rods,
        stroke.place,
    )
    energy = np.abs(lines.here) ** 2
    share = energy / np.maximum(energy.sum(axis=1, keepdims=True), 1e-300)
    share[energy.sum(axis=1) == 0.0] = (1.0, 0.0)
    pitch = np.sum(share * lines.omega.real, axis=1) / (2.0 * np.pi)
    decay = np.sum(share * lines.omega.imag, axis=1)
    order = np.argsort(pitch, kind="stable")
    changed = replace(
        modes,
        frequency_hz=pitch,
        t60_s=const.AUDIBLE_DECAY_NEPER / decay,
        radiated_share=np.clip(modes.radiated_share * omega.imag / decay, 0.0, 1.0),
    )
    return select(changed, order), Lines(lines.omega[order], lines.here[order])


def _pitch(drum: Drum, side: str, solved: tuple[float, ...], outside: OutsideAir | None) -> float:
    """Muted lug pitch; a muted reading is its own answer, as tightly as it was inverted."""
    reading = drum.setting(side).reading
    if reading is not None and (reading.other_head == "muted" or drum.resonant is None):
        return reading.hz
    return lug_pitch(drum, side, solved, outside=outside)
