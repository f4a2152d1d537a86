"""The bench, driven as a technician drives it: by mouse and keyboard."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pypdf
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from kesselton.app.host.settings import Settings, SettingsStore, load_settings
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.pitch import cents_between
from kesselton.core.prediction.prediction import predict
from kesselton.store.formats.drum_file import load_drum, save_drum
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.drum_list import drum_list
from kesselton.ui.menu.actions import SPECS, handler_of
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.fields import Field
from kesselton.ui.parts.widgets.messages import Unexpected
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.head_text import read_extras, write_extras
from kesselton.ui.printing.sheet import print_sheet
from kesselton.ui.tuning.ladder_picture import Axis
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.pages import PREPARED
from kesselton.ui.window.start import open_window
from tests.ui.conftest import settled

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


def fundamental(window: MainWindow) -> float:
    assert window.result is not None
    return window.result.prediction.fundamental_hz


def type_into(field: Field, text: str) -> None:
    field.line.setFocus()
    field.line.selectAll()
    QTest.keyClicks(field.line, text)
    QTest.keyClick(field.line, Qt.Key.Key_Return)


def drag(
    widget: QWidget, start: QPointF, stop: QPointF, wait: Wait, after_move: Callable[[], bool]
) -> None:
    QTest.mousePress(widget, LEFT, Qt.KeyboardModifier.NoModifier, start.toPoint())
    for step in range(1, 5):
        middle = start + (stop - start) * step / 4
        event = QMouseEvent(
            QMouseEvent.Type.MouseMove, middle, widget.mapToGlobal(middle),
            Qt.MouseButton.NoButton, LEFT, Qt.KeyboardModifier.NoModifier,
        )  # fmt: skip
        QApplication.sendEvent(widget, event)
    wait(after_move)
    QTest.mouseRelease(widget, LEFT, Qt.KeyboardModifier.NoModifier, stop.toPoint())


def test_the_screen_shows_what_the_core_computes(window: MainWindow, wait: Wait) -> None:
    drum = window.document.drum
    assert drum is not None
    found = predict(drum)
    assert fundamental(window) == pytest.approx(found.fundamental_hz, rel=1e-9)
    assert (
        window.tuning.readout.note.text()
        == wording.note_words(found.fundamental_hz, 440.0, False).split()[0]
    )
    assert wording.hz_words(found.fundamental_hz) in window.tuning.readout.sure.text()
    wait(lambda: len(window.drum_list.notes) == 6)
    assert window.drum_list.notes[1] == window.tuning.readout.note.text()


def test_what_is_to_be_set_stands_over_what_it_will_do(window: MainWindow, wait: Wait) -> None:
    """The answer stood under fourteen rows of prose."""
    settled(window, wait)
    readout = window.tuning.readout
    below = [readout.decay, readout.sweet, *readout.folds.values()]
    wait(lambda: all(one.geometry().top() > 0 for one in below))
    assert readout.targets.geometry().bottom() < min(one.geometry().top() for one in below)
    captions = [
        item.widget().text()  # type: ignore[union-attr]
        for row in range(3)
        if (item := readout.table_grid.itemAtPosition(row, 0)) is not None
    ]
    assert captions[:2] == ["Set to", "Lug pitch"]
    assert readout.targets.geometry().top() < 140


def test_a_row_says_its_gist_and_stays_open_for_drums_of_its_kind(
    window: MainWindow, wait: Wait
) -> None:
    """By mouse anywhere on its line, by Enter on its title; kept with the settings."""
    window.show()
    settled(window, wait)
    readout = window.tuning.readout
    row = readout.folds["range"]
    wait(row.isVisible)
    assert not row.is_open
    assert "to" in row.gist.text()
    assert not row.body.isVisibleTo(readout)
    QTest.mouseClick(row, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(row.width() - 12, 8))
    assert row.is_open
    assert row.body.isVisibleTo(readout)
    assert "Highest" in [cells[0] for cells in row.rows]
    assert window.settings.opened == ("snare:range",)
    window.document.select(2)
    settled(window, wait)
    assert not readout.folds["range"].is_open
    window.document.select(1)
    settled(window, wait)
    again = readout.folds["range"]
    wait(again.isVisible)
    assert again.is_open
    again.button.setFocus()
    QTest.keyClick(again.button, Qt.Key.Key_Return)
    assert not again.is_open
    assert window.settings.opened == ()


def test_the_bars_are_the_figures(window: MainWindow, wait: Wait) -> None:
    settled(window, wait)
    wait(lambda: window.bench.further is not None and window.bench.speaks is not None)
    found, readout = window.result, window.tuning.readout
    assert found is not None
    at = found.prediction.partials.fundamental
    decay, sweet = readout.decay.table()[0][1], readout.sweet.table()[0][1]
    assert decay.startswith(wording.seconds_words(float(found.prediction.struck_t60_s[at])))
    speaks = window.bench.speaks
    assert speaks is not None
    assert speaks.low is not None
    assert sweet.startswith(wording.note_words(speaks.low.fundamental_hz, 440.0, False).split()[0])
    gist = readout.folds["sure"].gist.text()
    figures = [float(cells[1].split()[0]) for cells in readout.folds["sure"].rows]
    total = float(found.prediction.uncertainty_cents[at])
    assert math.hypot(*figures) == pytest.approx(total, abs=2.0)
    assert gist.count(",") <= 2


def test_dragging_a_grip_previews_and_letting_go_is_one_step(
    window: MainWindow, wait: Wait
) -> None:
    ladder, before = window.tuning.ladder, window.document.drum
    start = ladder.grip_rect("batter").center()
    shown = fundamental(window)
    drag(ladder, start, start + QPointF(0, 40), wait, lambda: fundamental(window) < shown * 0.97)
    assert window.document.drum is not before
    settled(window, wait)
    drum = window.document.drum
    assert drum is not None
    assert drum.batter.reading is not None
    assert cents_between(drum.batter.reading.hz, 261.63) > 100.0
    assert window.document.undo_text == "batter lug pitch"
    assert ladder.grip_rect("batter").center().y() == pytest.approx(start.y() + 40, abs=1.0)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.document.drum == before
    settled(window, wait)
    assert fundamental(window) == pytest.approx(shown)
    QTest.keyClick(
        window,
        Qt.Key.Key_Z,
        Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
    )
    assert window.document.drum == drum


def test_the_rack_keeps_up_with_quick_changes(window: MainWindow, wait: Wait) -> None:
    """Changes that come faster than the drum list is worked out: the last one is what it shows."""
    for hz in (300.0, 220.0, 180.0, 240.0, 150.0):
        drum = window.document.drum
        assert drum is not None
        changed = drum.with_setting("batter", drum.batter.at_pitch(hz))
        window.document.replace_drum("pitch", changed)
        window.bench.predictor.ask_rack([(e.id, e.drum) for e in window.document.workshop.entries])
        QApplication.processEvents()
    settled(window, wait)
    wait(
        lambda: (
            len(window.drum_list.notes) == 8
            and window.drum_list.notes[1] == window.tuning.readout.note.text()
        )
    )


def test_outside_the_usable_range_a_caution_stands(window: MainWindow, wait: Wait) -> None:
    assert not window.tuning.readout.caution.isVisibleTo(window)
    window.tuning.choose_part("batter")
    type_into(window.tuning.forms.batter.pitch, "500 Hz")
    settled(window, wait)
    assert (
        "Batter above its usable range (hoop). Rods, hoops and ropes under load"
        in window.tuning.readout.caution.text()
    )
    type_into(window.tuning.forms.batter.pitch, "60 Hz")
    settled(window, wait)
    assert "Batter below its usable range (collar):" in window.tuning.readout.caution.text()
    type_into(window.tuning.forms.batter.pitch, "95 Hz")  # borne, at a price
    settled(window, wait)
    assert "Batter past “pitch glide”:" in window.tuning.readout.caution.text()
    type_into(window.tuning.forms.batter.pitch, "C4")
    settled(window, wait)
    assert not window.tuning.readout.caution.isVisibleTo(window)


def test_keys_move_a_grip_by_cents(window: MainWindow, wait: Wait) -> None:
    ladder = window.tuning.ladder
    QTest.keyClick(window, Qt.Key.Key_F4)
    assert ladder.hasFocus()
    pitch = window.document.drum.batter.reading.hz  # type: ignore[union-attr]
    for key, modifier, cents in (
        (Qt.Key.Key_Up, Qt.KeyboardModifier.NoModifier, 5.0),
        (Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier, -1.0),
        (Qt.Key.Key_PageDown, Qt.KeyboardModifier.NoModifier, -100.0),
    ):
        QTest.keyClick(ladder, key, modifier)
        settled(window, wait)
        now = window.document.drum.batter.reading.hz  # type: ignore[union-attr]
        assert cents_between(pitch, now) == pytest.approx(cents, abs=1e-6)
        pitch = now
    QTest.keyClick(ladder, Qt.Key.Key_Right)
    QTest.keyClick(ladder, Qt.Key.Key_Right)
    assert ladder.column == "resonant"
    QTest.keyClick(ladder, Qt.Key.Key_PageDown)
    settled(window, wait)
    assert window.document.undo_text == "snare side lug pitch"


def test_a_rung_names_itself_by_pointer_and_by_key(window: MainWindow, wait: Wait) -> None:
    wait(lambda: window.bench.further is not None)  # nothing is laid out anew after
    ladder, answer = window.tuning.ladder, window.result
    assert answer is not None
    index = answer.prediction.partials.find(1, 1, "lower")
    QTest.mouseMove(ladder, ladder.rung_rect(index).center().toPoint())
    wait(lambda: ladder.rung == index)
    assert window.tuning.readout.partial.text().startswith("(1,1)")
    assert "1 nodal diameter, 1 nodal circle" in window.tuning.readout.partial_facts.text()
    assert "1 nodal diameter, 1 nodal circle;" in window.tuning.readout.partial_facts.text()
    window.commands.focus_wanted.emit("ladder")
    QTest.keyClick(ladder, Qt.Key.Key_Right)
    assert ladder.rung == answer.prediction.partials.fundamental
    QTest.keyClick(ladder, Qt.Key.Key_Up)
    assert ladder.rung == answer.prediction.partials.fundamental + 1


def test_the_section_is_the_form(window: MainWindow, wait: Wait) -> None:
    section = window.tuning.section
    for part in ("shell", "resonant", "beater", "batter"):
        centre = section.zone(part).center()
        if part == "beater":
            centre = section.zone(part).bottomLeft() + QPointF(9, -9)
        QTest.mouseClick(section, LEFT, Qt.KeyboardModifier.NoModifier, centre.toPoint())
        assert section.part == part
        assert window.tuning.forms.currentWidget() is getattr(window.tuning.forms, part)
    section.setFocus()
    QTest.keyClick(section, Qt.Key.Key_Down)
    assert section.part == "shell"
    before = fundamental(window)
    type_into(window.tuning.forms.shell.shell_depth, "8 1/2")
    settled(window, wait)
    assert window.document.drum.shell.depth_m == pytest.approx(0.2159)  # type: ignore[union-attr]
    assert fundamental(window) != before
    type_into(window.tuning.forms.shell.diameter, "355 mm")
    settled(window, wait)
    assert window.document.drum.shell.head_diameter_m == 0.355  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("part", "field", "text", "complaint"),
    [
        (
            "shell",
            "shell_depth",
            "-3",
            ("-3 is outside the range for drums. Use 1.18 in to 59.06 in"),
        ),
        ("shell", "diameter", "900 in", "900 in is outside the range for drums."),
        ("shell", "rods", "7.5", "not a whole number"),
        ("shell", "name", "  ", "The drum has no name"),
        ("batter", "plies", "0 mil", "0 mil is not a possible ply thickness."),
        ("batter", "plies", "NaN", "is not a length"),
        ("batter", "coating", "9", "out of range"),
        ("batter", "pitch", "H4", "neither a note nor a frequency"),
        ("batter", "pitch", "1900", "needs a tension"),
        ("batter", "tension", "50000", "Its film yields near"),
        ("batter", "addition", "star 4 in", "is not a dot, ring or port"),
        ("batter", "addition", "dot 40 in, 7 mil", "larger than the drum"),
        ("beater", "place", "120", "out of range"),
    ],
)
def test_bad_input_is_told_at_the_field_and_nothing_is_lost(
    window: MainWindow, wait: Wait, part: str, field: str, text: str, complaint: str
) -> None:
    before = window.document.workshop
    window.tuning.choose_part(part)
    target = getattr(getattr(window.tuning.forms, part), field)
    type_into(target, text)
    assert complaint in target.fault.text()
    assert target.line.text() == text  # kept for correction
    assert window.document.workshop == before
    QTest.keyClick(target.line, Qt.Key.Key_Escape)
    assert target.fault.text() == ""
    assert target.line.text() != text


def test_choosing_and_making_heads(window: MainWindow, wait: Wait) -> None:
    window.tuning.choose_part("batter")
    form = window.tuning.forms.batter
    box = form.head.box
    box.setCurrentIndex(box.findText("two-ply 7 + 7 mil, clear"))
    box.activated.emit(box.currentIndex())
    settled(window, wait)
    assert len(window.document.drum.batter.head.plies_m) == 2  # type: ignore[union-attr]
    assert form.plies.line.text() == "7 + 7 mil"
    type_into(form.plies, "0.3 mm")
    settled(window, wait)
    head = window.document.drum.batter.head  # type: ignore[union-attr]
    assert head.plies_m == (pytest.approx(0.0003),)
    assert head.name == "single 11.81 mil"
    type_into(form.addition, "dot 4 in, 7 mil; ring 11 to 13 in, 10 mil")
    settled(window, wait)
    assert len(window.document.drum.batter.head.additions) == 2  # type: ignore[union-attr]
    assert "(custom)" in box.currentText()
    type_into(form.tension, "2500")
    settled(window, wait)
    assert window.document.drum.batter.tension_n_per_m == 2500.0  # type: ignore[union-attr]
    assert form.pitch.value == pytest.approx(window.result.prediction.lug_pitches_hz[0])  # type: ignore[union-attr]


def test_additions_are_written_as_they_are_read() -> None:
    for metric in (False, True):
        made = read_extras(
            "dot 100 mm, 0.19 mm; ring 280 mm to 330 mm, 10 mil; port 120 mm", metric, None
        )
        again = read_extras(write_extras(*made, metric), metric, None)
        assert again[1] == pytest.approx(made[1], abs=1.3e-4) == pytest.approx(0.12, abs=1.3e-4)
        for one, other in zip(made[0], again[0], strict=True):
            assert one.outer_radius_m == pytest.approx(other.outer_radius_m, abs=1.3e-4)
            assert one.thickness_m == pytest.approx(other.thickness_m, rel=0.01)


def test_a_drum_open_below_and_closed_again(window: MainWindow, wait: Wait) -> None:
    window.tuning.choose_part("resonant")
    QTest.mouseClick(window.tuning.forms.resonant.open, LEFT)
    settled(window, wait)
    assert window.document.drum.resonant is None  # type: ignore[union-attr]
    assert window.tuning.ladder.grip_hz("resonant") is None
    assert not window.tuning.forms.resonant.pitch.isEnabled()
    QTest.mouseClick(window.tuning.forms.resonant.open, LEFT)
    settled(window, wait)
    assert window.document.drum.resonant is not None  # type: ignore[union-attr]


def test_reading_condition_changes_the_tension_not_the_pitch(
    window: MainWindow, wait: Wait
) -> None:
    window.tuning.choose_part("batter")
    before = window.result.prediction.tensions_n_per_m[0]  # type: ignore[union-attr]
    box = window.tuning.forms.batter.condition.box
    box.setCurrentIndex(1)
    box.activated.emit(1)
    settled(window, wait)
    assert window.document.drum.batter.reading.other_head == "free"  # type: ignore[union-attr]
    assert window.result.prediction.tensions_n_per_m[0] != before  # type: ignore[union-attr]


def test_rack_units_a4_and_temperature(window: MainWindow, wait: Wait) -> None:
    QTest.mouseClick(window.drum_list, LEFT, pos=window.drum_list.row_rect(3).center().toPoint())
    settled(window, wait)
    assert window.document.drum.name == "Bass"  # type: ignore[union-attr]
    QTest.keyClick(window.drum_list, Qt.Key.Key_Up)
    assert window.document.drum.name == "Floor tom"  # type: ignore[union-attr]
    QTest.keyClick(window.drum_list, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [e.drum.name for e in window.document.workshop.entries][1] == "Floor tom"
    QTest.keyClick(window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    assert window.tuning.forms.shell.diameter.line.text() == "355.6 mm"
    settled(window, wait)
    note = window.tuning.readout.off.text()
    type_into(window.topbar.a4, "432 Hz")
    assert window.tuning.readout.off.text() != note
    type_into(window.topbar.a4, "300")
    assert "Use 415 to 466 Hz" in window.topbar.a4.fault.text()
    before = fundamental(window)
    type_into(window.topbar.temperature, "4 °C")
    settled(window, wait)
    assert {e.drum.air.temperature_c for e in window.document.workshop.entries} == {4.0}
    assert fundamental(window) != before
    assert load_settings(window.bench.settings_store.path)[0] == Settings(metric=True, a4_hz=432.0)


def test_beater_changes_how_loud_not_how_high(window: MainWindow, wait: Wait) -> None:
    answer = window.result
    assert answer is not None
    window.tuning.choose_part("beater")
    type_into(window.tuning.forms.beater.place, "0")
    wait(lambda: window.result is not answer)
    now = window.result
    assert now.prediction.partials.frequency_hz == pytest.approx(
        answer.prediction.partials.frequency_hz
    )
    diameters = now.prediction.partials.order > 0
    assert (now.prediction.levels_db[diameters] < -100.0).all()


def test_drum_files_in_and_out(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    target = tmp_path / "snare.drum.json"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    window.commands.drums.export()
    assert load_drum(target) == window.document.drum
    data = json.loads(target.read_text())
    data["name"] = "Guest snare"
    target.write_text(json.dumps(data))
    window.commands.asking.open = lambda *a: target  # type: ignore[method-assign]
    window.commands.import_file()
    assert window.document.drum.name == "Guest snare"  # type: ignore[union-attr]
    target.write_text("{]")
    before = window.document.workshop
    window.commands.import_file()
    assert "is not JSON" in window.message.text.text()
    assert window.message.isVisible()
    assert window.document.workshop == before
    save_drum(
        replace(window.document.drum, batter=window.document.drum.batter.at_tension(50000.0)),
        target,
    )  # type: ignore[union-attr,arg-type]
    window.commands.import_file()
    assert "tune lower or use a thicker head.</b>" in window.message.text.text()
    assert window.document.workshop == before


def test_the_sheet_says_what_the_screen_says(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    target = tmp_path / "sheet.pdf"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    QTest.mouseClick(window.tuning.readout.sheet, LEFT)
    wait(target.exists)
    assert str(target) in window.notice.text.text()
    pages = pypdf.PdfReader(target).pages
    assert len(pages) == 1
    text = " ".join(pages[0].extract_text().split())
    for wanted in (
        "Pit snare",
        "Tern Island Opera",
        "261.6 Hz",
        "349.2 Hz",
        wording.hz_words(window.result.prediction.fundamental_hz),  # type: ignore[union-attr]
        "keep your face clear",
    ):
        assert wanted in text
    window.commands.asking.save = lambda *a: tmp_path / "absent" / "x.pdf"  # type: ignore[method-assign]
    window.commands.papers.sheet_pdf()
    assert "cannot be written" in window.message.text.text()


def test_the_sheet_prints_on_one_page_at_its_size(window: MainWindow, tmp_path: Path) -> None:
    sheet = window.commands.papers._sheet()
    assert sheet is not None
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "print.pdf"))
    print_sheet(printer, sheet)
    page = pypdf.PdfReader(tmp_path / "print.pdf").pages[0]
    sizes: dict[str, float] = {}

    def seen(text: str, cm: list[float], tm: list[float], font: object, size: float) -> None:
        if text.strip():
            sizes.setdefault(" ".join(text.split()), abs(size * tm[3] * cm[3]))

    page.extract_text(visitor_text=seen)
    name = next(size for text, size in sizes.items() if text.startswith("Pit snare"))
    assert 15.0 < name < 32.0  # points on paper; painted at 24
    nowhere = QPrinter()
    nowhere.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    nowhere.setOutputFileName(str(tmp_path / "absent" / "x.pdf"))
    with pytest.raises(KesseltonError, match="does not respond"):
        print_sheet(nowhere, sheet)


def test_every_drum_of_the_demo_has_a_sheet(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    target = tmp_path / "sheet.pdf"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    for entry in window.document.workshop.entries:
        window.document.select(entry.id)
        target.unlink(missing_ok=True)
        window.commands.papers.sheet_pdf()
        wait(target.exists)
        text = " ".join(pypdf.PdfReader(target).pages[0].extract_text().split())
        assert entry.drum.name in text
        assert wording.side_word(entry.drum, "batter") in text
    window.tuning.choose_part("resonant")
    QTest.mouseClick(window.tuning.forms.resonant.open, LEFT)
    target.unlink()
    window.commands.papers.sheet_pdf()
    wait(target.exists)
    text = " ".join(pypdf.PdfReader(target).pages[0].extract_text().split())
    assert "Interval" not in text


def test_adding_a_drum_and_emptying_the_rack(window: MainWindow, wait: Wait) -> None:
    QTest.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert window.document.drum.name == "Pit snare 2"  # type: ignore[union-attr]
    assert window.tuning.section.part == "shell"
    for _ in range(9):
        window.commands.drums.remove()
    assert window.document.drum is None
    assert not window.tuning.forms.isEnabled()
    assert not window.tuning.readout.sheet.isEnabled()
    window.grab()  # the empty rack paints
    window.document.undo()
    settled(window, wait)
    assert window.tuning.forms.isEnabled()


def test_a_failed_save_is_told_and_can_be_tried_again(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(self: WorkshopFile, before: object, after: object) -> None:
        raise KesseltonError("The disk is full.", "Make room.")

    with monkeypatch.context() as patch:
        patch.setattr(WorkshopFile, "write", full)
        window.commands.drums.add_like()
    assert "The disk is full." in window.message.text.text()
    QTest.mouseClick(window.message.retry, LEFT)
    assert not window.message.isVisible()
    assert not window.document.unsaved


def test_a_file_that_is_open_brings_its_window_forward(window: MainWindow) -> None:
    assert open_window("demo", SettingsStore(Settings())) is window
    window.commands.asking.open = lambda *a: window.document.path  # type: ignore[method-assign]
    window.commands.workshop.open()
    assert not window.message.isVisible()


def test_what_nobody_expected_is_told(
    window: MainWindow, capsys: pytest.CaptureFixture[str]
) -> None:
    unexpected = Unexpected()
    window.watch(unexpected)
    unexpected._hook(ZeroDivisionError, ZeroDivisionError("by <zero>"), None)
    assert "ZeroDivisionError: by &lt;zero&gt;" in window.message.text.text()
    assert "ZeroDivisionError" in capsys.readouterr().err
    unexpected._hook(InputError, InputError("plain words", "do this"), None)
    assert "plain words" in window.message.text.text()


def test_every_action_has_its_handler_and_no_two_share_a_key(window: MainWindow) -> None:
    keys = [spec.shortcut for spec in SPECS if spec.shortcut]
    assert len(keys) == len(set(keys))
    for spec in SPECS:
        assert callable(handler_of(window.commands, spec)), spec.id
    window.commands.view.show_shortcuts()
    dialog = QApplication.activeModalWidget() or QApplication.topLevelWidgets()[-1]
    assert dialog is not None
    for widget in QApplication.topLevelWidgets():
        if widget is not window and widget.isVisible():
            widget.close()


@pytest.mark.parametrize("size", [(1280, 800), (1100, 700)])
@pytest.mark.parametrize("metric", [False, True])
@pytest.mark.parametrize("theme", ["light", "dark"])
def test_nothing_is_cut_off(
    window: MainWindow, wait: Wait, size: tuple[int, int], metric: bool, theme: str
) -> None:
    window.resize(*size)
    window.bench.settings_store.change(metric=metric, theme=theme)
    settled(window, wait)
    QApplication.processEvents()
    right = window.tuning.readout.mapTo(window, QPoint(window.tuning.readout.width(), 0)).x()
    assert right <= window.width()
    for part in ("shell", "batter", "resonant", "beater"):
        window.tuning.choose_part(part)
        QApplication.processEvents()
        form = window.tuning.forms.currentWidget()
        assert form is not None
        area = form.parentWidget().parentWidget().parentWidget()  # type: ignore[union-attr]
        for field in form.findChildren(QWidget):
            if field.isVisibleTo(form) and field.width() > 0:
                assert field.mapTo(area, QPoint(field.width(), 0)).x() <= area.width() + 1, field
    assert window.tuning.ladder.width() >= 320
    assert window.grab().toImage().width() == size[0]


def test_axis_is_its_own_inverse() -> None:
    axis = Axis(50.0, 900.0, 40.0, 700.0)
    for y in (40.0, 333.3, 700.0):
        assert axis.y(axis.hz(y)) == pytest.approx(y)
    assert axis.hz(700.0) == pytest.approx(50.0)


def test_the_ladder_shows_where_the_drum_speaks(window: MainWindow, wait: Wait) -> None:
    """Inside what can be set; why it ends is said; a stricter ear narrows it; no drum shows
    another's."""
    bench, ladder = window.bench, window.tuning.ladder

    def spoken() -> tuple[float, float]:
        wait(lambda: bench.speaks is not None and len(ladder.speaks_ends()) == 2)
        low, high = ladder.speaks_ends()
        return low.fundamental_hz, high.fundamental_hz

    window.document.select(2)
    settled(window, wait)
    usual = spoken()
    borne = window.result.ranges[0]  # type: ignore[union-attr]
    ends = [end.lug_pitches_hz[0] for end in ladder.speaks_ends()]
    assert borne.lowest_pitch_hz < ends[0] < ends[1] < borne.highest_pitch_hz
    rows = [tuple(row) for row in window.tuning.readout.table()]
    assert any("glide" in " ".join(row) for row in rows)
    passages = [" ".join(row) for row in rows if row[0] in ("articulate, soft", "round, loud")]
    assert len(passages) == 2
    assert all(("dB" in row or "same" in row) and row.endswith(" s") for row in passages)
    bench.settings_store.change(glide_share=0.5)
    settled(window, wait)
    assert spoken()[0] > usual[0]
    bench.settings_store.change(glide_share=1.0)
    window.document.select(5)
    assert bench.speaks is None
    settled(window, wait)
    assert spoken()[1] < 60.0


