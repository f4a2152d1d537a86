"""Who sets whom talking: a table of bars, the struck drum down, the answering one across."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.language import _, figures
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

if TYPE_CHECKING:
    from kesselton.core.sets.search.whole import SolvedSet

SIDE, TOP = 84.0, 22.0
QUIET_DB, LOUD_DB = -40.0, -5.0


class AnswerPicture(Picture):
    """One cell is chosen by pointer or arrow keys.

    Signals
    -------
    chosen(int struck, int answering)
    """

    chosen = Signal(int, int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(_("Struck → responding (dB)"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._found: SolvedSet | None = None
        self.current: tuple[int, int] | None = None

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(380, 190)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(215, 120)

    def set_state(self, solved_set: SolvedSet | None, current: tuple[int, int] | None) -> None:
        """Show how the drums of a set answer each other."""
        self._found, self.current = solved_set, current
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """The levels in rows, for the clipboard."""
        if self._found is None:
            return []
        names = [member.name for member in self._found.members]
        rows: list[tuple[str, ...]] = [(_("Struck → responding (dB)"), *names)]
        for name, row in zip(names, self._found.answers, strict=True):
            rows.append((name, *("" if a is None else f"{a.level_db:.0f}" for a in row)))
        return rows

    def cell(self, row: int, column: int) -> QRectF:
        """Where a cell is."""
        assert self._found is not None
        count = len(self._found.members)
        wide = (self.width() - SIDE - 8.0) / count
        high = (self.height() - TOP - 6.0) / count
        return QRectF(SIDE + column * wide + 2, TOP + row * high + 1, wide - 4, high - 2)

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        if self.hasFocus():
            p.setPen(QPen(QColor(c.accent), 2))
            p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 6, 6)
        if self._found is None:
            return
        names = [member.name for member in self._found.members]
        p.setFont(font(8.5))
        for number, name in enumerate(names):
            p.setPen(QColor(c.soft_ink))
            column, row = self.cell(0, number), self.cell(number, 0)
            across = QRectF(column.left(), 4, column.width(), TOP - 6)
            p.drawText(across, Qt.AlignmentFlag.AlignCenter, elided(p, name, column.width()))
            down = QRectF(6, row.top(), SIDE - 12, row.height())
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            p.drawText(down, right, elided(p, name, SIDE - 12))
        for i, line in enumerate(self._found.answers):
            for j, answer in enumerate(line):
                box = self.cell(i, j)
                p.setPen(QPen(QColor(c.line), 1))
                p.setBrush(QColor(c.drum_list if answer is None else c.panel))
                p.drawRect(box)
                if answer is None:
                    continue
                share = (answer.level_db - QUIET_DB) / (LOUD_DB - QUIET_DB)
                wide = max(min(share, 1.0), 0.0) * (box.width() - 2)
                ink = QColor(c.sharp if answer.wires_over else c.metal)
                bar = QRectF(box.left() + 1, box.bottom() - 4.5, wide, 4)
                p.fillRect(bar, ink)
                p.setPen(QColor(c.sharp if answer.wires_over else c.ink))
                text = figures(answer.level_db, ".0f")
                if answer.wires_over:
                    marked = f"{_('wires')} {text}"
                    if p.fontMetrics().horizontalAdvance(marked) <= box.width() - 4:
                        text = marked
                where = box.adjusted(2, 0, -2, -4)
                p.drawText(where, Qt.AlignmentFlag.AlignCenter, elided(p, text, where.width()))
        if self.current is not None and max(self.current) < len(names):
            p.setPen(QPen(QColor(c.accent), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(self.cell(*self.current))

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._found is None:
            return
        count = len(self._found.members)
        for i in range(count):
            for j in range(count):
                if i != j and self.cell(i, j).contains(event.position()):
                    self.chosen.emit(i, j)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0),
        }  # fmt: skip
        step = steps.get(Qt.Key(event.key()))
        if step is None or self._found is None or len(self._found.members) < 2:
            super().keyPressEvent(event)
            return
        count = len(self._found.members)
        i, j = self.current or (0, 0)
        i, j = i + step[0], j + step[1]
        if i == j:  # over the diagonal
            i, j = i + step[0], j + step[1]
        if 0 <= i < count and 0 <= j < count:
            self.chosen.emit(i, j)
        elif self.current is None:
            self.chosen.emit(0, 1)

    @safe_override
    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()
