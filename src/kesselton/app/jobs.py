"""Computing beside the screen: the latest request wins, stale answers are dropped."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from kesselton.core.errors import KesseltonError


class Latest(QObject):
    """Runs pure functions in one worker thread; of the waiting requests only the newest runs.

    `done(key, result)` and `failed(key, KesseltonError)` are called in the thread of the screen; a
    failure only for the newest request of all. Both must be given: a job that fails in silence
    leaves a screen that waits for ever.
    """

    _finished = Signal(int, object, object, object)

    def __init__(
        self,
        done: Callable[[Any, Any], object],
        failed: Callable[[Any, KesseltonError], object],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._done, self._failed = done, failed
        self._finished.connect(self._on_finished, Qt.ConnectionType.QueuedConnection)
        self._wake = threading.Condition()
        self._waiting: tuple[int, object, Callable[[], Any]] | None = None
        self._serial = 0
        self._stopped = False
        self._thread = threading.Thread(target=self._work, name="kesselton-latest", daemon=True)
        self._started = False

    def request(self, key: object, work: Callable[[], Any]) -> int:
        """Ask for `work()`; an older request that has not begun is forgotten."""
        with self._wake:
            self._serial += 1
            self._waiting = (self._serial, key, work)
            if not self._started:
                self._started = True
                self._thread.start()
            self._wake.notify()
            return self._serial

    def stop(self) -> None:
        """End the thread; what is running is finished and dropped."""
        with self._wake:
            self._stopped = True
            self._waiting = None
            self._wake.notify()
        if self._started:
            self._thread.join()

    def _work(self) -> None:
        while True:
            with self._wake:
                while self._waiting is None and not self._stopped:
                    self._wake.wait()
                if self._stopped:
                    return
                assert self._waiting is not None
                serial, key, work = self._waiting
                self._waiting = None
            result: Any = None
            error: Exception | None = None
            try:
                result = work()
            except Exception as caught:
                error = caught
            with self._wake:
                stopped = self._stopped
            if not stopped:
                self._finished.emit(serial, key, result, error)

    def _on_finished(self, serial: int, key: object, result: object, error: object) -> None:
        if serial != self._serial and error is not None:
            return
        if self._stopped:
            return
        if error is None:
            # while dragging, an answer one request behind is still worth showing
            self._done(key, result)
        elif isinstance(error, KesseltonError):
            self._failed(key, error)
        else:
            assert isinstance(error, Exception)
            raise error
