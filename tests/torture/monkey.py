"""Random keys, clicks, drags, texts, menus and dialogs by real events in a real window.

    python -m tests.torture.monkey GESTURES SEED

Nothing is left out, printing and quitting included: a program that ends by itself is started again.
Faults are: an error on standard error, an end that nobody asked for, a window that does not answer,
a file that another process cannot read. The seed does the same again, as far as the machine is as
fast. Needs Xvfb and openbox.
"""

from __future__ import annotations

import contextlib
import random
import re
import sys
import tempfile
import time
from collections import deque
from pathlib import Path
from typing import Any

from kesselton.core.errors import KesseltonError
from kesselton.store.workshop.peek import look_into
from tests.journeys.stranger import Stranger, screen

KEYS = (
    "space", "Return", "Tab", "BackSpace", "Escape", "Up", "Down", "Left", "Right", "Next", "Prior",
    "Home", "End", "Delete", "Insert", "F1", "F2", "F3", "F4", "F5", "F6", "F7", "F8", "F9", "F10",
    "F11", "F12", *"abcdefghijklmnopqrstuvwxyz0123456789",
)  # fmt: skip
HELD = ("", "", "", "", "Ctrl+", "Shift+", "Alt+", "Ctrl+Shift+")
TEXTS = (
    "9", "262", "C4", "3: 82 div", "1/2 turn", "abc", "14 in", "0.8 Nm", "6", "24", "-5", "1e9",
    "drum F3", "99: 3", "½", "²", "10 mil ?", "355.6 mm", "<b>x</b>", "=1+1", "nan", "9" * 60, "{x}",
)  # fmt: skip
LOOK_EVERY, READ_EVERY = 3, 60
TROUBLE = re.compile(
    r"Traceback|Fatal|Segmentation|QPainter|QObject|QWidget:|not saved|cannot be saved"
)


