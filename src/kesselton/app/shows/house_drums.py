"""House drums nobody knows, struck once each: simulated, at the microphone, or in a recording."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Answer, Latest
from kesselton.app.sound.microphone import RATE_HZ, Microphone
from kesselton.app.workshop.usual_drums import UsualSize, unused_name, usual_drum
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.pitch import ratio_of
from kesselton.core.sets.model.kit import Wish

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray
    from kesselton.core.shows.strangers import Advice, Stranger

MOST, STROKE_S = 12, 1.9
HIDDEN_CENTS = 220.0
"""How far a simulated house drum stands off what is usual (sd)."""


@dataclass(frozen=True, eq=False)
class House:
    """One of them: what it seems to be, and what was heard."""

    number: int
    usual: Drum
    heard: Stranger | None = None


class HouseDrums(QObject):
    """The drums of a house, as far as they are struck.

    Signals
    -------
    changed : another drum, or one was heard; advised : what helps is worked out
    refused(KesseltonError) : a stroke could not be used, or nothing can be worked out
    """

    changed = Signal()
    advised = Signal()
    refused = Signal(object)

    def __init__(
        self, clock: Callable[[], float] = time.monotonic, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.drums: tuple[House, ...] = ()
        self._clock, self._begun, self._ended = clock, 0.0, 0.0
        self._next = 1
        self.microphone = Microphone(self)
        self.microphone.heard.connect(self._on_struck)
        self.microphone.refused.connect(self.refused)
        self._strokes = Latest(self._on_heard, lambda key, error: self.refused.emit(error), self)
        self._adviser: Answer[Advice] = Answer(self.advised.emit, self.refused.emit, self)

    @property
    def unheard(self) -> House | None:
        """The one to strike next."""
        return next((drum for drum in self.drums if drum.heard is None), None)

    @property
    def seconds(self) -> float:
        """From the first stroke to the last."""
        return max(self._ended - self._begun, 0.0)

    @property
    def advice(self) -> Advice | None:
        """What helps most; None while it is worked out or not all are struck."""
        return self._adviser.settled

    def add(self, kind: str, size: UsualSize, name: str) -> None:
        """One more drum.

        Raises
        ------
        InputError
            If there are too many.
        """
        if len(self.drums) >= MOST:
            raise InputError(
                _("There are {most} house drums.").format(most=MOST), _("Remove one first.")
            )
        taken = {house.usual.name for house in self.drums}
        drum = usual_drum(kind, size, unused_name(name, taken))
        self.drums = (*self.drums, House(self._next, drum))
        self._next += 1
        self._adviser.forget()
        self.changed.emit()

    def remove(self, number: int) -> None:
        """Without one."""
        self.drums = tuple(drum for drum in self.drums if drum.number != number)
        self._adviser.forget()
        self.changed.emit()

    def strike_simulated(self, house: House) -> None:
        """A stroke on a house drum that is not there: off what is usual, as such drums are."""
        self._began()
        number, usual = house.number, house.usual

        def work() -> tuple[int, Stranger]:
            import numpy as np

            from kesselton.app.hearing.heard_drum import simulated_stroke
            from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke

            rng = np.random.default_rng([number, 7])
            hidden = usual
            for side in usual.sides:
                setting = usual.setting(side)
                assert setting.reading is not None
                off = ratio_of(rng.normal(0.0, HIDDEN_CENTS))
                hidden = hidden.with_setting(side, setting.at_pitch(setting.reading.hz * off))
            stroke = Stroke(beater=TYPICAL_BEATER[usual.kind], place=0.15)
            samples, rate = simulated_stroke(hidden, stroke, number)
            return number, _stranger(samples, rate, usual)

        self._strokes.request(number, work)

    def hear_file(self, house: House, path: Path) -> None:
        """A stroke from a recording."""
        self._began()
        number, usual = house.number, house.usual

        def work() -> tuple[int, Stranger]:
            from kesselton.store.exports.sound_file import read_sound

            return number, _stranger(*read_sound(path), usual)

        self._strokes.request(number, work)

    def listen(self, house: House) -> None:
        """Hear the next stroke at the microphone."""
        self._began()
        self.microphone.listen(partial(_at_microphone, house), STROKE_S)

    def stop_listening(self) -> None:
        """Close the microphone."""
        self.microphone.stop()

    def ask(self, wish: Wish, a4_hz: float) -> None:
        """Work out what helps most."""
        strangers = tuple(drum.heard for drum in self.drums if drum.heard is not None)
        if len(strangers) < 2 or self.unheard is not None:
            self._adviser.forget()
            return

        def work() -> Advice:
            from kesselton.core.shows.strangers import few_changes

            return few_changes(strangers, wish, a4_hz)

        self._adviser.ask("house", (strangers, wish, a4_hz), work)

    def stop(self) -> None:
        """End every thread."""
        self.microphone.close()
        self._strokes.stop()
        self._adviser.stop()

    def _began(self) -> None:
        if all(drum.heard is None for drum in self.drums):
            self._begun = self._ended = self._clock()

    def _on_struck(self, result: tuple[int, Stranger]) -> None:
        self.microphone.stop()
        self._on_heard(result[0], result)

    def _on_heard(self, key: object, result: tuple[int, Stranger]) -> None:
        number, heard = result
        self._ended = self._clock()
        self.drums = tuple(
            replace(drum, heard=heard) if drum.number == number else drum for drum in self.drums
        )
        self.changed.emit()


def _stranger(samples: FloatArray, rate_hz: float, usual: Drum) -> Stranger:
    from kesselton.core.shows.strangers import heard_note, taken_for

    hz, half = heard_note(samples, rate_hz, usual)
    return taken_for(usual, hz, half)


def _at_microphone(house: House, samples: FloatArray) -> tuple[int, Stranger]:
    return house.number, _stranger(samples, RATE_HZ, house.usual)
