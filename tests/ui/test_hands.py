"""Nothing typed, read, turned or done is lost, or done by mistake: real keys in a real window."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.core.fit.fitting import Fitting
from kesselton.core.instrument.reading import Reading
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window
from tests.ui.conftest import settled
from tests.ui.real_keys import Hand, wait_a_while

pytestmark = pytest.mark.window
Wait = Callable[..., None]


@pytest.fixture
def hand(qapp: object) -> Iterator[Hand]:
    made = Hand()
    yield made
    made.let_go()


@pytest.fixture
def window(window: MainWindow, hand: Hand, wait: Wait) -> MainWindow:
    window.activateWindow()
    wait(window.isActiveWindow)
    wait(lambda: not window.bench.planning)
    return window


def focus(widget: QWidget) -> None:
    widget.setFocus()
    wait_a_while(0.05, widget.hasFocus)
    assert widget.hasFocus()


def test_an_answer_that_arrives_wipes_nothing_that_is_typed(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.commands.part_wanted.emit("shell")
    shell = window.tuning.forms.shell
    focus(shell.shell_depth.line)
    shell.shell_depth.line.selectAll()
    hand.type("9")
    focus(shell.rods.line)
    shell.rods.line.selectAll()
    hand.type("10")
    settled(window, wait)
    wait(lambda: not window.bench.planning)
    assert shell.rods.line.text() == "10"
    hand.press("Return")
    assert window.document.drum is not None
    assert window.document.drum.shell.rods == 10
    assert window.document.drum.shell.depth_m == pytest.approx(9 * 0.0254)


def test_the_name_of_a_new_drum_stays_selected(window: MainWindow, hand: Hand, wait: Wait) -> None:
    for stage in ("heads", "clear", "tuning"):
        window.choose_page(stage)
        hand.press("Control_L", "d")
        settled(window, wait)
        wait(lambda: not window.bench.planning)
        line = window.tuning.forms.shell.name.line
        assert line.hasFocus()
        assert line.isVisible()
        assert line.selectedText() == line.text() != ""
        hand.type("Guest")
        hand.press("Return")
        wait(lambda: window.document.drum.name.startswith("Guest"))  # type: ignore[union-attr]


def test_destroying_keys_stay_in_the_text(window: MainWindow, hand: Hand) -> None:
    drums = len(window.document.workshop.entries)
    window.commands.part_wanted.emit("shell")
    line = window.tuning.forms.shell.name.line
    focus(line)
    line.setCursorPosition(0)
    hand.press("Control_L", "Delete")
    assert len(window.document.workshop.entries) == drums
    assert line.text() == "snare"
    hand.press("Escape")
    assert line.text() == "Pit snare"
    focus(window.drum_list)
    hand.press("Control_L", "Delete")
    assert len(window.document.workshop.entries) == drums - 1
    assert "Pit snare" in window.notice.text.text()
    hand.click(window.notice.undo)
    assert len(window.document.workshop.entries) == drums


def test_undo_is_of_the_text_while_it_is_typed_and_of_the_program_after(
    window: MainWindow, hand: Hand
) -> None:
    window.choose_page("measure")
    value = window.pages.measure.value
    focus(value)
    hand.type("262")
    hand.press("Control_L", "z")
    assert value.text() == ""
    hand.type("262")
    hand.press("Return")
    entry = window.bench.entry
    assert entry is not None
    count = len(entry.readings)
    assert value.hasFocus()
    hand.press("Control_L", "z")
    assert window.bench.entry is not None
    assert len(window.bench.entry.readings) == count - 1
    hand.press("Control_L", "Shift_L", "z")
    assert len(window.bench.entry.readings) == count


def test_the_wheel_turns_nothing_that_has_not_the_keys(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.commands.part_wanted.emit("shell")
    window.drum_list.setFocus()
    before = window.document.workshop
    settings = window.settings
    for widget in (window.tuning.forms.shell.kind.box, window.topbar.units):
        hand.wheel(widget, 2)
    window.choose_page("heads")
    wait(lambda: window.pages.heads.candidates is not None)
    form, panel = window.pages.heads.form, window.pages.heads.why
    for fold in panel.folds.values():
        fold.button.click()
    wait(panel.sliders["ring"].isVisible)
    window.drum_list.setFocus()
    weights = panel.weights
    for widget in (
        form.choices["role"].box,
        form.target.box,
        panel.sliders["ring"],
        panel.sliders["wear"],
    ):
        hand.wheel(widget, 2)
    assert window.document.workshop == before
    assert window.settings == settings
    assert panel.weights == weights


def turns_of(window: MainWindow) -> int:
    clearing = window.pages.clear.clearing
    return clearing.walk.turned


def clear_until_turned(window: MainWindow, hand: Hand, wait: Wait) -> None:
    """The demo drum read to the end, and one rod turned."""
    window.choose_page("clear")
    stage = window.pages.clear
    for _ in range(4):
        hand.press("t")
    wait(lambda: not stage.sources.busy and not stage._after)
    wait(lambda: stage.settled is not None)
    hand.press("space")
    assert turns_of(window) == 1


def test_a_turned_rod_stays_turned_whatever_happens(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    clear_until_turned(window, hand, wait)
    stage = window.pages.clear
    walk, now = stage.clearing.walk, stage.now
    focus(window.drum_list)
    hand.press("Down")
    wait_a_while(0.3)
    hand.press("Up")
    assert stage.clearing.walk == walk
    assert stage.now == now
    hand.press("Control_L", "z")
    assert turns_of(window) == 0
    hand.press("Control_L", "Shift_L", "z")
    path = window.document.path
    window.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    again = open_window("demo", SettingsStore(Settings(theme="light")))
    assert again is not None
    assert again.document.path == path
    again.choose_page("clear")
    fresh = again.pages.clear
    assert fresh.clearing.walk == walk
    assert fresh.now == now
    assert "tighten" in fresh.panel.turn.text() or "loosen" in fresh.panel.turn.text()
    again.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def test_pitches_are_typed_and_turns_made_by_keys_alone(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.choose_page("clear")
    stage = window.pages.clear
    stage.choose_source("pitch")
    stage.bench.begin()
    stage.go_home()
    hand.type("5:262")
    hand.press("Return")
    assert [t.rod for t in stage.clearing.now.taps] == [5]
    hand.press("Right")
    assert stage.reads == 2
    hand.press("Left")
    assert stage.reads == 1
    for rod, hz in zip((1, 2, 3, 4, 6, 7, 8), (255, 260, 266, 258, 262, 259, 264), strict=True):
        assert stage.reads == rod
        hand.type(str(hz))
        hand.press("Next" if rod % 2 else "Return")  # a foot-switch enters too
    wait(lambda: stage.settled is not None)
    assert stage.walk.turning
    while stage.bench.again:  # such readings are asked for once more; these stand
        hand.press("space")
        wait(lambda: stage.settled is not None)
    first = stage.now
    hand.press("space")
    assert stage.value.text() == ""
    assert turns_of(window) == 1
    hand.press("BackSpace")
    assert turns_of(window) == 0
    assert stage.now == first
    hand.press("s")
    assert stage.clearing.walk.left == (first,)
    hand.press("Next")
    assert turns_of(window) == 2


def test_a_click_does_not_leave_the_keys_on_a_button(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.choose_page("clear")
    stage = window.pages.clear
    rounds = len(stage.clearing.rounds)
    hand.click(stage.up)
    assert len(stage.clearing.rounds) == rounds + 1
    hand.press("space")
    hand.press("space")
    assert len(stage.clearing.rounds) <= rounds + 1
    hand.press("t")
    wait(lambda: not stage.sources.busy)
    assert len(stage.clearing.now.taps) >= 1
    hand.click(stage.panel.back)
    read = len(stage.clearing.now.taps)
    hand.press("space")
    assert len(stage.clearing.now.taps) == read


def test_a_note_takes_its_keys_and_a_question_its_own(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.document.select(2)
    window.choose_page("fit")
    fit = window.pages.fit
    wait(lambda: fit.procedure is not None)
    title = fit.title.text()
    for key in ("space", "Next", "Right", "Return"):
        hand.press(key)
        assert fit.title.text() == title, key
    assert "Y or N" in fit.advice.text()
    hand.press("n")
    wait(lambda: fit.title.text() != title)
    title = fit.title.text()
    focus(fit.note)
    hand.type("crack at y n t")
    hand.press("Next")
    assert fit.title.text() == title
    hand.press("Return")
    assert fit.title.text() == title
    assert fit.fitting is not None
    assert fit.fitting.note(fit.fitting.current) == "crack at y n t"
    assert fit.hasFocus()
    hand.press("space")
    assert fit.title.text() != title


def test_each_head_keeps_its_own_progress(window: MainWindow, hand: Hand, wait: Wait) -> None:
    window.document.select(2)
    window.choose_page("fit")
    fit = window.pages.fit
    wait(lambda: fit.procedure is not None)
    hand.press("n")
    hand.press("space")
    done = fit.fitting
    assert isinstance(done, Fitting)
    fit.side.box.setFocus()
    hand.press("Down")  # opens the list: a closed choice changes through it alone
    assert fit.side_now == "batter"
    hand.press("Return")
    assert fit.side_now == "resonant"
    wait(lambda: fit.procedure is not None)
    assert fit.fitting is None
    assert fit.hasFocus()
    hand.press("n")
    assert fit.fitting is not None
    fit._on_side("batter")
    assert fit.fitting == done
    entry = window.bench.entry
    assert entry is not None
    assert len(entry.fittings) == 2


def test_the_plan_of_one_drum_makes_no_steps_for_another(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    notes = tuple(
        Reading("turns", t, hz=(12000 + 40000 * t) ** 0.5) for t in (0.5, 0.75, 1.0, 1.25)
    )
    window.document.change_entry("log", readings=notes)
    wait(lambda: window.plan is not None and "batter" in window.plan.turns)
    window.choose_page("fit")
    fit = window.pages.fit
    for number in (2, 3, 1):
        window.document.select(number)
        assert fit.procedure is None  # nothing is shown before it is of this drum
        wait(lambda: fit.procedure is not None)
        count = len(fit.procedure.steps)  # type: ignore[union-attr]
        wait_a_while(0.5)
        assert len(fit.procedure.steps) == count  # type: ignore[union-attr]


def test_another_number_of_rods_says_what_goes_with_it(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.document.change_entry(
        "x", readings=(Reading("dial", 80.0, rod=8), Reading("dial", 81.0, rod=2))
    )
    window.choose_page("clear")
    wait(lambda: window.pages.clear.settled is not None)
    window.commands.part_wanted.emit("shell")
    line = window.tuning.forms.shell.rods.line
    focus(line)
    line.selectAll()
    hand.type("6")
    hand.press("Return")
    entry = window.bench.entry
    assert entry is not None
    assert [r.rod for r in entry.readings] == [2]
    assert not any(one.begun for one in entry.clearings)
    assert (
        "1 reading and the clearing rounds removed: they belonged to 8 rods"
        in window.notice.text.text()
    )
    for stage in ("clear", "measure", "fit", "tuning"):
        window.choose_page(stage)
        window.grab()
    hand.click(window.notice.undo)
    entry = window.bench.entry
    assert entry is not None
    assert len(entry.readings) == 2
    assert entry.clearings[0].begun


def test_measure_names_the_reading_that_is_wrong(window: MainWindow, wait: Wait) -> None:
    window.document.change_entry(
        "x",
        readings=(
            Reading("dial", 80.0, gauge="none such"),
            Reading("lug_pitch", 262.0),
            Reading("lug_pitch", 150.0),
        ),
    )
    window.choose_page("measure")
    stage = window.pages.measure
    wait(lambda: stage.measured is not None)
    said = stage.contradiction.text()
    assert (
        "Reading 2 (lug pitch (batter), 262 Hz) and reading 3 (lug pitch (batter), 150 Hz)" in said
    )
    assert "Reading 1" in stage.left_out.text()


def test_readings_of_one_drum_are_not_applied_to_another(window: MainWindow, wait: Wait) -> None:
    window.document.change_entry(
        "x", readings=(Reading("lug_pitch", 262.0), Reading("lug_pitch", 349.0, "resonant"))
    )
    window.choose_page("measure")
    stage = window.pages.measure
    wait(stage.take.isEnabled)
    window.document.select(3)
    assert stage.measured is None
    assert not stage.take.isEnabled()


def test_what_is_typed_is_entered_on_quitting_or_said(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    window.commands.part_wanted.emit("shell")
    line = window.tuning.forms.shell.name.line
    focus(line)
    line.selectAll()
    hand.type("Typed")
    path = window.document.path
    hand.press("Control_L", "q")
    wait(lambda: not isValid(window))
    with WorkshopFile.open(path) as file:
        assert file.load().entries[0].drum.name == "Typed"


def test_what_cannot_be_taken_is_said_before_quitting(window: MainWindow, hand: Hand) -> None:
    window.commands.part_wanted.emit("shell")
    line = window.tuning.forms.shell.rods.line
    focus(line)
    line.selectAll()
    hand.type("many")
    assert not window.close()
    assert "“many” in “Rods” is not valid" in window.message.text.text()
    assert line.text() == "many"
    assert window.close()


def test_what_cannot_be_taken_is_shown_where_it_stands(window: MainWindow, hand: Hand) -> None:
    window.choose_page("gauges")
    hand.type("abc")
    window.choose_page("tuning")
    hand.press("Control_L", "q")
    assert isValid(window)
    assert "“abc” in “Gauge reading” is not valid" in window.message.text.text()
    assert window.pages.page_name == "gauges"
    has = QApplication.focusWidget()
    assert has is not None
    assert has.accessibleName() == "Gauge reading"
    hand.press("Control_L", "a")
    hand.type("31\n")
    assert window.close()


def test_of_several_lines_that_cannot_be_taken_is_warned_once(
    window: MainWindow, hand: Hand
) -> None:
    window.choose_page("gauges")
    hand.type("abc")
    window.choose_page("measure")
    hand.type("def")
    hand.press("Control_L", "q")
    assert isValid(window)
    hand.press("Escape")
    assert window.close()


def test_keys_go_to_what_can_be_seen(window: MainWindow, hand: Hand) -> None:
    for stage in ("heads", "clear", "fit", "measure", "gauges"):
        for key in ("F3", "F4", "F2"):
            window.choose_page(stage)
            hand.press(key)
            has = QApplication.focusWidget()
            assert has is not None
            assert has.isVisible(), (stage, key)


def test_a_held_key_means_what_it_means_once(window: MainWindow, wait: Wait) -> None:
    from PySide6.QtCore import Qt
    from PySide6.QtGui import QKeyEvent

    window.document.select(2)
    window.choose_page("fit")
    fit = window.pages.fit
    wait(lambda: fit.procedure is not None)
    fit.answer("no")
    title = fit.title.text()
    held = QKeyEvent(
        QEvent.Type.KeyPress, Qt.Key.Key_Space, Qt.KeyboardModifier.NoModifier, " ", True
    )
    QApplication.sendEvent(fit, held)
    assert fit.title.text() == title


@pytest.mark.parametrize("damage", ["damaged", "gone"])
def test_a_last_file_that_cannot_be_opened_gets_a_window(
    hand: Hand, wait: Wait, tmp_path: Path, damage: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    import subprocess
    import sys

    path = tmp_path / "last.kesselton"
    path.write_bytes(b"SQLite format 3\0" + b"nonsense" * 100)
    SettingsStore(Settings()).change(last_workshop=str(path))
    if damage == "gone":
        path.unlink()
    script = (
        "import sys\n"
        "from PySide6.QtCore import QTimer\n"
        "from PySide6.QtWidgets import QApplication\n"
        "import kesselton.ui.window.start as start\n"
        "def look():\n"
        "    tops = [w for w in QApplication.topLevelWidgets() if w.isVisible()]\n"
        "    if not tops: QTimer.singleShot(100, look); return\n"
        "    print('shown', type(tops[0]).__name__, flush=True)\n"
        "    empty = getattr(tops[0], 'empty', None)\n"
        "    if empty is not None: empty.click(); QTimer.singleShot(500, look); return\n"
        "    print('drums', len(tops[0].document.workshop.entries), flush=True)\n"
        "    tops[0].close()\n"
        "QApplication([]); QTimer.singleShot(300, look)\n"
        "from kesselton.cli import main\n"
        "sys.exit(main([]))\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, timeout=60, check=False
    )
    shown = [line for line in done.stdout.splitlines() if line.startswith("shown")]
    assert shown[0] == ("shown StartFailure" if damage == "damaged" else "shown MainWindow"), (
        done.stderr
    )
    assert shown[-1] == "shown MainWindow"
    assert "drums 0" in done.stdout
    if damage == "damaged":
        assert path.read_bytes().startswith(b"SQLite format 3\0nonsense")  # left as it was


def test_a_second_start_raises_the_first_window(window: MainWindow, hand: Hand, wait: Wait) -> None:
    import subprocess
    import sys

    rung: list[bool] = []
    window.single_instance.rung.connect(lambda: rung.append(True))
    second = subprocess.Popen(
        [sys.executable, "-m", "kesselton", "demo"], stderr=subprocess.PIPE, text=True
    )
    wait(lambda: second.poll() is not None, 60)
    assert second.returncode == 0, second.stderr.read() if second.stderr else ""
    assert rung == [True]


def test_an_entry_is_kept_by_keys_alone_and_the_next_one_too(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    """K, what for, Enter; and again."""
    settled(window, wait)
    entry = window.document.entry
    assert entry is not None
    before = len(entry.kept)
    for words in ("overture", "second act"):
        hand.press("k")
        wait(
            lambda: (
                window.commands.hands.dialog is not None and isValid(window.commands.hands.dialog)
            )
        )
        dialog = window.commands.hands.dialog
        assert dialog is not None
        wait(dialog.isActiveWindow)
        hand.type(words)
        hand.press("Return")
        wait(lambda closed=dialog: not isValid(closed))  # type: ignore[misc]
        window.activateWindow()  # what a desktop's window manager does
        wait(window.isActiveWindow)
    entry = window.document.entry
    assert entry is not None
    assert [one.what_for for one in entry.kept][before:] == ["overture", "second act"]


def test_the_set_is_worked_by_keys_and_by_the_wheel_nothing_is(
    window: MainWindow, hand: Hand, wait: Wait
) -> None:
    """F10, a note up, the whole chord up, a plan with Enter; the wheel over lists does nothing."""
    hand.press("F10")
    stage = window.pages.set
    wait(lambda: stage.sets.solved_set is not None and stage.sets.plans is not None)
    wait(stage.picture.hasFocus)
    picture = stage.picture
    while picture.current > 0 or picture.part != "note":
        hand.press("Left")
    before = [picture.spot(i).note for i in range(4)]
    hand.press("Up")
    wait(lambda: not stage.sets.setting)
    assert picture.spot(0).note == pytest.approx(before[0] + 10.0, abs=1.0)
    hand.press("Alt_L", "Up")
    wait(lambda: not stage.sets.setting)
    wait(lambda: stage.sets.solved_set is not None and stage.sets.plans is not None)
    moved = [picture.spot(i).note - before[i] for i in range(4)]
    assert moved == pytest.approx([20.0, 10.0, 10.0, 0.0], abs=1.5)
    wish = stage.sets.kit.wish if stage.sets.kit else None
    hand.wheel(stage.plan.form.chord.box, 3)
    hand.wheel(stage.choice.box, 2)
    assert stage.sets.kit is not None
    assert stage.sets.kit.wish == wish
    focus(stage.plan.list)
    hand.press("Return")
    wait(lambda: not stage.sets.setting)
    assert window.document.undo_text == "set targets"
    hand.press("Control_L", "z")
    assert window.document.undo_text == "change in set"
