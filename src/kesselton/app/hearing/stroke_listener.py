"""Hears strokes on the drum on the bench: by the microphone, from a recording, or of the drum that
is not there. What was heard is shown beside the drum it was heard of, and no other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.hearing.heard_drum import HeardDrum, hear_drum, simulated_stroke
from kesselton.app.host.jobs import Latest
from kesselton.app.sound.microphone import RATE_HZ, Microphone
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray
    from kesselton.core.instrument.beater import Stroke

STROKE_S, LEAD_S = 1.9, 0.4
"""A stroke at the microphone is looked at once so much of it was heard, with so much of the room
before it."""


@dataclass(frozen=True)
class Struck:
    """The drum that is struck, its number, and with what."""

    number: int
    drum: Drum
    stroke: Stroke


class StrokeListener(QObject):
    """One drum at a time.

    Signals
    -------
    heard(HeardDrum), refused(KesseltonError), state_changed(str in words)
    """

    heard = Signal(object)
    refused = Signal(object)
    state_changed = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.microphone = Microphone(self)
        self.microphone.heard.connect(self._on_struck)
        self.microphone.refused.connect(self.refused)
        self.microphone.state_changed.connect(self.state_changed)
        self._jobs = Latest(self._on_done, self._on_failed, self)
        self._asked: Struck | None = None
        self._found: tuple[int, HeardDrum] | None = None
        self._take = 0

    def of(self, number: int, drum: Drum | None) -> HeardDrum | None:
        """What was heard last, if it was of this drum as it is set."""
        if self._found is None or self._found[0] != number or self._found[1].drum != drum:
            return None
        return self._found[1]

    @property
    def struck(self) -> tuple[int, Drum] | None:
        """Number and setting of the drum that was asked for last."""
        return None if self._asked is None else (self._asked.number, self._asked.drum)

    @property
    def listening(self) -> bool:
        """True while the microphone is open."""
        return self.microphone.listening

    def strike_simulated(self, what: Struck) -> None:
        """Hear a stroke on the drum that is not there."""
        self._take += 1
        take, before = self._take, self._before(what)

        def work() -> HeardDrum:
            samples, rate = simulated_stroke(what.drum, what.stroke, what.number, take)
            return hear_drum(samples, rate, what.drum, what.stroke, before)

        self._ask(what, work)

    def hear_file(self, path: Path, what: Struck) -> None:
        """Hear the strokes in a recording."""
        before = self._before(what)

        def work() -> HeardDrum:
            from kesselton.store.exports.sound_file import read_sound

            samples, rate = read_sound(path)
            return hear_drum(samples, rate, what.drum, what.stroke, before)

        self._ask(what, work)

    def listen(self, what: Struck) -> None:
        """Hear every stroke at the microphone, until told to stop."""
        self._asked = what
        hears = partial(_hear_at_microphone, what, lambda: self._before(what))
        self.microphone.listen(hears, STROKE_S, LEAD_S)

    def stop_listening(self) -> None:
        """Close the microphone."""
        self.microphone.stop()

    def _before(self, what: Struck) -> HeardDrum | None:
        """What was heard of the same drum as it is set: later strokes are taken with it."""
        return self.of(what.number, what.drum)

    def forget(self) -> None:
        """What was heard is shown no longer; the microphone stays as it is."""
        self._found = None

    def stop(self) -> None:
        """End the threads."""
        self.microphone.close()
        self._jobs.stop()

    def _ask(self, what: Struck, work: object) -> None:
        self._asked = what
        self.state_changed.emit(_("Analyzing the stroke…"))
        self._jobs.request(what, work)  # type: ignore[arg-type]

    def _on_struck(self, result: tuple[Struck, HeardDrum]) -> None:
        self._on_done(*result)

    def _on_done(self, what: Struck, heard_drum: HeardDrum) -> None:
        if what is not self._asked:
            return
        self._found = (what.number, heard_drum)
        self.state_changed.emit("")
        self.heard.emit(heard_drum)

    def _on_failed(self, what: Struck, error: KesseltonError) -> None:
        if what is self._asked:
            self.state_changed.emit("")
            self.refused.emit(error)


def _hear_at_microphone(
    what: Struck, before: Callable[[], HeardDrum | None], samples: FloatArray
) -> tuple[Struck, HeardDrum]:
    return what, hear_drum(samples, RATE_HZ, what.drum, what.stroke, before())
