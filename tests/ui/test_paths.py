"""Ways through the program that are seldom walked: each ends in words, and nothing is lost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pypdf
import pytest
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrintDialog
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog

from kesselton.app.prediction import predictor
from kesselton.app.sound.player import Player
from kesselton.core.errors import ConvergenceError
from kesselton.core.heads.brief import typical_brief
from kesselton.core.prediction.render import Sound
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import settled

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


def test_closing_with_unsaved_work_asks_and_no_keeps_the_window(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise StoreError("The disk is full.", "Make room.")

    asked: list[bool] = []
    window.commands.asking.may_lose_changes = lambda: bool(asked.append(True))  # type: ignore[func-returns-value,method-assign]
    drum = window.document.drum
    assert drum is not None
    with monkeypatch.context() as patch:
        patch.setattr(WorkshopFile, "write", full)
        window.document.replace_drum("name", replace(drum, name="not saved yet"))
        assert "The disk is full." in window.message.text.text()
        assert not window.close()
        assert asked == [True]
        assert window.isVisible()
    QTest.mouseClick(window.message.retry, LEFT)  # there is room again
    assert not window.message.isVisible()
    path = window.document.path
    assert window.close()
    assert asked == [True]  # what is saved needs no question
    with WorkshopFile.open(path) as file:
        assert file.load().entries[0].drum.name == "not saved yet"


def test_closing_can_let_unsaved_work_go(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise StoreError("The disk is full.", "Make room.")

    window.commands.asking.may_lose_changes = lambda: True  # type: ignore[method-assign]
    drum, path = window.document.drum, window.document.path
    assert drum is not None
    with monkeypatch.context() as patch:
        patch.setattr(WorkshopFile, "write", full)
        window.document.replace_drum("name", replace(drum, name="lost"))
        assert window.close()
    with WorkshopFile.open(path) as file:
        assert file.load().entries[0].drum == drum


def test_the_sheet_is_printed(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    wait(lambda: window.plan is not None)
    target = tmp_path / "printed.pdf"

    def accept(dialog: QPrintDialog) -> QDialog.DialogCode:
        dialog.printer().setOutputFileName(str(target))
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(QPrintDialog, "exec", accept)
    window.actions_by_id["sheet_print"].trigger()
    wait(target.exists)
    text = " ".join(pypdf.PdfReader(target).pages[0].extract_text().split())
    for wanted in ("Pit snare", "261.6 Hz", "keep your face clear"):
        assert wanted in text
    target.unlink()
    monkeypatch.setattr(QPrintDialog, "exec", lambda dialog: QDialog.DialogCode.Rejected)
    window.actions_by_id["sheet_print"].trigger()
    assert not target.exists()


def test_a_sheet_waits_for_what_was_just_set(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    target = tmp_path / "sheet.pdf"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    wait(lambda: not window.bench.planning)
    line = window.tuning.forms.batter.pitch.line
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "250 Hz")  # typed, not entered
    QTest.keyClick(line, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    assert not target.exists()
    assert "the sheet follows" in window.notice.text.text()
    wait(target.exists)
    assert "250.0 Hz" in " ".join(pypdf.PdfReader(target).pages[0].extract_text().split())


def test_a_computation_that_fails_is_told_and_the_next_one_takes_it_back(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(question: object) -> None:
        raise ConvergenceError("Two searches found the same mode.", "Change a tension a little.")

    with monkeypatch.context() as patch:
        patch.setattr(predictor, "answer", fails)
        window.document.select(3)
        wait(window.message.isVisible)
    assert "Two searches found the same mode. Change a tension" in window.message.text.text().replace(
        "<b>", "").replace("</b>", "")  # fmt: skip
    assert window.result is None
    assert window.tuning.readout.note.text() == "…"
    window.document.select(2)
    settled(window, wait)
    assert not window.message.isVisible()


def test_a_brief_that_does_not_fit_the_drum_any_more_says_why(
    window: MainWindow, wait: Wait
) -> None:
    window.document.select(2)
    settled(window, wait)
    drum = window.document.drum
    assert drum is not None
    window.document.change_entry("requirements", brief=typical_brief(drum))
    window.document.replace_drum("kind", replace(drum, kind="bass", mufflers=()))
    QTest.keyClick(window, Qt.Key.Key_F5)
    heads = window.pages.heads
    wait(lambda: "cannot use the beater" in heads.state.text())
    assert not heads.chooser.running
    heads.form.choices["touch"].chosen.emit("hard")
    assert "Rack tom cannot use the beater 'wood tip'" in heads.form.fault.text()
    assert window.document.entry is not None
    assert window.document.entry.brief == typical_brief(drum)  # kept for correction
    heads.form.beater.chosen.emit("pedal_felt")
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert not heads.form.fault.isVisible()


def test_two_strokes_are_heard_in_turn_and_equally_loud(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    played: list[tuple[str, float]] = []

    def play(player: Player, sound: Sound, name: str) -> None:
        played.append((name, float(np.sqrt(np.mean(sound.samples[:4800] ** 2)))))

    monkeypatch.setattr(Player, "play", play)
    QTest.keyClick(window, Qt.Key.Key_B)
    assert played == []  # there is none before
    for drum_id in (1, 4):
        window.document.select(drum_id)
        settled(window, wait)
        count = len(played)
        QTest.keyClick(window, Qt.Key.Key_L)
        wait(lambda count=count: len(played) > count)
    QTest.keyClick(window, Qt.Key.Key_B)
    QTest.keyClick(window, Qt.Key.Key_B)
    names = [name.split(", current setting")[0] for name, _ in played]
    assert names == ["Pit snare", "Bass", "Pit snare", "Bass"]
    assert played[3][1] == pytest.approx(played[1][1])  # the same stroke at the same level
    assert 20.0 * abs(np.log10(played[2][1] / played[1][1])) < 12.0
