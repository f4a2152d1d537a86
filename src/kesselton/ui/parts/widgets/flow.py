"""A row that goes on in the next line where the window is narrow."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QWidget

from kesselton.ui.parts.widgets.safe_override import safe_override

HORIZONTAL = Qt.Orientation.Horizontal


class FlowLayout(QLayout):
    """Widgets side by side, as many to a line as fit; lines are as high as their highest."""

    def __init__(self, parent: QWidget | None = None, spacing: int = 8) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._heights: dict[int, int] = {}  # asked for many times while a page is laid out
        self.setSpacing(spacing)

    @safe_override
    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)
        self._heights.clear()

    @safe_override
    def count(self) -> int:
        return len(self._items)

    @safe_override
    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    @safe_override
    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    @safe_override
    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    @safe_override
    def hasHeightForWidth(self) -> bool:
        return True

    @safe_override
    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:
            self._heights[width] = self._place(QRect(0, 0, width, 0), only_measure=True)
        return self._heights[width]

    @safe_override
    def invalidate(self) -> None:
        self._heights.clear()
        super().invalidate()

    @safe_override
    def sizeHint(self) -> QSize:
        shown = [item for item in self._items if not item.isEmpty()]
        wide = sum(item.sizeHint().width() for item in shown)
        wide += self.spacing() * max(len(shown) - 1, 0)
        high = max((item.sizeHint().height() for item in shown), default=0)
        return self._with_margins(QSize(wide, high))

    @safe_override
    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            if not item.isEmpty():
                size = size.expandedTo(item.minimumSize())
        return self._with_margins(size)

    @safe_override
    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._place(rect)

    def _with_margins(self, size: QSize) -> QSize:
        margins = self.contentsMargins()
        return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom())

    def _lines(self, width: int) -> list[list[QLayoutItem]]:
        """As many items to a line as fit at their narrowest."""
        lines: list[list[QLayoutItem]] = [[]]
        used = 0
        for item in self._items:
            if item.isEmpty():
                continue
            narrow = item.minimumSize().width()
            if lines[-1] and used + self.spacing() + narrow > width:
                lines.append([])
                used = 0
            used += narrow + (self.spacing() if lines[-1] else 0)
            lines[-1].append(item)
        return lines

    def _widths(self, line: list[QLayoutItem], width: int) -> list[int]:
        """Each as wide as it likes where there is room; what wants to expand takes the rest."""
        wide = [item.minimumSize().width() for item in line]
        left = width - sum(wide) - self.spacing() * (len(line) - 1)
        for place, item in enumerate(line):
            more = max(min(item.sizeHint().width() - wide[place], left), 0)
            wide[place] += more
            left -= more
        eager = [i for i, item in enumerate(line) if item.expandingDirections() & HORIZONTAL]
        for place in eager:
            wide[place] += max(left, 0) // len(eager)
        return wide

    def _place(self, rect: QRect, only_measure: bool = False) -> int:
        inside = rect.marginsRemoved(self.contentsMargins())
        y = inside.y()
        for line in self._lines(inside.width()):
            x = inside.x()
            high = max((item.sizeHint().height() for item in line), default=0)
            for item, wide in zip(line, self._widths(line, inside.width()), strict=True):
                if not only_measure:
                    down = (high - item.sizeHint().height()) // 2
                    size = QSize(wide, item.sizeHint().height())
                    item.setGeometry(QRect(QPoint(x, y + down), size))
                x += wide + self.spacing()
            y += high + self.spacing()
        return y - self.spacing() - rect.y() + self.contentsMargins().bottom()
