"""Take the pictures in docs/screenshots from the demo workshop: `./run shots`.

With --check they go to a temporary place and only have to come out whole (CI).
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from functools import partial
from pathlib import Path

SCRATCH = tempfile.mkdtemp(prefix="kesselton-shots-")
os.environ["XDG_DATA_HOME"] = os.environ["XDG_CONFIG_HOME"] = SCRATCH
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSize
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QApplication

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.ui.parts.widgets import theme
from kesselton.ui.printing.sheet import Sheet, paint_sheet
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window

DOCS = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def settle(app: QApplication, until: Callable[[], bool], seconds: float = 120.0) -> None:
    """Let the program work until something is true."""
    end = time.monotonic() + seconds
    while not until() or theme.dressing():
        if time.monotonic() > end:
            raise SystemExit("the window did not come to rest")
        app.processEvents()
        time.sleep(0.005)
    end = time.monotonic() + 0.3  # texts that changed their height are laid out once more
    while time.monotonic() < end:
        app.processEvents()
        time.sleep(0.005)


def rested(window: MainWindow) -> Callable[[], bool]:
    """The drum on the bench and the whole rack are computed."""
    return lambda: (
        window.result is not None
        and window.result.drum == window.document.drum
        and len(window.drum_list.notes) == len(window.document.workshop.entries)
        and window.plan is not None
        and window.bench.speaks is not None
    )


def stage_images(app: QApplication, window: MainWindow) -> dict[str, QImage]:
    """By day, in the night at a rod, and a question of practice that was answered."""
    images = {}
    window.choose_page("shows")
    shows = window.commands.shows
    settle(app, lambda: shows.show_bench.targets is not None)
    images["stage"] = window.grab().toImage()
    window.choose_page("practice")
    practice = window.pages.practice.practice
    practice.choose("tone")
    practice.begin(seed=3)
    settle(app, lambda: practice.question is not None)
    practice.answer("lower")
    settle(app, lambda: practice.told is not None)
    images["practice"] = window.grab().toImage()
    practice.finish()
    window.choose_page("shows")
    shows.repair_bench.begin(2, "batter", "gone", 7.0)
    shows.repair_bench.ask_ways()
    settle(app, lambda: shows.repair_bench.ways is not None)
    shows.repair_bench.decide((shows.repair_bench.ways or [])[0])
    shows.repair()
    settle(app, lambda: shows.repair_bench.procedure is not None)
    repair = shows.repair_bench.repair
    assert repair is not None
    later = replace(repair, current="fingers", skipped=("edge",))
    shows.repair_bench._keep("a later step", later)
    settle(app, lambda: shows.repair_bench.procedure is not None)
    images["night"] = window.grab().toImage()
    shows.night.put_away()
    return images


def sheet_image(window: MainWindow) -> QImage:
    """The settings sheet as a picture."""
    image = QImage(QSize(794, 1123), QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    assert window.result is not None
    with QPainter(image) as painter:
        painter.translate(48, 48)
        workshop = window.document.workshop.name
        paint_sheet(
            painter,
            Sheet(
                window.result,
                workshop,
                440.0,
                False,
                False,
                date(2026, 11, 25),
                window.plan,
            ),
        )
    return image


def whole(image: QImage) -> bool:
    """True if the picture shows more than one colour in every quarter."""
    for left in (0, image.width() // 2):
        for top in (0, image.height() // 2):
            colours = {
                image.pixel(x, y)
                for x in range(left, left + image.width() // 2, 7)
                for y in range(top, top + image.height() // 2, 7)
            }
            if len(colours) < 3:
                return False
    return True


def main() -> None:
    out = Path(tempfile.mkdtemp()) if "--check" in sys.argv else DOCS
    app = QApplication([])
    missing = theme.load_fonts()
    assert not missing, missing
    window = open_window("demo", SettingsStore(Settings(theme="light")))
    window.resize(1280, 800)
    settle(app, rested(window))
    images = {"bench-snare": window.grab().toImage()}
    window.document.select(2)
    window.tuning.hear("bench")
    settle(app, lambda: window.tuning.heard is not None)
    images["bench-heard"] = window.grab().toImage()
    window.choose_page("log")
    settle(app, rested(window))
    images["log"] = window.grab().toImage()
    window.choose_page("tuning")
    window.tuning.choose_part("shell")
    settle(app, rested(window))
    images["bench-tom-shell"] = window.grab().toImage()
    images["tuning-sheet"] = sheet_image(window)
    window.choose_page("heads")
    heads = window.pages.heads
    settle(
        app,
        lambda: (
            window.pages.heads.candidates is not None and not window.pages.heads.chooser.running
        ),
    )
    order = heads.list.rows.order
    for number in (order[0], order[30], order[200]):
        heads.toggle_mark(number)
    images["heads"] = window.grab().toImage()
    heads.compare.click()
    settle(app, lambda: len(window.pages.compare.predictions) == 3)
    images["heads-compare"] = window.grab().toImage()
    window.commands.workshop.stock()
    assert window.commands.hands.dialog is not None
    settle(app, lambda: True)
    images["heads-store"] = window.commands.hands.dialog.grab().toImage()
    window.commands.hands.dialog.close()
    window.document.select(1)
    window.choose_page("measure")
    settle(app, lambda: window.pages.measure.measured is not None)
    images["measure"] = window.grab().toImage()
    fit = window.pages.fit
    window.choose_page("fit")
    settle(app, lambda: fit.procedure is not None)
    for _ in range(17):
        step = fit._step()
        assert step is not None
        act = partial(fit.answer, step.ask.good) if step.ask else fit.finish_step
        act()
        if fit._step() == step:  # its time did not run: once more goes on all the same
            act()
    settle(app, lambda: True)
    images["fit"] = window.grab().toImage()
    window.choose_page("clear")
    clear = window.pages.clear
    clear.choose_source("bench_dial")
    for _ in range(window.document.drum.shell.rods):
        clear.read_now()
        settle(app, lambda: not clear.sources.busy)
    settle(app, lambda: clear.settled is not None)
    images["clear"] = window.grab().toImage()
    window.choose_page("gauges")
    settle(app, lambda: True)
    images["gauges"] = window.grab().toImage()
    window.choose_page("set")
    stage = window.pages.set
    settle(app, lambda: stage.sets.solved_set is not None and stage.sets.plans is not None)
    images["set"] = window.grab().toImage()
    stage.sets.choose(2)
    settle(app, lambda: stage.sets.solved_set is not None and stage.sets.plans is not None)
    stage.look_at(2, 4)
    settle(app, lambda: stage.sets.cures is not None)
    images["set-clashes"] = window.grab().toImage()
    images.update(stage_images(app, window))
    window.choose_page("tuning")
    window.document.select(4)
    window.tuning.choose_part("resonant")
    settle(app, rested(window))
    images["bench-bass-port"] = window.grab().toImage()
    window.document.select(5)
    window.tuning.choose_part("batter")
    window.bench.settings_store.change(theme="dark", metric=True)
    settle(app, rested(window))
    images["bench-concert-dark-metric"] = window.grab().toImage()
    window.close()
    for name, image in images.items():
        assert whole(image), name
        image.save(str(out / f"{name}.png"))
        print(f"{name}.png {image.width()}x{image.height()}")


if __name__ == "__main__":
    main()
