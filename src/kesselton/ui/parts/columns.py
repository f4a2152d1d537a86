"""Columns that scroll up and down when the window is low."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from kesselton.ui.parts.theme import font


def scroll(widget: QWidget, width: int | None = None, least: int = 0) -> QScrollArea:
    """A part that scrolls up and down when the window is low."""
    area = QScrollArea()
    area.setWidget(widget)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    if width is not None:
        area.setFixedWidth(width)
    if least:
        area.setMinimumWidth(least)
    return area


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
    label = QLabel(title)
    label.setFont(font(11, QFont.Weight.DemiBold))
    box.addWidget(label)
    return part, box


def fault_label() -> QLabel:
    """Room for a complaint, hidden until there is one."""
    label = QLabel()
    label.setProperty("fault", True)
    label.setWordWrap(True)
    label.hide()
    return label
