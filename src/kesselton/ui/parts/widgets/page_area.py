"""Where a stage stands: it fills the window, and scrolls only if letters are too large for that."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QScrollArea, QStackedWidget, QWidget

from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import px


class PageArea(QScrollArea):
    """Holds the pages of the stages.

    Qt's own way of making the widget fit asks for the height a page would like; here it gets the
    window's, unless it needs more at the least.
    """

    def __init__(self, pages: QStackedWidget, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pages = pages
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidget(pages)
        pages.currentChanged.connect(lambda place: self._fit())

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return QSize(px(300), px(200))

    @safe_override
    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        done = super().eventFilter(watched, event)
        if event.type() == QEvent.Type.LayoutRequest:
            self._fit()
        return done

    def _fit(self) -> None:
        page = self._pages.currentWidget()
        if page is None:
            return
        room, least = self.viewport().size(), page.minimumSizeHint()
        wide, high, layout = max(room.width(), least.width()), least.height(), page.layout()
        if layout is not None and layout.hasHeightForWidth():
            high = layout.totalMinimumHeightForWidth(wide)
        self._pages.resize(wide, max(room.height(), high))
