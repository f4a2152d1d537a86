"""Listens for taps at the system's own microphone; says so where there is none, or it is lost."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.app.sound.sound_device import LOST, NO_DEVICE, NO_HELPER, Input
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray

    Work = Callable[[FloatArray], object]

LISTENING = "listening"
SAID = {
    NO_DEVICE: (
        N_("No microphone found."),
        (N_("Connect one and try again, or enter pitches by hand.")),
    ),
    NO_HELPER: (
        N_("The sound helper cannot start."),
        N_("Enter pitches by hand, or restart Kesselton."),
    ),
    LOST: (
        N_("No sound from the microphone: it was unplugged, or the sound server stopped."),
        N_("Your readings are kept. Reconnect it and try again."),
    ),
}
RATE_HZ = 48000
TAP_S = 0.65
"""A tap is looked at once so much of it has been heard."""
LEAD_S = 0.08
RISE = 8.0
FRAME_S = 0.005
MIN_LEVEL = 0.004


class TapSplitter:
    """Cuts a stream of samples into taps, each with a little of what was before it."""

    def __init__(self, rate_hz: float, seconds: float = TAP_S, lead_s: float = LEAD_S) -> None:
        import numpy as np

        self.rate_hz, self._seconds, self._lead_s = rate_hz, seconds, lead_s
        self._kept: FloatArray = np.zeros(0)
        self._quiet = 0.0
        self._began = -1  # sample in what is kept
        self._looked = 0

    def feed(self, samples: FloatArray) -> list[FloatArray]:
        """Taps that are complete with these samples."""
        import numpy as np

        self._kept = np.concatenate((self._kept, samples))
        frame = int(FRAME_S * self.rate_hz)
        out: list[FloatArray] = []
        while self._looked + frame <= len(self._kept):
            here = self._kept[self._looked : self._looked + frame]
            level = float(np.sqrt(np.mean(here**2)))
            if self._began < 0:
                if level > max(RISE * self._quiet, MIN_LEVEL) and self._quiet > 0.0:
                    self._began = self._looked
                else:
                    self._quiet = level if not self._quiet else 0.95 * self._quiet + 0.05 * level
                    self._quiet = max(self._quiet, 1e-6)
            self._looked += frame
            if self._began >= 0 and self._looked - self._began >= self._seconds * self.rate_hz:
                start = max(self._began - int(self._lead_s * self.rate_hz), 0)
                out.append(self._kept[start : self._looked])
                self._began = -1
                self._quiet = level
        keep = self._began if self._began >= 0 else self._looked
        drop = max(keep - int(self._lead_s * self.rate_hz), 0)
        self._kept = self._kept[drop:]
        self._looked -= drop
        if self._began >= 0:
            self._began -= drop
        return out


class Microphone(QObject):
    """One source at a time.

    Signals
    -------
    heard(HeardTap, or what else it was told to make of a stroke), refused(KesseltonError) : of
        every tap; state_changed(str) : in words; level_changed(float) : 0 to 1
    """

    heard = Signal(object)
    refused = Signal(object)
    state_changed = Signal(str)
    level_changed = Signal(float)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._input = Input(self)
        self._input.opened.connect(lambda: self.state_changed.emit(LISTENING))
        self._input.heard.connect(self._on_data)
        self._input.failed.connect(self._on_failed)
        self._splitter: TapSplitter | None = None
        self._work: Work | None = None
        self._waiting: deque[FloatArray] = deque()
        self._jobs: Latest | None = None

    @property
    def listening(self) -> bool:
        """True while it listens, or is about to."""
        return self._input.running

    def listen(self, work: Work, seconds: float, lead_s: float = LEAD_S) -> None:
        """Begin, for sounds of so many seconds and `lead_s` of what was before, of which each is
        handed to `work` on a thread; `state_changed` and `refused` say so if there is nothing to
        listen with."""
        self.stop()
        self.expect(work, seconds, lead_s)
        self.state_changed.emit(_("Opening microphone…"))
        self._input.listen(RATE_HZ)

    def expect(self, work: Work, seconds: float, lead_s: float = LEAD_S) -> None:
        """Be ready for samples, wherever they come from."""
        self._work = work
        self._splitter, self._waiting = TapSplitter(RATE_HZ, seconds, lead_s), deque()
        self._jobs = Latest(self._on_worked_out, lambda key, error: self.refused.emit(error), self)

    def stop(self) -> None:
        """Stop listening."""
        if self._input.running:
            self._input.stop()
            self.level_changed.emit(0.0)
            self.state_changed.emit("")
        if self._jobs is not None:
            self._jobs.stop()
            self._jobs = None

    def close(self) -> None:
        """Stop listening for good."""
        self.stop()
        self._input.close()

    def take(self, samples: FloatArray) -> None:
        """Samples of the stream, from -1 to 1."""
        import numpy as np

        if self._splitter is None or self._jobs is None or self._work is None or not len(samples):
            return
        self.level_changed.emit(float(np.abs(samples).max()))
        new = self._splitter.feed(samples)
        if new:
            self._waiting.extend(new)
            self._jobs.request(None, partial(_hear_waiting, self._waiting, self._work))

    def _on_worked_out(self, key: object, results: list[object]) -> None:
        for item in results:
            if isinstance(item, KesseltonError):
                self.refused.emit(item)
            else:
                self.heard.emit(item)

    def _on_data(self, data: bytes) -> None:
        import numpy as np

        self.take(np.frombuffer(data, dtype="<i2") / 32768.0)

    def _on_failed(self, why: str) -> None:
        self.stop()
        self.level_changed.emit(0.0)
        message, remedy = (_(text) for text in SAID[why])
        self.state_changed.emit(message)
        self.refused.emit(InputError(message, remedy))


def _hear_waiting(waiting: deque[FloatArray], work: Work) -> list[object]:
    """All taps that wait: the next request may come before this one begins, and none is lost."""
    out: list[object] = []
    while waiting:
        try:
            out.append(work(waiting.popleft()))
        except KesseltonError as error:
            out.append(error)
    return out
