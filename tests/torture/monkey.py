"""Random keys, clicks, texts, choices and menu actions in every stage of the real window.

    python -m tests.torture.monkey STEPS SEED

After every hundred steps the file must hold what the window shows, read again by another
connection; an exception anywhere is a fault. The seed is printed: it does the same again.
"""

from __future__ import annotations

import os
import random
import sys
import tempfile
import time
import traceback
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from kesselton.ui.main_window import MainWindow

NOT_BY_A_MONKEY = {
    "quit", "sheet_print", "sheet_preview", "workshop_open", "workshop_new", "workshop_copy",
    "listen", "listen_other", "full_screen",
}  # fmt: skip
"""Actions with a dialog of the system, or that need ears."""
DIALOG_WORDS = ("pdf", "sheet", "listen", "calendar", "recording", "print")
TEXTS = (
    "9", "262", "C4", "3: 82 div", "1/2 turn", "abc", "14 in", "0.8 Nm", "", "6", "24", "-5", "1e9",
    "drum F3", "99: 3", "½", "10 mil ?", "355.6 mm", "<b>x</b>", "=1+1", "nan", "9" * 400,
)  # fmt: skip
STAGES = ("tuning", "measure", "heads", "fit", "clear", "gauges", "log", "set")
EVERY = 100


class Monkey:
    """One window, one seed."""

    def __init__(self, window: MainWindow, seed: int, folder: Path) -> None:
        from PySide6.QtCore import Qt

        self.window, self.rng, self.folder = window, random.Random(seed), folder
        self.faults: list[str] = []
        self.last = ""
        self.files = 0
        key = Qt.Key
        self.keys = (
            key.Key_Space, key.Key_Return, key.Key_Tab, key.Key_Backspace, key.Key_Escape,
            key.Key_Up, key.Key_Down, key.Key_Left, key.Key_Right, key.Key_PageDown,
            key.Key_PageUp, key.Key_S, key.Key_T, key.Key_Y, key.Key_N, key.Key_Delete, key.Key_C,
        )  # fmt: skip
        commands = window.commands
        commands.ask_save = self.save_somewhere  # type: ignore[method-assign]
        commands.ask_open = lambda *a: self.rng.choice([None, folder / "none.json"])  # type: ignore[method-assign]
        commands.ask_text = lambda *a: self.rng.choice(["Store", "", None, "x" * 200])  # type: ignore[method-assign]
        commands.may_lose_changes = lambda: True  # type: ignore[method-assign]

    def save_somewhere(self, *asked: object) -> Path | None:
        """A new file, or none."""
        self.files += 1
        ending = self.rng.choice([".pdf", "", ".json", ".wav", ".ics", ".md", ".csv"])
        return self.folder / f"f{self.files}{ending}" if self.rng.random() < 0.7 else None

    def hook(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        """An exception nobody caught."""
        where = traceback.extract_tb(trace)[-1] if trace else None
        self.faults.append(f"{self.last}: {kind.__name__}: {error} ({where})")

    def step(self) -> None:
        """One gesture."""
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest
        from PySide6.QtWidgets import QApplication, QComboBox

        rng, window = self.rng, self.window
        has: QWidget = QApplication.focusWidget() or window
        draw = rng.random()
        if draw < 0.35:
            key, control = rng.choice(self.keys), rng.random() < 0.15
            self.last = f"key {key.name}"
            modifier = Qt.KeyboardModifier
            QTest.keyClick(has, key, modifier.ControlModifier if control else modifier.NoModifier)
        elif draw < 0.5:
            text = rng.choice(TEXTS)
            self.last = f"text {text[:20]!r}"
            QTest.keyClicks(has, text)
            QTest.keyClick(has, Qt.Key.Key_Return)
        elif draw < 0.7:
            self.click()
        elif draw < 0.78:
            boxes = [
                x for x in window.findChildren(QComboBox)
                if x.isVisible() and x.isEnabled() and x.count()
            ]  # fmt: skip
            if boxes:
                box = rng.choice(boxes)
                place = rng.randrange(box.count())
                self.last = f"choice {box.accessibleName()}: {box.itemText(place)}"
                box.setCurrentIndex(place)
                box.activated.emit(place)
        elif draw < 0.9:
            stage = rng.choice(STAGES)
            self.last = f"stage {stage}"
            window.choose_stage(stage)
        elif draw < 0.93 and window.document.workshop.entries:
            self.last = "another drum"
            window.document.select(rng.choice(window.document.workshop.entries).id)
        else:
            self.act()

    def click(self) -> None:
        """Somewhere in something that can be clicked."""
        from PySide6.QtCore import QPoint, Qt
        from PySide6.QtTest import QTest
        from PySide6.QtWidgets import QAbstractButton, QLineEdit, QPushButton, QSlider, QWidget

        from kesselton.ui.parts.picture import Picture

        kinds = (QAbstractButton, QLineEdit, QSlider, Picture)
        there = [
            x for x in self.window.findChildren(QWidget)
            if x.isVisible() and x.isEnabled() and isinstance(x, kinds)
        ]  # fmt: skip
        widget = self.rng.choice(there)
        name = widget.text().lower() if isinstance(widget, QPushButton) else ""
        if any(word in name for word in DIALOG_WORDS):
            return
        self.last = f"click {type(widget).__name__} {widget.accessibleName() or name}"
        size = widget.size()
        at = QPoint(
            self.rng.randrange(max(size.width(), 1)), self.rng.randrange(max(size.height(), 1))
        )
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at)

    def act(self) -> None:
        """An action of the menus; a dialog that comes is closed again, mostly."""
        from PySide6.QtWidgets import QDialog
        from shiboken6 import isValid

        window = self.window
        name = self.rng.choice(sorted(window.actions_by_id.keys() - NOT_BY_A_MONKEY))
        self.last = f"action {name}"
        if window.actions_by_id[name].isEnabled():
            window.actions_by_id[name].trigger()
        dialog: Any = window.commands.dialog
        if isinstance(dialog, QDialog) and isValid(dialog) and self.rng.random() < 0.8:
            dialog.close()
        window.commands.dialog = None

    def tidy(self) -> None:
        """Let the program work; close what waits for an answer."""
        from PySide6.QtWidgets import QApplication, QInputDialog, QMessageBox

        for _ in range(self.rng.choice([1, 1, 3, 20])):
            QApplication.processEvents()
            time.sleep(0.001)
        for window in QApplication.topLevelWidgets():
            if isinstance(window, QMessageBox | QInputDialog) and window.isVisible():
                window.close()
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()

    def look(self, number: int) -> None:
        """The file holds what the window shows."""
        held = self.window.document.looked_up()
        if held.name != "YES":
            self.faults.append(f"step {number}, {self.last}: the file is not the window: {held}")


