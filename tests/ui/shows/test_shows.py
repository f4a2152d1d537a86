"""The stage Stage by keys and mouse: shows, a repair in the night, house drums, work for after."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.shows.repair_bench import CLEAR_KEY
from kesselton.app.workshop.document import Saved
from kesselton.core.shows.repair import BROKEN_OFF, DONE
from kesselton.ui.parts.widgets.clipboard import tabbed
from kesselton.ui.shows.night import Night
from kesselton.ui.shows.shows_page import ShowsPage
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window
from tests.ui.conftest import Wait, settled
from tests.ui.real_keys import Hand

K = Qt.Key


def night_of(window: MainWindow) -> Night:
    window.show()
    window.actions_by_id["repair"].trigger()
    return window.commands.shows.night


def press(night: Night, *keys: Qt.Key) -> None:
    for key in keys:
        QTest.keyClick(night, key)


def decided(window: MainWindow, wait: Wait, cause: Qt.Key = K.Key_1) -> Night:
    """The batter of the drum list tom, seven minutes, the best way taken."""
    night = night_of(window)
    press(night, K.Key_2, K.Key_1, cause, K.Key_Space)
    stage = window.commands.shows.repair_bench
    wait(lambda: stage.ways is not None)
    press(night, K.Key_Space)
    wait(lambda: stage.procedure is not None)
    return night


def test_a_repair_from_the_first_key_to_the_work_left(window: MainWindow, wait: Wait) -> None:
    """One key from anywhere; questions by their numbers, steps by Space, what may be skipped by S."""
    stage = window.commands.shows.repair_bench
    before = window.document.workshop
    night = decided(window, wait)
    repair = stage.repair
    assert repair is not None
    assert (repair.drum_name, repair.side, repair.way) == ("Rack tom", "batter", "head")
    assert repair.head == "single 10 mil, coated"  # in store, and it sounds as it did
    press(night, K.Key_Space)  # a question has its own keys
    assert stage.repair == repair
    assert "Y or N" in night.more.text()
    press(night, K.Key_N)
    assert "Never work under moving scenery" in night.more.text()
    press(night, K.Key_Y, K.Key_S)
    assert "cannot be skipped" in night.more.text()
    for _ in range(30):
        step = night.step
        if step is None or step.key == CLEAR_KEY:
            break
        press(night, K.Key_Space if step.never_skipped else K.Key_S)
    press(night, K.Key_S)
    while stage.repair is not None and not stage.repair.outcome:
        press(night, K.Key_Space)
    done = stage.repair
    assert done is not None
    assert done.outcome == DONE
    assert {"edge", "clear"} <= set(done.after)
    after = window.document.workshop
    size = 12.0
    assert after.shelved(repair.head, size).stock == before.shelved(repair.head, size).stock - 1
    drum_list = next(entry for entry in after.entries if entry.drum.name == "Rack tom")
    assert [(one.event, one.side) for one in list(drum_list.kept)[-2:]] == [
        ("broken", "batter"), ("fitted", "batter"),
    ]  # fmt: skip
    press(night, K.Key_Space)
    assert not night.isVisible()
    assert "left for after the show" in window.notice.text.text()
    window.choose_page("shows")
    day = window.pages.shows
    assert day.work.rows.rowCount() == len(stage.work_left)
    day.work.rows.setData(
        day.work.rows.index(0, 0), Qt.CheckState.Checked.value, Qt.ItemDataRole.CheckStateRole
    )
    assert len(stage.work_left) == day.work.rows.rowCount()
    assert day.pace.text().startswith("From 2 repairs")  # the one just clicked through says nothing


def test_rods_are_read_and_turned_in_the_night_and_the_state_now_is_told(
    window: MainWindow, wait: Wait
) -> None:
    night = decided(window, wait, K.Key_4)  # out of tune, nothing broken: nursing is tuning
    stage = window.commands.shows.repair_bench
    repair = stage.repair
    assert repair is not None
    if repair.way != "nurse":  # another drum was nearer: take nursing instead
        stage.undecide()
        ways = stage.ways
        assert ways is not None
        stage.decide(next(way for way in ways if way.way == "nurse"))
        wait(lambda: stage.procedure is not None)
        night._to("step")
    press(night, K.Key_Y)
    night.source = "dial"
    night.refresh()
    wait(lambda: stage.advice is not None)
    assert night.title.text() == "Rod 1: gauge"
    assert "usually" in night.text.text()
    for rod, value in enumerate(("70", "71", "64", "70", "70.5", "70"), start=1):
        QTest.keyClicks(night, f"{rod}:{value}")
        assert night.entry.text().startswith(f"{rod}:{value}")
        press(night, K.Key_Space)
        wait(lambda: stage.advice is not None)
    repair = stage.repair
    assert repair is not None
    read = [tap for one in repair.clearing.rounds for tap in one.taps]
    assert {tap.rod for tap in read} == {1, 2, 3, 4, 5, 6}
    assert "worst rod 3" in night.text.text()
    said = stage.advice
    assert said is not None
    assert (said.what, said.rod) == ("turn", 3)
    assert night.title.text().startswith("Rod 3: tighten")
    QTest.keyClicks(night, "9:70")
    press(night, K.Key_Space)
    assert "Enter a rod from 1 to 6" in night.more.text()
    press(night, *[K.Key_Backspace] * 4)
    assert night.entry.text() == ""
    press(night, K.Key_Space)
    repair = stage.repair
    assert repair is not None
    assert repair.clearing.rounds[0].turns[2] > 0.0


def test_the_simulated_head_answers_over_the_band(window: MainWindow, wait: Wait) -> None:
    night = decided(window, wait)
    stage = window.commands.shows.repair_bench
    repair = stage.repair
    assert repair is not None
    stage._keep("x", replace(repair, current=CLEAR_KEY))
    night.source = "bench"
    night.refresh()
    for _ in range(3):
        wait(lambda: stage.advice is not None and not night.sources.busy)
        count = len(stage.repair.clearing.now.taps) if stage.repair else 0
        press(night, K.Key_Space)
        wait(
            lambda count=count: (
                stage.repair is not None and len(stage.repair.clearing.now.taps) > count
            )
        )
    press(night, K.Key_R)
    assert night.source == "microphone"


def test_a_repair_goes_on_where_it_was_after_the_program_is_closed(
    window: MainWindow, wait: Wait
) -> None:
    night = decided(window, wait)
    stage = window.commands.shows.repair_bench
    press(night, K.Key_Y, K.Key_Space)
    repair = stage.repair
    press(night, K.Key_Insert)
    assert not night.isVisible()
    assert "Press Insert to return" in window.notice.text.text()
    assert window.document.looked_up() is Saved.YES
    assert repair in window.document.workshop.repairs
    again = night_of(window)
    assert again.page == "step"
    assert stage.repair == repair
    window.commands.undo()
    assert stage.repair != repair  # a step is a step of undo
    press(again, K.Key_Escape)
    assert again.isVisible()
    assert "Press Escape again" in again.more.text()
    press(again, K.Key_Escape)
    assert stage.repair is not None
    assert stage.repair.outcome == BROKEN_OFF
    assert stage.repair.after


def test_back_leads_from_question_to_question_and_to_another_way(
    window: MainWindow, wait: Wait
) -> None:
    night = night_of(window)
    press(night, K.Key_Down, K.Key_Space)
    assert night.page == "side"
    press(night, K.Key_Down, K.Key_Space, K.Key_Down, K.Key_Space)
    assert night.page == "minutes"
    press(night, K.Key_Up, K.Key_Up)
    press(night, K.Key_Backspace)
    assert night.page == "cause"
    press(night, K.Key_Space)
    QTest.keyClicks(night, "12")
    press(night, K.Key_Space)
    stage = window.commands.shows.repair_bench
    assert stage.repair is not None
    assert stage.repair.minutes == 12.0
    assert stage.repair.side == "resonant"
    wait(lambda: stage.ways is not None)
    rows = night.choices.table()
    refused = next(i for i, row in enumerate(rows) if row[2].startswith("not possible:"))
    for _ in range(refused):
        press(night, K.Key_Down)
    press(night, K.Key_Space)
    assert stage.repair.way == ""
    assert "not possible:" in night.more.text()
    night._row = 0
    press(night, K.Key_Space)
    wait(lambda: stage.procedure is not None)
    press(night, K.Key_Backspace)
    assert night.page == "way"
    press(night, K.Key_Escape, K.Key_Escape)


def test_the_clock_says_when_the_steps_do_not_fit(window: MainWindow, wait: Wait) -> None:
    night = decided(window, wait)
    stage = window.commands.shows.repair_bench
    assert "steps need" in night.needs.text()
    begun = datetime.now()
    stage.now = lambda: begun + timedelta(minutes=6.2)
    press(night, K.Key_Y)
    assert "too long" in night.needs.text()
    assert night.skipped.text().startswith("To save time, skip")
    stage.now = lambda: begun + timedelta(minutes=7.5)
    night._show_time()
    assert night.clock.text().startswith("−0:")
    assert "curtain" in night.needs.text()


def test_a_held_key_is_one_answer_and_the_middle_button_is_done(
    window: MainWindow, wait: Wait
) -> None:
    from PySide6.QtGui import QKeyEvent

    night = night_of(window)
    repeated = QKeyEvent(
        QKeyEvent.Type.KeyPress, K.Key_Space, Qt.KeyboardModifier.NoModifier, " ", True
    )
    for _ in range(5):
        night.keyPressEvent(repeated)
    assert night.page == "drum"
    QTest.mouseClick(night, Qt.MouseButton.MiddleButton, pos=QPoint(600, 300))
    assert night.page == "side"
    press(night, K.Key_Escape)
    assert not night.isVisible()


# by day


def day_of(window: MainWindow, wait: Wait) -> ShowsPage:
    window.show()
    window.choose_page("shows")
    stage = window.commands.shows.show_bench
    wait(lambda: stage.targets is not None)
    return window.pages.shows


def test_what_must_lie_ready_is_ticked_and_what_lacks_goes_to_the_buy_list(
    window: MainWindow, wait: Wait
) -> None:
    day = day_of(window, wait)
    show = day.shows.show
    assert show is not None
    assert day.ready.text() == "6 of 23 ready"
    index = day.kit.rows.index(2, 0)
    day.kit.rows.setData(index, Qt.CheckState.Checked.value, Qt.ItemDataRole.CheckStateRole)
    assert day.ready.text() == "7 of 23 ready"
    window.commands.undo()
    assert day.ready.text() == "6 of 23 ready"
    QTest.keyClicks(day.own, "spare drum stool")
    QTest.keyClick(day.own, K.Key_Return)
    assert day.ready.text() == "6 of 24 ready"
    missing = day.shows.missing()
    assert missing
    QTest.mouseClick(day.buy, Qt.MouseButton.LeftButton)
    dialog = window.commands.hands.dialog
    assert dialog is not None
    notes = [line.note for line in dialog.lines]  # type: ignore[attr-defined]
    assert "spare for a show" in notes
    dialog.close()


def test_each_head_has_its_target_and_drums_are_ticked_in_and_out(
    window: MainWindow, wait: Wait
) -> None:
    day = day_of(window, wait)
    rows = [
        tabbed(day.targets.rows.cells([n])).splitlines()[1]
        for n in range(day.targets.rows.rowCount())
    ]
    assert any("Pit snare" in row and "C4, 262 Hz" in row for row in rows)
    count = len(rows)
    high = next(n for n, row in enumerate(rows) if "High tom" in row)
    day.targets.rows.setData(
        day.targets.rows.index(high, 0), Qt.CheckState.Checked.value, Qt.ItemDataRole.CheckStateRole
    )
    wait(lambda: day.shows.targets is not None)
    assert day.targets.rows.rowCount() == count + 1
    # what is typed there is tried by a real hand: tests/journeys
    window.commands.asking.text = lambda title, caption, text: "Winter gala"  # type: ignore[method-assign]
    QTest.mouseClick(day.new, Qt.MouseButton.LeftButton)
    assert [show.name for show in window.document.workshop.shows][-1] == "Winter gala"
    assert len(window.document.workshop.shows) == 2
    QTest.mouseClick(day.remove, Qt.MouseButton.LeftButton)
    assert len(window.document.workshop.shows) == 1


def test_house_drums_are_struck_once_each_and_kept_as_a_set(window: MainWindow, wait: Wait) -> None:
    day = day_of(window, wait)
    QTest.mouseClick(day.switch.buttons["house"], Qt.MouseButton.LeftButton)
    panel = day.house
    for number in (0, 3, 10):  # two toms and a bass drum
        panel._on_size(number)
        QTest.mouseClick(panel.add, Qt.MouseButton.LeftButton)
    for left in (2, 1, 0):
        QTest.keyClick(day, K.Key_T)
        wait(lambda left=left: sum(one.heard is None for one in panel.house.drums) == left, 30.0)
    wait(lambda: panel.house.advice is not None, 30.0)
    assert panel.fault.isHidden()
    assert "1. " in panel.advice.text() or "No single change" in panel.advice.text()
    QTest.mouseClick(panel.keep, Qt.MouseButton.LeftButton)
    workshop = window.document.workshop
    assert workshop.kits[-1].name == "House kit"
    assert len(workshop.kits[-1].seats) == 3


def test_a_drum_that_goes_takes_its_repairs_and_leaves_its_shows(window: MainWindow) -> None:
    workshop = window.document.workshop
    drum_list = next(entry for entry in workshop.entries if entry.drum.name == "Rack tom")
    left = workshop.without_drum(drum_list.id)
    assert drum_list.id not in left.shows[0].drum_ids
    assert all(one.drum_id != drum_list.id for one in left.repairs)


@pytest.mark.window
def test_the_night_by_real_keys_in_a_real_window(wait: Wait) -> None:
    """Keys through the X server: one key from a field where something stands typed, then only the
    night has them, whatever is a shortcut elsewhere; at the end they are back."""
    window = open_window("demo", SettingsStore(Settings(theme="light")))
    window.resize(1280, 800)
    window.show()
    hand = Hand()
    try:
        window.activateWindow()
        settled(window, wait)
        wait(window.isActiveWindow)
        hand.click(window.drum_column.finder)
        hand.type("tom")
        hand.press("Insert")
        night = window.commands.shows.night
        wait(night.hasFocus)
        stage, before = window.commands.shows.repair_bench, len(window.document.workshop.entries)
        hand.type("2")
        hand.type("1")
        hand.type("1")
        hand.press("space")
        wait(lambda: stage.ways is not None)
        hand.press("space")
        wait(lambda: stage.procedure is not None)
        for keys in (("k",), ("j",), ("l",), ("F5",), ("Control_L", "n"), ("Control_L", "Delete"),
                     ("Tab",), ("Alt_L", "d")):  # fmt: skip
            hand.press(*keys)
        assert night.hasFocus()
        assert night.isVisible()
        assert window.commands.hands.dialog is None
        assert len(window.document.workshop.entries) == before
        assert window.page_name == "tuning"
        hand.type("y")
        hand.press("Next")  # a foot-switch that types Page down
        repair = stage.repair
        assert repair is not None
        assert [key for key, _ in repair.done] == ["safe", "loosen"]
        hand.press("Escape")
        hand.press("Escape")
        assert stage.repair is not None
        assert stage.repair.outcome == BROKEN_OFF
        hand.press("space")
        wait(lambda: not night.isVisible())
        assert not night.hasFocus()
    finally:
        hand.let_go()
        window.close()
