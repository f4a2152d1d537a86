"""Keys, clicks and the wheel as a hand makes them: through the X server, to whatever has the focus."""

from __future__ import annotations

import ctypes
import ctypes.util
import time
from collections.abc import Callable

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QApplication, QWidget

QUIET_S = 0.1
NAMES = {
    " ": "space", ".": "period", "/": "slash", ":": "Shift_L+semicolon", "-": "minus", ",": "comma",
    "?": "Shift_L+slash",
}  # fmt: skip


class Hand:
    """One hand at the keyboard and mouse of the screen the tests run on."""

    def __init__(self) -> None:
        self._x = ctypes.CDLL("libX11.so.6")
        self._test = ctypes.CDLL("libXtst.so.6")
        self._x.XOpenDisplay.restype = ctypes.c_void_p
        self._x.XStringToKeysym.restype = ctypes.c_ulong
        self._x.XKeysymToKeycode.argtypes = [ctypes.c_void_p, ctypes.c_ulong]
        self._x.XFlush.argtypes = [ctypes.c_void_p]
        self._x.XCloseDisplay.argtypes = [ctypes.c_void_p]
        self._test.XTestFakeKeyEvent.argtypes = [
            ctypes.c_void_p, ctypes.c_uint, ctypes.c_int, ctypes.c_ulong,
        ]  # fmt: skip
        self._test.XTestFakeButtonEvent.argtypes = self._test.XTestFakeKeyEvent.argtypes
        self._test.XTestFakeMotionEvent.argtypes = [
            ctypes.c_void_p, ctypes.c_int, ctypes.c_int, ctypes.c_int, ctypes.c_ulong,
        ]  # fmt: skip
        self._display = self._x.XOpenDisplay(None)
        assert self._display, "there is no X server"

    def let_go(self) -> None:
        self._x.XCloseDisplay(self._display)

    def press(self, *keys: str) -> None:
        """All of them down, in order, and up again: press("Control_L", "Delete")."""
        codes = [
            self._x.XKeysymToKeycode(self._display, self._x.XStringToKeysym(key.encode()))
            for key in keys
        ]
        assert all(codes), keys
        for code in codes:
            self._test.XTestFakeKeyEvent(self._display, code, 1, 0)
        for code in reversed(codes):
            self._test.XTestFakeKeyEvent(self._display, code, 0, 0)
        self._settle()

    def type(self, text: str) -> None:
        for sign in text:
            name = NAMES.get(sign, f"Shift_L+{sign.lower()}" if sign.isupper() else sign)
            self.press(*name.split("+"))

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        self.point(widget, at)
        self._button(1)

    def wheel(self, widget: QWidget, notches: int) -> None:
        """Turned over a widget, towards the hand if `notches` is above 0."""
        self.point(widget)
        for _ in range(abs(notches)):
            self._button(5 if notches > 0 else 4)

    def point(self, widget: QWidget, at: QPoint | None = None) -> None:
        place = widget.mapToGlobal(widget.rect().center() if at is None else at)
        self._test.XTestFakeMotionEvent(self._display, -1, place.x(), place.y(), 0)
        self._settle()

    def _button(self, number: int) -> None:
        for down in (1, 0):
            self._test.XTestFakeButtonEvent(self._display, number, down, 0)
        self._settle()

    def _settle(self) -> None:
        """Long enough for the X server and the program to have dealt with it."""
        self._x.XFlush(self._display)
        wait_a_while(QUIET_S)


def wait_a_while(seconds: float, until: Callable[[], bool] = lambda: False) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end and not until():
        QApplication.processEvents()
        time.sleep(0.002)
