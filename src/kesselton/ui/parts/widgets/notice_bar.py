"""What was done, in a quiet line: it hides nothing that is still wrong."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.columns import selectable
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label

LONG_ENOUGH_MS = 12_000


class NoticeBar(QFrame):
    """Says what was saved, written, removed; goes by itself.

    Signals
    -------
    undo_wanted : "Undo" was pressed
    """

    undo_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("said")
        self.text = selectable(Label())
        self.text.setWordWrap(True)
        self._offered: Callable[[], object] | None = None
        self.offer = Button()
        self.offer.clicked.connect(self._on_offer)
        self.undo = Button(_("Undo"))
        self.undo.clicked.connect(self._on_undo)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 2, 8, 2)
        layout.addWidget(self.text, 1)
        layout.addWidget(self.offer)
        layout.addWidget(self.undo)
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.setInterval(LONG_ENOUGH_MS)
        self._clock.timeout.connect(self.hide)
        self.hide()

    def say(
        self, text: str, undo: bool = False, offer: tuple[str, Callable[[], object]] | None = None
    ) -> None:
        """Show what was done; with `undo` it can be taken back from here; `offer` is what may be
        done next, its words and what does it."""
        self._offered = offer[1] if offer else None
        self.offer.setText(offer[0] if offer else "")
        self.offer.setVisible(offer is not None)
        self.text.setText(text)
        self.text.setAccessibleName(text)
        self.undo.setVisible(undo)
        self.show()
        self._clock.start()

    def outdated(self) -> None:
        """Something else was done since: what is offered here would act on that."""
        self._offered = None
        for button in (self.offer, self.undo):
            button.hide()

    def _on_offer(self) -> None:
        self.hide()
        if self._offered is not None:
            self._offered()

    def _on_undo(self) -> None:
        self.hide()
        self.undo_wanted.emit()
