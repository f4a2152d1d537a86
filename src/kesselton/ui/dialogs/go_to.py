"""One list of everything the program can go to or do: type some letters of it, Enter does it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QListWidgetItem, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Finder, Rows
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override

MOST_SHOWN = 40
MOST_RECENT = 12
WALKS = {
    Qt.Key.Key_Up: -1,
    Qt.Key.Key_Down: 1,
    Qt.Key.Key_PageUp: -8,
    Qt.Key.Key_PageDown: 8,
}


@dataclass(frozen=True)
class Place:
    """Something to go to or to do.

    Attributes
    ----------
    key : name that stays, by which it is remembered
    label, kind, shortcut : what is read in the list
    run : does it
    """

    key: str
    label: str
    kind: str
    run: Callable[[], object]
    shortcut: str = ""

    def fits(self, words: Sequence[str]) -> bool:
        """Whether every word typed stands in it somewhere, in any order."""
        text = f"{self.label} {self.kind}".casefold()
        return all(word in text for word in words)


def ordered(places: Iterable[Place], typed: str, recent: Sequence[str]) -> list[Place]:
    """What fits, best first: what begins so, then as it was used last, then as it stands."""
    words = typed.casefold().split()
    fitting = [place for place in places if place.fits(words)]
    age = {key: number for number, key in enumerate(recent)}

    def rank(place: Place) -> tuple[bool, int]:
        begins = bool(words) and place.label.casefold().startswith(words[0])
        return (not begins, age.get(place.key, len(age)))

    return sorted(fitting, key=rank)


class GoToDialog(Dialog):
    """A line and a list.

    Signals
    -------
    chosen(str key) : something was done from here
    """

    chosen = Signal(str)

    def __init__(
        self,
        places: Sequence[Place],
        more: Callable[[str], list[Place]],
        recent: Sequence[str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Go to"))
        size_dialog(self, 560, 460)
        self._places, self._more, self._recent = list(places), more, recent
        self._shown: list[Place] = []
        self.finder = Finder(_("Drum, page, action, head, log entry"), _("Go to"))
        self.finder.installEventFilter(self)
        self.list = Rows()
        self.list.setSpacing(2)
        self.list.setAccessibleName(_("Places and actions"))
        self.none = Label(_("Nothing fits. Try fewer letters."))
        self.none.setProperty("quiet", True)
        layout = QVBoxLayout(self)
        layout.addWidget(self.finder)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.none)
        self.finder.textChanged.connect(lambda text: self._list())
        self.finder.returnPressed.connect(self._go)
        self.list.itemActivated.connect(lambda item: self._go())
        self.list.itemClicked.connect(lambda item: self._go())
        self._list()
        self.finder.setFocus()

    @property
    def shown(self) -> list[Place]:
        """What stands in the list."""
        return self._shown

    def _list(self) -> None:
        typed = self.finder.text().strip()
        self._shown = ordered(self._places, typed, self._recent)[:MOST_SHOWN]
        if len(typed) > 2:
            self._shown += self._more(typed)
        self.list.clear()
        for place in self._shown:
            text = _("{label}   ·   {kind}").format(label=place.label, kind=place.kind)
            if place.shortcut:
                text = _("{text}   {shortcut}").format(text=text, shortcut=place.shortcut)
            self.list.addItem(QListWidgetItem(text))
        self.list.setCurrentRow(0)
        self.none.setVisible(not self._shown)

    def _go(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shown):
            place = self._shown[row]
            self.accept()
            self.chosen.emit(place.key)
            place.run()

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Arrow keys walk the list while the line has the keys."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            by = WALKS.get(Qt.Key(event.key()))
            if by is not None and self._shown:
                row = min(max(self.list.currentRow() + by, 0), len(self._shown) - 1)
                self.list.setCurrentRow(row)
                return True
        return super().eventFilter(watched, event)
