"""What every program on a Linux desktop does: recent files, drops, copies, help, where it was left."""

from __future__ import annotations

import csv
import dataclasses
import gc
import io
import json
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from xml.etree import ElementTree

import pytest
from PySide6.QtCore import QEvent, QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QFont, QFontDatabase, QGuiApplication, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QWidget
from shiboken6 import isValid

from kesselton.app.host.settings import Settings, SettingsStore, load_settings
from kesselton.app.host.single_instance import ring
from kesselton.store.formats.drum_file import drum_to_data
from kesselton.store.io.errors import DamagedError, LockedError
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.dialogs.help import AboutDialog, HandbookDialog, KeysDialog
from kesselton.ui.dialogs.preferences import PreferencesDialog
from kesselton.ui.parts.widgets import theme
from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.tuning.ladder import LadderView
from kesselton.ui.window import start
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window
from kesselton.ui.window.start_failure import StartFailure, WayOn

Wait = Callable[..., None]


def dialog_of(window: MainWindow, kind: type) -> QDialog:
    found = window.commands.hands.dialog
    assert isinstance(found, kind)
    return found


def drop(window: MainWindow, *paths: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    window.dropEvent(
        QDropEvent(
            QPointF(200, 200), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
    )  # fmt: skip


def test_the_work_goes_on_where_it_was_left(wait: Wait) -> None:
    first = open_window("demo", SettingsStore())
    assert first is not None
    first.resize(1150, 720)
    first.document.select(3)
    first.choose_page("fit")
    path = str(first.document.path.resolve())
    first.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    again = open_window("demo", SettingsStore())
    assert again is not None
    assert (again.width(), again.height()) == (1150, 720)
    assert again.document.current_id == 3
    assert again.page_name == "fit"
    assert again.settings.recent[0] == path
    again.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def test_workshops_used_lately_are_in_the_menu(window: MainWindow, tmp_path: Path) -> None:
    window.recent.aboutToShow.emit()
    assert [a.isEnabled() for a in window.recent.actions()] == [False]
    other = open_window(str(tmp_path / "second.kesselton"), window.bench.settings_store)
    assert other is not None
    other.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    window.recent.aboutToShow.emit()
    (action,) = window.recent.actions()
    assert action.text().startswith("second")
    action.trigger()
    opened = [
        w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow) and w is not window
    ]
    assert opened[-1].document.path.name == "second.kesselton"
    opened[-1].close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def test_the_way_of_reading_is_remembered(window: MainWindow) -> None:
    window.choose_page("clear")
    window.pages.clear.choose_source("dial")
    assert window.settings.read_by == "dial"
    assert load_settings(window.bench.settings_store.path)[0].read_by == "dial"


def test_files_are_dropped_on_the_window(window: MainWindow, tmp_path: Path) -> None:
    drum = window.document.drum
    assert drum is not None
    (tmp_path / "a.drum.json").write_text(json.dumps(drum_to_data(drum)))
    drop(window, tmp_path / "a.drum.json")
    assert window.document.drum.name == "Pit snare 2"  # type: ignore[union-attr]
    (tmp_path / "a.txt").write_text("x")
    drop(window, tmp_path / "a.txt")
    assert "cannot be dropped" in window.message.text.text()
    drop(window, tmp_path / "gone.wav")
    assert window.page_name == "clear"


def test_pictures_are_copied_as_picture_and_as_table(window: MainWindow, wait: Wait) -> None:
    window.actions_by_id["copy_table"].trigger()
    rows = [row.split("\t") for row in QGuiApplication.clipboard().text().splitlines()]
    result = window.result
    assert result is not None
    assert len(rows) == 3 + len(result.prediction.partials)
    assert rows[1][:2] == ["Batter lug pitch", "261.63"]
    window.actions_by_id["copy_picture"].trigger()
    assert QGuiApplication.clipboard().pixmap().width() > 200
    drawing = bytes(QGuiApplication.clipboard().mimeData().data("image/svg+xml").data())
    root = ElementTree.fromstring(drawing)  # another reader than the one that wrote it
    words = "".join(root.itertext())
    assert root.tag.endswith("svg")
    assert "C4" in words
    assert float(root.get("viewBox", "0 0 0 0").split()[2]) > 200
    window.choose_page("clear")
    wait(lambda: window.pages.clear.settled is not None)
    window.actions_by_id["copy_table"].trigger()
    rows = [row.split("\t") for row in QGuiApplication.clipboard().text().splitlines()]
    assert len(rows) == 9
    listed = QGuiApplication.clipboard().mimeData().data("text/csv").data().decode()
    assert list(csv.reader(io.StringIO(listed))) == rows
    assert rows[1][0] == "1"
    readout = window.tuning.readout
    wait(lambda: not window.bench.planning)
    readout.copy_table()
    rows = [row.split("\t") for row in QGuiApplication.clipboard().text().splitlines()]
    assert rows[0][:2] == ["Drum pitch", "F♯3"]
    assert any("C4" in row[1] and "F4" in row[2] for row in rows if len(row) == 3), rows
    menu = window.tuning.findChildren(LadderView)[0].menu()
    assert [a.text() for a in menu.actions()] == ["Copy picture", "Copy table"]
    texts = [a.text().replace("&", "") for a in window.drum_list.menu().actions()]
    assert "Remove this drum" in texts


def test_a_second_start_finds_the_window_by_the_file_it_saves_to(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    """After a copy was saved that is the copy; a window that is closed answers to nobody."""
    rung: list[bool] = []
    window.single_instance.rung.connect(lambda: rung.append(True))
    first, copy = window.document.path, tmp_path / "copy.kesselton"

    def rings(path: Path) -> bool:
        found: list[bool] = []
        caller = threading.Thread(target=lambda: found.append(ring(path)))
        caller.start()
        wait(lambda: bool(found))
        caller.join()
        return found[0]

    assert rings(first)
    window.document.save_copy(copy)
    assert not rings(first)
    assert rings(copy)
    assert len(rung) == 2
    window.close()
    assert not rings(copy)


def test_handbook_and_keys_are_searched_offline(window: MainWindow) -> None:
    QTest.keyClick(window, Qt.Key.Key_F1)
    book = dialog_of(window, HandbookDialog)
    assert isinstance(book, HandbookDialog)
    QTest.keyClicks(book.finder, "footswitch")
    assert book.page.textCursor().selectedText() == "footswitch"
    first = book.page.textCursor().position()
    QTest.keyClick(book.finder, Qt.Key.Key_Return)
    assert book.page.textCursor().position() > first
    QTest.keyClicks(book.finder, "zzz")
    assert "not found" in book.fault.text()
    for task in ("Choose heads", "Set the drum", "Take readings", "Fit a head", "Clear a head"):
        assert f"## {task}" in book.page.toMarkdown()
    book.close()
    window.actions_by_id["shortcuts"].trigger()
    keys = dialog_of(window, KeysDialog)
    assert isinstance(keys, KeysDialog)
    QTest.keyClicks(keys.finder, "drum list")
    shown = [what.text() for name, what in keys.rows if not what.isHidden()]
    assert 0 < len(shown) < len(keys.rows)
    keys.close()
    window.actions_by_id["about"].trigger()
    dialog_of(window, AboutDialog).close()


def test_preferences_stand_in_one_place(window: MainWindow) -> None:
    window.actions_by_id["preferences"].trigger()
    dialog = dialog_of(window, PreferencesDialog)
    assert isinstance(dialog, PreferencesDialog)
    dialog.theme.chosen.emit("dark")
    dialog.units.chosen.emit(True)
    dialog.a4.edited.emit(442.0)
    assert (window.settings.theme, window.settings.metric, window.settings.a4_hz) == (
        "dark",
        True,
        442.0,
    )
    assert dialog.a4.line.text() == "442 Hz"
    dialog.close()
    window.commands.view.theme("light")


def test_full_screen_and_back(window: MainWindow) -> None:
    QTest.keyClick(window, Qt.Key.Key_F11)
    assert window.isFullScreen()
    QTest.keyClick(window, Qt.Key.Key_F11)
    assert not window.isFullScreen()


def test_settings_with_lists_come_back(tmp_path: Path) -> None:
    path = tmp_path / "settings.json"
    SettingsStore(Settings(), path).change(recent=("/a", "/b"), window=(1200, 700))
    assert load_settings(path)[0].recent == ("/a", "/b")
    assert load_settings(path)[0].window == (1200, 700)
    data = json.loads(path.read_text())
    path.write_text(json.dumps({**data, "window": [1, "x"], "recent": 5}))
    found, fault = load_settings(path)
    assert found == Settings()
    assert fault


def test_another_theme_dresses_what_is_seen_and_what_is_not_yet(
    window: MainWindow, wait: Wait
) -> None:
    """A theme is a palette; the sheet stays (it took a second to match it against every widget)."""
    window.choose_page("measure")
    window.choose_page("tuning")
    window.show()
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    sheet = window.styleSheet()

    def ground(widget: QWidget) -> str:
        at = widget.height() // 2
        return widget.grab().toImage().pixelColor(4, at).name()

    seen, hidden = window.drum_column.add, window.pages.measure.value
    assert seen.isVisible()
    assert not hidden.isVisible()
    assert ground(seen) == ground(hidden) == theme.LIGHT.panel
    window.commands.view.theme("dark")
    # Qt gives widgets in no order, and of those on screen only so many are dressed in the same turn
    wait(lambda: ground(seen) == theme.DARK.panel)
    wait(lambda: not theme.dressing())
    assert ground(hidden) == theme.DARK.panel
    window.commands.view.theme("light")
    window.choose_page("measure")  # before what is not on screen was looked for
    wait(lambda: not theme.dressing())
    beside = window.pages.measure.rod.line  # without the focus, which dresses it anew
    assert beside.isVisible()
    assert ground(seen) == ground(hidden) == ground(beside) == theme.LIGHT.panel
    assert window.styleSheet() == sheet


OPENED = """
from PySide6.QtWidgets import QApplication, QWidget
from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.ui.parts.widgets import theme
from kesselton.ui.window.start import open_window
app = QApplication([])
theme.load_fonts()
window = open_window("demo", SettingsStore(Settings(theme="dark")))
print({one.font().families()[0] for one in window.findChildren(QWidget)})
window.close()
"""


def test_every_letter_of_the_first_window_is_our_own() -> None:
    """In a process that has shown none: what was made before it was dressed kept the desktop's."""
    done = subprocess.run(
        [sys.executable, "-c", OPENED], capture_output=True, text=True, check=True, timeout=120
    )
    assert done.stdout.split("\n")[0] == str({theme.FAMILIES[0]})


def test_pictures_are_painted_one_by_one_when_all_must_be(window: MainWindow, wait: Wait) -> None:
    """All at once was the longest time the window did not answer."""
    window.show()
    pictures = [one for one in window.findChildren(Picture) if one.isVisible()]
    assert len(pictures) >= 3
    window.commands.view.theme("dark")
    assert not any(one.updatesEnabled() for one in pictures[1:])
    wait(lambda: all(one.updatesEnabled() for one in pictures))


class _Counted(Picture):
    painted = 0

    def _paint(self, p: QPainter) -> None:
        self.painted += 1


def test_pictures_that_change_together_are_painted_in_turns(qapp: QApplication, wait: Wait) -> None:
    """One thing done changes rack, set, kit and answers: painted as one they were felt."""
    around = QWidget()
    views = [_Counted(around) for _ in range(4)]
    for place, one in enumerate(views):
        one.setGeometry(100 * place, 0, 90, 90)
    around.resize(400, 200)
    around.show()
    wait(lambda: all(one.painted for one in views))
    QTest.qWait(60)  # whatever is left of being shown
    begun = [one.painted for one in views]
    for one in views:
        one.update()
        one.update()
    views[2].hide()  # it is never painted, and keeps nobody waiting
    steps = []
    for _ in range(200):
        before = sum(one.painted for one in views)
        qapp.processEvents()
        steps.append(sum(one.painted for one in views) - before)
        QTest.qSleep(1)
    assert max(steps) == 1
    assert [one.painted - old for one, old in zip(views, begun, strict=True)] == [1, 1, 0, 1]
    around.close()


def test_what_stays_is_not_searched_for_garbage(window: MainWindow, wait: Wait) -> None:
    """A search through all that was made at the start stopped the window for 50 ms now and then."""
    heard: list[bool] = []
    window.pages.prepared.connect(lambda: heard.append(True))
    assert gc.get_freeze_count() > 10_000
    if not heard:  # else they were all there already
        window.pages.prepare()
        wait(lambda: bool(heard))
    assert gc.get_freeze_count() > 4 * len(gc.get_objects())
    window.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert gc.get_freeze_count() == 0


def test_the_desktop_turns_dark_and_its_letters_grow_while_the_program_runs(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    hints = QGuiApplication.styleHints()
    window.bench.settings_store.change(theme="system")
    for scheme, dark in ((Qt.ColorScheme.Dark, True), (Qt.ColorScheme.Light, False)):
        monkeypatch.setattr(theme, "desktop_is_dark", lambda app, dark=dark: dark)
        hints.colorSchemeChanged.emit(scheme)  # there is no desktop here that could
        assert window.colours.dark is dark
    window.bench.settings_store.change(theme="light")  # who chose one keeps it
    monkeypatch.setattr(theme, "desktop_is_dark", lambda app: True)
    hints.colorSchemeChanged.emit(Qt.ColorScheme.Dark)
    assert not window.colours.dark
    large = QFont()
    large.setPointSizeF(14.0)
    changed = QEvent(QEvent.Type.ThemeChange)
    QApplication.sendEvent(window, changed)
    assert (
        "desktop font is now" not in window.notice.text.text()
    )  # nothing about letters is another
    monkeypatch.setattr(QFontDatabase, "systemFont", lambda role: large)
    QApplication.sendEvent(window, changed)
    assert "The desktop font is now 14 pt" in window.notice.text.text()
    assert window.notice.isVisible()


def test_letters_that_grew_are_followed_at_once_and_nothing_is_lost(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    large = QFont()
    large.setPointSizeF(14.0)
    before, height = theme.followed_points(), window.pages.measure.value.sizeHint().height()
    window.document.select(3)
    window.choose_page("measure")
    workshop = window.document.workshop
    window.document.commit("Rename", dataclasses.replace(workshop, name="Store in the cellar"))
    undoable = window.document.undo_text
    window.topbar.a4.line.setFocus()
    monkeypatch.setattr(QFontDatabase, "systemFont", lambda role: large)
    QApplication.sendEvent(window, QEvent(QEvent.Type.ThemeChange))
    try:
        window.notice.offer.click()
        (anew,) = (one for one in start._windows if one is not window)
        wait(lambda: not isValid(window))
        wait(lambda: anew.result is not None and anew.result.drum == anew.document.drum)
        assert (anew.page_name, anew.document.current_id) == ("measure", 3)
        assert anew.document.undo_text == undoable
        assert anew.pages.measure.value.sizeHint().height() > 1.1 * height
        anew.document.undo()
        assert anew.document.workshop.name == workshop.name
        anew.close()
    finally:
        theme.follow_font(before)
        QApplication.setFont(theme.font())


def test_letters_are_not_followed_over_an_exercise_or_a_fault(
    window: MainWindow, wait: Wait
) -> None:
    practice = window.pages.practice.practice
    practice.begin()
    wait(lambda: practice.question is not None)
    window.anew_wanted.emit()
    assert isValid(window)
    assert "Practice" in window.message.text.text()
    practice.finish()
    window.choose_page("measure")
    window.pages.measure.value.setText("no pitch")
    window.anew_wanted.emit()
    assert window.isVisible()
    assert "no pitch" in window.message.text.text()
    window.pages.measure.value.setText("")


def test_stages_are_made_before_they_are_opened_and_ask_for_nothing(
    window: MainWindow, wait: Wait
) -> None:
    """Making one costs what a hand would notice; a stage that is only made searches for nothing."""
    wait(lambda: window.pages.count() >= 6, 20.0)
    assert window.pages.page_name == "tuning"
    heads = window.pages.heads
    assert heads._asked is None
    assert not heads.bar.isVisible()
    window.choose_page("heads")
    assert heads._asked is not None


def test_what_can_be_read_of_a_damaged_workshop_opens_beside_it(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    path = tmp_path / "store.kesselton"
    WorkshopFile.create(path, window.document.workshop).close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE drum SET json = '{}' WHERE id = 2")
    before = path.read_bytes()
    window.commands.asking.open = lambda *a: path  # type: ignore[method-assign]
    window.commands.workshop.open()
    assert "not as saved" in window.message.text.text()
    assert not window.notice.undo.isVisible()
    QTest.mouseClick(window.notice.offer, Qt.MouseButton.LeftButton)
    (other,) = (w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)
                and w.isVisible() and w is not window)  # fmt: skip
    assert other.document.path == tmp_path / "store salvaged.kesselton"
    assert len(other.document.workshop.entries) == 7
    assert "Rack tom" in other.message.text.text()
    other.close()
    assert path.read_bytes() == before
    dialog = StartFailure(DamagedError("damaged", "so"), path)
    QTest.mouseClick(dialog.salvage, Qt.MouseButton.LeftButton)
    assert (dialog.way, dialog.path) == (WayOn.SALVAGE, path)
    assert StartFailure(LockedError("open", "so"), path).salvage.isHidden()
