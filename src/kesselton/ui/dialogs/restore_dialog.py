"""Earlier states of the workshop, a day each, to go back to."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QDialogButtonBox,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesselton.core.dates import weekday_words
from kesselton.core.language import N_, _
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.backups import (
    Backup,
    backup_folder,
    backups,
    count_held,
    read_backup,
)
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Rows
from kesselton.ui.parts.widgets.labels import Label

EXPLAINED = N_(
    "Kesselton saves a copy before the first change of each "
    "working day and keeps the last seven. Restoring one is an "
    "ordinary step: Undo brings the present state back."
)
NONE_YET = N_("No earlier state yet: the first is saved before tomorrow’s first change.")


class RestoreDialog(Dialog):
    """Lists the backups of a workshop.

    Signals
    -------
    restored(Workshop, str day in words)
    """

    restored = Signal(object, str)

    def __init__(self, path: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Restore an earlier state"))
        size_dialog(self, 560, 380)
        self.days = Rows()
        self.days.setAccessibleName(_("Earlier states"))
        for backup in backups(path):
            self.days.addItem(self._item(backup))
        self.hint = Label()
        self.hint.setWordWrap(True)
        self.buttons = QDialogButtonBox()
        self.buttons.addButton(_("Cancel"), QDialogButtonBox.ButtonRole.RejectRole)
        self.restore = self.buttons.addButton(
            _("Restore this state"), QDialogButtonBox.ButtonRole.AcceptRole
        )
        self.buttons.accepted.connect(self._on_restore)
        self.buttons.rejected.connect(self.reject)
        self.days.itemActivated.connect(lambda item: self._on_restore())
        self.days.currentItemChanged.connect(lambda now, before: self._mark())
        explained = Label(_(EXPLAINED))
        explained.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setSpacing(12)
        for widget in (explained, self.days, self.hint, self.buttons):
            layout.addWidget(widget)
        self.hint.setText(
            _("Copies are in {backup_folder}").format(backup_folder=backup_folder(path))
            if self.days.count()
            else _(NONE_YET)
        )
        self.days.setCurrentRow(0)
        self._mark()

    def _item(self, backup: Backup) -> QListWidgetItem:
        day = weekday_words(backup.day)
        try:
            drums, readings = count_held(backup.path)
        except StoreError as error:
            item = QListWidgetItem(f"{day}: {error.message}")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            return item
        item = QListWidgetItem(
            _("{day}: {count} drums, {readings} readings").format(
                day=day, count=drums, readings=readings
            )
        )
        item.setData(Qt.ItemDataRole.UserRole, (backup.path, day))
        return item

    def _mark(self) -> None:
        item = self.days.currentItem()
        usable = item is not None and item.data(Qt.ItemDataRole.UserRole) is not None
        self.restore.setEnabled(usable)

    def _on_restore(self) -> None:
        item = self.days.currentItem()
        held = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        if held is None:
            return
        path, day = held
        try:
            workshop = read_backup(path)
        except StoreError as error:
            self.hint.setText(error.one_line())
            return
        self.restored.emit(workshop, day)
        self.accept()
