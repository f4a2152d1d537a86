"""The system's sound input and output, each stream in a thread that owns its device.

A sound server may end, hang or never answer. The thread waits for it, the screen never does: what
does not answer is given up, said in words, and a new stream gets a thread of its own.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Generator
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Qt, Signal

from kesselton.app.logs import log

if TYPE_CHECKING:
    import miniaudio

POLL_S = 0.02
OUTPUT_MS, INPUT_MS = 60, 20
FIRST_S, LOST_S = 4.0, 1.0
"""A server may take seconds before the first sound moves, and ask for seconds at once; what it
records comes steadily, and one second without is too long."""
DRAIN_S = 2.5
GIVE_UP_S = 1.0
"""So long threads are waited for when the window closes; one that hangs is left to itself."""
NO_DEVICE, LOST = "none", "lost"


def _backends() -> list[Any]:
    """Sound systems to ask, in order; ALSA only where there is a card: it is loud about none."""
    import miniaudio

    found = [miniaudio.Backend.PULSEAUDIO]
    cards = Path("/proc/asound/cards")
    try:
        if cards.exists() and "no soundcards" not in cards.read_text():
            found.append(miniaudio.Backend.ALSA)
    except OSError:
        log.info("the list of sound cards cannot be read")
    return found


class _Stream(QObject):
    """One stream after another; only the newest one is heard of.

    Signals
    -------
    opened : sound moves from now on
    failed(str) : NO_DEVICE or LOST; the stream has ended
    ended : nothing is left to play
    """

    opened = Signal()
    failed = Signal(str)
    ended = Signal()
    _told = Signal(int, str, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._told.connect(self._on_told, Qt.ConnectionType.QueuedConnection)
        self._serial = 0
        self._thread: threading.Thread | None = None
        self._ending: list[threading.Thread] = []
        self._stop = threading.Event()

    @property
    def running(self) -> bool:
        """True from start to end, failure or stop."""
        return self._thread is not None

    def stop(self) -> None:
        """End the stream; what it still says is not heard any more. Waits for nothing."""
        self._serial += 1
        self._stop.set()
        if self._thread is not None:
            self._ending.append(self._thread)
            self._thread = None
        self._ending = [thread for thread in self._ending if thread.is_alive()]

    def close(self) -> None:
        """End the stream and wait until its device is closed, for a moment: one may hang."""
        self.stop()
        until = time.monotonic() + GIVE_UP_S
        for thread in self._ending:
            thread.join(max(until - time.monotonic(), 0.0))
            if thread.is_alive():
                log.warning("the sound server does not answer; its stream is left to itself")

    def _start(self, *args: Any) -> None:
        self.stop()
        self._stop = threading.Event()
        given = (self._serial, self._stop, *args)
        self._thread = threading.Thread(
            target=self._guarded, args=given, name="kesselton-sound", daemon=True
        )
        self._thread.start()

    def _guarded(self, serial: int, stop: threading.Event, *args: Any) -> None:
        import miniaudio

        try:
            ending = self._run(serial, stop, *args)
        except miniaudio.MiniaudioError as error:
            log.info("sound: %s", error)
            ending = NO_DEVICE
        self._tell(serial, "end", ending)

    def _tell(self, serial: int, what: str, more: object = None) -> None:
        try:
            self._told.emit(serial, what, more)
        except RuntimeError:
            log.info("a stream ended after its window")

    def _run(self, serial: int, stop: threading.Event, *args: Any) -> str:
        raise TypeError(f"{type(self).__name__} does not say what to do.")

    def _on_told(self, serial: int, what: str, more: object) -> None:
        if serial != self._serial:
            return
        if what == "opened":
            self.opened.emit()
        elif what == "data":
            self._on_data(more)
        else:
            self._thread = None
            if more:
                self.failed.emit(str(more))
            else:
                self.ended.emit()

    def _on_data(self, data: object) -> None:
        """What an input brings."""


class Output(_Stream):
    """Plays sounds of one channel."""

    def play(self, pcm: bytes, rate_hz: int) -> None:
        """Play 16-bit samples from their start."""
        self._start(pcm, rate_hz)

    def _run(self, serial: int, stop: threading.Event, *args: Any) -> str:
        import miniaudio

        pcm, rate_hz = args
        feed = _Feed(pcm)
        device = miniaudio.PlaybackDevice(
            miniaudio.SampleFormat.SIGNED16, 1, rate_hz, OUTPUT_MS, backends=_backends(),
            app_name="Kesselton",
        )  # fmt: skip
        with device:
            device.start(feed.started())
            return self._watch(serial, stop, feed)

    def _watch(self, serial: int, stop: threading.Event, feed: _Feed) -> str:
        seen, since, opened = 0, time.monotonic(), False
        while not stop.wait(POLL_S):
            now = time.monotonic()
            if feed.calls != seen:
                seen, since = feed.calls, now
                if not opened:
                    opened = True
                    self._tell(serial, "opened")
            # what was handed over is heard once silence was asked for, or the server has no more
            if feed.silences > 1 or (feed.over and now - since > DRAIN_S):
                return ""
            if now - since > FIRST_S:
                return LOST
        return ""


class Input(_Stream):
    """Listens to one channel.

    Signals
    -------
    heard(bytes) : 16-bit samples
    """

    heard = Signal(object)

    def listen(self, rate_hz: int) -> None:
        """Begin."""
        self._start(rate_hz)

    def _on_data(self, data: object) -> None:
        self.heard.emit(data)

    def _run(self, serial: int, stop: threading.Event, *args: Any) -> str:
        import miniaudio

        (rate_hz,) = args
        arrived: deque[bytes] = deque()
        device = miniaudio.CaptureDevice(
            miniaudio.SampleFormat.SIGNED16, 1, rate_hz, INPUT_MS, callback_periods=2,
            backends=_backends(), app_name="Kesselton",
        )  # fmt: skip
        with device:
            device.start(_taking(arrived))
            self._tell(serial, "opened")
            since, limit = time.monotonic(), FIRST_S
            while not stop.wait(POLL_S):
                now = time.monotonic()
                if arrived:
                    since, limit = now, LOST_S
                    pieces = [arrived.popleft() for _ in range(len(arrived))]
                    self._tell(serial, "data", b"".join(pieces))
                elif now - since > limit:
                    return LOST
        return ""


class _Feed:
    """Hands samples to the device piece by piece, then silence."""

    def __init__(self, pcm: bytes) -> None:
        self._pcm = memoryview(pcm)
        self.calls = 0
        self.silences = 0
        self.over = not pcm

    def started(self) -> miniaudio.PlaybackCallbackGeneratorType:
        """The generator the device asks, run up to its first question."""
        made = self._pieces()
        next(made)
        return made

    def _pieces(self) -> Generator[bytes, int, None]:
        at = 0
        frames = yield b""
        while True:
            self.calls += 1
            piece = bytes(self._pcm[at : at + 2 * frames])
            at += len(piece)
            self.silences += self.over
            self.over = at >= len(self._pcm)
            frames = yield piece + bytes(2 * frames - len(piece))


def _taking(arrived: deque[bytes]) -> Any:
    def take() -> Generator[None, bytes, None]:
        while True:
            piece = yield
            arrived.append(bytes(piece))

    made = take()
    next(made)
    return made
