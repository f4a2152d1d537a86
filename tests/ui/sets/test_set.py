"""The stage Set by mouse and keys: notes dragged, plans used, clashes looked at, sheets written."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from kesselton.core.sets.model.chords import cents_of
from kesselton.core.sets.model.kit import Kit
from kesselton.store.formats.set_file import load_set, save_set
from kesselton.ui.sets.drums_dialog import APART, IN_SET, LOCKED, DrumsDialog
from kesselton.ui.sets.set_page import SetPage
from kesselton.ui.sets.set_picture import CHORD, NOTE
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait


def opened(window: MainWindow, wait: Wait, number: int = 1) -> SetPage:
    window.choose_page("set")
    stage = window.pages.set
    stage.sets.choose(number)
    ready(stage, wait)
    return stage


def ready(stage: SetPage, wait: Wait) -> None:
    """What was asked is set, and the set worked out."""
    wait(lambda: not stage.sets.setting)
    wait(lambda: stage.sets.solved_set is not None and stage.sets.plans is not None)


def kit_of(window: MainWindow, number: int = 1) -> Kit:
    kit = window.document.workshop.kit(number)
    assert kit is not None
    return kit


def pitches(window: MainWindow) -> dict[str, tuple[float, ...]]:
    return {
        entry.drum.name: tuple(
            reading.hz if (reading := entry.drum.setting(side).reading) else 0.0
            for side in entry.drum.sides
        )
        for entry in window.document.workshop.entries
    }


def test_a_note_is_dragged_and_its_drum_follows_as_one_step(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    picture, before = stage.picture, pitches(window)
    names = [one.name for one in stage.sets.members]
    drum_list = names.index("Rack tom")
    start = picture.note_rect(drum_list).center().toPoint()
    note = picture.spot(drum_list).note
    QTest.mousePress(picture, Qt.MouseButton.LeftButton, pos=start)
    target = QPointF(start.x(), picture.y_of(note + 150.0)).toPoint()
    QTest.mouseMove(picture, target)
    assert picture.dragging
    assert picture.spot(drum_list).note == pytest.approx(note + 150.0, abs=8.0)
    assert pitches(window) == before  # nothing is set while it is held
    QTest.mouseRelease(picture, Qt.MouseButton.LeftButton, pos=target)
    ready(stage, wait)
    found = stage.sets.solved_set
    assert found is not None
    assert cents_of(found.predictions[drum_list].fundamental_hz) == pytest.approx(
        note + 150.0, abs=9.0
    )
    after = pitches(window)
    assert {name for name in after if after[name] != before[name]} == {"Rack tom"}
    assert after["Rack tom"][1] / after["Rack tom"][0] == pytest.approx(
        before["Rack tom"][1] / before["Rack tom"][0], rel=1e-4
    )  # its interval is kept
    window.document.undo()
    assert pitches(window) == before


def test_the_whole_chord_is_moved_by_keys(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    picture, before = stage.picture, pitches(window)
    picture.setFocus()
    spots = [picture.spot(i).note for i in range(4)]
    for _ in range(3):
        QTest.keyPress(picture, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [picture.spot(i).note - spots[i] for i in range(4)] == pytest.approx([30, 30, 30, 0])
    QTest.keyRelease(picture, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    ready(stage, wait)
    after = pitches(window)
    moved = {name for name in after if after[name] != before[name]}
    assert moved == {"Bass", "Floor tom", "Rack tom"}  # the snare drum stands apart
    window.document.undo()
    assert pitches(window) == before


def test_a_lug_pitch_moves_with_the_note_held_and_free(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    picture = stage.picture
    names = [one.name for one in stage.sets.members]
    drum_list = names.index("Rack tom")
    picture.choose(drum_list)
    picture.part = "batter"
    picture.setFocus()
    note = picture.spot(drum_list).note
    QTest.keyPress(picture, Qt.Key.Key_PageUp)
    assert picture.spot(drum_list).note == pytest.approx(note)
    assert picture.spot(drum_list).interval < stage.sets.solved_set.spots[drum_list].interval - 50.0  # type: ignore[union-attr]
    QTest.keyPress(picture, Qt.Key.Key_Escape)
    assert not picture.dragging
    QTest.keyClick(picture, Qt.Key.Key_H)
    assert not stage.hold.isChecked()
    QTest.keyPress(picture, Qt.Key.Key_PageUp)
    assert picture.spot(drum_list).note > note + 20.0
    QTest.keyPress(picture, Qt.Key.Key_Escape)
    QTest.keyRelease(picture, Qt.Key.Key_PageUp)


def test_what_cannot_be_borne_stops_at_its_end(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.picture.drag(0, NOTE, 5000.0)
    found = stage.sets.solved_set
    assert found is not None
    spot = stage.picture.spot(0)
    assert spot.note == pytest.approx(found.fields[0].borne(spot.interval)[1])
    shown = stage.picture.shown
    assert shown is not None
    assert shown.columns[0].says == "above"
    stage.picture.let_go()


def test_a_plan_is_used_and_taken_back(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    before = pitches(window)
    planned = stage.sets.plans
    assert planned is not None
    plan = planned.plans[1]
    stage.plan.list.setCurrentRow(1)
    assert stage.chosen_plan is plan
    stage.plan.use.click()
    ready(stage, wait)
    found = stage.sets.solved_set
    assert found is not None
    for one, solved in zip(plan.drums, found.predictions, strict=True):
        assert cents_of(solved.fundamental_hz) == pytest.approx(one.note_cents, abs=3.0)
    window.document.undo()
    assert pitches(window) == before


def test_the_few_changes_come_with_their_turns(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    before = pitches(window)
    assert stage.plan.few.count() >= 1
    first = stage.plan.few.item(0).text()
    assert "tighten" in first or "loosen" in first
    stage.plan.few.setCurrentRow(0)
    stage.plan.few_use.click()
    ready(stage, wait)
    after = pitches(window)
    assert len([name for name in after if after[name] != before[name]]) == 1


def test_a_wish_plans_anew_and_nothing_of_the_old_is_used(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    old = stage.sets.plans
    stage.plan.form.chord.chosen.emit("fourths")
    assert kit_of(window).wish.chord == "fourths"
    assert stage.sets.plans is None  # not the old ones
    assert not stage.plan.use.isEnabled()
    stage.use_plan()  # does nothing
    ready(stage, wait)
    assert stage.sets.plans is not old
    assert {one.frame.chord for one in stage.sets.plans.plans} == {"fourths"}  # type: ignore[union-attr]
    stage.plan.form.chord.chosen.emit("notes")
    form = stage.plan.form
    form.notes.line.setText("C e♭ H")
    form.notes.line.editingFinished.emit()
    assert form.notes.fault.text()
    form.notes.line.setText("C E♭ G")
    form.notes.line.editingFinished.emit()
    assert kit_of(window).wish.notes == (0, 3, 7)
    form.avoid.edited.emit((220.0,))
    assert kit_of(window).wish.avoid_hz == (220.0,)
    assert kit_of(window).wish.bass == "root"
    form.bass.chosen.emit("any")
    assert kit_of(window).wish.bass == "any"
    window.document.undo()


def test_answers_of_one_set_are_not_shown_for_another(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.sets.choose(3)
    assert stage.sets.solved_set is None
    assert stage.sets.last is None
    assert stage.picture.shown is None
    ready(stage, wait)
    assert [one.name for one in stage.sets.solved_set.members] == [  # type: ignore[union-attr]
        "Concert bass", "Field drum", "Field snare",
    ]  # fmt: skip


def test_a_pair_is_looked_at_and_a_cure_done(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    names = [one.name for one in stage.sets.members]
    drum_list, snare = names.index("Rack tom"), names.index("Pit snare")
    cell = stage.answers.cell(drum_list, snare).center().toPoint()
    QTest.mouseClick(stage.answers, Qt.MouseButton.LeftButton, pos=cell)
    assert stage.panels.currentWidget() is stage.talk
    wait(lambda: stage.sets.cures is not None)
    cures = stage.sets.cures
    assert cures is not None
    row = next(i for i, one in enumerate(cures.cures) if one.kind == "strainer")
    stage.talk.list.setCurrentRow(row)
    stage.talk.use.click()
    drum = next(e.drum for e in window.document.workshop.entries if e.drum.name == "Pit snare")
    assert drum.wires is not None
    assert drum.wires.pull_n in (45.0, 60.0)
    QTest.keyClick(stage.answers, Qt.Key.Key_Left)
    assert stage.sets.pair == (drum_list, snare - 1) or stage.sets.pair == (drum_list, snare - 2)


def test_a_tone_in_the_room_against_the_wires(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.talk.tone.edited.emit(184.0)
    assert "Pit snare" in stage.talk.tone_says.text()
    stage.talk.tone.edited.emit(None)
    assert stage.talk.tone_says.text() == ""


def test_a_drum_is_put_elsewhere_and_answers_otherwise(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    names = [one.name for one in stage.sets.members]
    floor, snare = names.index("Floor tom"), names.index("Pit snare")
    found = stage.sets.solved_set
    assert found is not None
    before = found.answers[floor][snare]
    at = stage.kit.shape(floor).center().toPoint()
    QTest.mouseClick(stage.kit, Qt.MouseButton.LeftButton, pos=at)
    QTest.keyClick(stage.kit, Qt.Key.Key_Left)
    QTest.keyClick(stage.kit, Qt.Key.Key_Left)
    seat = kit_of(window).seat(stage.sets.members[floor].seat.drum_id)
    assert seat is not None
    assert seat.x_m == pytest.approx(0.5)
    ready(stage, wait)
    found = stage.sets.solved_set
    assert found is not None
    after = found.answers[floor][snare]
    assert before is not None
    assert after is not None
    assert after.level_db > before.level_db  # nearer
    at = stage.kit.shape(floor).center().toPoint()
    QTest.mousePress(stage.kit, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(stage.kit, at + QPointF(30, 0).toPoint())
    QTest.mouseRelease(stage.kit, Qt.MouseButton.LeftButton, pos=at + QPointF(30, 0).toPoint())
    moved = kit_of(window).seat(seat.drum_id)
    assert moved is not None
    assert moved.x_m > 0.6


def test_a_set_is_made_changed_and_removed(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.new.click()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, DrumsDialog)
    for row in (0, 1, 3):
        dialog.table.rows.setData(
            dialog.table.rows.index(row, IN_SET), Qt.CheckState.Checked.value,
            Qt.ItemDataRole.CheckStateRole,
        )  # fmt: skip
    dialog.table.rows.setData(
        dialog.table.rows.index(1, LOCKED), Qt.CheckState.Checked.value,
        Qt.ItemDataRole.CheckStateRole,
    )  # fmt: skip
    dialog.name.line.setText("Foyer")
    dialog.accept()
    kit = stage.sets.kit
    assert kit is not None
    assert kit.name == "Foyer"
    assert len(kit.seats) == 3
    assert [seat.locked for seat in kit.seats] == [False, True, False]
    assert kit.seats[0].apart  # a snare drum
    assert APART
    ready(stage, wait)
    window.document.undo()
    assert "Foyer" not in [one.name for one in window.document.workshop.kits]
    window.document.redo()
    stage.sets.choose(kit.id)
    stage.remove.click()
    assert [one.name for one in window.document.workshop.kits] == [
        "Pit kit", "Stage kit", "Field line",
    ]  # fmt: skip


def test_a_drum_that_goes_leaves_its_sets_and_comes_back_to_them(
    window: MainWindow, wait: Wait
) -> None:
    stage = opened(window, wait)
    window.document.select(2)
    window.document.remove_drum()
    assert kit_of(window).seat(2) is None
    assert "Rack tom" not in [one.name for one in stage.sets.members]
    window.document.undo()
    assert kit_of(window).seat(2) is not None


def test_no_set_and_no_drum_say_what_to_do(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    document = window.document
    document.commit("none", replace(document.workshop, kits=()))
    assert stage.first.isVisibleTo(stage)
    assert not stage.picture.isVisibleTo(stage)
    document.undo()
    document.commit("empty", document.workshop.with_kit(replace(kit_of(window), seats=())))
    assert stage.sets.members == ()
    assert stage.picture.shown is None


def test_sheets_and_the_file_of_a_set(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage = opened(window, wait)
    for name, begins in (("a.pdf", b"%PDF"), ("a.svg", b"<?xml"), ("a.md", b"# Pit kit")):
        path = tmp_path / name
        monkeypatch.setattr(window.commands.asking, "save", lambda *given, path=path: path)
        stage.sheet.click()
        assert path.read_bytes().startswith(begins)
    text = (tmp_path / "a.md").read_text()
    for name in ("Bass", "Floor tom", "Rack tom", "Pit snare"):
        assert f"| {name} |" in text
    assert "keep your face clear" in text
    path = tmp_path / "pit.set.json"
    monkeypatch.setattr(window.commands.asking, "save", lambda *given: path)
    stage.sheet.click()
    whole = load_set(path)
    assert [one.name for one in whole.members] == [one.name for one in stage.sets.members]
    assert [one.drum for one in whole.members] == [one.drum for one in stage.sets.members]
    assert whole.wish == kit_of(window).wish


def test_a_groove_is_heard_before_and_after(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.picture.setFocus()
    QTest.keyClick(stage.picture, Qt.Key.Key_G)
    wait(lambda: len(window.listener.last) == 1)
    QTest.keyClick(stage.picture, Qt.Key.Key_G, Qt.KeyboardModifier.ShiftModifier)
    wait(lambda: len(window.listener.last) == 2)
    first, second = window.listener.last
    assert "Pit kit, now, medium" in first.name
    assert "Pit kit, plan, medium" in second.name
    assert first.sound.seconds > 3.0
    window.commands.sound.play_other()
    assert window.listener.last[-1].name == first.name


def test_a_locked_drum_is_not_dragged(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    kit = kit_of(window)
    seats = tuple(replace(seat, locked=seat.drum_id == 2) for seat in kit.seats)
    stage.sets.change("lock", replace(kit, seats=seats))
    ready(stage, wait)
    names = [one.name for one in stage.sets.members]
    drum_list = names.index("Rack tom")
    before = stage.picture.spot(drum_list)
    at = stage.picture.note_rect(drum_list).center().toPoint()
    QTest.mousePress(stage.picture, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(stage.picture, at + QPointF(0, -30).toPoint())
    assert stage.picture.spot(drum_list) == before
    QTest.mouseRelease(stage.picture, Qt.MouseButton.LeftButton, pos=at)
    stage.picture.drag(CHORD, NOTE, 60.0)
    assert stage.picture.spot(drum_list) == before
    stage.picture.let_go()


def test_copied_tables_hold_what_is_seen(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    assert len(stage.picture.table()) == 5
    assert len(stage.answers.table()) == 5
    assert len(stage.kit.table()) == 4
    assert len(stage.hear.levels.table()) == 4


def test_an_entry_knows_the_sets_of_its_drum(window: MainWindow, wait: Wait) -> None:
    opened(window, wait)
    window.document.select(2)
    wait(lambda: window.bench.settled is not None)
    window.actions_by_id["keep"].trigger()
    dialog = window.commands.hands.dialog
    QTest.keyClick(dialog, Qt.Key.Key_Return)
    entry = window.document.workshop.entry(2)
    assert entry is not None
    assert tuple(entry.kept)[-1].sets == ("Pit kit", "Stage kit")
    found = window.document.find_kept("stage kit")
    assert (2, len(entry.kept) - 1) in [(hit.drum_id, hit.position) for hit in found]


def test_a_set_file_comes_in_with_its_drums(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    stage = opened(window, wait)
    path = tmp_path / "pit.set.json"
    before = window.document.workshop
    save_set(path, kit_of(window), {entry.id: entry.drum for entry in before.entries})
    window.commands.take_file(path)
    assert len(window.document.workshop.entries) == len(before.entries)  # the very same drums
    assert stage.sets.kit is not None
    assert stage.sets.kit.name == "Pit kit 2"
    window.document.undo()
    text = path.read_text().replace('"depth_m": 0.2032', '"depth_m": 0.21')
    path.write_text(text)
    window.commands.take_file(path)
    added = window.document.workshop.entries[len(before.entries) :]
    assert [entry.drum.name for entry in added] == ["Rack tom 2"]
    path.write_text("{}")
    window.commands.take_file(path)
    assert "pit.set.json" in window.message.text.text()
    window.message.take_back("file")
    ready(stage, wait)


def test_a_workshop_brings_its_sets_along(tmp_path: Path) -> None:
    from kesselton.app.workshop.transfer import import_workshop
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.store.workshop.workshop import WorkshopFile

    demo = demo_workshop()
    path = tmp_path / "other.kesselton"
    WorkshopFile.create(path, demo).close()
    made, _, _ = import_workshop(demo, path)
    assert [kit.name for kit in made.kits][3:] == ["Pit kit 2", "Stage kit 2", "Field line 2"]
    names = {entry.id: entry.drum.name for entry in made.entries}
    assert {names[seat.drum_id] for seat in made.kits[3].seats} == {
        "Bass 2", "Floor tom 2", "Rack tom 2", "Pit snare 2",
    }  # fmt: skip


def test_moves_made_while_one_is_worked_out_are_all_made(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    picture, before = stage.picture, pitches(window)
    picture.setFocus()
    picture.choose(0)
    notes = [picture.spot(i).note for i in range(3)]
    for number in range(3):
        picture.choose(number)
        for _ in range(2):
            QTest.keyClick(picture, Qt.Key.Key_Up)  # each lets go
    assert [picture.spot(i).note - notes[i] for i in range(3)] == pytest.approx([20, 20, 20])
    ready(stage, wait)
    found = stage.sets.solved_set
    assert found is not None
    for i in range(3):
        assert found.spots[i].note - notes[i] == pytest.approx(20.0, abs=2.0)
    for _ in range(6):
        window.document.undo()
    assert pitches(window) == before


def test_a_drum_changed_meanwhile_is_not_overwritten(window: MainWindow, wait: Wait) -> None:
    stage = opened(window, wait)
    stage.use_plan()
    entry = window.document.workshop.entry(2)
    assert entry is not None
    window.document.select(2)
    mine = entry.drum.with_setting("batter", entry.drum.batter.at_pitch(180.0))
    window.document.replace_drum("mine", mine)
    wait(lambda: not stage.sets.setting)
    after = window.document.workshop.entry(2)
    assert after is not None
    assert after.drum == mine
    assert "changed meanwhile" in stage.plan.form.fault.text()
