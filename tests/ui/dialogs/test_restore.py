"""Going back to an earlier day, as the technician does it."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.store.workshop.backups import backup_folder
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.dialogs.restore_dialog import RestoreDialog
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window
from tests.conftest import make_drum


def open_dialog(window: MainWindow) -> RestoreDialog:
    window.actions_by_id["workshop_restore"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, RestoreDialog)
    return dialog


def test_an_earlier_state_is_restored_and_undone(tmp_path: Path, qapp: object) -> None:
    path = tmp_path / "store.kesselton"
    WorkshopFile.create(path, demo_workshop()).close()
    window = open_window(str(path), SettingsStore(Settings(theme="light")))
    folder = backup_folder(path)
    assert not list(folder.glob("*"))
    window.document.replace_drum("another", make_drum())  # the first change of the day
    before_restoring = window.document.workshop
    held = folder / f"{date.today().isoformat()}.kesselton"
    assert held.exists()
    (folder / "2026-11-02.kesselton").write_bytes(b"not a workshop")
    dialog = open_dialog(window)
    assert dialog.days.count() == 2
    assert "8 drums, 6 readings" in dialog.days.item(0).text()
    assert "is not a workshop file" in dialog.days.item(1).text()
    lost = held.read_bytes()
    held.unlink()  # by another program, while the dialog stands
    QTest.keyClick(dialog.days, Qt.Key.Key_Return)
    assert "cannot be read" in dialog.hint.text()
    assert window.document.workshop == before_restoring
    held.write_bytes(lost)
    QTest.keyClick(dialog.days, Qt.Key.Key_Return)
    assert window.document.drum is not None
    assert window.document.drum.name == "Pit snare"
    assert window.document.undo_text.startswith("restore ")
    window.actions_by_id["undo"].trigger()
    assert window.document.workshop == before_restoring
    window.close()
    with WorkshopFile.open(path) as file:
        assert file.load() == before_restoring


def test_without_an_earlier_state_it_says_when_there_will_be_one(window: MainWindow) -> None:
    dialog = open_dialog(window)
    assert dialog.days.count() == 0
    assert not dialog.restore.isEnabled()
    assert "tomorrow" in dialog.hint.text()
    dialog.reject()
