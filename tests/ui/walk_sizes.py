"""Every stage at every size, in a process of its own: `python -m tests.ui.walk_sizes POINTS …`.

Prints a line for each text that is cut off, runs into another or leaves the window. The factor of
the screen is Qt's QT_SCALE_FACTOR.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from kesselton.ui.window.main_window import MainWindow

SIZES = ((1000, 640), (1100, 700), (1280, 720), (1280, 800), (1920, 1080))
PAGES = (
    "tuning", "measure", "heads", "fit", "clear", "gauges", "log", "set", "practice", "shows",
)  # fmt: skip
DIALOGS = (
    "drum_new", "heads_store", "buy_list", "due", "tone", "keep", "set_new", "workshop_restore", "preferences", "handbook", "shortcuts", "about",
    "go_to",
)  # fmt: skip
LONG = "The second of the two old drums that came from the tour of the year before, 14"


def main(points: list[float]) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    home = tempfile.mkdtemp()
    for name in ("DATA", "CONFIG", "STATE"):
        os.environ[f"XDG_{name}_HOME"] = home
    from PySide6.QtWidgets import QApplication

    app = QApplication([])
    from kesselton.app.host.settings import Settings, SettingsStore
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.window.start import open_window

    def wait(until: Callable[[], bool], seconds: float = 30.0) -> None:
        end = time.monotonic() + seconds
        while not until() and time.monotonic() < end:
            app.processEvents()
            time.sleep(0.002)

    theme.load_fonts()
    count = 0
    for size in points:
        theme.follow_font(size)
        app.setProperty(theme.DRESSED, None)
        window = open_window("demo", SettingsStore(Settings(theme="light", metric=size > 12)))
        assert window is not None
        count += walk(window, wait, f"{size:g} pt")
        count += walk_dialogs(window, f"{size:g} pt")
        count += walk_night(window, wait, f"{size:g} pt")
        if not window.close():
            print(f"{size:g} pt: {window.message.text.text()}")
            count += 1
    return count


def walk(window: MainWindow, wait: Callable[[Callable[[], bool]], None], where: str) -> int:
    """Every stage at every size; how many faults."""
    from PySide6.QtWidgets import QApplication

    from tests.ui.clipping import faults

    count, document = 0, window.document
    assert document.drum is not None
    document.commit("x", replace(document.workshop, name=LONG))
    document.replace_drum("x", replace(document.drum, name=LONG))
    wait(lambda: window.bench.settled is not None and not window.bench.planning)
    ready = {
        "heads": lambda: window.pages.heads.candidates is not None,
        "measure": lambda: window.pages.measure.measured is not None,
        "fit": lambda: window.pages.fit.procedure is not None,
        "clear": lambda: window.pages.clear.settled is not None,
        "set": lambda: (
            window.pages.set.sets.solved_set is not None and window.pages.set.sets.plans is not None
        ),
    }
    for wide, high in SIZES:
        window.resize(wide, high)
        for stage in PAGES:
            window.choose_page(stage)
            wait(ready.get(stage, lambda: True))
            for _ in range(6):  # layouts ask for room, get it, and ask again
                QApplication.processEvents()
                time.sleep(0.01)
            found = faults(window)
            if (window.width(), window.height()) != (wide, high):
                found.append(f"the window grew to {window.size().toTuple()}")
            for fault in found:
                print(f"{where} {wide}x{high} {stage}: {fault}")
            count += len(found)
    return count


def walk_night(window: MainWindow, wait: Callable[[Callable[[], bool]], None], where: str) -> int:
    """The night at every size: its questions, a step, a rod; how many faults."""
    from PySide6.QtWidgets import QApplication

    from tests.ui.clipping import faults

    count = 0
    for moment, night in night_moments(window, wait):
        for wide, high in SIZES:
            window.resize(wide, high)
            for _ in range(6):
                QApplication.processEvents()
                time.sleep(0.01)
            found = faults(night)
            if night.minimumSizeHint().width() > wide or night.minimumSizeHint().height() > high:
                found.append(f"it needs {night.minimumSizeHint().toTuple()}")
            for fault in found:
                print(f"{where} {wide}x{high} night, {moment}: {fault}")
            count += len(found)
    return count


def night_moments(
    window: MainWindow, wait: Callable[[Callable[[], bool]], None]
) -> Iterator[tuple[str, QWidget]]:
    """The night as it is asked, decided, led through and cleared; put away after it."""
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest

    window.actions_by_id["repair"].trigger()
    night, stage = window.commands.shows.night, window.commands.shows.repair_bench
    for moment in ("question", "ways", "step", "rods"):
        if moment == "ways":
            for key in (Qt.Key.Key_2, Qt.Key.Key_1, Qt.Key.Key_1, Qt.Key.Key_Space):
                QTest.keyClick(night, key)
            wait(lambda: stage.ways is not None)
        elif moment == "step":
            QTest.keyClick(night, Qt.Key.Key_Space)
            wait(lambda: stage.procedure is not None)
        elif moment == "rods":
            repair = stage.repair
            assert repair is not None
            stage._keep("x", replace(repair, current="clear"))
            wait(lambda: stage.advice is not None)
        yield moment, night
    for _ in range(2):
        QTest.keyClick(night, Qt.Key.Key_Escape)
    night.put_away()


def walk_dialogs(window: MainWindow, where: str) -> int:
    """Every dialog as it opens, and as small as the smallest window; how many faults."""
    from PySide6.QtCore import QEvent
    from PySide6.QtWidgets import QApplication

    from tests.ui.clipping import faults

    count = 0
    if window.screen().availableGeometry().height() < SIZES[0][1]:
        return 0  # the screen without a screen has 800 pixels, half of that enlarged twice
    for action in DIALOGS:
        window.actions_by_id[action].trigger()
        dialog = window.commands.hands.dialog
        assert dialog is not None
        for wide, high in (dialog.size().toTuple(), SIZES[0]):
            dialog.resize(wide, high)
            for _ in range(4):
                QApplication.processEvents()
                time.sleep(0.01)
            found = faults(dialog)
            if dialog.width() > wide or dialog.height() > high:
                found.append(f"it needs {dialog.size().toTuple()}")
            for fault in found:
                print(f"{where} {action} {wide}x{high}: {fault}")
            count += len(found)
        dialog.close()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    return count


if __name__ == "__main__":
    sys.exit(min(main([float(word) for word in sys.argv[1:]]), 100))
