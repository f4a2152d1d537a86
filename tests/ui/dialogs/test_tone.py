"""The reference tone: of the pitch in hand, finely set, with a beat that is seen."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.app.sound.player import Player
from kesselton.core.prediction.render import Sound
from kesselton.ui.dialogs.tone_dialog import ToneDialog
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait, settled
from tests.ui.tuning.test_bench import type_into


def opened(window: MainWindow) -> ToneDialog:
    window.commands.sound.reference_tone()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, ToneDialog)
    return dialog


def test_it_takes_the_pitch_that_is_in_hand(window: MainWindow, wait: Wait) -> None:
    settled(window, wait)
    window.activateWindow()
    window.tuning.ladder.setFocus()
    wait(window.tuning.ladder.hasFocus)
    dialog = opened(window)
    assert window.result is not None
    assert dialog.hz == pytest.approx(window.result.prediction.lug_pitches_hz[0], rel=1e-3)
    dialog.reject()
    window.tuning.choose_part("resonant")
    line = window.tuning.forms.resonant.pitch.line
    line.setFocus()
    wait(line.hasFocus)
    dialog = opened(window)
    assert dialog.hz == pytest.approx(window.result.prediction.lug_pitches_hz[1], rel=1e-3)
    dialog.reject()
    window.choose_page("clear")
    window.pages.clear.setFocus()
    wait(lambda: window.pages.clear.hasFocus() or window.pages.clear.value.hasFocus())
    dialog = opened(window)
    assert dialog.hz == pytest.approx(window.pages.clear.pitch_in_hand(), rel=1e-6)
    dialog.reject()


def test_it_sounds_moves_by_cents_and_shows_a_beat(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    settled(window, wait)
    played: list[Sound] = []
    monkeypatch.setattr(Player, "play", lambda self, sound, name: played.append(sound))
    dialog = opened(window)
    type_into(dialog.note, "A3")
    assert dialog.hz == pytest.approx(220.0)
    QTest.keyClick(dialog, Qt.Key.Key_Up)
    QTest.keyClick(dialog, Qt.Key.Key_PageDown)
    assert dialog.hz == pytest.approx(220.0 * 2 ** (-9 / 1200))
    type_into(dialog.seconds, "20 s")
    QTest.keyClick(dialog, Qt.Key.Key_Space)
    assert played[-1].seconds == pytest.approx(20.0)
    assert dialog.picture.beat_hz == 0.0
    type_into(dialog.note, "A3")
    type_into(dialog.against, "222.5 Hz")
    assert dialog.picture.beat_hz == pytest.approx(2.5)
    assert "2.50 beats/s, −20 cents apart:" in dialog.answer.text()
    assert "−20" in dialog.answer.text().replace("-", "−")
    dialog.grab()
    dialog.against.line.clear()
    QTest.keyClick(dialog.against.line, Qt.Key.Key_Return)
    assert dialog.picture.beat_hz == 0.0
    dialog.reject()
