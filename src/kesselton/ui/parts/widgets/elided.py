"""A line of text that ends in … where there is no room, and says the whole when pointed at."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from kesselton.ui.parts.widgets.labels import Label, plain_tip
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import px


class Elided(Label):
    """A label of one line that may be narrower than its text."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def setText(self, text: str) -> None:
        super().setText(text)
        self._tell()

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return QSize(min(px(40), super().minimumSizeHint().width()), super().sizeHint().height())

    @safe_override
    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._tell()

    def _shown(self) -> str:
        room = self.contentsRect().width()
        return self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, room)

    def _tell(self) -> None:
        self.setToolTip(plain_tip(self.text()) if self._shown() != self.text() else "")

    @safe_override
    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as p:
            p.setPen(self.palette().color(self.foregroundRole()))
            p.drawText(self.contentsRect(), self.alignment(), self._shown())
