"""Head to head by school, and whether the whole drum keeps its note meanwhile."""

from __future__ import annotations

import math

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from kesselton.core.heads.apart import (
    ALIKE,
    BATTER_TIGHTER,
    BATTER_TURNED_HIGHER,
    INTERVALS,
    PULL,
    Apart,
    cents,
)
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _
from kesselton.ui.parts.widgets.inputs import Box, Button, Tick
from kesselton.ui.parts.widgets.safe_override import safe_override

SCHOOLS: dict[str, tuple[tuple[str, Apart], ...]] = {
    "": (
        (N_("batter higher"), BATTER_TIGHTER),
        (N_("unison"), cents(0.0)),
        (N_("resonant higher"), cents(500.0)),
    ),
    "snare": (
        (N_("batter higher"), BATTER_TIGHTER),
        (N_("a third"), cents(300.0)),
        (N_("a fifth"), cents(700.0)),
    ),
    "concert_bass": (
        (N_("unison"), cents(0.0)),
        (N_("a fourth"), cents(500.0)),
        (N_("a fifth"), cents(700.0)),
    ),
}
"""By kind of drum, each in the measure it is meant in: a batter 30 % tighter, alike, a fourth;
snare side a third to a fifth over the batter; concert bass by feel first, then unison up to a fifth
(common practice, no published source)."""

SAID = {
    N_("batter higher"): N_("Batter head about 30 % tighter than the resonant head."),
    N_("resonant higher"): N_("Resonant head a fourth above the batter."),
    N_("equal pull"): N_("One pull tightens both heads equally: their masses set the interval."),
    N_("batter tighter"): N_("Pulled by hand as far as friction holds."),
    N_("resonant tighter"): N_("Pulled by hand as far as friction holds."),
}
SAID_OF_SNARE = {
    N_("a third"): N_("Snare side a third above the batter: heads closer in pitch, fatter sound."),
    N_("a fifth"): N_("Snare side a fifth above the batter: driest, quickest response."),
}
TURNED = (N_("batter 1½ turns, resonant 1"), BATTER_TURNED_HIGHER)


def schools_of(drum: Drum) -> tuple[tuple[str, Apart], ...]:
    """What there is to choose for a drum: intervals and pulls, or what friction holds."""
    most = drum.one_pull
    if most is None:
        return SCHOOLS[drum.kind if drum.kind in SCHOOLS else ""]
    share = math.log1p(most)
    return (
        (N_("equal pull"), ALIKE),
        (N_("batter tighter"), Apart(PULL, -share)),
        (N_("resonant tighter"), Apart(PULL, share)),
    )


class SchoolBar(QWidget):
    """A row of buttons over the ladder.

    Signals
    -------
    school_chosen(Apart)
    """

    school_chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(4)
        self.buttons: dict[str, Button] = {}
        self._choices: list[tuple[str, Apart]] = []
        self._offered: tuple[tuple[str, Apart], ...] = ()
        self._snare = False
        self._place = QHBoxLayout()
        self._place.setSpacing(6)
        self.others = Box()
        self.others.setAccessibleName(_("other…"))
        self.others.setToolTip(_("Any interval, by lug pitch or by turns past finger-tight."))
        self.others.setSizeAdjustPolicy(Box.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.others.setMinimumContentsLength(len(_("other…")))
        self.others.activated.connect(self._on_other)
        self._grid.addLayout(self._place, 0, 0, Qt.AlignmentFlag.AlignLeft)
        self._grid.setColumnStretch(0, 1)
        self.hold = Tick(_("Keep drum pitch"))
        self.hold.setToolTip(
            _("The other head follows, so the drum keeps its pitch while the interval changes.")
        )
        self._rest = QWidget()
        rest = QHBoxLayout(self._rest)
        rest.setContentsMargins(0, 0, 0, 0)
        rest.addWidget(self.others)
        rest.addWidget(self.hold)
        rest.addStretch(1)
        self._grid.addWidget(self._rest, 0, 1)

    def set_state(self, drum: Drum | None) -> None:
        """Offer the schools of a kind of drum; there is something to set with two heads only."""
        two = drum is not None and drum.resonant is not None
        self.setEnabled(two)
        if drum is None or not two:
            return
        offered, snare = schools_of(drum), drum.kind == "snare"
        self.hold.setEnabled(drum.one_pull is None)
        self.hold.setToolTip(
            _("The other head follows, so the drum keeps its pitch while the interval changes.")
            if drum.one_pull is None
            else _("One pull moves both heads: with drum pitch kept, nothing can move.")
        )
        if (offered, snare) == (self._offered, self._snare):
            return
        self._offered, self._snare = offered, snare
        for button in self.buttons.values():
            self._place.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = {}
        for name, apart in offered:
            button = Button(_(name))
            button.setObjectName("chip")
            button.setToolTip(_((SAID_OF_SNARE if snare else SAID).get(name, SAID.get(name, ""))))
            button.clicked.connect(
                lambda _unused=False, apart=apart: self.school_chosen.emit(apart)
            )
            self._place.addWidget(button)
            button.ensurePolished()
            button.setMinimumWidth(button.sizeHint().width() + 4)
            self.buttons[name] = button
        self._list_others(drum)
        self._arrange()
        self.updateGeometry()

    def _list_others(self, drum: Drum) -> None:
        """Every interval there is, and turns, where each head has its own rods."""
        self.others.clear()
        self.others.addItem(_("other…"))
        self._choices = [TURNED, *((label, cents(value)) for value, label in INTERVALS.items())]
        for label, _unused in self._choices:
            self.others.addItem(_(label))
        self.others.setVisible(drum.one_pull is None)
        view = self.others.view()
        view.setMinimumWidth(
            view.sizeHintForColumn(0) + view.verticalScrollBar().sizeHint().width()
        )

    def _on_other(self, index: int) -> None:
        self.others.setCurrentIndex(0)  # it does, it does not stay: grips may move on
        if index > 0:
            self.school_chosen.emit(self._choices[index - 1][1])

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return QSize(self._schools_width(), super().minimumSizeHint().height())

    def _schools_width(self) -> int:
        """From the buttons themselves: the layout still knows the old ones when they change."""
        widths = [button.minimumWidth() for button in self.buttons.values()]
        return sum(widths) + self._place.spacing() * max(len(widths) - 1, 0)

    @safe_override
    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """The rest stands below the schools where the column is narrow."""
        needed = self._schools_width() + self._rest.sizeHint().width() + 12
        below = self.width() < needed
        if below != (self._grid.itemAtPosition(1, 0) is not None):
            self._grid.removeWidget(self._rest)
            self._grid.addWidget(self._rest, *((1, 0) if below else (0, 1)))
