"""The one place where what went wrong is told: message, remedy, details."""

from __future__ import annotations

import sys
import traceback
from types import TracebackType

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFrame, QHBoxLayout, QWidget

from kesselton.app.host.logs import log, report
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.ui.parts.widgets.columns import selectable
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import MarkedLabel

LASTING = ("save", "file", "settings", "sound")
"""Topics that no step of undo makes untrue."""


class MessageBar(QFrame):
    """A line at the foot of the window; stays until it is read or no longer true.

    Signals
    -------
    retry_wanted : "Try again" was pressed
    """

    retry_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("message")
        self._topic = ""
        self.text = selectable(MarkedLabel())
        self.text.setWordWrap(True)
        self.retry = Button(_("Try again"))
        self.retry.clicked.connect(self.retry_wanted)
        self.copy = Button(_("Copy report"))
        self.copy.clicked.connect(self._on_copy)
        self._report = ""
        self.close_button = Button(_("Dismiss"))
        self.close_button.clicked.connect(self.hide)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 6, 8, 6)
        layout.addWidget(self.text, 1)
        layout.addWidget(self.retry)
        layout.addWidget(self.copy)
        layout.addWidget(self.close_button)
        self.hide()

    def tell(self, error: KesseltonError, topic: str = "", retry: bool = False) -> None:
        """Show an error; `topic` lets it be taken back when it no longer holds."""
        self._topic = topic
        self.text.say("<b>{message}</b> {remedy}", message=error.message, remedy=error.remedy)
        self.text.setAccessibleName(error.one_line())
        self.retry.setVisible(retry)
        self._report = error.report if isinstance(error, UnexpectedError) else ""
        self.copy.setVisible(bool(self._report))
        self.copy.setText(_("Copy report"))
        self.show()

    def _on_copy(self) -> None:
        QGuiApplication.clipboard().setText(self._report)
        self.copy.setText(_("Report copied"))

    def take_back(self, topic: str) -> None:
        """Hide the message if it is about `topic`."""
        if self._topic == topic:
            self.hide()

    def outdated(self) -> None:
        """The state is another: what was said of the one before goes, what is wrong with files and
        devices stays."""
        if self._topic not in LASTING and not self.copy.isVisible():
            self.hide()


class UnexpectedError(KesseltonError):
    """Something nobody expected; `report` says all there is to say about it."""

    def __init__(self, message: str, report: str) -> None:
        super().__init__(message)
        self.report = report


class Unexpected(QObject):
    """Turns what nobody expected into a message too; log and standard error have its details.

    Signals
    -------
    caught(KesseltonError) : an UnexpectedError unless the program raised it on purpose
    """

    caught = Signal(object)

    def install(self) -> None:
        """Become the hook of last resort."""
        sys.excepthook = self._hook

    def _hook(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        traceback.print_exception(kind, error, trace)
        if isinstance(error, KeyboardInterrupt):
            return
        log.error("unexpected", exc_info=(kind, error, trace))
        if isinstance(error, KesseltonError):
            self.caught.emit(error)
            return
        message = _("Unexpected error: {name}: {error}.").format(name=kind.__name__, error=error)
        self.caught.emit(UnexpectedError(message, report(error)))
