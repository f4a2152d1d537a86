"""Readings, gauges and the plan, driven as a technician drives them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pypdf
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from kesselton.app.bench.measuring import Measured
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.errors import InputError
from kesselton.core.instrument.gauge import Dial, DialPair, Inspected
from kesselton.core.instrument.reading import Reading
from kesselton.ui.parts.widgets.picture import ticks
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.entry_text import parse_entry
from kesselton.ui.parts.words.lengths_text import MISSING, LengthsText
from kesselton.ui.parts.words.reading_text import read_value, show_value
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import settled

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton
PAIRS = tuple(DialPair(92 - 30000 / t, t, 2.54e-4) for t in (1000.0, 2000.0, 4500.0))


def note(window: MainWindow, kind: str, text: str, side: str = "batter") -> None:
    stage = window.pages.measure
    stage._on_kind(kind)
    stage._keep("_side", side, stage.side)
    stage.value.setText(text)
    QTest.keyClick(stage.value, Qt.Key.Key_Return)


def said(window: MainWindow, wait: Wait, count: int) -> Measured:
    wait(
        lambda: (
            window.pages.measure.measured is not None
            and len(window.pages.measure.measured.readings) == count
        )
    )
    assert window.pages.measure.measured is not None
    return window.pages.measure.measured


def test_readings_become_a_setting(window: MainWindow, wait: Wait) -> None:
    window.document.change_entry("none", readings=(), kept=())
    QTest.keyClick(window, Qt.Key.Key_F7)
    assert window.pages.measure.isVisible()
    note(window, "lug_pitch", "D4")
    found = said(window, wait, 1)
    assert found.estimate is not None
    assert found.estimate.known == (True, False)
    take = window.pages.measure.take  # nothing speaks of the snare side: it stays as it is
    assert take.isEnabled()
    assert take.text() == "Apply to batter"
    note(window, "lug_pitch", "G4", "resonant")
    note(window, "turns", "1 3/8")
    found = said(window, wait, 3)
    assert found.lug_pitches_hz == pytest.approx((293.66, 392.0), rel=3e-3)
    assert window.document.undo_text == "readings"
    QTest.mouseClick(window.pages.measure.take, LEFT)
    settled(window, wait)
    assert window.page_name == "tuning"
    assert window.result is not None
    assert window.result.prediction.lug_pitches_hz == pytest.approx(found.lug_pitches_hz)
    entry = window.document.workshop.entry(1)
    assert entry is not None
    assert [r.kind for r in entry.readings] == ["lug_pitch", "lug_pitch", "turns"]
    assert entry.readings[0].on


def test_what_cannot_be_read_stays_in_the_field(window: MainWindow, wait: Wait) -> None:
    window.choose_page("measure")
    for kind, text, complaint in (
        ("lug_pitch", "H4", "is neither"),
        ("lug_pitch", "9000", "Use"),
        ("dial", "250", "Use"),
        ("torque", "much", "“much” is not a number"),
        ("turns", "", "Nothing was entered"),
    ):
        note(window, kind, text)
        assert complaint in window.pages.measure.fault.text(), (kind, text)
        assert window.pages.measure.value.text() == text
    entry = window.document.workshop.entry(1)
    assert entry is not None
    assert len(entry.readings) == 6  # those of the demo
    window.pages.measure.rod.set_state(12)
    note(window, "lug_pitch", "C4")
    assert "has 8 rods" in window.pages.measure.fault.text()


def test_contradicting_readings_are_named(window: MainWindow, wait: Wait) -> None:
    window.document.commit(
        "dial", replace(window.document.workshop, dials=(Dial("dial 2", PAIRS),))
    )
    window.document.change_entry("none", readings=())
    window.choose_page("measure")
    note(window, "lug_pitch", "C4")
    note(window, "dial", "60")
    note(window, "lug_pitch", "F4", "resonant")
    found = said(window, wait, 3)
    assert "conflict" in found.contradiction
    assert window.pages.measure.contradiction.isVisible()
    assert not window.pages.measure.take.isEnabled()
    window.pages.measure.remove(1)
    found = said(window, wait, 2)
    assert found.contradiction == ""
    assert window.pages.measure.take.isEnabled()
    uncalibrated = Reading("dial", 70.0, gauge="lost dial")
    entry = window.document.workshop.entry(1)
    assert entry is not None
    window.document.change_entry("x", readings=(*entry.readings, uncalibrated))
    found = said(window, wait, 3)
    assert "Reading 3, gauge lost dial:" in found.left_out[0]


def test_what_the_inspection_found_is_reckoned_with(window: MainWindow, wait: Wait) -> None:
    """The verdict reaches contact circle, lowest tension and ±; one step, taken back as one."""
    document, bench = window.document, window.bench
    document.change_entry("none", inspected=None)
    window.choose_page("measure")
    shell = window.pages.measure.shell
    assert shell.reckon.isHidden()

    def settled() -> tuple[float, float]:
        wait(lambda: bench.settled is not None)
        found = bench.settled
        assert found is not None
        at = found.prediction.partials.fundamental
        collar = next(one for one in found.ranges[0].lower if one.name == "collar")
        return collar.tension_n_per_m, float(found.prediction.uncertainty_cents[at])

    before = settled()
    drum = bench.drum
    assert drum is not None
    across = 2000.0 * drum.shell.radius_m + 0.6
    shell.lines["diameters_m"].line.setText(" ".join([f"{across:.1f}"] * 4))
    shell.lines["diameters_m"].line.editingFinished.emit()
    shell.lines["gaps_m"].line.setText(" ".join(["0", "0.5"] + ["0"] * (drum.shell.rods - 2)))
    shell.lines["gaps_m"].line.editingFinished.emit()
    assert "Not yet in the usable range" in shell.reckoning.text()
    assert "damaged" in shell.reckoning.text()
    shell.reckon.click()
    assert bench.drum is not None
    assert bench.drum.shell.wear == "damaged"
    assert bench.drum.shell.contact_radius_m == pytest.approx(0.0005 * across)
    assert shell.reckon.isHidden()
    after = settled()
    assert after[0] == pytest.approx(1.6 * before[0])
    assert after[1] > before[1]
    document.undo()
    assert bench.drum.shell == drum.shell
    assert not shell.reckon.isHidden()


def test_the_bare_shell_gets_a_verdict(window: MainWindow, wait: Wait) -> None:
    window.document.change_entry("none", inspected=None)
    window.choose_page("measure")
    line = window.pages.measure.shell.lines["diameters_m"]
    line.line.setText("355.9 355.2 353.0 355.1")
    line.line.editingFinished.emit()
    assert window.pages.measure.shell.verdicts.count() == 2
    entry = window.document.workshop.entry(1)
    assert entry is not None
    assert entry.inspected is not None
    assert entry.inspected.diameters_m[2] == pytest.approx(0.353)
    line.line.setText("355.9 12 353 355")
    line.line.editingFinished.emit()
    assert "“12” is 12 mm:" in line.fault.text()
    line.line.setText("wide")
    line.line.editingFinished.emit()
    assert line.fault.text()


def test_a_dial_is_calibrated_on_the_bench(window: MainWindow, wait: Wait) -> None:
    window.document.commit("none", replace(window.document.workshop, dials=(), keys=()))
    QTest.keyClick(window, Qt.Key.Key_F8)
    stage = window.pages.gauges
    stage.add_pair()
    assert "no gauge to calibrate" in stage.fault.text()
    stage.add_dial()
    assert "The gauge has no name" in stage.fault.text()
    stage.name.setText("dial 2")
    stage.add_dial()
    assert "No pair" in stage.result.text()
    for reading, hz in ((70.0, 190.0), (82.0, 270.0), (86.0, 320.0)):
        stage.reading.set_state(reading)
        stage.pitch.set_state(hz)
        stage.add_pair()
    assert "reading =" in stage.result.text()
    assert len(window.document.workshop.dials[0].pairs) == 3
    window.grab()  # paints the residuals
    window.choose_page("tuning")
    wait(lambda: window.plan is not None and 70.0 < window.plan.heads[0].dial.value < 95.0)
    window.choose_page("gauges")
    stage.remove_pair(0)
    stage.remove_pair(0)
    assert "One pair" in stage.result.text()
    stage._on_friction("dry")
    assert window.document.workshop.keys[0].friction == "dry"


def test_schools_and_holding_the_note(window: MainWindow, wait: Wait) -> None:
    assert "a fifth" in window.tuning.schools.buttons  # a snare side lies a third to a fifth higher
    window.document.select(2)
    settled(window, wait)
    drum = window.document.drum
    assert drum is not None
    before = fundamental_hz(drum, tensions(drum))
    window.tuning.schools.hold.setChecked(True)
    QTest.mouseClick(window.tuning.schools.buttons["unison"], LEFT)
    settled(window, wait)
    assert window.result is not None
    pitches = window.result.prediction.lug_pitches_hz
    assert pitches[0] == pytest.approx(pitches[1], rel=1e-6)
    assert window.result.prediction.fundamental_hz == pytest.approx(before, rel=1e-4)
    window.tuning.schools.hold.setChecked(False)
    QTest.mouseClick(window.tuning.schools.buttons["resonant higher"], LEFT)
    settled(window, wait)
    after = window.result.prediction.lug_pitches_hz
    assert after[0] == pytest.approx(pitches[0], rel=1e-6)
    assert 1200 * math.log2(after[1] / after[0]) == pytest.approx(500.0, abs=0.01)


def test_a_grip_is_dragged_while_the_note_is_held(window: MainWindow, wait: Wait) -> None:
    window.document.select(2)
    settled(window, wait)
    window.tuning.schools.hold.setChecked(True)
    ladder = window.tuning.ladder
    drum = window.document.drum
    assert drum is not None
    before = fundamental_hz(drum, tensions(drum))
    other = ladder.grip_hz("batter")
    start = ladder.grip_rect("resonant").center()
    QTest.mousePress(ladder, LEFT, Qt.KeyboardModifier.NoModifier, start.toPoint())
    stop = start - QPointF(0, 30)
    QApplication.sendEvent(
        ladder,
        QMouseEvent(
            QMouseEvent.Type.MouseMove, stop, ladder.mapToGlobal(stop),
            Qt.MouseButton.NoButton, LEFT, Qt.KeyboardModifier.NoModifier,
        ),
    )  # fmt: skip
    wait(lambda: (ladder.grip_hz("batter") or 0.0) < (other or 0.0) * 0.98)
    QTest.mouseRelease(ladder, LEFT, Qt.KeyboardModifier.NoModifier, stop.toPoint())
    settled(window, wait)
    assert window.result is not None
    assert window.result.prediction.fundamental_hz == pytest.approx(before, rel=1e-4)


def test_the_plan_is_on_screen_and_on_the_sheet(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    window.document.commit(
        "dial", replace(window.document.workshop, dials=(Dial("dial 2", PAIRS),))
    )
    settled(window, wait)

    def captions() -> set[str]:
        return {row[0] for row in window.tuning.readout.table()}

    wait(lambda: {"Gauge", "Turns", "Torque"} <= captions())
    planned = window.plan
    assert planned is not None
    assert math.isfinite(planned.heads[0].dial.value)
    assert [o.label for o in planned.drifts] == ["8 °C colder", "After 24 h"]
    window.topbar.on_stage.line.setText("20")
    window.topbar.on_stage.line.editingFinished.emit()
    wait(lambda: window.plan is not None and window.plan.drifts[0].label[0] == "0")
    target = tmp_path / "sheet.pdf"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    window.commands.papers.sheet_pdf()
    wait(target.exists)
    text = " ".join(pypdf.PdfReader(target).pages[0].extract_text().split())
    assert "Torque" in text
    assert "every rod equally" in text
    assert "beside the beds" in text
    assert "rod load" in text
    assert wording.turn_words(planned.heads[0].turns.value) in text


def test_turns_learned_from_the_log(window: MainWindow, wait: Wait) -> None:
    notes = tuple(
        Reading("turns", turns, hz=math.sqrt(12000.0 + 40000.0 * turns))
        for turns in (0.5, 0.75, 1.0, 1.25)
    )
    window.document.change_entry("log", readings=notes)
    settled(window, wait)
    wait(
        lambda: (
            window.plan is not None
            and "batter" in window.plan.turns
            and len(window.plan.turns["batter"].turns) == 4
        )
    )
    assert window.plan is not None
    need = window.plan.heads[0].turns
    assert need.value == pytest.approx((261.63**2 - 12000.0) / 40000.0, rel=1e-3)
    assert need.mind == "from this drum’s log"
    assert need.half < 0.3
    window.choose_page("measure")
    found = said(window, wait, 4)
    assert "batter" in found.turns
    assert window.pages.measure.turn_pictures["batter"].isVisible()
    window.grab()
    falling = (Reading("turns", 0.5, hz=200.0), Reading("turns", 1.0, hz=150.0))
    window.document.change_entry("slip", readings=falling)
    found = said(window, wait, 2)
    assert "pitch falls" in found.left_out[0]


def test_readings_are_written_as_they_are_read() -> None:
    assert read_value("turns", "1 3/4 turns", 440.0) == pytest.approx(1.75)
    assert read_value("torque", "0,5 N m", 440.0) == 0.5
    assert read_value("gap", "1.5", 440.0) == pytest.approx(0.0015)
    assert wording.turn_words(1.375) == "1 ⅜"
    assert wording.turn_words(0.0) == "0"
    assert wording.turn_words(0.5) == "½"
    assert show_value(Reading("turns", 1.75, hz=220.0), 440.0, False) == "1 ¾, 220.0 Hz"
    assert show_value(Reading("gap", 0.0015), 440.0, False) == "1.5 mm"
    with pytest.raises(InputError):
        read_value("gap", "wide", 440.0)


def test_axes_carry_round_values() -> None:
    assert ticks(748.0, 4038.0) == [1000.0, 2000.0, 3000.0, 4000.0]
    assert ticks(25.0, 151.0, 8) == [40.0, 60.0, 80.0, 100.0, 120.0, 140.0]
    assert ticks(0.0, 0.09) == pytest.approx([0.0, 0.02, 0.04, 0.06, 0.08])


def test_gauges_are_renamed_removed_and_added(window: MainWindow, wait: Wait) -> None:
    QTest.keyClick(window, Qt.Key.Key_F8)
    gauges = window.pages.gauges
    document = window.document
    old = document.workshop.dials[0].name
    assert any(r.gauge == old for e in document.workshop.entries for r in e.readings)
    QTest.keyClicks(gauges.name, "old dial")
    QTest.mouseClick(gauges.rename, Qt.MouseButton.LeftButton)
    assert document.workshop.dials[0].name == "old dial"
    assert not any(r.gauge == old for e in document.workshop.entries for r in e.readings)
    QTest.mouseClick(gauges.rename, Qt.MouseButton.LeftButton)
    assert "The gauge has no name" in gauges.fault.text()
    QTest.mouseClick(gauges.drop, Qt.MouseButton.LeftButton)
    assert all(dial.name != "old dial" for dial in document.workshop.dials)
    assert "old dial" in window.notice.text.text()
    QTest.mouseClick(window.notice.undo, Qt.MouseButton.LeftButton)
    assert document.workshop.dials[0].name == "old dial"
    count = len(document.workshop.keys)
    gauges.add_key()
    assert len(document.workshop.keys) == count + 1
    assert gauges.key_name.hasFocus()
    QTest.keyClicks(gauges.key_name, "small key")
    QTest.keyClick(gauges.key_name, Qt.Key.Key_Return)
    assert document.workshop.keys[0].name == "small key"
    gauges.key.chosen.emit(document.workshop.keys[1].name)
    assert document.workshop.keys[1].name == "small key"
    gauges.remove_key()
    assert [key.name for key in document.workshop.keys] == ["small key"]


def test_pairs_are_added_by_enter_and_taken_out_on_the_curve(
    window: MainWindow, wait: Wait
) -> None:
    QTest.keyClick(window, Qt.Key.Key_F8)
    gauges = window.pages.gauges
    count = len(window.document.workshop.dials[0].pairs)
    gauges.reading.line.setFocus()
    QTest.keyClicks(gauges.reading.line, "80")
    QTest.keyClick(gauges.reading.line, Qt.Key.Key_Return)
    assert gauges.pitch.line.hasFocus()
    QTest.keyClicks(gauges.pitch.line, "C4")
    QTest.keyClick(gauges.pitch.line, Qt.Key.Key_Return)
    assert len(window.document.workshop.dials[0].pairs) == count + 1
    assert gauges.reading.line.hasFocus()
    assert gauges.reading.line.text() == ""
    picture = gauges.picture
    picture.grab()
    point = picture._placed[count].toPoint()
    QTest.mouseClick(picture, Qt.MouseButton.LeftButton, pos=point)
    assert picture._chosen == count
    picture.grab()
    QTest.keyClick(picture, Qt.Key.Key_Delete)
    assert len(window.document.workshop.dials[0].pairs) == count
    picture.grab()
    QTest.keyClick(picture, Qt.Key.Key_Right)
    assert picture._chosen >= 0


@pytest.mark.parametrize(
    ("text", "usual", "kind", "rod", "value"),
    [
        ("C4", "lug_pitch", "lug_pitch", 0, 261.63),
        ("3: 82 div", "lug_pitch", "dial", 3, 82.0),
        ("rod 3: 82", "dial", "dial", 3, 82.0),
        ("1/2 turn", "lug_pitch", "turns", 0, 0.5),
        ("1 3/4 turns", "dial", "turns", 0, 1.75),
        ("0.8 Nm", "lug_pitch", "torque", 0, 0.8),
        ("0,8 N m", "lug_pitch", "torque", 0, 0.8),
        ("5: 262 Hz", "dial", "lug_pitch", 5, 262.0),
        ("7: A3 -10", "torque", "lug_pitch", 7, 218.73),
        ("2: 1.5 mm", "lug_pitch", "gap", 2, 0.0015),
        ("drum F3", "lug_pitch", "fundamental", 0, 174.61),
        ("180", "fundamental", "fundamental", 0, 180.0),
        ("180 Hz", "fundamental", "fundamental", 0, 180.0),
    ],
)
def test_one_line_understands_what_is_said(
    text: str, usual: str, kind: str, rod: int, value: float
) -> None:
    said = parse_entry(text, usual, 440.0)
    assert (said.kind, said.rod) == (kind, rod)
    assert said.value == pytest.approx(value, rel=1e-4)


def test_readings_stand_at_their_rods(window: MainWindow, wait: Wait) -> None:
    QTest.keyClick(window, Qt.Key.Key_F7)
    stage = window.pages.measure
    stage.value.setFocus()
    QTest.keyClicks(stage.value, "3: 82 div")
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    noted = window.bench.entry.readings[-1]  # type: ignore[union-attr]
    assert (noted.kind, noted.rod, noted.value) == ("dial", 3, 82.0)
    assert noted.gauge == window.document.workshop.dials[0].name
    assert ("3", "82 div") in stage.ring.table()
    stage.ring.grab()
    point = stage.ring._at(4)
    QTest.mouseClick(stage.ring, Qt.MouseButton.LeftButton, pos=point.toPoint())
    assert stage.rod.value == 5
    assert stage.value.hasFocus()
    QTest.keyClicks(stage.value, "83")
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    assert window.bench.entry.readings[-1].rod == 5  # type: ignore[union-attr]
    QTest.keyClicks(stage.value, "9: 83")
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    assert "8 rods" in stage.fault.text()
    assert stage.value.text() == "9: 83"
    stage.value.clear()


def test_the_bare_shell_answers_in_the_units_typed() -> None:
    lengths = LengthsText(True, "mm", 0.1, 1.3, "355.6 355.2")
    assert lengths.write(lengths.read("355,6 355.2; 355.9")) == "355.6 355.2 355.9"
    assert lengths.read("14 in 13.98in") == pytest.approx((0.3556, 0.355092))
    assert lengths.write((0.3556, 0.355092)) == "14 in 13.98 in"
    with pytest.raises(InputError) as caught:
        lengths.read("14 in 3.2 in")
    assert "“3.2in” is 3.2 in: not possible" in caught.value.message
    assert "3.937 in to 51.1811 in" in caught.value.remedy
    example = caught.value.remedy.split("example ")[1].removesuffix(" (mm).")
    assert len(lengths.read(example)) == 2  # type: ignore[arg-type]
    one = LengthsText(False, "mm", 0.1, 1.4, "357")
    assert one.read("") is None
    assert one.write(one.read("357")) == "357"
    with pytest.raises(InputError):
        one.read("1 2")


def test_the_bare_shell_is_measured_rod_by_rod_in_the_one_box(
    window: MainWindow, wait: Wait
) -> None:
    """Entered and seen on the ring; nothing is kept before all rods have a value."""
    stage, document = window.pages.measure, window.document
    document.change_entry("none", inspected=None)
    window.choose_page("measure")

    def inspected() -> Inspected | None:
        entry = document.workshop.entry(1)
        assert entry is not None
        return entry.inspected

    def enter(text: str) -> None:
        stage.value.setText(text)
        stage.add()

    stage.kind.chosen.emit("diameter")
    assert stage.rod.value == 1
    for text in ("355.9", "355.2 mm", "4: 14 in"):
        enter(text)
    assert inspected() is None
    assert stage.rod.value == 3
    assert stage.shell.lines["diameters_m"].line.text() == "355.9 355.2 – 355.6"
    assert [row[:2] for row in stage.ring.table()[1:]] == [
        ("1", "355.9"), ("2", "355.2"), ("4", "355.6"),
    ]  # fmt: skip
    enter("6: 355")
    assert "No need to measure at rod 6:" in stage.fault.text()
    enter("9000")
    assert "9000" in stage.fault.text()
    enter("355.1")
    found = inspected()
    assert found is not None
    assert found.diameters_m == pytest.approx((0.3559, 0.3552, 0.3551, 0.3556))
    stage.kind.chosen.emit("edge")
    for text in ("0", "0.1", "0", "0", "0.2", "0", "0", "0"):
        enter(text)
    found = inspected()
    assert found is not None
    assert found.gaps_m == pytest.approx((0, 1e-4, 0, 0, 2e-4, 0, 0, 0))
    document.undo()
    found = inspected()
    assert found is not None
    assert found.gaps_m == ()


def test_lengths_left_half_measured_go_with_their_drum_and_that_is_said(
    window: MainWindow, wait: Wait
) -> None:
    window.document.change_entry("none", inspected=None)
    window.choose_page("measure")
    stage = window.pages.measure
    stage.kind.chosen.emit("diameter")
    stage.value.setText("355.9")
    stage.add()
    window.document.select(2)
    assert MISSING not in stage.shell.lines["diameters_m"].line.text()
    assert "355.9 – – –" in window.notice.text.text()
