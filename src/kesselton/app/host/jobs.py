"""Computing beside the screen: the latest request wins, stale answers are dropped."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from typing import Any, Generic, TypeVar

from PySide6.QtCore import QObject, Qt, Signal

from kesselton.core.acoustics.solver.work import unless
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _

T = TypeVar("T")


def fault_of(error: Exception) -> KesseltonError:
    """What to say of an error nobody expected, where its answer was waited for."""
    return KesseltonError(
        _("This could not be computed: program error ({name}).").format(name=type(error).__name__),
        _("Your work is safe. Change a value and try again; see the report for details."),
    )


class Latest(QObject):
    """Runs pure functions in one worker thread; of the waiting requests only the newest runs.

    `done(key, result)` and `failed(key, KesseltonError)` are called in the thread of the screen; a
    failure only for the newest request of all. Both must be given: a job that fails in silence
    leaves a screen that waits for ever. An error nobody expected is a failure too, and is raised
    besides.
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
        self.destroyed.connect(partial(Latest.stop, self))  # if nobody stopped it before
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
        """End the thread, and do not wait: what is running is dropped, and ends where it next
        looks."""
        with self._wake:
            self._stopped = True
            self._waiting = None
            self._wake.notify()

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
                with unless(lambda: self._stopped):
                    result = work()
            except Exception as caught:
                error = caught
            if not self._tell(serial, key, result, error):
                return

    def _tell(self, *message: object) -> bool:
        """Whether anybody is there to be told; whoever stops this may delete it next."""
        with self._wake:
            if self._stopped:
                return False
            try:
                self._finished.emit(*message)
            except RuntimeError:  # whoever asked is gone
                return False
            return True

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
            try:
                self._failed(key, fault_of(error))  # or a screen would wait for ever
            finally:
                raise error  # to the hook that reports faults


class Answer(Generic[T]):
    """The answer to what a screen shows now, and to nothing else.

    A question has an owner (the drum, the head, the number of its rods) and a key (all that the
    answer depends on). `value` is the last answer of the owner, be it of how it was a moment ago;
    `settled` only that of the very question asked last.
    """

    def __init__(
        self,
        changed: Callable[[], object],
        failed: Callable[[KesseltonError], object],
        parent: QObject | None = None,
    ) -> None:
        self._changed, self._failed = changed, failed
        self._jobs = Latest(self._on_done, self._on_failed, parent)
        self._asked: tuple[object, object] | None = None
        self._found: tuple[tuple[object, object], T] | None = None

    @property
    def value(self) -> T | None:
        """The last answer of the owner."""
        return None if self._found is None else self._found[1]

    @property
    def settled(self) -> T | None:
        """The answer to the question asked last, None while it is worked out."""
        result = self._found
        return result[1] if result is not None and result[0] == self._asked else None

    def ask(self, owner: object, key: object, work: Callable[[], T]) -> None:
        """Ask, unless this is known or being worked out; another owner's answer goes at once."""
        if self._asked == (owner, key):
            return
        if self._asked is None or self._asked[0] != owner:
            self._found = None
        self._asked = (owner, key)
        self._jobs.request(self._asked, work)

    def forget(self) -> None:
        """Nothing is asked, nothing is known."""
        self._asked = self._found = None

    def stop(self) -> None:
        """End the thread."""
        self._jobs.stop()

    def _on_done(self, key: tuple[object, object], result: T) -> None:
        if key == self._asked:
            self._found = (key, result)
            self._changed()

    def _on_failed(self, key: tuple[object, object], error: KesseltonError) -> None:
        if key == self._asked:
            self._asked = self._found = None  # it may be asked again
            self._failed(error)
