"""When no workshop could be opened: what is wrong, and the ways on."""

from __future__ import annotations

from enum import Enum
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFileDialog, QVBoxLayout, QWidget

from kesselton.app.workshop.workshops import fresh_path
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.store.io.errors import DamagedError
from kesselton.store.workshop.backups import Backup, backups, copy_beside
from kesselton.store.workshop.connection import SUFFIX
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import font


class WayOn(Enum):
    """What the technician chose."""

    QUIT, AGAIN, OTHER, SALVAGE = range(4)


class StartFailure(QDialog):
    """Stands in for the window that could not be opened.

    Attributes
    ----------
    way : chosen way on
    path : the workshop to open instead, for OTHER; of which to open what can be read, for SALVAGE
    """

    def __init__(
        self, error: KesseltonError, path: Path | None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.way, self.path = WayOn.QUIT, path
        self.setWindowTitle(_("Kesselton could not open the workshop"))
        self.setMinimumWidth(520)
        self.message, self.remedy = Label(error.message), Label(error.remedy)
        self.message.setFont(font(12))
        for label in (self.message, self.remedy):
            label.setWordWrap(True)
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.again = Button(_("Try again"))
        self.other = Button(_("Open another workshop…"))
        self.salvage = Button(_("Recover readable parts"))
        self.salvage.clicked.connect(lambda: self._go(WayOn.SALVAGE))
        self.earlier = Button()
        self.empty = Button(_("Start with an empty workshop"))
        self.buttons = QDialogButtonBox(Qt.Orientation.Vertical)
        for button in (self.again, self.salvage, self.earlier, self.other, self.empty):
            self.buttons.addButton(button, QDialogButtonBox.ButtonRole.ActionRole)
        self.buttons.addButton(_("Quit"), QDialogButtonBox.ButtonRole.RejectRole)
        self.buttons.rejected.connect(self.reject)
        self.again.clicked.connect(lambda: self._go(WayOn.AGAIN))
        self.other.clicked.connect(self._on_other)
        self.empty.clicked.connect(self._on_empty)
        self.salvage.setVisible(isinstance(error, DamagedError) and path is not None)
        kept = backups(path) if path is not None else []
        self._kept: Backup | None = kept[0] if kept else None
        self.earlier.setVisible(self._kept is not None)
        if self._kept is not None:
            self.earlier.setText(_("Open copy of {day}").format(day=self._kept.day.isoformat()))
        self.earlier.clicked.connect(self._on_earlier)
        layout = QVBoxLayout(self)
        layout.setSpacing(12)
        for widget in (self.message, self.remedy, self.buttons):
            layout.addWidget(widget)

    def ask_open(self) -> Path | None:
        """A file to open instead, or None; tests answer in the technician's place."""
        kinds = _("Workshops (*{SUFFIX})").format(SUFFIX=SUFFIX)
        name, _unused = QFileDialog.getOpenFileName(self, _("Open workshop"), "", kinds)
        return Path(name) if name else None

    def _go(self, way: WayOn) -> None:
        self.way = way
        self.accept()

    def _on_other(self) -> None:
        path = self.ask_open()
        if path is not None:
            self.path = path
            self._go(WayOn.OTHER)

    def _on_empty(self) -> None:
        self.path = fresh_path()
        self._go(WayOn.OTHER)

    def _on_earlier(self) -> None:
        assert self._kept is not None
        assert self.path is not None
        try:
            self.path = copy_beside(self._kept, self.path)
        except KesseltonError as error:
            self.message.setText(error.message)
            self.remedy.setText(error.remedy)
            return
        self._go(WayOn.OTHER)
