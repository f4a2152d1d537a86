"""The log of the drum on the bench beside whatever stage is on show."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from kesselton.app.workshop.log_entries import lately
from kesselton.core.instrument.kept import Kept
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Entry
from kesselton.store.workshop.log_index import title_of
from kesselton.ui.log.entry_words import entry_words, title_words
from kesselton.ui.parts.widgets.columns import scroll, selectable
from kesselton.ui.parts.widgets.inputs import Button, Rows
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import font

HIGH = 168


class LogDrawer(QWidget):
    """The latest entries, and one of them in words.

    Signals
    -------
    keep_wanted(), log_wanted(), closed()
    """

    keep_wanted = Signal()
    log_wanted = Signal()
    closed = Signal()

    def __init__(self, note: Callable[[float], str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._note = note
        self._log: tuple[Kept, ...] = ()
        self.list = Rows()
        self.list.setAccessibleName(_("Entries"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(lambda row: self._show())
        self.title = Label()
        self.title.setFont(font(11, QFont.Weight.DemiBold))
        self.words = selectable(Label())
        self.words.setWordWrap(True)
        self.keep, self.open = Button(f"{_('Add to log')} (K)"), Button(_("Open log"))
        self.away = Button(_("Close"))
        self.keep.clicked.connect(self.keep_wanted)
        self.open.clicked.connect(self.log_wanted)
        self.away.clicked.connect(self.closed)
        inside = QWidget()
        qvbox_layout = QVBoxLayout(inside)
        qvbox_layout.setContentsMargins(0, 0, 8, 0)
        qvbox_layout.addWidget(self.title)
        qvbox_layout.addWidget(self.words)
        qvbox_layout.addStretch(1)
        buttons = QVBoxLayout()
        for button in (self.keep, self.open, self.away):
            buttons.addWidget(button)
        buttons.addStretch(1)
        across = QHBoxLayout(self)
        across.setContentsMargins(12, 6, 12, 8)
        across.addWidget(self.list, 3)
        across.addWidget(scroll(inside), 5)
        across.addLayout(buttons, 0)
        self.setFixedHeight(HIGH)

    def set_state(self, entry: Entry | None) -> None:
        """Show the newest entries of the drum on the bench."""
        log = () if entry is None else lately(entry)
        if log == self._log:
            return
        self._log = log
        self.list.clear()
        for log_entry in reversed(log):
            text = _("{when}  {event}").format(when=log_entry.on[:10], event=title_of(log_entry))
            self.list.addItem(QListWidgetItem(text))
        if log:
            self.list.setCurrentRow(0)
        self._show()

    def _show(self) -> None:
        row = self.list.currentRow()
        if not 0 <= row < len(self._log):
            self.title.clear()
            self.words.setText(
                _(
                    "No entries for this drum yet. Press K to log the current "
                    "setting, readings and stroke."
                )
            )
            return
        entry = self._log[-1 - row]
        self.title.setText(title_words(entry))
        self.words.setText("\n".join(entry_words(entry, self._note)))
