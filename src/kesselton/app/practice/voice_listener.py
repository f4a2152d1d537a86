"""A voice that sings a note: at the microphone, or the simulated one beside it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.app.practice.practice_bench import PracticeBench
from kesselton.app.sound.microphone import RATE_HZ, Microphone

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray
    from kesselton.core.practice.voice import Sung

SUNG_S, TONE_S = 1.4, 1.5
LOWEST_NOTE, NOTES = 45, 24
"""Notes a voice can hum: A2 upwards, as half steps over C−1."""
SIMULATED_OFF_CENTS = 25.0


class VoiceEar(QObject):
    """One note at a time.

    Signals
    -------
    heard(Sung) : what was sung; refused(KesseltonError) : why nothing was
    """

    heard = Signal(object)
    refused = Signal(object)

    def __init__(self, practice: PracticeBench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._practice = practice
        self._number = 0
        self.microphone = Microphone(self)
        self.microphone.heard.connect(self._on_heard)
        self.microphone.refused.connect(self.refused)
        self._jobs = Latest(
            lambda key, result: self.heard.emit(result), lambda key, e: self.refused.emit(e), self
        )

    def half_steps(self) -> int:
        """The note to sing, half steps over C−1; another one each time."""
        return LOWEST_NOTE + (7 * self._number + 3) % NOTES

    def another(self) -> None:
        """Another note."""
        self._number += 1

    def sound_tone(self, hz: float) -> None:
        """Hear the note."""
        from kesselton.core.prediction.tone import tone

        self._practice.sound(tone(hz, TONE_S))

    def listen(self) -> None:
        """Hear the next note at the microphone."""
        self.microphone.listen(_sung_at_microphone, SUNG_S)

    def simulated(self, hz: float) -> None:
        """Hear a voice that is not there."""
        number = self._number

        def work() -> Sung:
            import numpy as np

            from kesselton.core.practice.voice import simulated_voice, sung

            off = float(np.random.default_rng([number, 11]).normal(0.0, SIMULATED_OFF_CENTS))
            return sung(simulated_voice(hz, number, off), 16000)

        self._jobs.request(number, work)

    def _on_heard(self, sung_note: Sung) -> None:
        self.microphone.stop()
        self.heard.emit(sung_note)

    def stop(self) -> None:
        """End the threads."""
        self.microphone.close()
        self._jobs.stop()


def _sung_at_microphone(samples: FloatArray) -> Sung:
    from kesselton.core.practice.voice import sung

    return sung(samples, RATE_HZ)
