"""The drum list with what is needed round it: a search, the drum in sight, a way to more."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from kesselton.core.instrument.drum import KINDS, Drum
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Entry
from kesselton.ui.drum_list.drum_list import ROW, DrumList
from kesselton.ui.parts.widgets.columns import scroll
from kesselton.ui.parts.widgets.inputs import Button, Finder
from kesselton.ui.parts.widgets.theme import px
from kesselton.ui.parts.words import wording

WIDTH, FOLDED = 188, 102
"""With pictures, and where the window is too narrow for them: names, sizes and notes alone."""
FINDABLE = 8
"""From so many drums on there is a search."""


class DrumColumn(QWidget):
    """Left of the stages.

    Signals
    -------
    add_wanted
    """

    add_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.drum_list = DrumList()
        self._entries: Sequence[Entry] = ()
        self._current, self._metric = 0, False
        self.area = scroll(self.drum_list, WIDTH)
        self.finder = Finder(_("Find drum"))
        self.finder.setClearButtonEnabled(True)
        self.finder.setFixedWidth(self.area.width())
        self.finder.hide()
        self.add = Button(
            _("Add a drum…"), tip=_("By kind and size, like this one, or from a file")
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 8)
        column.setSpacing(0)
        column.addWidget(self.finder)
        column.addWidget(self.area, 1)
        inset = QVBoxLayout()
        inset.setContentsMargins(8, 6, 8, 0)
        inset.addWidget(self.add)
        column.addLayout(inset)
        self.add.clicked.connect(self.add_wanted)
        self.finder.textChanged.connect(lambda text: self._show())
        self.finder.escaped.connect(self._on_left)
        self.finder.returnPressed.connect(self.drum_list.setFocus)

    def set_state(self, entries: Sequence[Entry], current: int, metric: bool) -> None:
        """Show the drums of a workshop."""
        self._entries, self._current, self._metric = entries, current, metric
        self._show()

    def fold(self, on: bool) -> None:
        """Leave out the pictures, or show them."""
        wide = px(FOLDED if on else WIDTH)
        if self.area.width() != wide:
            self.area.setFixedWidth(wide)
            self.finder.setFixedWidth(wide)
            self.add.setText(_("Add …") if on else _("Add a drum…"))

    def find(self) -> None:  # type: ignore[override]
        """The keys to the search."""
        self.finder.show()
        self.finder.setFocus()

    def _show(self) -> None:
        words = self.finder.text().casefold().split()
        drums = [
            (entry.id, entry.drum)
            for entry in self._entries
            if all(word in drum_words(entry.drum) for word in words)
        ]
        if not self.finder.hasFocus():
            self.finder.setVisible(len(self._entries) >= FINDABLE or bool(words))
        self.drum_list.set_state(drums, self._current, self._metric, bool(words))
        row = self.drum_list.row_of(self._current)
        if row is not None:  # once the layout knows how high the drum list is
            QTimer.singleShot(0, self.area, lambda: self.area.ensureVisible(0, row, 0, ROW))

    def _on_left(self) -> None:
        self.finder.clear()
        self.drum_list.setFocus()
        self._show()


def drum_words(drum: Drum) -> str:
    """What a drum is found by: name, kind and size."""
    sizes = f"{wording.size_words(drum, False)} {wording.size_words(drum, True)}"
    return f"{drum.name} {KINDS[drum.kind]} {sizes}".casefold()
