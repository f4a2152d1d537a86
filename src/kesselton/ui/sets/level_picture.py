"""Bars of how loud the drums of a set are at one place."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

ROW, SIDE, TAIL = 22.0, 78.0, 118.0
SPAN_DB = 24.0


class LevelPicture(Picture):
    """A bar for each drum; its length is its level under the loudest."""

    main = False

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(_("Level by listening position"))
        self._lines: list[tuple[str, float, str]] = []
        self.setFixedHeight(int(4 * ROW))

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(280, max(len(self._lines), 4) * ROW)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(200, 40)

    def set_state(self, lines: list[tuple[str, float, str]]) -> None:
        """Show name, level in dB (nan: not there) and words of each drum."""
        self._lines = lines
        self.setAccessibleDescription("; ".join(f"{name} {said}" for name, _unused, said in lines))
        self.setFixedHeight(int(max(len(lines), 1) * ROW))
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """The levels in rows, for the clipboard."""
        return [(name, message) for name, _unused, message in self._lines]

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        p.setFont(font(8.5))
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        room = max(self.width() - SIDE - TAIL, 10.0)
        for place, (name, level, message) in enumerate(self._lines):
            top = place * ROW
            p.setPen(QColor(c.ink))
            p.drawText(QRectF(0, top, SIDE - 6, ROW), left, elided(p, name, SIDE - 6))
            if not math.isnan(level):
                share = max(1.0 + level / SPAN_DB, 0.02)
                p.fillRect(QRectF(SIDE, top + 8, room * share, 6), QColor(c.metal))
            p.setPen(QColor(c.soft_ink))
            p.drawText(
                QRectF(self.width() - TAIL + 6, top, TAIL - 6, ROW), left,
                elided(p, message, TAIL - 8),
            )  # fmt: skip
