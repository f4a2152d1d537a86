"""Keys, clicks and the wheel as a hand makes them: through the X server, to whatever has the focus."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QApplication, QWidget

from tests.journeys.keyboard import Keyboard

QUIET_S = 0.1


class Hand(Keyboard):
    """One hand at the keyboard and mouse of the screen the tests run on."""

    def settle(self) -> None:
        """Long enough for the X server and the program, which is this one, to have dealt with it."""
        wait_a_while(QUIET_S)

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        self.point(widget, at)
        self.button()

    def wheel(self, widget: QWidget, notches: int) -> None:  # type: ignore[override]
        """Turned over a widget, towards the hand if `notches` is above 0."""
        self.point(widget)
        super().wheel(notches)

    def point(self, widget: QWidget, at: QPoint | None = None) -> None:
        place = widget.mapToGlobal(widget.rect().center() if at is None else at)
        self.move(place.x(), place.y())


def wait_a_while(seconds: float, until: Callable[[], bool] = lambda: False) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end and not until():
        QApplication.processEvents()
        time.sleep(0.002)
