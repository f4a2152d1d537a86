"""A drum of a set wherever its grips are dragged: note and interval together (theory eq. 95)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.sets.model.curve import Curve, Settings


@dataclass(frozen=True)
class Spot:
    """Where a drum stands: its note in cents over C1, and cents between its heads."""

    note: float
    interval: float


@dataclass(frozen=True, eq=False)
class Field:
    """A drum over its notes and a few intervals between its heads; straight in between.

    Attributes
    ----------
    curves : by ascending interval; one for a drum open below, or drawn by one pull
    """

    curves: tuple[Curve, ...]

    @classmethod
    def of(cls, curves: Sequence[Curve]) -> Field:
        """From curves in any order.

        Raises
        ------
        InputError
            If there is none.
        """
        if not curves:
            raise InputError(
                _("Its heads have no usable pitch together."), _("Check its heads in Tuning.")
            )
        return cls(tuple(sorted(curves, key=lambda item: (item.interval_cents,))))

    def near(self, interval: float) -> Curve:
        """The curve whose interval comes nearest."""
        if len(self.curves) == 1:
            return self.curves[0]
        return min(self.curves, key=lambda item: abs(item.interval_cents - interval))

    def clamped(self, spot: Spot) -> Spot:
        """The nearest place that heads, rods and hoops bear."""
        if len(self.curves) == 1:
            interval = self.curves[0].interval_cents
        else:
            ends = self.curves[0].interval_cents, self.curves[-1].interval_cents
            interval = min(max(spot.interval, ends[0]), ends[1])
        low, high = self.borne(interval)
        return Spot(min(max(spot.note, low), high), interval)

    def borne(self, interval: float) -> tuple[float, float]:
        """Lowest and highest note borne at an interval."""
        low, high = (self._mixed(interval, [c.borne[k] for c in self.curves]) for k in (0, 1))
        return low, high

    def band(self, interval: float) -> tuple[float, float] | None:
        """Where the drum speaks at an interval; None if nowhere."""
        bands = [c.band for c in self.curves]
        if any(band is None for band in bands):
            return self.near(interval).band
        low, high = (self._mixed(interval, [b[k] for b in bands if b]) for k in (0, 1))
        return low, high

    def at(self, spot: Spot) -> Settings:
        """What the drum does there, one row."""
        below, above, share = self._beside(spot.interval)
        note = np.array([spot.note])
        settings = below.at(note)
        if share == 0.0:
            return settings
        other = above.at(note)
        logs = ("pitches_hz", "tensions_n_per_m", "hz", "rate", "energy_j")
        mixed = {
            name: np.exp(
                (1.0 - share) * np.log(getattr(settings, name))
                + share * np.log(getattr(other, name))
            )
            for name in logs
        }
        sound = (1.0 - share) * settings.share + share * other.share
        return Settings(
            np.array([spot.interval]), note, mixed["pitches_hz"], mixed["tensions_n_per_m"],
            mixed["hz"], mixed["rate"], sound, mixed["energy_j"],
        )  # fmt: skip

    def held(self, head: int, hz: float, note: float) -> Spot:
        """One head at a lug pitch, the other moved so that the note stays."""
        pitches = np.array([float(c.at(np.array([note])).pitches_hz[0, head]) for c in self.curves])
        intervals = np.array([c.interval_cents for c in self.curves])
        order = np.argsort(pitches)
        return Spot(note, float(np.interp(hz, pitches[order], intervals[order])))

    def free(self, head: int, hz: float, spot: Spot) -> Spot:
        """One head at a lug pitch, the other as it was: the note follows."""
        pitches = self.at(spot).pitches_hz[0].copy()
        pitches[head] = hz
        if len(pitches) < 2 or len(self.curves) == 1:
            return self.clamped(Spot(self._note(self.curves[0], head, hz), spot.interval))
        interval = CENTS_PER_OCTAVE * math.log2(pitches[1] / pitches[0])
        below, above, share = self._beside(interval)
        notes = [self._note(c, 0, float(pitches[0])) for c in (below, above)]
        return self.clamped(Spot((1.0 - share) * notes[0] + share * notes[1], interval))

    @staticmethod
    def _note(curve: Curve, head: int, hz: float) -> float:
        return float(np.interp(math.log(hz), np.log(curve.pitches_hz[:, head]), curve.notes))

    def _beside(self, interval: float) -> tuple[Curve, Curve, float]:
        """The curves on both sides of an interval, and how far it is from the first to the
        second."""
        if len(self.curves) == 1:
            return self.curves[0], self.curves[0], 0.0
        places = [c.interval_cents for c in self.curves]
        above = min(max(int(np.searchsorted(places, interval)), 1), len(places) - 1)
        low, high = places[above - 1], places[above]
        share = min(max((interval - low) / (high - low), 0.0), 1.0)
        return self.curves[above - 1], self.curves[above], share

    def _mixed(self, interval: float, values: Sequence[float] | FloatArray) -> float:
        if len(self.curves) == 1:
            return float(values[0])
        return float(np.interp(interval, [c.interval_cents for c in self.curves], values))
