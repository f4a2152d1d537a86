"""A row that says its gist in one line, and more when it is opened."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QMouseEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.ui.parts.widgets.columns import clear, selectable
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

CLOSED, OPEN = "▸", "▾"


class Fold(QWidget):
    """A title, its gist, and what stands under it while it is open.

    Signals
    -------
    turned(bool open) : by a hand
    """

    turned = Signal(bool)

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = title
        self.button = Button()
        self.button.setObjectName("fold")
        self.button.setCheckable(True)
        self.button.clicked.connect(self._on_clicked)
        self.gist = Elided()
        self.gist.setProperty("quiet", True)
        self.gist.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._rows: list[tuple[str, ...]] = []
        self._stale = False  # the rows are others than those under it
        self.body = QWidget()
        self._grid = QGridLayout(self.body)
        self._grid.setContentsMargins(16, 0, 0, 6)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(2)
        self.body.hide()
        line = QHBoxLayout()
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(8)
        line.addWidget(self.button)
        line.addWidget(self.gist, 1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addLayout(line)
        whole.addWidget(self.body)
        self._say()

    @property
    def is_open(self) -> bool:
        """Whether more is shown than the gist."""
        return self.button.isChecked()

    @property
    def rows(self) -> list[tuple[str, ...]]:
        """What stands under it, row by row."""
        return self._rows

    def set_state(self, title: str, gist: str, rows: Sequence[tuple[str, ...]] = ()) -> None:
        """What it says closed, and open: rows of cells; without any the whole gist."""
        new = [tuple(row) for row in rows] or [(gist,)]
        if (title, gist, new) == (self.title, self.gist.text(), self._rows):
            return
        self.title = title
        self.gist.setText(gist)
        self._rows, self._stale = new, True
        self._say()

    def _fill(self) -> None:
        """Make the rows: nobody sees them before it is opened."""
        self._stale = False
        clear(self._grid)
        for place, row in enumerate(self._rows):
            for column, text in enumerate(row):
                cell = selectable(Label(text))
                cell.setWordWrap(True)
                first = column == 0 and len(row) > 1
                cell.setProperty("quiet", first)
                across = 1 if len(row) > 1 else -1
                self._grid.addWidget(cell, place, column, 1, across, Qt.AlignmentFlag.AlignTop)
                if across == 1:
                    self._grid.setColumnStretch(column, 2 if first else 3)

    def hold(self, widget: QWidget) -> None:
        """Show a widget while it is open, instead of rows of text."""
        clear(self._grid)
        self._grid.addWidget(widget, 0, 0)

    def set_title(self, title: str) -> None:
        """What it is called."""
        self.title = title
        self._say()

    def set_gist(self, gist: str) -> None:
        """What it says closed."""
        self.gist.setText(gist)
        self._say()

    def set_open(self, on: bool) -> None:
        """Open or close it."""
        self.button.setChecked(on)
        self._say()

    def _on_clicked(self) -> None:
        self._say()
        self.turned.emit(self.is_open)

    def _say(self) -> None:
        on = self.is_open
        if on and self._stale:
            self._fill()
        self.button.setText(f"{OPEN if on else CLOSED} {self.title}")
        self.button.setAccessibleName(f"{self.title}: {self.gist.text()}")
        self.body.setVisible(on)
        self.gist.setVisible(not on)
        weight = QFont.Weight.DemiBold if on else QFont.Weight.Normal
        self.button.setFont(font(10, weight))

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The whole line opens it, not its title alone."""
        if event.position().y() <= self.button.geometry().bottom():
            self.button.click()
        else:
            super().mousePressEvent(event)
