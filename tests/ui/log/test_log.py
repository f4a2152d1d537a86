"""K keeps, the Log shows and goes back; what is learned is the drum's own."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.instrument.kept import Kept
from kesselton.store.formats.log_file import entries_of
from kesselton.ui.log.keep_dialog import KeepDialog
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait

TOM = demo_workshop().entries[1].drum


def ready(window: MainWindow, wait: Wait) -> None:
    """The tom on the bench, and nothing kept yet."""
    shop = window.document.workshop
    entries = tuple(replace(one, kept=()) for one in shop.entries)
    window.document.commit("none", replace(shop, entries=entries))
    window.document.select(2)
    window.choose_page("tuning")
    wait(lambda: window.bench.settled is not None)


def keep(window: MainWindow, **words: str) -> None:
    """As a technician would: Enter keeps."""
    window.actions_by_id["keep"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, KeepDialog)
    for name, text in words.items():
        dialog.lines[name].setText(text)
    QTest.keyClick(dialog, Qt.Key.Key_Return)


def log_of(window: MainWindow) -> tuple[Kept, ...]:
    entry = window.document.entry
    assert entry is not None
    return tuple(entry.kept)


def test_one_gesture_keeps_what_is_set_read_and_heard(window: MainWindow, wait: Wait) -> None:
    ready(window, wait)
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    keep(window, what_for="overture", player="second percussion")
    (one,) = log_of(window)
    assert one.drum == window.bench.drum
    assert (one.what_for, one.player, one.event) == ("overture", "second percussion", "set")
    assert len(one.lines) > 5
    assert one.heard_hz == pytest.approx(one.computed_hz, rel=0.03)
    assert abs((datetime.now() - datetime.fromisoformat(one.on)).total_seconds()) < 120
    assert "Added to the log of Rack tom" in window.notice.text.text()
    window.document.undo()
    assert log_of(window) == ()
    window.document.redo()
    window.bench.set_pitch("batter", 220.0, "x")  # the stroke was of another setting
    wait(lambda: window.bench.settled is not None)
    window.actions_by_id["keep"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, KeepDialog)
    assert dialog.lines["player"].text() == "second percussion"  # it rarely changes
    assert dialog.lines["what_for"].text() == ""
    QTest.keyClick(dialog, Qt.Key.Key_Escape)
    assert len(log_of(window)) == 1
    keep(window)
    assert log_of(window)[1].heard_hz is None


def test_the_demo_has_a_season_to_look_at(window: MainWindow, wait: Wait) -> None:
    window.choose_page("log")
    log = window.pages.log
    for number in range(1, 7):
        window.document.select(number)
        assert len(log.line.log) == 10
        assert log.line.table()[0][0].startswith("2026-09")
    window.document.select(2)
    wait(lambda: "entries: " in log.own.text())  # the drum’s own, worked out beside the screen
    assert len(log.points.table()) >= 8
    QTest.keyClick(log.points, Qt.Key.Key_Left)
    assert log.chosen is not None
    assert log.chosen.on == log.points.points[-2].on
    log.finder.setText("storm")
    assert log.list.count() > 3


def test_marks_are_kept_as_they_are_said(window: MainWindow, wait: Wait) -> None:
    ready(window, wait)
    QTest.keyClick(window, Qt.Key.Key_K)
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, KeepDialog)
    dialog.marks["warmth"].setCurrentIndex(5)
    dialog.marks["ring"].setCurrentIndex(1)
    dialog.fits.setCurrentIndex(1)
    dialog.event_.setCurrentIndex(1)
    dialog.keep.click()
    (one,) = log_of(window)
    assert dict(one.marks) == {"warmth": 2, "ring": -2}
    assert (one.fits, one.event) == ("low", "fitted")
    window.choose_page("log")
    assert "very warm" in window.pages.log.summary.text()
    assert "head fitted" in window.pages.log.title.text()


def test_going_back_is_a_plan_with_its_turns(window: MainWindow, wait: Wait) -> None:
    ready(window, wait)
    before = window.bench.drum
    assert before is not None
    keep(window, what_for="overture")
    window.bench.set_pitch("batter", 240.0, "x")
    wait(lambda: window.bench.settled is not None)
    keep(window, what_for="march")
    window.choose_page("log")
    log = window.pages.log
    wait(lambda: log.isVisible() and log.chosen is not None)
    assert log.chosen is not None
    assert log.chosen.what_for == "march"
    assert "no turns needed" in log.summary.text()
    QTest.keyClick(log.line, Qt.Key.Key_Left)
    assert log.chosen.what_for == "overture"
    assert "batter −" in log.summary.text()
    QTest.keyClick(log.line, Qt.Key.Key_Right)
    assert "batter lug pitch" in log.against.text()
    QTest.keyClick(log.line, Qt.Key.Key_Left)
    log.back.click()
    assert window.bench.drum == before
    assert window.pages.page_name == "tuning"
    window.document.undo()
    assert window.bench.drum != before


def test_entries_of_all_drums_are_found_by_words(window: MainWindow, wait: Wait) -> None:
    ready(window, wait)
    keep(window, what_for="overture", room="large hall")
    window.document.select(3)
    wait(lambda: window.bench.settled is not None)
    keep(window, what_for="storm scene", room="pit")
    window.choose_page("log")
    log = window.pages.log
    assert log.list.count() == 1
    log.finder.setText("HALL overture")
    assert "Rack tom" in log.list.item(0).text()
    log.list.itemClicked.emit(log.list.item(0))
    assert window.document.current_id == 2
    assert log.chosen is not None
    assert log.chosen.room == "large hall"
    log.finder.setText("kazoo")
    assert "No entry" in log.list.item(0).text()
    window.document.select(1)
    assert log.chosen is None
    assert not log.back.isEnabled()


def test_an_entry_is_left_out_removed_and_brought_back(window: MainWindow, wait: Wait) -> None:
    ready(window, wait)
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    keep(window)
    window.choose_page("log")
    log = window.pages.log
    wait(lambda: "from 1 entry" in log.own.text())
    log.leave.click()
    assert log_of(window)[0].left_out
    wait(lambda: log.own.text() == "")
    log.remove.click()
    assert log_of(window) == ()
    window.document.undo()
    assert len(log_of(window)) == 1


def test_the_log_goes_out_as_lines(
    window: MainWindow, wait: Wait, tmp_path: object, monkeypatch: pytest.MonkeyPatch
) -> None:
    from pathlib import Path

    ready(window, wait)
    keep(window, what_for="overture")
    path = Path(str(tmp_path)) / "tom.jsonl"
    monkeypatch.setattr(window.commands.asking, "save", lambda *given: path)
    window.commands.logs.export_log()
    assert entries_of(path.read_text(), "x") == list(log_of(window))
