"""What is said when something goes wrong is true, and there is a way on."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog

from kesselton.app.host.logs import (
    FILES,
    MAX_BYTES,
    log,
    log_file,
    start_logging,
    stop_logging,
)
from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.cli import main
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.backups import backup_folder
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.parts.widgets.messages import Unexpected
from kesselton.ui.window import start
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start_failure import StartFailure
from tests.conftest import make_drum

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def logged() -> Iterator[None]:
    assert start_logging() == ""
    yield
    stop_logging()


def blow(unexpected: Unexpected) -> None:
    try:
        raise ZeroDivisionError("a fault of ours")
    except ZeroDivisionError as error:
        unexpected._hook(type(error), error, error.__traceback__)


def test_the_unexpected_is_told_with_a_report_and_the_truth_about_the_file(
    window: MainWindow, logged: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    unexpected = Unexpected()
    window.watch(unexpected)
    log.info("before it happened")
    blow(unexpected)
    bar = window.message
    assert "ZeroDivisionError: a fault of ours" in bar.text.text()
    assert "Your work is saved in" in bar.text.text()
    QTest.mouseClick(bar.copy, LEFT)
    report = QGuiApplication.clipboard().text()
    for wanted in (
        "Kesselton 0.1.0",
        "PySide6 6.",
        "raise ZeroDivisionError",
        "before it happened",
    ):
        assert wanted in report
    assert "a fault of ours" in log_file().read_text()

    def full(*_: object) -> None:
        raise StoreError("The disk is full.", "Make room.")

    with monkeypatch.context() as patch:
        patch.setattr(WorkshopFile, "write", full)
        window.document.replace_drum("name", make_drum())
        blow(unexpected)
    assert "Your last changes are not yet in" in bar.text.text()
    QTest.mouseClick(bar.retry, LEFT)
    assert not window.document.unsaved
    # the file lost what was saved, by another program: the words do not believe the bookkeeping
    window.document._file._db.execute("DELETE FROM drum")
    blow(unexpected)
    assert "Your last changes are not yet in" in bar.text.text()


def test_a_message_on_purpose_has_no_report(window: MainWindow) -> None:
    window.message.tell(StoreError("No.", "Do this."))
    assert not window.message.copy.isVisibleTo(window)


def test_logs_rotate(logged: None) -> None:
    for number in range(4000):
        log.info("line %d %s", number, "x" * 300)
    kept = sorted(log_file().parent.glob("kesselton.log*"))
    assert len(kept) == FILES
    assert all(file.stat().st_size <= MAX_BYTES for file in kept)


def test_where_no_log_can_be_written_it_is_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").touch()
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    assert "The program log cannot be written" in start_logging()
    assert not any(isinstance(one, logging.FileHandler) for one in log.handlers)


def close_all() -> None:
    for window in list(start._windows):
        window.close()
    QApplication.processEvents()


def test_a_workshop_that_does_not_open_has_a_window_with_ways_on(
    tmp_path: Path, qapp: object, monkeypatch: pytest.MonkeyPatch, wait: Callable[..., None]
) -> None:
    path = tmp_path / "store.kesselton"
    WorkshopFile.create(path, demo_workshop()).close()
    with WorkshopFile.open(path) as file:  # leaves a backup of today
        state = file.load()
        file.write(state, replace(state, name="changed"))
    path.write_bytes(b"SQLite format 3\0" + b"\xff" * 5000)
    damaged = path.read_bytes()
    seen: list[str] = []

    def press(dialog: StartFailure) -> int:
        seen.append(dialog.message.text())
        dialog.show()
        button = dialog.earlier if len(seen) == 2 else dialog.again
        QTest.mouseClick(button, LEFT)
        return 1

    monkeypatch.setattr(StartFailure, "exec", press)
    made = start._first_window(str(path), SettingsStore(Settings(theme="light")), seen=True)
    assert made is not None
    assert len(seen) == 2
    assert made.document.workshop.name == "Tern Island Opera"
    assert made.document.path.parent == path.parent
    assert path.read_bytes() == damaged
    assert list(backup_folder(path).iterdir())
    close_all()


def test_trying_again_asks_for_the_same_and_not_for_its_path(
    tmp_path: Path, qapp: object, monkeypatch: pytest.MonkeyPatch
) -> None:
    home = tmp_path / "home"
    home.write_text("in the way")
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))
    settings = SettingsStore(Settings(theme="light"), tmp_path / "settings.json")

    def mend(dialog: StartFailure) -> int:
        assert "cannot be created" in dialog.message.text()
        home.unlink()
        QTest.mouseClick(dialog.again, LEFT)
        return 1

    monkeypatch.setattr(StartFailure, "exec", mend)
    made = start._first_window("demo", settings, seen=True)
    assert made is not None
    assert made.document.workshop.name == "Tern Island Opera"
    assert settings.values.last_workshop == ""
    close_all()


def test_each_fault_at_the_start_is_told_with_its_own_way_on(
    tmp_path: Path, qapp: QApplication, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").write_text("in the way")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    (tmp_path / "kesselton").mkdir()
    (tmp_path / "kesselton" / "settings.json").write_text("{")
    said: list[str] = []
    monkeypatch.setattr(
        QApplication, "exec", lambda *_: said.append(start._windows[0].message.text.text()) or 0
    )
    assert start.run("demo") == 0
    assert "The program log cannot be written" in said[0]
    assert "defaults are used" in said[0]
    assert said[0].count("View menu") == 1
    close_all()


def test_giving_up_ends_with_code_2(
    tmp_path: Path,
    qapp: object,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    (tmp_path / "no.kesselton").write_text("nothing")
    monkeypatch.setattr(start, "UNSEEN", ())
    monkeypatch.setattr(start, "check_platform", lambda environment: None)
    monkeypatch.setattr(StartFailure, "exec", QDialog.reject)
    assert main([str(tmp_path / "no.kesselton")]) == 2
    assert "not a workshop file" in capsys.readouterr().err


def test_words_that_are_no_command_are_refused_as_such(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["foo"]) == 2
    assert "'foo' is neither a command nor a workshop file." in capsys.readouterr().err
    with pytest.raises(SystemExit):
        main(["--help"])
    shown = capsys.readouterr().out
    for command in ("demo", "install-desktop", "predict", "range", "choose", "even", "tap"):
        assert f"\n    {command}" in shown
