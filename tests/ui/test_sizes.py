"""Nothing is cut off, runs into something else or leaves the window, at any size of window and letters."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable

import pytest
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from kesselton.ui.parts.widgets import theme
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.window.main_window import MainWindow
from tests.ui.clipping import faults

Wait = Callable[..., None]


class Crowded(Picture):
    """Two words on each other, and one that leaves the picture."""

    def _paint(self, p: QPainter) -> None:
        p.drawText(QRectF(10, 10, 100, 20), Qt.AlignmentFlag.AlignLeft, "first word")
        p.drawText(QRectF(30, 12, 100, 20), Qt.AlignmentFlag.AlignLeft, "second word")
        p.drawText(
            QRectF(150, 60, 200, 20), Qt.AlignmentFlag.AlignLeft, "a word that goes on and on"
        )


def test_the_checker_finds_what_is_planted(qapp: object) -> None:
    theme.apply(qapp, theme.LIGHT)  # type: ignore[arg-type]
    window = QWidget()
    window.resize(240, 240)
    label, button = (
        QLabel("a label that is much longer than its room", window),
        QPushButton("a long button", window),
    )
    label.setGeometry(5, 5, 60, 20)
    button.setGeometry(5, 12, 40, 30)
    away = QLabel("out of sight", window)
    away.setGeometry(220, 150, 80, 20)
    wrapped = QLabel("several words that need more than one line to be read at all", window)
    wrapped.setWordWrap(True)
    wrapped.setGeometry(5, 60, 80, 18)
    crowded = Crowded(window)
    crowded.setGeometry(0, 100, 200, 90)
    window.show()
    said = "\n".join(faults(window))
    for wanted in (
        "'a label that is much longer than its room' lacks",
        "'a long button' lacks",
        "lies on Q",
        "'out of sight' is 60 px out of sight",
        "'several words that need more than one line to be read at all' lacks",
        "'first word' runs into 'second word'",
        "'a word that goes on and on' leaves the picture",
    ):
        assert wanted in said, said
    window.close()
    good = QWidget()
    layout = QVBoxLayout(good)
    layout.addWidget(QLabel("a label with room"))
    layout.addWidget(Elided("a name that may be cut, and says so when it is pointed at, " * 3))
    good.resize(300, 100)
    good.show()
    assert faults(good) == []
    good.close()


@pytest.mark.timeout(300)
@pytest.mark.parametrize(
    ("factor", "points"), [("1", "9"), ("1", "16"), ("1.5", "12"), ("2", "16")]
)
def test_every_stage_at_every_size(factor: str, points: str) -> None:
    done = subprocess.run(
        [sys.executable, "-m", "tests.ui.walk_sizes", *points.split()],
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": factor},
        capture_output=True, text=True, check=False, timeout=280,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr


def test_pictures_follow_the_letters(window: MainWindow, wait: Wait) -> None:
    before = window.drum_list.row_rect(1)
    theme.follow_font(16.0)
    try:
        assert window.drum_list.width() < 188
        assert window.drum_list.row_rect(1).height() == before.height()  # in pixels of the source
        assert theme.font(10).pointSizeF() == 16.0
        with theme.on_paper():
            assert theme.font(10).pointSizeF() == 10.0
    finally:
        theme.follow_font(10.0)
