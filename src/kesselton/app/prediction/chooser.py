"""Searches for heads beside the screen, with progress, and stops when told to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head

if TYPE_CHECKING:
    from kesselton.core.heads.brief import Brief


class Chooser(QObject):
    """One search at a time; a new one ends the one before.

    Signals
    -------
    progress(int done, int of), first(Candidates) that a few pairs come to while the search goes on,
    finished(Candidates), failed(KesseltonError), stopped()
    """

    progress = Signal(int, int)
    first = Signal(object)
    finished = Signal(object)
    failed = Signal(object)
    stopped = Signal()
    _early = Signal(int, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._early.connect(self._on_early)
        self._jobs = Latest(self._on_done, self._on_failed, self)
        self._number = 0
        self.running = False

    def start(self, drum: Drum, brief: Brief, batters: list[Head], resonants: list[Head]) -> None:
        """Begin a search."""
        self._number += 1
        self.running = True
        number = self._number

        def keep_on(done: int, of: int) -> bool:
            if number == self._number:
                self.progress.emit(done, of)
            return number == self._number

        def work() -> object:
            from kesselton.core.heads.choose import choose

            def early(result: object) -> None:
                self._early.emit(number, result)

            return choose(drum, brief, batters, resonants, keep_on, early)

        self._jobs.request(number, work)

    def cancel(self) -> None:
        """End the search that runs."""
        if self.running:
            self.drop()
            self.stopped.emit()

    def drop(self) -> None:
        """End the search, if one runs: nobody waits for its answer any more."""
        self._number += 1
        self.running = False

    def stop(self) -> None:
        """End search and thread."""
        self.drop()
        self._jobs.stop()

    def _on_early(self, number: int, result: object) -> None:
        if self.running and number == self._number:
            self.first.emit(result)

    def _on_done(self, number: int, result: object) -> None:
        if number == self._number:
            self.running = False
            self.finished.emit(result)

    def _on_failed(self, number: int, error: KesseltonError) -> None:
        if number == self._number:
            self.running = False
            self.failed.emit(error)
