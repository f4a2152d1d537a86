"""Where the parts of the main window stand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from kesselton.ui import theme

if TYPE_CHECKING:
    from kesselton.ui.main_window import MainWindow


def arrange(window: MainWindow) -> None:
    """Rack, section over form, ladder, readout; message at the foot."""
    rack = _scroll(window.rack, 188)
    window.part_title.setFont(theme.font(11, QFont.Weight.DemiBold))
    form_box = QWidget()
    form_layout = QVBoxLayout(form_box)
    form_layout.setContentsMargins(0, 0, 8, 0)
    form_layout.addWidget(window.part_title)
    form_layout.addWidget(window.forms)
    left = QVBoxLayout()
    left.setContentsMargins(16, 8, 0, 8)
    left.addWidget(window.section, 5)
    left.addWidget(_scroll(form_box), 6)
    across = QHBoxLayout()
    across.setContentsMargins(0, 0, 0, 0)
    across.setSpacing(12)
    across.addWidget(rack, 0)
    across.addLayout(left, 31)
    ladder_box = QVBoxLayout()
    ladder_box.setContentsMargins(0, 12, 0, 12)
    ladder_box.addWidget(window.ladder)
    across.addLayout(ladder_box, 42)
    across.addWidget(_scroll(window.readout, None, 272), 29)
    bench = QWidget()
    bench.setObjectName("bench")
    whole = QVBoxLayout(bench)
    whole.setContentsMargins(0, 0, 0, 0)
    whole.setSpacing(0)
    whole.addWidget(window.topbar)
    whole.addLayout(across, 1)
    foot = QHBoxLayout()
    foot.setContentsMargins(12, 0, 12, 8)
    foot.addWidget(window.message)
    whole.addLayout(foot)
    window.setCentralWidget(bench)
    for first, second in (
        (window.rack, window.section),
        (window.section, window.forms),
        (window.forms, window.ladder),
        (window.ladder, window.readout.sheet),
    ):
        QWidget.setTabOrder(first, second)


def _scroll(widget: QWidget, width: int | None = None, least: int = 0) -> QScrollArea:
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
