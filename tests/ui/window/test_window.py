"""The program as it is started, in a real window on a virtual screen."""

from __future__ import annotations

import os
import subprocess
import sys
import time

import pytest

pytestmark = pytest.mark.window

BODY = """
import sys, time, threading
from PySide6.QtCore import QTimer, Qt
from PySide6.QtTest import QTest
import kesselton.ui.window.start as start

def drive():
    window = start._windows[0]
    if window.result is None:
        QTimer.singleShot(50, drive)
        return
    screen = window.screen().grabWindow(window.winId()).toImage()
    shades = {screen.pixel(x, y) for x in range(0, screen.width(), 9) for y in range(0, screen.height(), 9)}
    print("platform", start.sys.modules["PySide6.QtGui"].QGuiApplication.platformName())
    print("shades", len(shades))
    before = window.document.drum.batter.reading.hz
    window.activateWindow()
    window.commands.focus_wanted.emit("ladder")
    QTest.keyClick(window.tuning.ladder, Qt.Key.Key_Up)
    print("moved", window.document.drum.batter.reading.hz > before)
    window.document.undo()
    window.choose_page("clear")  # no window manager here gives it the keys of the menu
    clear()

def clear():
    window = start._windows[0]
    stage = window.pages.clear
    if stage.settled is None:
        QTimer.singleShot(50, clear)
        return
    if not stage.clearing.walk.turning:
        if not stage.sources.busy:
            QTest.keyClick(stage, Qt.Key.Key_T)
        QTimer.singleShot(50, clear)
        return
    print("turn", stage.panel.turn.text())
    for _ in stage.walk.order:
        QTest.keyClick(stage, Qt.Key.Key_Space)
    print("rounds", len(stage.clearing.rounds))
    window.close()

QTimer.singleShot(200, drive)
from kesselton.cli import main
sys.exit(main(["demo"]))
"""


def test_demo_starts_shows_and_answers() -> None:
    env = {**os.environ, "QT_QPA_PLATFORM": "xcb"}
    start = time.monotonic()
    done = subprocess.run(
        [sys.executable, "-c", "from PySide6.QtWidgets import QApplication; a = QApplication([])\n" + BODY],
        capture_output=True, text=True, check=False, env=env, timeout=90,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert "platform xcb" in done.stdout
    assert "moved True" in done.stdout
    assert "turn tighten" in done.stdout or "turn loosen" in done.stdout
    assert "rounds 3" in done.stdout
    shades = int(done.stdout.split("shades ")[1].split()[0])
    assert shades > 20
    assert time.monotonic() - start < 60
