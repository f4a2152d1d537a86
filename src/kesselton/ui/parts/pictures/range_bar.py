"""A slim bar: from where to where something is, and where it stands now."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QWidget

from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.parts.widgets.theme import font

TITLE, HIGH, THICK = 78.0, 40, 8.0


class RangeBar(Picture):
    """A title, a track with a range on it, a mark, and the figure in words underneath."""

    main = False

    def __init__(self, title: str, tip: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(HIGH)
        self._title, self._tip, self._words = title, tip, ""
        self._from = self._to = self._mark = math.nan

    def set_state(self, words: str, low: float, high: float, mark: float = math.nan) -> None:
        """Shares of the track, 0 to 1; nan where there is none."""
        self._words = words
        self._from, self._to, self._mark = low, high, mark
        self.setAccessibleName(f"{self._title}: {words}")
        self.setToolTip(f"{self._tip}: {words}" if self._tip else words)
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        return [(self._title, self._words)]

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        wide = self.width() - TITLE
        p.setFont(font(9))
        p.setPen(QColor(c.soft_ink))
        middle = Qt.AlignmentFlag.AlignVCenter
        p.drawText(QRectF(0, 0, TITLE - 6, 18), middle | Qt.AlignmentFlag.AlignLeft, self._title)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.line))
        p.drawRoundedRect(QRectF(TITLE, 5, wide, THICK), 4, 4)
        if math.isfinite(self._from) and math.isfinite(self._to):
            start, end = (TITLE + wide * min(max(x, 0.0), 1.0) for x in (self._from, self._to))
            p.setBrush(QColor(c.soft_ink if math.isnan(self._mark) else c.accent))
            p.setOpacity(1.0 if math.isnan(self._mark) else 0.4)
            p.drawRoundedRect(QRectF(start, 5, max(end - start, 3.0), THICK), 4, 4)
            p.setOpacity(1.0)
        if math.isfinite(self._mark):
            at = TITLE + wide * min(max(self._mark, 0.0), 1.0)
            p.setBrush(QColor(c.accent))
            p.drawRect(QRectF(at - 2.0, 1, 4.0, THICK + 8.0))
        p.setPen(QColor(c.ink))
        right = middle | Qt.AlignmentFlag.AlignRight
        words = p.fontMetrics().elidedText(
            self._words, Qt.TextElideMode.ElideRight, int(self.width())
        )
        p.drawText(QRectF(0, 18, self.width(), 20), right, words)
