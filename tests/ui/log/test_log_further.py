"""Drawer, pictures and sounds, what is due, what follows, cases, and a drum that moves house."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QDate, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from kesselton.app.bench.learner import OwnDrum
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import InputError
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.library import head_size_in
from kesselton.core.instrument.reading import Reading
from kesselton.core.log.turns import turn_lines
from kesselton.core.pitch import cents_between
from kesselton.store.workshop.attachments import digest_of
from kesselton.store.workshop.holdings import Shelved
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.log.due_dialog import DueDialog
from kesselton.ui.log.keep_dialog import KeepDialog
from kesselton.ui.log.own_words import own_words
from kesselton.ui.log.picture_dialog import PictureDialog, image_of
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait


def log_of(window: MainWindow) -> tuple[Kept, ...]:
    assert window.document.entry is not None
    return tuple(window.document.entry.kept)


def on_bench(window: MainWindow, wait: Wait, number: int, stage: str = "tuning") -> None:
    window.document.select(number)
    window.choose_page(stage)
    wait(lambda: window.bench.settled is not None)


def asked(window: MainWindow) -> KeepDialog:
    window.actions_by_id["keep"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, KeepDialog)
    return dialog


def test_a_stroke_and_a_picture_are_kept_and_seen_again(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    on_bench(window, wait, 2)
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    photo = tmp_path / "edge.png"
    image = QImage(60, 40, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.darkGreen)
    assert image.save(str(photo))
    monkeypatch.setattr(window.commands.asking, "open_many", lambda *given: [photo])
    dialog = asked(window)
    assert dialog.sound.isChecked()
    dialog.attach.click()
    assert "edge.png" in dialog.attached.text()
    QTest.keyClick(dialog, Qt.Key.Key_Return)
    one = log_of(window)[-1]
    assert [(x.name, x.kind) for x in one.attached] == [
        ("edge.png", "png"),
        ("stroke.flac", "flac"),
    ]
    content = window.document.attached(one.attached[0].digest)
    assert content == photo.read_bytes()
    assert one.attached[0].digest == digest_of(content)
    window.choose_page("log")
    window.pages.log.shown.emit(one.attached[0])
    seen = window.commands.hands.dialog
    assert isinstance(seen, PictureDialog)
    assert (seen.picture.image.width(), seen.picture.image.height()) == (60, 40)
    seen.reject()
    window.pages.log.shown.emit(one.attached[1])
    assert window.listener.last[-1].name == "log: stroke.flac"
    assert len(window.listener.last[-1].sound.samples) > 40_000
    with pytest.raises(InputError, match="damaged"):
        image_of("x.png", content[:30])


def test_what_is_no_picture_is_refused_and_nothing_is_kept(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    on_bench(window, wait, 2)
    words = tmp_path / "words.png"
    words.write_text("no picture")
    monkeypatch.setattr(window.commands.asking, "open_many", lambda *given: [words])
    before = len(log_of(window))
    dialog = asked(window)
    dialog.attach.click()
    QTest.keyClick(dialog, Qt.Key.Key_Return)
    assert len(log_of(window)) == before
    assert "not a picture or sound" in window.message.text.text()


def test_shows_are_noted_and_a_fitted_head_is_counted_down(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2)
    drum = window.document.drum
    assert drum is not None
    name, size = drum.batter.head.name, head_size_in(drum)
    shop = window.document.workshop
    window.document.commit("stock", shop.with_shelved(Shelved(name, size, 3)))
    wait(lambda: window.bench.settled is not None)
    dialog = asked(window)
    dialog.shows.setText("six")
    QTest.keyClick(dialog, Qt.Key.Key_Return)
    assert dialog.isVisible()
    assert "“six” is not a number" in dialog.fault.text()
    dialog.shows.setText("6")
    dialog.event_.setCurrentIndex(1)  # fitted
    dialog.side.setCurrentIndex(1)  # the batter
    QTest.keyClick(dialog, Qt.Key.Key_Return)
    one = log_of(window)[-1]
    assert (one.event, one.side, one.shows) == ("fitted", "batter", 6.0)
    assert window.document.workshop.shelved(name, size).stock == 2
    window.document.undo()
    assert window.document.workshop.shelved(name, size).stock == 3


def test_what_is_due_before_a_date_and_for_the_calendar(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "due"
    monkeypatch.setattr(window.commands.asking, "save", lambda *given: path)
    window.actions_by_id["due"].trigger()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, DueDialog)
    dialog.before.setDate(QDate(2030, 1, 1))
    wait(lambda: bool(dialog.shown))
    every = [(due.drum.name, due.outlook.life.side) for due in dialog.shown]
    assert ("Pit snare", "batter") in every
    firsts = [due.first for due in dialog.shown]
    assert firsts == sorted(firsts)  # type: ignore[type-var]
    dialog.calendar.click()
    text = path.with_name("due.ics").read_text()
    assert text.count("BEGIN:VEVENT") == len(every)
    assert "Pit snare" in text
    dialog.before.setDate(QDate(2000, 1, 1))
    assert dialog.shown == []
    assert not dialog.calendar.isEnabled()
    dialog.reject()


def test_what_follows_leads_to_its_entries_and_two_are_compared(
    window: MainWindow, wait: Wait
) -> None:
    on_bench(window, wait, 1, "log")
    log = window.pages.log
    wait(lambda: log.follows.count() > 2)
    said = [log.follows.item(n).text() for n in range(log.follows.count())]
    assert any("On the first day pitch drops" in text for text in said)
    assert any("a tougher head" in text for text in said)
    assert any("shows on this head" in text for text in said)
    row = next(n for n, text in enumerate(said) if "On the first day" in text)
    log.follows.itemActivated.emit(log.follows.item(row))
    first = log.chosen
    log.follows.itemActivated.emit(log.follows.item(row))
    assert first is not None
    assert log.chosen is not None
    assert first.event == "fitted"
    assert log.chosen.event == "next_day"
    assert first.on in log.line._marked
    log.choose(0)
    log.compare.click()
    log.choose(8)
    assert (
        f"Compared with Pit snare on {log_of(window)[0].on.replace('T', ' ')}" in log.changes.title
    )
    window.document.select(2)  # any two, of whatever drums
    assert "Compared with Pit snare" in log.changes.title
    assert "batter lug pitch" in log.against.text()
    log.compare.click()
    assert "Changes since previous entry" in log.changes.title


def test_past_cases_and_the_most_alike_strokes(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2, "log")
    log = window.pages.log
    log.which.setCurrentIndex(1)
    log.which.activated.emit(1)
    assert log.list.count() >= 5
    far = [float(log.list.item(n).text().split()[0]) for n in range(log.list.count())]
    assert far == sorted(far)
    log.which.setCurrentIndex(2)
    log.which.activated.emit(2)
    assert log.list.count() == 10  # no other tom of that size is in this store
    shop = window.document.workshop
    twin = replace(shop.entries[1], id=shop.next_id(),
                   drum=replace(shop.entries[1].drum, name="Second tom"))  # fmt: skip
    window.document.commit("twin", replace(shop, entries=(*shop.entries, twin)))
    window.document.select(twin.id)
    log.which.activated.emit(2)
    others = [n for n in range(log.list.count()) if "Rack tom" in log.list.item(n).text()]
    assert others
    log.list.itemActivated.emit(log.list.item(others[0]))
    assert window.document.current_id == twin.id  # it stays on the bench
    assert log.title.text().startswith("Rack tom")
    assert "Compared with the drum on the bench" in log.changes.title
    wait(lambda: window.bench.settled is not None)
    assert log.title.text().startswith("Rack tom")  # an answer that arrives does not wipe it
    # nothing here touches the drum's own entries
    assert not log.remove.isEnabled()
    assert not log.leave.isEnabled()
    before = log_of(window)
    case = log._case
    assert case is not None
    log.back.click()
    assert log_of(window) == before
    drum = window.document.drum
    assert drum is not None
    assert drum.name == "Second tom"
    assert drum.batter == case.drum.batter
    assert "start from Rack tom" in window.document.undo_text
    log.choose(0)
    assert log.remove.isEnabled()
    assert not log.title.text().startswith("Rack tom")


def test_a_drum_that_is_added_is_shown_how_one_like_it_was_set(
    window: MainWindow, wait: Wait
) -> None:
    on_bench(window, wait, 2)
    window.commands.drums.add_like()
    assert window.document.drum is not None
    name = window.document.drum.name
    assert name != "Rack tom"
    assert window.notice.isVisible()
    assert "Rack tom" in window.notice.text.text()
    window.notice.offer.click()
    assert window.pages.page_name == "log"
    log = window.pages.log
    assert log.title.text().startswith("Rack tom")
    assert "Compared with the drum on the bench" in log.changes.title
    assert log.list.currentRow() >= 0
    window.document.undo()
    assert name not in [entry.drum.name for entry in window.document.workshop.entries]


def test_a_drum_unlike_all_others_is_offered_nothing(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2)
    window.notice.hide()
    drum = window.document.drum
    assert drum is not None
    other = replace(drum, shell=replace(drum.shell, head_diameter_m=0.4572, contact_radius_m=None))
    window.commands.drums._put(other, "add drum")
    assert not window.notice.offer.isVisible()


def test_everything_learned_can_be_forgotten(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2, "log")
    log = window.pages.log
    wait(lambda: "Fundamental learned" in log.own.text())
    assert "is an outlier" in log.own.text()
    log.forget.click()
    wait(lambda: window.pages.learner.own is not None)
    assert "Fundamental learned" not in log.own.text()
    assert all(one.left_out for one in log_of(window))
    window.document.undo()
    wait(lambda: "Fundamental learned" in log.own.text())
    window.choose_page("tuning")
    rows = window.tuning.readout.table()
    assert any(row[0].startswith("Log (9 entries)") for row in rows)


def test_the_drawer_keeps_the_log_beside_every_stage(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2, "clear")
    assert window.drawer is None
    window.actions_by_id["drawer"].trigger()
    assert window.drawer is not None
    assert window.drawer.isVisibleTo(window)
    assert window.drawer.list.count() == 10
    window.document.select(3)
    assert log_of(window)[-1].on[:10] in window.drawer.title.text()
    for stage in ("measure", "heads", "tuning", "fit", "gauges"):
        window.choose_page(stage)
        assert window.drawer.isVisibleTo(window)
    window.drawer.open.click()
    assert window.page_name == "log"
    window.actions_by_id["drawer"].trigger()
    assert not window.drawer.isVisibleTo(window)


def test_a_drum_moves_house_with_its_whole_log(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    on_bench(window, wait, 2)
    path = tmp_path / "tom.kesselton"
    monkeypatch.setattr(window.commands.asking, "save", lambda *given: path)
    window.commands.logs.export_log()
    before = log_of(window)
    with WorkshopFile.open(path) as file:
        (alone,) = file.load(at_once=True).entries
        assert tuple(alone.kept) == before
        assert len(file.contents()) == sum(len(one.attached) for one in before)
    window.commands.read_file(path)
    names = [entry.drum.name for entry in window.document.workshop.entries]
    assert names[-1] == "Rack tom 2"
    came = window.document.workshop.entries[-1]
    assert tuple(came.kept) == before
    lines = tmp_path / "tom.jsonl"
    monkeypatch.setattr(window.commands.asking, "save", lambda *given: lines)
    window.commands.logs.export_log()
    window.document.change_entry("less", kept=before[:4])
    window.commands.read_file(lines)
    back = tuple(replace(one, attached=()) for one in before)
    assert tuple(replace(one, attached=()) for one in log_of(window)) == back
    window.commands.read_file(lines)  # once more doubles nothing
    assert len(log_of(window)) == len(before)
    lines.write_text("{}\n")
    window.commands.read_file(lines)
    assert "line 1" in window.message.text.text()


def test_a_long_log_is_shown_from_its_newest_end(window: MainWindow, wait: Wait) -> None:
    on_bench(window, wait, 2, "log")
    one = log_of(window)[0]
    many = tuple(
        replace(one, on=f"{2001 + n // 360}-{1 + n // 30 % 12:02d}-{1 + n % 28:02d}T10:00",
                what_for="kazoo" if n == 7 else f"evening {n}")
        for n in range(450)
    )  # fmt: skip
    window.document.change_entry("many", kept=many)
    log = window.pages.log
    assert len(log.line.log) == 400
    assert log.chosen == many[-1]
    log.finder.setText("kazoo")
    log.list.itemActivated.emit(log.list.item(0))
    assert len(log.line.log) == 450  # what was found lies further back: all of it is shown
    assert log.chosen is not None
    assert log.chosen.what_for == "kazoo"
    log.remove.click()
    assert len(log_of(window)) == 449
    assert log.chosen not in (None, many[-1])


def test_how_many_notes_of_turns_are_of_the_head_that_lies_there_is_said() -> None:
    drum = demo_workshop().entries[1].drum

    def noted(day: int, hz: float, **more: object) -> Kept:
        read = (Reading("turns", 1.0 + 0.1 * day, "batter", hz=hz),)
        return replace(Kept(f"2026-11-0{day}T10:00", drum, readings=read), **more)  # type: ignore[arg-type]

    def said(*log: Kept) -> str:
        return own_words(OwnDrum(drum, None, turn_lines(drum, log), ()), (1500.0, 1700.0))

    fitted = Kept("2026-11-05T10:00", drum, event="fitted", side="batter")
    assert "Batter, from 2 turn readings:" in said(noted(1, 250.0), noted(2, 270.0))
    both = said(noted(1, 250.0), fitted, noted(6, 270.0))
    assert "Batter, from 2 turn readings, 1 with the current head:" in both
    none = said(noted(1, 250.0), fitted)
    assert "Batter, from 1 turn reading, none with the current head:" in none
    line = turn_lines(drum, (noted(1, 250.0), noted(2, 270.0)))["batter"]
    cents = cents_between(1500.0**0.5, (1500.0 + line.gained(0.25)) ** 0.5)
    assert f"raises the lug pitch by {cents:.0f} cents" in said(noted(1, 250.0), noted(2, 270.0))
    assert "N/m" not in both


def test_a_head_that_nobody_noted_is_asked_about_and_the_answer_kept(
    window: MainWindow, wait: Wait
) -> None:
    on_bench(window, wait, 2, "log")
    log = window.pages.log
    wait(lambda: "Fundamental learned" in log.own.text())
    assert not log.from_then_on.isVisible()
    like = next(one for one in log_of(window)[::-1] if one.heard_hz is not None)
    assert like.heard_hz is not None
    off = (0.0, 2.0, -1.0, 1.0, 52.0, 50.0, 51.0, 49.0)  # cents
    made = tuple(
        replace(
            like, on=f"2026-11-{day + 10:02d}T10:00", event="set", side="",
            heard_hz=like.heard_hz * 2.0 ** (cents / 1200.0),
        )
        for day, cents in enumerate(off)
    )  # fmt: skip
    when = made[4].on
    log.changed.emit("different head", made)
    wait(lambda: "Did something change on" in log.own.text())
    QTest.mouseClick(log.from_then_on, Qt.MouseButton.LeftButton)
    wait(lambda: log.own.text() != "" and "Did something change on" not in log.own.text())
    assert [one.left_out for one in log_of(window)] == [one.on < when for one in made]
    assert not log.from_then_on.isVisible()
    window.document.undo()
    wait(lambda: "Did something change on" in log.own.text())
