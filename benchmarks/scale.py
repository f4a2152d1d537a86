"""What a large workshop costs: 1,000 drums and 100,000 readings, beside the demo's six drums."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np

DRUMS, READINGS_EACH = 1000, 100

CHILD = """
import os, sys, time
begun = time.perf_counter()
from PySide6.QtWidgets import QApplication
from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.ui.parts.widgets import theme
app = QApplication([])
theme.load_fonts()
from kesselton.ui.window.start import open_window
window = open_window(sys.argv[1], SettingsStore(Settings()))
window.bench.predictor.hold()
app.processEvents()
window.grab()
usable = time.perf_counter() - begun
from dataclasses import replace
saves, stalls = [], []
document = window.document
stored = document.save
def timed():
    start = time.perf_counter(); stored(); saves.append(time.perf_counter() - start)
document.save = timed
for number in range(15):
    drum = replace(document.drum, name=f"drum number {number}")
    start = time.perf_counter()
    document.replace_drum("name", drum)
    app.processEvents()
    stalls.append(time.perf_counter() - start)
# not ru_maxrss, which remembers the process this one was started from
status = dict(line.split(":", 1) for line in open("/proc/self/status"))
peak = int(status["VmHWM"].split()[0]) / 1024
median = lambda times: sorted(times)[len(times) // 2]
print(usable, 1e3 * median(saves[1:]), 1e3 * median(stalls[1:]), 1e3 * saves[0], peak)
sys.stdout.flush()
os._exit(0)
"""


def make_large(path: Path) -> None:
    """A workshop of many drums, each with its readings, from those of the demo."""
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.instrument.reading import Reading
    from kesselton.store.workshop.holdings import Entry
    from kesselton.store.workshop.workshop import WorkshopFile

    demo = demo_workshop()
    entries = []
    for number in range(DRUMS):
        like = demo.entries[number % len(demo.entries)]
        readings = tuple(
            Reading("lug_pitch", 200.0 + place, rod=1 + place % 8, on="2026-11-25")
            for place in range(READINGS_EACH)
        )
        drum = replace(like.drum, name=f"drum {number}")
        entries.append(
            Entry(number + 1, drum, like.brief, readings, like.inspected, None, like.clearings)
        )
    WorkshopFile.create(path, replace(demo, entries=tuple(entries))).close()


def scale_figures() -> list[tuple[str, float, str, str, float]]:
    """Wall time to a painted window, of a gesture's save and of the whole gesture; memory."""
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.store.workshop.workshop import WorkshopFile

    with tempfile.TemporaryDirectory() as folder:
        large, small = Path(folder) / "large.kesselton", Path(folder) / "small.kesselton"
        make_large(large)
        WorkshopFile.create(small, demo_workshop()).close()
        found = {}
        for path in (large, small):
            runs = []
            for _ in range(5):
                env = {**os.environ, "XDG_DATA_HOME": folder, "XDG_CONFIG_HOME": folder}
                done = subprocess.run(
                    [sys.executable, "-c", CHILD, str(path)], env=env, capture_output=True,
                    text=True, check=True,
                )  # fmt: skip
                runs.append([float(x) for x in done.stdout.split()])
            found[path] = np.median(np.array(runs), axis=0)
    names = (
        ("scale_open_s", "s"), ("scale_save_ms", "ms"), ("scale_stall_ms", "ms"),
        ("scale_first_save_of_a_day_ms", "ms"), ("scale_memory_mb", "MB"),
    )  # fmt: skip
    return [
        (name, float(big), unit, "the demo workshop of six drums", float(little / big))
        for (name, unit), big, little in zip(names, found[large], found[small], strict=True)
    ]