def main(steps: int, seed: int) -> int:
    """Let a monkey loose; how many faults."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    folder = Path(tempfile.mkdtemp())
    for name in ("DATA", "CONFIG", "STATE"):
        os.environ[f"XDG_{name}_HOME"] = str(folder)
    from PySide6.QtWidgets import QApplication

    app = QApplication([])
    from kesselton.app.settings import Settings, SettingsStore
    from kesselton.ui.parts import theme
    from kesselton.ui.start import open_window

    theme.load_fonts()
    window = open_window("demo", SettingsStore(Settings(theme="light")))
    assert window is not None
    window.stages.fit.ask_reason = lambda step: "why"  # type: ignore[method-assign,assignment]
    monkey = Monkey(window, seed, folder)
    sys.excepthook = monkey.hook
    for number in range(1, steps + 1):
        try:
            monkey.step()
            monkey.tidy()
        except Exception as error:
            where = traceback.extract_tb(error.__traceback__)[-1]
            monkey.faults.append(f"{monkey.last}: {type(error).__name__}: {error} ({where})")
        if number % EVERY == 0 or number == steps:
            monkey.look(number)
        if monkey.faults:
            print(f"step {number}")
            break
    for _ in range(3):  # what stands typed is said once
        if window.close():
            break
    app.processEvents()
    for fault in monkey.faults:
        print(fault)
    print(f"{steps} gestures, seed {seed}: {len(monkey.faults)} faults")
    return len(monkey.faults)


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [2000, 20261126][len(sys.argv) - 1 :]
    sys.exit(min(main(*numbers), 100))