class Monkey:
    """One program, one seed."""

    def __init__(self, display: str, home: Path, seed: int) -> None:
        self.rng, self.home = random.Random(seed), home
        self.one = Stranger(display, home, "demo")
        self.last = ""
        self.past: deque[str] = deque(maxlen=25)
        self.faults: list[str] = []
        self.shown: list[dict[str, Any]] = []
        self.menus: list[dict[str, Any]] = []

    def gesture(self, number: int) -> None:
        """One of them."""
        one, rng = self.one, self.rng
        if number % LOOK_EVERY == 0 or not self.shown:
            seen = one.look()
            self.shown, self.menus = seen.shown, [
                row for top in seen.windows for row in (*top.get("bar", ()), *top.get("menu", ()))
            ]  # fmt: skip
        draw = rng.random()
        if draw < 0.42:
            key = rng.choice(HELD) + rng.choice(KEYS)
            self.last = f"key {key}"
            one.press(key)
        elif draw < 0.55:
            text = rng.choice(TEXTS)
            self.last = f"text {text}"
            one.type(text + rng.choice(["", "\n", "\t"]).replace("\t", ""))
        elif draw < 0.80 and self.shown:
            x, y = self._somewhere()
            number = rng.choice([1, 1, 1, 1, 3])
            self.last += f", button {number}"
            one.move(x, y)
            one.button(number)
        elif draw < 0.86 and self.shown:
            x, y = self._somewhere()
            self.last += ", dragged"
            one.move(x, y)
            one.button(1, True)
            for _ in range(4):
                one.move(x + rng.randint(-60, 60), y + rng.randint(-60, 60))
            if rng.random() < 0.3:
                one.press("Escape")
            one.button(1, False)
        elif draw < 0.90 and self.shown:
            x, y = self._somewhere()
            self.last += ", wheel"
            one.move(x, y)
            one.wheel(rng.randint(-3, 3))
        elif self.menus:
            row = rng.choice(self.menus)
            self.last = f"menu {row['text']}"
            x, y, wide, high = row["at"]
            one.click_at(x + wide / 2, y + high / 2)
            self.shown = []

    def _somewhere(self) -> tuple[float, float]:
        widget = self.rng.choice(self.shown)
        self.last = f"{widget['kind']} {widget['name'] or widget['text'][:30]}"
        x, y, wide, high = widget["seen"]
        return x + self.rng.random() * wide, y + self.rng.random() * high

    def look_after(self, number: int) -> None:
        """Whether anything went wrong."""
        if (wrong := TROUBLE.search(self.one.tail)) is not None:
            self.faults.append(f"{number}, {self.last}: {wrong[0]}\n{self.one.tail[-1500:]}")
        code = self.one.program.poll()
        if code is not None:
            if code != 0:
                self.faults.append(f"{number}, {self.last}: ended with {code}\n{self.one.tail}")
            else:
                self.one.start("demo")  # it was asked to quit
                self.shown = []
        if number % READ_EVERY == 0:
            self.read_files(number)

    def read_files(self, number: int) -> None:
        """Every workshop there is can be read by another process: this one."""
        for path in self.home.rglob("*.kesselton"):
            for attempt in range(3):
                try:
                    look_into(path)
                    break
                except KesseltonError as error:
                    if attempt == 2 and path.exists():
                        self.faults.append(f"{number}, {self.last}: {path.name}: {error}")
                    time.sleep(0.3)  # somebody is writing it

    def _throw_away(self) -> None:
        """What was typed in a dialog may go, where it asks."""
        with contextlib.suppress(AssertionError):
            if self.one.look().all("Throw it away"):
                self.one.click("Throw it away")

    def _into_the_window(self) -> None:
        """No window has the keys (the manager let one go that was shut as it opened): a hand clicks
        in it. Told, for it should be rare."""
        with contextlib.suppress(AssertionError):
            seen = self.one.look()
            if seen.windows and not any(top["active"] for top in seen.windows):
                print(f"no window had the keys, before: {list(self.past)[-8:]}")
                left, top, wide, high = seen.windows[0]["frame"]
                self.one.click_at(left + wide / 2, top + high - 4)

    def end(self) -> None:
        """Quit as a hand does: away with what is open, Ctrl+Q, once more where it asks."""
        for _ in range(8):
            if self.one.program.poll() is not None:
                break
            self._into_the_window()
            for _ in range(3):
                self.one.press("Escape")
                time.sleep(0.1)
                self._throw_away()
            self.one.press("Ctrl+q")
            time.sleep(0.7)
        if self.one.program.poll() is None:
            try:
                seen = self.one.look()
                tops = [{k: v for k, v in top.items() if k != "widgets"} for top in seen.windows]
                time.sleep(5.0)
                late = "not even later" if self.one.program.poll() is None else "it did later"
                has = [one for one in seen.shown if one.get("focus")]
                self.faults.append(
                    f"it does not end, {late}: {tops}\nkeys go to {has}\nbefore: {list(self.past)}\n"
                    f"{seen.text[-1500:]}"
                )
            except AssertionError as error:
                self.faults.append(f"it does not end, and does not answer: {error}")
        self.read_files(-1)
        self.one.kill()


def main(gestures: int, seed: int) -> int:
    """Let a monkey loose; how many faults."""
    with tempfile.TemporaryDirectory() as folder, screen() as display:
        monkey = Monkey(display, Path(folder) / "home", seed)
        done = 0
        for number in range(1, gestures + 1):
            done = number
            try:
                monkey.gesture(number)
                monkey.past.append(f"{number} {monkey.last}")
                monkey.look_after(number)
            except AssertionError as error:
                if monkey.one.program.poll() is None:
                    monkey.faults.append(f"{number}, {monkey.last}: {error}")
                else:
                    monkey.look_after(number)
            if monkey.faults:
                break
        monkey.end()
        for fault in monkey.faults:
            print(fault)
        print(f"{done} gestures, seed {seed}: {len(monkey.faults)} faults")
        return len(monkey.faults)


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [2000, 20261126][len(sys.argv) - 1 :]
    sys.exit(min(main(*numbers), 100))
