"""A picture in which entries are chosen by pointer or arrow keys."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.parts.widgets.safe_override import safe_override

NEAR = 14.0
"""A click this far from an entry still means it."""


class EntryPicture(Picture):
    """It shows that it has the keys; the arrow keys go from entry to entry."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def step(self, by: int) -> bool:
        """Choose the next entry or the one before; False where there is none."""
        raise TypeError(f"{type(self).__name__} does not say what its keys choose.")

    def paint_ground(self, p: QPainter) -> None:
        """The panel, and whether it has the keys."""
        c, on = self._colours, self.hasFocus()
        p.setPen(QPen(QColor(c.accent if on else c.line), 2 if on else 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        p.setBrush(Qt.BrushStyle.NoBrush)

    def paint_words(self, p: QPainter, words: str) -> None:
        """What is said where there is nothing to show."""
        p.setPen(QColor(self._colours.soft_ink))
        wrap = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        p.drawText(QRectF(self.rect()).adjusted(16, 0, -16, 0), int(wrap), words)

    @safe_override
    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if by is None or not self.step(by):
            super().keyPressEvent(event)
