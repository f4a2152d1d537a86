"""Head to head by school, and whether the whole drum keeps its note meanwhile."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from kesselton.core.instrument.drum import Drum
from kesselton.ui.bench import texts
from kesselton.ui.parts.inputs import Button, Tick

SCHOOLS: dict[str, tuple[tuple[str, float], ...]] = {
    "": ((texts.BATTER_HIGHER, -227.0), ("unison", 0.0), (texts.RESONANT_HIGHER, 500.0)),
    "snare": ((texts.THIRD, 300.0), (texts.FOURTH, 500.0), (texts.FIFTH, 700.0)),
    "concert_bass": (("unison", 0.0), (texts.FOURTH, 500.0), (texts.FIFTH, 700.0)),
}
"""Cents of the resonant over the batter head, by kind of drum: a batter 30 % tighter, alike, a
fourth; snare side a third to a fifth over the batter; concert bass by feel first, then unison up
to a fifth (common practice, no published source)."""

SAID = {
    ("snare", texts.THIRD): texts.SNARE_SIDE_THIRD_OVER_BATTER,
    ("snare", texts.FOURTH): texts.SNARE_SIDE_FOURTH_OVER_BATTER,
    ("snare", texts.FIFTH): texts.SNARE_SIDE_FIFTH_OVER_BATTER,
}


class SchoolBar(QWidget):
    """A row of buttons over the ladder.

    Signals
    -------
    school_chosen(float cents)
    """

    school_chosen = Signal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(4)
        self.buttons: dict[str, Button] = {}
        self._kind: str | None = None
        self._place = QHBoxLayout()
        self._place.setSpacing(6)
        self._grid.addLayout(self._place, 0, 0, Qt.AlignmentFlag.AlignLeft)
        self._grid.setColumnStretch(0, 1)
        self.hold = Tick(texts.KEEP_DRUM_PITCH)
        self.hold.setToolTip(texts.OTHER_HEAD_FOLLOWS_WHOLE_DRUM)
        self._grid.addWidget(self.hold, 0, 1)

    def set_state(self, drum: Drum | None) -> None:
        """Offer the schools of a kind of drum; there is something to set with two heads only."""
        self.setEnabled(drum is not None and drum.resonant is not None)
        kind = drum.kind if drum is not None and drum.kind in SCHOOLS else ""
        if kind == self._kind:
            return
        self._kind = kind
        for button in self.buttons.values():
            self._place.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = {}
        for name, cents in SCHOOLS[kind]:
            button = Button(name)
            button.setObjectName("chip")
            button.setToolTip(SAID.get((kind, name), ""))
            button.clicked.connect(lambda _=False, cents=cents: self.school_chosen.emit(cents))
            self._place.addWidget(button)
            button.ensurePolished()
            button.setMinimumWidth(button.sizeHint().width() + 4)
            self.buttons[name] = button
        self._arrange()
        self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        return QSize(self._schools_width(), super().minimumSizeHint().height())

    def _schools_width(self) -> int:
        """From the buttons themselves: the layout still knows the old ones when they change."""
        widths = [button.minimumWidth() for button in self.buttons.values()]
        return sum(widths) + self._place.spacing() * max(len(widths) - 1, 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """The note held stands below the schools where the column is narrow."""
        needed = self._schools_width() + self.hold.sizeHint().width() + 12
        below = self.width() < needed
        if below != (self._grid.itemAtPosition(1, 0) is not None):
            self._grid.removeWidget(self.hold)
            self._grid.addWidget(self.hold, *((1, 0) if below else (0, 1)))
