"""The list of everything: drums, pages, actions, heads and entries by some letters."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.ui.dialogs.go_to import GoToDialog, Place, ordered
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait


def opened(window: MainWindow) -> GoToDialog:
    window.actions_by_id["go_to"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, GoToDialog)
    return dialog


def go(window: MainWindow, typed: str) -> None:
    dialog = opened(window)
    QTest.keyClicks(dialog.finder, typed)
    QTest.keyClick(dialog.finder, Qt.Key.Key_Return)


def test_words_fit_in_any_order_and_what_was_used_last_comes_first() -> None:
    def place(key: str, label: str, kind: str = "drum") -> Place:
        return Place(key, label, kind, lambda: None)

    all_ = [place("a", "Rack tom"), place("b", "Floor tom"), place("c", "Tom stand", "head")]
    assert [one.key for one in ordered(all_, "tom rack", ())] == ["a"]
    assert [one.key for one in ordered(all_, "tom", ("b",))] == ["c", "b", "a"]
    assert [one.key for one in ordered(all_, "", ("b", "c"))] == ["b", "c", "a"]
    assert ordered(all_, "cymbal", ()) == []


def test_a_drum_a_page_an_action_and_a_head(window: MainWindow, wait: Wait) -> None:
    window.show()
    go(window, "floor")
    assert window.document.drum is not None
    assert window.document.drum.name == "Floor tom"
    go(window, "fit step")
    assert window.page_name == "fit"
    metric = window.settings.metric
    go(window, "metric")
    assert window.settings.metric is not metric
    go(window, "7 + 7 mil, clear")
    assert window.page_name == "heads"
    assert window.pages.heads.form.search.text() == "two-ply 7 + 7 mil, clear"
    assert window.settings.gone_to[0] == "head:two-ply 7 + 7 mil, clear"
    assert opened(window).shown[0].key == "head:two-ply 7 + 7 mil, clear"
    window.commands.hands.dialog.reject()  # type: ignore[union-attr]


def test_an_entry_of_another_drum_is_shown_in_its_log(window: MainWindow, wait: Wait) -> None:
    window.show()
    dialog = opened(window)
    QTest.keyClicks(dialog.finder, "matinee")
    entries = [place for place in dialog.shown if place.key.startswith("entry:")]
    assert entries
    dialog.list.setCurrentRow(dialog.shown.index(entries[0]))
    QTest.keyClick(dialog.finder, Qt.Key.Key_Return)
    assert window.page_name == "log"
    chosen = window.pages.log.chosen
    assert chosen is not None
    assert entries[0].key == f"entry:{window.document.current_id}:{chosen.on}"


def test_arrows_walk_the_list_and_nothing_fitting_is_said(window: MainWindow, wait: Wait) -> None:
    window.show()
    dialog = opened(window)
    QTest.keyClick(dialog.finder, Qt.Key.Key_Down)
    QTest.keyClick(dialog.finder, Qt.Key.Key_Down)
    assert dialog.list.currentRow() == 2
    QTest.keyClick(dialog.finder, Qt.Key.Key_PageUp)
    assert dialog.list.currentRow() == 0
    QTest.keyClicks(dialog.finder, "qqqq")
    assert dialog.none.isVisible()
    before = window.document.workshop
    QTest.keyClick(dialog.finder, Qt.Key.Key_Return)
    assert dialog.isVisible()
    QTest.keyClick(dialog.finder, Qt.Key.Key_Escape)
    wait(lambda: window.commands.hands.dialog is dialog)
    assert window.document.workshop == before
