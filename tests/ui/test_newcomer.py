"""From nothing to a drum on the bench, as somebody does who never saw the program."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.workshop.usual_drums import USUAL, as_usual, unused_name, usual_drum
from kesselton.core.instrument.drum import KINDS
from kesselton.core.instrument.reading import Reading
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.usable import head_range
from kesselton.ui.drum_list.add_drum import AddDrumDialog
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def empty(wait: Wait, tmp_path: Path) -> Iterator[MainWindow]:
    made = open_window(str(tmp_path / "mine.kesselton"), SettingsStore(Settings(theme="light")))
    assert made is not None
    made.resize(1280, 800)
    yield made
    made.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def dialog_of(window: MainWindow) -> AddDrumDialog:
    found = window.commands.hands.dialog
    assert isinstance(found, AddDrumDialog)
    return found


def test_a_new_workshop_is_empty_and_shows_the_one_way_on(empty: MainWindow, wait: Wait) -> None:
    assert empty.document.workshop.entries == ()
    first = empty.pages._pages["first"]
    for stage in ("measure", "heads", "tuning", "fit", "clear"):
        QTest.mouseClick(empty.topbar.pages[stage], LEFT)
        assert empty.pages.currentWidget() is first
        assert first.add.isVisible()
    QTest.mouseClick(empty.topbar.pages["gauges"], LEFT)
    assert empty.pages.currentWidget() is empty.pages.gauges
    for action in empty.actions_by_id.values():  # nothing there can fail for want of a drum
        if action.isEnabled() and action.text().startswith(("Sh", "Batter", "Tuning", "Fit")):
            action.trigger()
    assert not empty.message.isVisible()
    empty.choose_page("clear")
    QTest.mouseClick(first.add, LEFT)
    dialog = dialog_of(empty)
    dialog.kinds.setCurrentRow(list(KINDS).index("snare"))
    QTest.keyClick(dialog.kinds, Qt.Key.Key_Return)
    drum = empty.document.drum
    assert drum is not None
    assert (drum.kind, drum.name) == ("snare", "Snare")
    assert drum.resonant is not None
    assert drum.resonant.head.name == "snare side 3 mil"
    assert empty.page_name == "tuning"
    assert empty.tuning.forms.shell.name.line.selectedText() == "Snare"
    wait(lambda: empty.bench.settled is not None)
    empty.document.remove_drum()
    assert empty.pages.currentWidget() is first
    empty.document.undo()
    assert empty.pages.currentWidget() is empty.tuning


def test_drums_are_added_like_this_one_and_never_share_a_name(
    window: MainWindow, wait: Wait
) -> None:
    QTest.mouseClick(window.drum_column.add, LEFT)
    dialog = dialog_of(window)
    assert dialog.like.text() == "Like “Pit snare”"
    QTest.mouseClick(dialog.like, LEFT)
    assert window.document.drum.name == "Pit snare 2"  # type: ignore[union-attr]
    QTest.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert window.document.drum.name == "Pit snare 2 2"  # type: ignore[union-attr]
    assert unused_name("a", {"a", "a 2"}) == "a 3"


def test_another_kind_offers_its_usual_values(window: MainWindow, wait: Wait) -> None:
    window.document.select(2)
    before = window.document.drum
    assert before is not None
    form = window.tuning.forms.shell
    form.kind.chosen.emit("snare")
    assert window.notice.offer.isVisible()
    assert "“Rack tom” is now a snare drum" in window.notice.text.text()
    QTest.mouseClick(window.notice.offer, LEFT)
    drum = window.document.drum
    assert drum is not None
    assert drum.resonant is not None
    assert drum.resonant.head.name == "snare side 3 mil"
    assert drum.shell.hoop == "flanged_2_3mm"
    assert drum.shell.head_diameter_m == before.shell.head_diameter_m
    window.document.undo()
    window.document.undo()
    assert window.document.drum == before


@pytest.mark.parametrize("kind", list(KINDS))
def test_every_usual_drum_stands_within_what_its_heads_can_do(kind: str) -> None:
    for size in USUAL[kind].sizes:
        drum = usual_drum(kind, size)
        found = predict(drum)
        for side, hz in zip(drum.sides, found.lug_pitches_hz, strict=True):
            span = head_range(drum, side)
            assert span.lowest_pitch_hz < hz < span.highest_pitch_hz, (kind, size, side)
        again = as_usual(replace(drum, kind=kind, mufflers=()))
        assert again.batter.head == drum.batter.head
        assert again.batter.reading is not None
        assert drum.batter.reading is not None
        assert again.batter.reading.hz == pytest.approx(drum.batter.reading.hz, rel=0.07)


def test_the_workshop_is_renamed_and_a_copy_has_its_own_name(
    window: MainWindow, tmp_path: Path
) -> None:
    window.commands.asking.text = lambda *a: " Store two "  # type: ignore[method-assign]
    window.actions_by_id["workshop_rename"].trigger()
    assert window.topbar.name.text() == "Store two"
    window.document.undo()
    assert window.topbar.name.text() == "Tern Island Opera"
    target = tmp_path / "before.the tour"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    window.commands.workshop.save_copy()
    assert window.document.path.name == "before.the tour.kesselton"  # added, nothing taken away
    assert window.topbar.name.text() == "before.the tour"
    assert str(window.document.path) in window.notice.text.text()


def test_success_does_not_hide_what_is_still_wrong(window: MainWindow) -> None:
    from kesselton.core.errors import KesseltonError

    window.message.tell(KesseltonError("The disk is full.", "Make room."), "file")
    window.commands.drums.remove()
    assert window.notice.isVisible()
    assert window.message.isVisible()
    assert window.notice.undo.isVisible()
    window.document.move_drum(1)
    assert not window.notice.undo.isVisible()  # it would take back the move, and not the removal
    window.document.undo()
    window.document.undo()


def test_a_drum_set_by_readings_keeps_them_where_its_rods_stay(window: MainWindow) -> None:
    entry = window.bench.entry
    assert entry is not None
    noted = (Reading("dial", 80.0, rod=3), Reading("lug_pitch", 262.0))
    window.document.change_entry("x", readings=noted)
    form = window.tuning.forms.shell
    form.rods.edited.emit(10)
    assert tuple(window.bench.entry.readings) == noted  # type: ignore[union-attr]


def test_a_thousand_drums_are_searched_and_the_chosen_one_is_in_sight(
    window: MainWindow, wait: Wait
) -> None:
    first = window.document.workshop.entries[0]
    many = tuple(
        replace(first, id=n, drum=replace(first.drum, name=f"Drum {n}")) for n in range(1, 1001)
    )
    window.document.commit("x", replace(window.document.workshop, entries=many))
    window.document.select(700)
    column = window.drum_column
    wait(lambda: column.area.verticalScrollBar().value() > 0)
    row = column.drum_list.row_of(700)
    assert row is not None
    top = column.area.verticalScrollBar().value()
    assert top < row < top + column.area.height()
    QTest.keyClick(window, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert column.finder.hasFocus()
    QTest.keyClicks(column.finder, "snare 99")
    assert [drum.name for _, drum in column.drum_list._drums][:2] == ["Drum 99", "Drum 199"]
    QTest.keyClick(column.finder, Qt.Key.Key_Return)
    QTest.keyClick(column.drum_list, Qt.Key.Key_Down)
    assert window.document.drum.name == "Drum 99"  # type: ignore[union-attr]
    QTest.keyClicks(column.finder, " nothing such")
    assert column.drum_list._drums == []
    window.grab()
    QTest.keyClick(column.finder, Qt.Key.Key_Escape)
    assert len(column.drum_list._drums) == 1000
