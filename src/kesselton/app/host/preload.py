"""What later stages will need is read in while nobody waits for it."""

from __future__ import annotations

import importlib
import threading

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.logs import log

LATER = (
    "kesselton.app.bench.clearing",
    "kesselton.core.clear.turning",
    "kesselton.core.clear.simulated",
    "kesselton.core.clear.taps.tap",
    "kesselton.core.heads.choose",
    "kesselton.app.bench.fitting",
    "kesselton.app.bench.measuring",
    "kesselton.core.measure.readings",
)
"""Computation behind the stages; SciPy comes with it."""


class Preloader(QObject):
    """Imports modules in a thread of its own; the window stays free meanwhile.

    Signals
    -------
    done : all is read in
    """

    done = Signal()

    def __init__(self, more: tuple[str, ...] = (), parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._names = (*LATER, *more)
        self._stopped = threading.Event()
        self._telling = threading.Lock()  # who stops this may delete it next
        self._thread = threading.Thread(target=self._work, name="kesselton-warm", daemon=True)

    def start(self) -> None:
        """Begin, once."""
        if not self._thread.ident and not self._stopped.is_set():
            self._thread.start()

    def _work(self) -> None:
        for name in self._names:
            if self._stopped.wait(0.02):  # the window first
                return
            try:
                importlib.import_module(name)
            except ImportError as error:  # told when it is needed
                log.warning("%s cannot be imported: %s", name, error)
        with self._telling:
            if not self._stopped.is_set():
                self.done.emit()

    def stop(self) -> None:
        """End after the module that is being read; nothing is told any more."""
        with self._telling:
            self._stopped.set()
