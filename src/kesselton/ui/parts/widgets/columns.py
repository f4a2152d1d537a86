"""Columns that scroll up and down when the window is low."""

from __future__ import annotations

from typing import TypeVar

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font, px

L = TypeVar("L", bound=QLabel)


class Column(QScrollArea):
    """Scrolls up and down, and is never narrower than what it holds."""

    @safe_override
    def minimumSizeHint(self) -> QSize:
        inside = self.widget()
        wide = inside.minimumSizeHint().width() if inside is not None else 0
        return QSize(wide + self.verticalScrollBar().sizeHint().width(), px(80))

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()  # what it holds may need more room now
        return super().eventFilter(watched, event)


def scroll(widget: QWidget, width: int | None = None, least: int = 0) -> QScrollArea:
    """A part that scrolls up and down when the window is low."""
    area = Column()
    area.setWidget(widget)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    if width is not None:
        area.setFixedWidth(px(width))
    if least:
        area.setMinimumWidth(px(least))
    return area


def as_page(page: QWidget, name: str) -> None:
    """A page that takes keys as a whole, and shows when it has them."""
    page.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    page.setObjectName("page")
    page.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    page.setAccessibleName(name)


def narrow(widget: QWidget, most: int) -> QWidget:
    """A form that does not stretch: what a wide window has over goes to the pictures."""
    widget.setMaximumWidth(px(most))
    return widget


def clear(grid: QGridLayout) -> None:
    """Take every widget out of a grid."""
    while grid.count():
        item = grid.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def column(title: str) -> tuple[QWidget, QVBoxLayout]:
    """A titled column of a stage."""
    part = QWidget()
    box = QVBoxLayout(part)
    box.setContentsMargins(0, 10, 10, 10)
    label = Label(title)
    label.setFont(font(11, QFont.Weight.DemiBold))
    box.addWidget(label)
    return part, box


def fault_label() -> QLabel:
    """Room for a complaint, hidden until there is one."""
    label = Label()
    label.setProperty("fault", True)
    label.setWordWrap(True)
    label.hide()
    return selectable(label)


def selectable(label: L) -> L:
    """What it says can be taken with the mouse; the keys stay where they are."""
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    label.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return label