def test_pages_are_made_in_pieces(window: MainWindow) -> None:
    """One piece at a time: a page, or its place in the window, or its panels; a page that is asked
    for meanwhile is the one that was begun."""
    stages = window.pages
    stages._later.stop()
    stages._preparing = True
    while "heads" not in stages._made:
        before = len(stages._made) + len(stages._pages)
        stages._later.stop()
        stages._go_on()
        assert abs(len(stages._made) + len(stages._pages) - before) <= 1
        if "heads" in stages._pages:
            break
    begun = stages._made.get("heads")
    if begun is not None:
        assert stages.heads is begun
    for _ in range(60):
        stages._later.stop()
        stages._go_on()
    assert set(PREPARED) <= set(stages._pages)
    assert not stages._made
    assert not stages._to_fill
    assert not stages._later.isActive()


def test_tuning_catches_up_when_it_is_shown_again(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    wait(lambda: not window.bench.planning)
    before = window.tuning.readout.note.text()
    window.choose_page("gauges")
    shown = []
    taken = window.tuning.readout.set_state
    monkeypatch.setattr(
        window.tuning.readout, "set_state", lambda *said: (shown.append(said), taken(*said))
    )
    window.document.select(3)
    settled(window, wait)
    wait(lambda: not window.bench.planning)
    assert shown == []  # nobody sees it: the stage on show has the machine
    window.choose_page("tuning")
    assert window.result is not None
    assert len(shown) == 1
    note = wording.note_words(window.result.prediction.fundamental_hz, 440.0, False).split()[0]
    assert window.tuning.readout.note.text() == note != before
    assert window.tuning.forms.shell.name.line.text() == window.document.drum.name


def test_what_could_not_be_worked_out_meanwhile_stands_as_old(
    window: MainWindow, wait: Wait
) -> None:
    drum = window.document.drum
    assert drum is not None
    window.choose_page("gauges")
    failed: list[str] = []
    window.bench.failed.connect(lambda error, topic: failed.append(topic))
    torn = drum.with_setting("batter", drum.batter.at_tension(59_000.0))
    window.document.replace_drum("Torn", torn)  # as from a file: its yield is not looked at first
    wait(lambda: "drum" in failed)
    window.choose_page("tuning")
    assert window.tuning.ladder.stale
    window.document.undo()
    settled(window, wait)
    assert not window.tuning.ladder.stale


def test_the_rack_draws_a_drum_anew_only_where_it_looks_different(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    drawn: list[str] = []

    def counted(*args: object, **more: object) -> object:
        drawn.append(args[2].name)  # type: ignore[attr-defined]
        return paint_section(*args, **more)  # type: ignore[arg-type]

    window.drum_list.grab()
    monkeypatch.setattr(drum_list, "paint_section", counted)
    drum = window.document.drum
    assert drum is not None
    assert window.bench.commit_drum(
        "Tighter", drum.with_setting("batter", drum.batter.at_pitch(330.0))
    )
    settled(window, wait)
    window.drum_list.grab()
    assert drawn == []
    shallow = replace(drum, shell=replace(drum.shell, depth_m=0.5 * drum.shell.depth_m))
    assert window.bench.commit_drum("Shallow", shallow)
    settled(window, wait)
    window.drum_list.grab()
    assert set(drawn) == {drum.name}


def test_a_key_moves_a_grip_from_where_it_was_just_set(window: MainWindow, wait: Wait) -> None:
    """Typed and at once moved on: before the first is worked out."""
    wait(lambda: window.bench.settled is not None)
    window.choose_page("tuning")
    ladder = window.tuning.ladder
    ladder.setFocus()
    while ladder.column != "batter":
        QTest.keyClick(ladder, Qt.Key.Key_Left)
    window.bench.set_pitch("batter", 270.0, "typed")
    assert window.bench.settled is None
    QTest.keyClick(ladder, Qt.Key.Key_PageUp)
    drum = window.bench.drum
    assert drum is not None
    assert drum.batter.reading is not None
    assert drum.batter.reading.hz == pytest.approx(270.0 * 2.0 ** (1.0 / 12.0))
    wait(lambda: window.bench.settled is not None)
