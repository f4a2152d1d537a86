"""The stage Practice by keys: questions, loudness, hands, voice, people, what is kept."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.practice.practice_bench import CLEAR_BY_EAR, SING
from kesselton.app.workshop.document import Saved
from kesselton.core.practice.exercises import EXERCISES
from kesselton.core.prediction.render import Sound
from kesselton.ui.practice.practice_page import PracticePage
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window
from tests.ui.conftest import Wait, settled
from tests.ui.real_keys import Hand

K = Qt.Key


@pytest.fixture
def page(window: MainWindow, wait: Wait) -> PracticePage:
    window.show()
    window.choose_page("practice")
    return window.pages.practice


def asked(page: PracticePage, wait: Wait) -> None:
    wait(lambda: page.practice.question is not None)


def test_a_session_by_keys_is_kept_with_who_practises(
    window: MainWindow, page: PracticePage, wait: Wait
) -> None:
    practice = page.practice
    pupil = practice.pupil
    assert pupil is not None
    before = len(pupil.sessions)
    QTest.keyClick(page, K.Key_Space)
    asked(page, wait)
    assert not page.lines.isVisible()  # the picture only after the answer
    assert page.outcome.text() == "" or not page.outcome.isVisible()
    for key in (K.Key_1, K.Key_2, K.Key_0, K.Key_1):
        QTest.keyClick(page, key)
        assert practice.told is not None
        assert page.lines.isVisible()
        QTest.keyClick(page, K.Key_9)  # answered is answered
        QTest.keyClick(page, K.Key_Space)
        asked(page, wait)
    outcomes = [trial.outcome for trial in practice.trials]
    assert len(outcomes) == 4
    assert outcomes[2] == "unsure"
    assert "so far" in page.count.text()
    QTest.keyClick(page, K.Key_Escape)
    now = practice.pupil
    assert now is not None
    assert len(now.sessions) == before + 1
    kept = now.sessions[-1]
    assert [trial.outcome for trial in kept.trials] == outcomes
    assert kept.threshold is not None
    assert kept.low is not None
    assert kept.low < kept.threshold
    assert window.document.looked_up() is Saved.YES
    window.commands.undo()
    assert practice.pupil == pupil


def test_help_is_added_and_taken_away(page: PracticePage, wait: Wait) -> None:
    page.practice.choose("higher")
    QTest.keyClick(page, K.Key_Space)
    asked(page, wait)
    assert not page.lines.isVisible()
    page.helps[0].setChecked(True)
    assert page.lines.isVisible()
    page.helps[0].setChecked(False)
    assert not page.lines.isVisible()
    page.helps[0].setChecked(True)
    QTest.keyClick(page, K.Key_1)
    page.practice.finish()
    pupil = page.practice.pupil
    assert pupil is not None
    assert pupil.sessions[-1].measure("helps") == 1.0


def test_a_session_repeats_from_its_seed(page: PracticePage, wait: Wait) -> None:
    truths = []
    for _ in range(2):
        page.practice.begin(seed=77)
        asked(page, wait)
        assert page.practice.question is not None
        truths.append(page.practice.question.truth)
        page.practice.finish()
    assert truths[0] == truths[1]


@pytest.mark.parametrize("key", list(EXERCISES))
def test_every_exercise_can_be_begun_and_answered(page: PracticePage, wait: Wait, key: str) -> None:
    page.practice.choose(key)
    QTest.keyClick(page, K.Key_Space)
    wait(lambda: page.practice.question is not None or page.fault.isVisible())
    assert page.fault.text() == ""
    shown = [button.text() for button in page.answers if button.isVisible()]
    assert len(shown) >= 2
    if EXERCISES[key].group == 10:
        assert page.eye.isVisible()
        assert page.eye.accessibleDescription()
    QTest.keyClick(page, K.Key_1)
    assert page.outcome.isVisible()
    assert page.truth.text()


def test_nothing_is_louder_than_it_was_set(
    page: PracticePage, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    played: list[Sound] = []
    monkeypatch.setattr(page.practice.player, "play", lambda sound, name: played.append(sound))
    page.loudness.setValue(4)
    QTest.mouseClick(page.try_it, Qt.MouseButton.LeftButton)
    most = 0.2 * 0.89 + 1e-9
    QTest.keyClick(page, K.Key_Space)
    asked(page, wait)
    page.loudness.setValue(20)  # while it runs: not above what was set
    assert page.loudness.value() == 4
    assert "Louder than your first setting:" in page.fault.text()
    QTest.keyClick(page, K.Key_A)
    page.loudness.setValue(2)
    QTest.keyClick(page, K.Key_A)
    peaks = [float(np.abs(sound.samples).max()) for sound in played]
    assert len(peaks) == 4
    assert max(peaks) <= most
    assert peaks[-1] < 0.6 * peaks[-2]


def test_people_are_private_and_each_has_weeks(page: PracticePage, window: MainWindow) -> None:
    practice = page.practice
    assert [one.name for one in practice.workshop.pupils] == ["Apprentice", "Second technician"]
    rows = [page.list.item(n).text() for n in range(page.list.count())]
    assert any("Higher or lower" in row and "cents" in row for row in rows)
    QTest.keyClicks(page.add_name, "Third player")
    QTest.keyClick(page.add_name, K.Key_Return)
    pupil = practice.pupil
    assert pupil is not None
    assert pupil.name == "Third player"
    rows = [page.list.item(n).text() for n in range(page.list.count())]
    assert not any("cents" in row for row in rows)  # nothing of anybody else
    assert "the next in order" in page.next_up.text()
    QTest.mouseClick(page.remove, Qt.MouseButton.LeftButton)
    assert len(practice.workshop.pupils) == 2
    window.commands.undo()
    assert len(practice.workshop.pupils) == 3


def test_what_was_practised_leaves_as_csv_and_json(
    page: PracticePage, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("out.csv", "out.json"):
        path = tmp_path / name
        monkeypatch.setattr(page, "_ask_save", lambda *a, path=path: path)
        QTest.mouseClick(page.export, Qt.MouseButton.LeftButton)
        assert path.exists()
    pupil = page.practice.pupil
    assert pupil is not None
    assert len((tmp_path / "out.csv").read_text().splitlines()) == 1 + len(pupil.sessions)
    data = json.loads((tmp_path / "out.json").read_text())
    assert data["name"] == "Apprentice"
    assert len(data["sessions"]) == len(pupil.sessions)


def test_a_head_is_cleared_by_hand_and_the_gauge_comes_at_the_end(
    page: PracticePage, wait: Wait
) -> None:
    practice = page.practice
    practice.choose(CLEAR_BY_EAR)
    QTest.keyClick(page, K.Key_Space)
    ear = practice.ear
    assert ear is not None
    QTest.keyClick(page, K.Key_T)
    QTest.keyClick(page, K.Key_Right)
    QTest.keyClick(page, K.Key_Up)
    QTest.keyClick(page, K.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    page.setFocus()
    wheel = QWheelEvent(
        QPointF(400, 400), page.mapToGlobal(QPointF(400, 400)), QPoint(), QPoint(0, 120),
        Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(page, wheel)
    acts = [(act.what, act.rod, act.turns) for act in ear.acts]
    assert acts[:3] == [("tap", 1, 0.0), ("turn", 2, 0.125), ("turn", 2, -0.03125)]
    if page.hasFocus():
        assert acts[3] == ("turn", 2, 0.03125)
    assert "♯" not in "".join(page.ear.picture.table()[1])
    assert not page.ear.score.isVisible()
    QTest.keyClick(page, K.Key_E)
    assert "Solver" in page.ear.score.text()
    assert page.ear.table.rows.rowCount() == ear.rods
    pupil = practice.pupil
    assert pupil is not None
    assert pupil.sessions[-1].exercise == CLEAR_BY_EAR
    assert pupil.sessions[-1].measure("turns") == 3.0 or pupil.sessions[-1].measure("turns") == 2.0


def test_a_note_is_sung(page: PracticePage, wait: Wait) -> None:
    page.practice.choose(SING)
    first = page.sing.note.text()
    assert first.startswith("Sing ")
    QTest.keyClick(page, K.Key_V)
    wait(lambda: "of the tone" in page.sing.verdict.text() or "Now" in page.sing.verdict.text())
    QTest.keyClick(page, K.Key_N)
    assert page.sing.tap.isVisible()
    QTest.keyClick(page, K.Key_Up)
    QTest.keyClick(page, K.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(page, K.Key_T)
    assert page.sing.score.text() == ""
    QTest.keyClick(page, K.Key_E)
    assert "after 2 turns" in page.sing.score.text()
    pupil = page.practice.pupil
    assert pupil is not None
    assert pupil.sessions[-1].measure("turns") == 2.0
    QTest.keyClick(page, K.Key_Space)
    assert page.sing.note.text() != first


@pytest.mark.window
def test_practice_by_real_keys_in_a_real_window(wait: Wait) -> None:
    window = open_window("demo", SettingsStore(Settings(theme="light")))
    window.resize(1280, 800)
    window.show()
    hand = Hand()
    try:
        window.activateWindow()
        settled(window, wait)
        wait(window.isActiveWindow)
        hand.press("Shift_L", "F12")
        page = window.pages.practice
        wait(page.hasFocus)
        hand.press("space")
        asked(page, wait)
        hand.type("1")
        assert page.practice.told is not None
        hand.press("space")
        asked(page, wait)
        hand.type("0")
        hand.press("Escape")
        pupil = page.practice.pupil
        assert pupil is not None
        assert [trial.outcome for trial in pupil.sessions[-1].trials][1] == "unsure"
        page.practice.choose(CLEAR_BY_EAR)
        hand.press("space")
        wait(lambda: page.practice.ear is not None)
        hand.press("Right")
        hand.press("Up")
        hand.wheel(page.ear.picture, -1)
        assert page.practice.ear is not None
        assert [act.rod for act in page.practice.ear.acts] == [2, 2]
        hand.type("e")
        assert page.practice.score is not None
    finally:
        hand.let_go()
        window.close()
