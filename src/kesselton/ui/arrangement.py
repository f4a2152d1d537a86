"""Where the parts of the main window stand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.ui import theme
from kesselton.ui.columns import scroll

if TYPE_CHECKING:
    from kesselton.ui.main_window import MainWindow


def arrange(window: MainWindow) -> None:
    """Rack beside the stages (section over form, ladder, readout; heads); message at the foot."""
    rack = scroll(window.rack, 188)
    window.part_title.setFont(theme.font(11, QFont.Weight.DemiBold))
    form_box = QWidget()
    form_layout = QVBoxLayout(form_box)
    form_layout.setContentsMargins(0, 0, 8, 0)
    form_layout.addWidget(window.part_title)
    form_layout.addWidget(window.forms)
    left = QVBoxLayout()
    left.setContentsMargins(16, 8, 0, 8)
    left.addWidget(window.section, 5)
    left.addWidget(scroll(form_box), 6)
    settings = QWidget()
    across = QHBoxLayout(settings)
    across.setContentsMargins(0, 0, 0, 0)
    across.setSpacing(12)
    across.addLayout(left, 31)
    ladder_box = QVBoxLayout()
    ladder_box.setContentsMargins(0, 12, 0, 12)
    ladder_box.addWidget(window.schools)
    ladder_box.addWidget(window.ladder, 1)
    across.addLayout(ladder_box, 42)
    across.addWidget(scroll(window.readout, None, 272), 29)
    window.settings_page = settings
    window.stages.addWidget(settings)
    window.stages.addWidget(window.heads)
    window.stages.addWidget(window.compare)
    window.stages.addWidget(window.measure)
    window.stages.addWidget(window.gauges)
    window.stages.addWidget(window.work.fit)
    window.stages.addWidget(window.work.clear)
    with_rack = QHBoxLayout()
    with_rack.setContentsMargins(0, 0, 0, 0)
    with_rack.setSpacing(12)
    with_rack.addWidget(rack, 0)
    with_rack.addWidget(window.stages, 1)
    bench = QWidget()
    bench.setObjectName("bench")
    whole = QVBoxLayout(bench)
    whole.setContentsMargins(0, 0, 0, 0)
    whole.setSpacing(0)
    whole.addWidget(window.topbar)
    whole.addLayout(with_rack, 1)
    sound = QHBoxLayout()
    sound.setContentsMargins(12, 0, 12, 8)
    sound.addWidget(window.sound_bar)
    whole.addLayout(sound)
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
