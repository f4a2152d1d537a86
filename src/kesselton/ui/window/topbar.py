"""The bar across the top: whose workshop, and what holds for all of it."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QWidget

from kesselton.core import constants as const
from kesselton.core.language import N_, _, choices
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.fields import Field, air_field, number_field
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Box, Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.switch import Switch
from kesselton.ui.parts.widgets.theme import font, px

PAGES = (
    ("measure", N_("Measure")),
    ("heads", N_("Heads")),
    ("tuning", N_("Tuning")),
    ("fit", N_("Fit")),
    ("clear", N_("Clear")),
    ("log", N_("Log")),
    ("set", N_("Set")),
    ("shows", N_("Shows")),
    ("gauges", N_("Gauges")),
    ("practice", N_("Practice")),
)
OF_THE_DRUM = 6
"""The first pages are of the drum on the bench, the others of the workshop."""

WIDEST_NAME = 220


class TopBar(QFrame):
    """Workshop name, temperature at the bench, A4, units.

    Signals
    -------
    air_edited, stage_air_edited((°C, share or None)), a4_edited(float Hz), metric_chosen(bool),
    page_chosen(str), go_to_wanted()
    """

    air_edited = Signal(object)
    a4_edited = Signal(float)
    metric_chosen = Signal(bool)
    stage_air_edited = Signal(object)
    page_chosen = Signal(str)
    go_to_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("topbar")
        self.name = Elided()
        self.name.setMaximumWidth(px(WIDEST_NAME))
        self.name.setFont(font(12, QFont.Weight.Bold))
        self.state = Label()
        self.state.setProperty("fault", True)
        self.temperature = air_field(_("Bench"))
        self.on_stage = air_field(_("Stage"))
        self.a4 = number_field("A4", const.A4_LOW_HZ, const.A4_HIGH_HZ, "Hz", 0)
        self.units = Box()
        self.units.addItems([_("inches and mil"), _("millimeters")])
        self.units.setAccessibleName(_("Units"))
        pages = Switch(list(choices(PAGES)), OF_THE_DRUM)
        pages.chosen.connect(self.page_chosen)
        self.pages = pages.buttons
        self.go_to = Button(
            _("Find anything (Ctrl+G)"),
            tip=_("Any drum, page, action, head or log entry by some letters"),
        )
        self.go_to.setObjectName("chip")
        self.go_to.clicked.connect(self.go_to_wanted)
        work, terms = QWidget(), QWidget()
        left, right = QHBoxLayout(work), QHBoxLayout(terms)
        for box in (left, right):
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(8)
        for widget in (self.name, pages, self.state):
            left.addWidget(widget)
        terms.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        right.addStretch(1)
        for field, wide in ((self.temperature, 98), (self.on_stage, 98), (self.a4, 72)):
            _beside(field, wide)
            right.addWidget(field)
        right.addWidget(self.units)
        layout = FlowLayout(self, spacing=8)
        layout.setContentsMargins(16, 6, 16, 6)
        layout.addWidget(work)
        layout.addWidget(terms)
        self.temperature.edited.connect(self.air_edited.emit)
        self.on_stage.edited.connect(self.stage_air_edited.emit)
        self.a4.edited.connect(self.a4_edited.emit)
        self.units.activated.connect(lambda index: self.metric_chosen.emit(index == 1))

    def mark_page(self, name: str) -> None:
        """Show which page is on show."""
        if name in self.pages:
            self.pages[name].setChecked(True)

    def set_state(
        self,
        name: str,
        read_only: bool,
        a4_hz: float,
        metric: bool,
        bench_air: tuple[float, float] | None,
        stage_air: tuple[float, float],
    ) -> None:
        """Show what holds now."""
        self.on_stage.set_state(stage_air)
        self.name.setText(name)
        self.state.setText(_("Read-only: save a copy to keep changes") if read_only else "")
        self.a4.set_state(a4_hz)
        self.temperature.setEnabled(bench_air is not None)
        if bench_air is not None:
            self.temperature.set_state(bench_air)
        with QSignalBlocker(self.units):
            self.units.setCurrentIndex(1 if metric else 0)


def _beside(field: Field, wide: int) -> None:
    """Caption beside the line instead of above it; a complaint becomes a tip and a frame."""
    layout = field.layout()
    assert layout is not None
    row = QHBoxLayout()
    row.setSpacing(6)
    layout.removeWidget(field.caption)
    layout.removeWidget(field.line)
    for widget in (field, field.caption, field.line):
        widget.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
    field.caption.setMinimumWidth(0)
    row.addWidget(field.caption)
    row.addWidget(field.line)
    field.line.setFixedWidth(px(wide))
    layout.insertLayout(0, row)  # type: ignore[attr-defined]
