"""Keys, clicks and the wheel as a hand makes them, through the X server and nothing else."""

from __future__ import annotations

import ctypes
import time

KEYS = {
    "Ctrl": "Control_L", "Shift": "Shift_L", "Alt": "Alt_L", "Enter": "Return", "Esc": "Escape",
    "PgUp": "Prior", "PgDown": "Next", "Backspace": "BackSpace", "Space": "space", "Del": "Delete",
    "Ins": "Insert", "↑": "Up", "↓": "Down", "←": "Left", "→": "Right", "⌫": "BackSpace",
}  # fmt: skip
BETWEEN_S = 0.02
"""Between two keys: a quick hand."""
SPARE_CODES = range(240, 250)
"""Keycodes without a key on them: signs no key has are put there for a moment."""


class _Image(ctypes.Structure):
    """The beginning of an XImage."""

    _fields_ = (
        *((name, ctypes.c_int) for name in ("width", "height", "xoffset", "format")),
        ("data", ctypes.POINTER(ctypes.c_ubyte)),
        *(
            (name, ctypes.c_int)
            for name in ("byte_order", "unit", "bit_order", "pad", "depth", "line")
        ),
    )


class Keyboard:
    """One hand at keyboard and mouse of one X display."""

    def __init__(self, display: str | None = None) -> None:
        self._x = x = ctypes.CDLL("libX11.so.6")
        self._test = test = ctypes.CDLL("libXtst.so.6")
        pointer, number, long = ctypes.c_void_p, ctypes.c_int, ctypes.c_ulong
        x.XOpenDisplay.restype = pointer
        x.XOpenDisplay.argtypes = [ctypes.c_char_p]
        x.XStringToKeysym.restype = long
        x.XStringToKeysym.argtypes = [ctypes.c_char_p]
        x.XKeysymToKeycode.argtypes = [pointer, long]
        x.XkbKeycodeToKeysym.argtypes = [pointer, ctypes.c_uint, number, number]
        x.XkbKeycodeToKeysym.restype = long
        x.XChangeKeyboardMapping.argtypes = [pointer, number, number, ctypes.POINTER(long), number]
        x.XSync.argtypes = [pointer, number]
        x.XCloseDisplay.argtypes = [pointer]
        test.XTestFakeKeyEvent.argtypes = [pointer, ctypes.c_uint, number, long]
        test.XTestFakeButtonEvent.argtypes = [pointer, ctypes.c_uint, number, long]
        test.XTestFakeMotionEvent.argtypes = [pointer, number, number, number, long]
        x.XDefaultRootWindow.argtypes = [pointer]
        x.XDefaultRootWindow.restype = long
        x.XGetImage.argtypes = [
            pointer,
            long,
            number,
            number,
            ctypes.c_uint,
            ctypes.c_uint,
            long,
            number,
        ]
        x.XGetImage.restype = ctypes.POINTER(_Image)
        self._display = x.XOpenDisplay(display.encode() if display else None)
        assert self._display, "there is no X server"
        self._spare = 0

    def let_go(self) -> None:
        """Leave the display."""
        self._x.XCloseDisplay(self._display)

    def color_at(self, x: int, y: int) -> tuple[int, int, int]:
        """Red, green and blue of a place of the screen."""
        root = self._x.XDefaultRootWindow(self._display)
        image = self._x.XGetImage(self._display, root, x, y, 1, 1, 0xFFFFFFFF, 2)
        blue, green, red = image.contents.data[:3]
        return red, green, blue

    def settle(self) -> None:
        """After each key, click or move."""
        time.sleep(BETWEEN_S)

    def press(self, *keys: str) -> None:
        """All of them down, in order, and up again: press("Ctrl+Delete") or by X names."""
        names = [
            KEYS.get(key, key)
            for word in keys
            for key in (word.split("+") if len(word) > 1 else [word])
        ]
        codes: list[int] = []
        for name in names:
            codes += self._codes(name)
        for code in codes:
            self._test.XTestFakeKeyEvent(self._display, code, 1, 0)
        for code in reversed(codes):
            self._test.XTestFakeKeyEvent(self._display, code, 0, 0)
        self._flush()

    def type(self, text: str) -> None:
        """The keys of a text, one after another."""
        for sign in text:
            self.press("space" if sign == " " else "Return" if sign == "\n" else sign)

    def hold(self, key: str, down: bool) -> None:
        """A key down, or up again."""
        for code in self._codes(KEYS.get(key, key)):
            self._test.XTestFakeKeyEvent(self._display, code, int(down), 0)
        self._flush()

    def move(self, x: float, y: float) -> None:
        """The pointer to a place of the screen."""
        self._test.XTestFakeMotionEvent(self._display, -1, round(x), round(y), 0)
        self._flush()

    def button(self, number: int = 1, down: bool | None = None) -> None:
        """A button of the mouse: pressed and let go, or one of the two."""
        for way in (1, 0) if down is None else (int(down),):
            self._test.XTestFakeButtonEvent(self._display, number, way, 0)
        self._flush()

    def click_at(self, x: float, y: float) -> None:
        """There, and pressed."""
        self.move(x, y)
        self.button()

    def wheel(self, notches: int) -> None:
        """Where the pointer is, towards the hand if above 0."""
        for _ in range(abs(notches)):
            self.button(5 if notches > 0 else 4)

    def _flush(self) -> None:
        self._x.XSync(self._display, 0)
        self.settle()

    def _codes(self, name: str) -> list[int]:
        """Keycodes for a key or a sign, Shift before it where it needs that."""
        sign = self._x.XStringToKeysym(name.encode())
        if not sign and len(name) == 1:
            sign = ord(name) if ord(name) < 0x100 else 0x01000000 + ord(name)
        assert sign, f"no such key: {name}"
        code = self._x.XKeysymToKeycode(self._display, sign)
        if not code:
            code = SPARE_CODES[self._spare % len(SPARE_CODES)]
            self._spare += 1
            both = (ctypes.c_ulong * 2)(sign, sign)
            self._x.XChangeKeyboardMapping(self._display, code, 2, both, 1)
            self._x.XSync(self._display, 0)
            time.sleep(0.2)  # the program learns of it
        shifted = (
            self._x.XkbKeycodeToKeysym(self._display, code, 0, 0) != sign
            and self._x.XkbKeycodeToKeysym(self._display, code, 0, 1) == sign
        )
        return [*(self._codes("Shift_L") if shifted else []), code]
