"""The system's sound input and output, each behind a process that may be lost.

The devices are in `sound_helper`: a sound server that ends takes that process along, one that hangs
holds it up, and neither is felt here. A helper that dies, or does not answer in time, is killed and
said to be lost; the next stream begins another. A server that ended while a helper was idle is not
worth a word: the stream is tried once more.
"""

from __future__ import annotations

import json
import sys
from functools import partial

from PySide6.QtCore import QObject, QProcess, QTimer, Signal
from shiboken6 import isValid

from kesselton.app.host.logs import log
from kesselton.app.sound.sound_helper import (
    DATA,
    DRAIN_S,
    END,
    FIRST_S,
    FRAME,
    LISTEN,
    LOST,
    NO_DEVICE,
    OPENED,
    PLAY,
    STOP,
    TAKEN,
)

NO_HELPER = "helper"
STARTING_S = 3.0
"""A helper has to be begun, on a slow machine."""
STOP_S = 1.0
"""So long a helper may take to let go of its device; it is killed then."""
GIVE_UP_MS = 300
AGAIN = 1
"""A stream that ended before any sound moved is tried so often again."""

__all__ = ["LOST", "NO_DEVICE", "NO_HELPER", "Input", "Output"]


class _Stream(QObject):
    """One stream after another; only the newest one is heard of.

    Signals
    -------
    opened : sound moves from now on
    failed(str) : NO_DEVICE, NO_HELPER or LOST; the stream has ended
    ended : nothing is left to play
    """

    opened = Signal()
    failed = Signal(str)
    ended = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._serial = 0
        self._running = False
        self._taken = self._moved = False
        self._tries = 0
        self._order: tuple[dict[str, object], bytes] = ({}, b"")
        self._helper: QProcess | None = None
        self._read = b""
        self._clock = QTimer(self, singleShot=True)
        self._clock.timeout.connect(self._on_silence)
        self._idle = True
        """Whether the helper has ended what it was last told to do."""

    @property
    def running(self) -> bool:
        """True from start to end, failure or stop."""
        return self._running

    def stop(self) -> None:
        """End the stream; what it still says is not heard any more. Waits for nothing."""
        self._serial += 1
        self._running = False
        if self._helper is None or self._idle:
            self._clock.stop()
            return
        self._send({"do": STOP}, b"")
        self._wait(STOP_S)

    def close(self) -> None:
        """End the stream and its helper, which has nothing to lose."""
        self._serial += 1
        self._running = False
        self._drop(GIVE_UP_MS)

    def _start(self, order: dict[str, object], pcm: bytes = b"") -> None:
        self._serial += 1
        self._running, self._moved, self._tries = True, False, 0
        self._order = (order, pcm)
        self._begin()

    def _begin(self) -> None:
        """Give the order to the helper, a new one if need be."""
        if self._helper is None:
            helper = self._helper = QProcess(self)
            self._read = b""
            helper.readyReadStandardOutput.connect(partial(self._on_frames, helper))
            helper.readyReadStandardError.connect(partial(self._on_words, helper))
            helper.finished.connect(partial(self._on_finished, helper))
            helper.errorOccurred.connect(partial(self._on_error, helper))
            helper.start(sys.executable, ["-P", "-m", "kesselton.app.sound.sound_helper"])
            self._wait(STARTING_S)
        else:
            self._wait(STOP_S)
        self._taken = self._idle = False
        self._send(*self._order)

    def _wait(self, seconds: float) -> None:
        """The helper must say something before so long."""
        self._clock.start(round(1000 * seconds))

    def _send(self, order: dict[str, object], pcm: bytes) -> None:
        assert self._helper is not None
        line = json.dumps({**order, "serial": self._serial, "bytes": len(pcm)})
        self._helper.write(f"{line}\n".encode() + pcm)

    def _drop(self, wait_ms: int = 0) -> None:
        """Kill the helper; the next stream begins another."""
        self._clock.stop()
        helper, self._helper, self._idle = self._helper, None, True
        if helper is None:
            return
        helper.kill()
        if wait_ms:
            helper.waitForFinished(wait_ms)
        if helper.state() == QProcess.ProcessState.NotRunning:
            helper.deleteLater()

    # what the helper says

    def _on_frames(self, helper: QProcess) -> None:
        if helper is not self._helper:
            return
        self._read += bytes(helper.readAllStandardOutput().data())
        while helper is self._helper and len(self._read) >= FRAME.size:
            kind, serial, length = FRAME.unpack_from(self._read)
            if len(self._read) < FRAME.size + length:
                return
            payload = self._read[FRAME.size : FRAME.size + length]
            self._read = self._read[FRAME.size + length :]
            self._on_frame(kind, serial, payload)

    def _on_frame(self, kind: bytes, serial: int, payload: bytes) -> None:
        if serial != self._serial:
            return
        if kind == END:
            self._idle = True
            self._clock.stop()
            if self._running:
                self._end(payload.decode())
            return
        if not self._running:
            return
        if kind == TAKEN:
            self._taken = True
            self._wait(FIRST_S + STOP_S)
            return
        self._wait(FIRST_S + DRAIN_S)  # a server may take all there is at once, and hear it out
        if kind == OPENED:
            self._moved = True
            self.opened.emit()
        elif kind == DATA:
            self._on_data(payload)

    def _on_data(self, data: bytes) -> None:
        """What an input brings."""

    def _on_words(self, helper: QProcess) -> None:
        words = bytes(helper.readAllStandardError().data()).decode(errors="replace")
        for line in words.splitlines():
            log.info("sound helper: %s", line)

    def _on_finished(self, helper: QProcess, code: int, status: QProcess.ExitStatus) -> None:
        if not isValid(helper):  # gone with its window, while the process was ending
            return
        helper.deleteLater()
        if helper is self._helper:
            log.info("the sound helper ended: %s, %s", code, status)
            self._drop()
            self._again(not self._moved)

    def _on_error(self, helper: QProcess, error: QProcess.ProcessError) -> None:
        if helper is self._helper and error == QProcess.ProcessError.FailedToStart:
            log.warning("the sound helper cannot be started")
            self._drop()
            if self._running:
                self._end(NO_HELPER)

    def _on_silence(self) -> None:
        """It does not answer: its server hangs, or hung when it was still at what came before."""
        log.info("the sound helper does not respond")
        self._drop()
        self._again(not self._taken)

    def _again(self, worth_it: bool) -> None:
        """The helper is gone: try with another one, or say that the stream is lost."""
        if not self._running:
            return
        if worth_it and self._tries < AGAIN:
            self._tries += 1
            self._begin()
        else:
            self._end(LOST)

    def _end(self, why: str) -> None:
        self._running = False
        if why:
            self.failed.emit(why)
        else:
            self.ended.emit()


class Output(_Stream):
    """Plays sounds of one channel."""

    def play(self, pcm: bytes, rate_hz: int) -> None:
        """Play 16-bit samples from their start."""
        self._start({"do": PLAY, "rate_hz": rate_hz}, pcm)


class Input(_Stream):
    """Listens to one channel.

    Signals
    -------
    heard(bytes) : 16-bit samples
    """

    heard = Signal(object)

    def listen(self, rate_hz: int) -> None:
        """Begin."""
        self._start({"do": LISTEN, "rate_hz": rate_hz})

    def _on_data(self, data: bytes) -> None:
        self.heard.emit(data)
