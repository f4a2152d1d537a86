"""The program in a language nobody speaks: what stays in plain letters never went through gettext.

    python -m tests.ui.pseudo

Every letter of a message gets an accent, and every message grows by two fifths. What is still in
plain letters is data of the demo, or a fault; so is a text that is cut off. Each is printed.
"""

from __future__ import annotations

import os
import re
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from gettext import NullTranslations
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from kesselton.ui.window.main_window import MainWindow

PLAIN = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ"
ACCENTED = "áƀçđéƒǧħíĵķĺɱñóƥɋřšťúṽŵẋýžÁƁÇĐÉƑǦĦÍĴĶĹṀÑÓƤɊŘŠŤÚṼŴẊÝŽ"
TABLE = str.maketrans(PLAIN, ACCENTED)
GAP = re.compile(r"(\{[^}]*\}|<[^>]*>)")
LONGER, WORD_LONG = 0.4, 6
"""By so much each message grows, in words of so many letters."""
WORD = re.compile(r"[A-Za-z]{3,}")
SAME = {"mil", "MPa", "SPL", "Ctrl", "Shift", "Alt", "Space", "Insert", "Delete"}
"""In every language: units, and keys as the desktop writes them."""


class Pseudo(NullTranslations):
    """Every message accented and longer."""

    def gettext(self, message: str) -> str:
        parts = [
            part if GAP.fullmatch(part) else part.translate(TABLE) for part in GAP.split(message)
        ]
        more = "~" * int(LONGER * len(GAP.sub("", message)))
        words = " ".join(more[at : at + WORD_LONG] for at in range(0, len(more), WORD_LONG))
        return "".join(parts) + (f" {words}" if len(more) > WORD_LONG else words)

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)

    def pgettext(self, context: str, message: str) -> str:
        return self.gettext(message)


def texts(widget: QWidget) -> Iterator[tuple[str, str]]:
    """Where a text stands, and the text: of a widget and all in it that is shown."""
    from PySide6.QtCore import Qt
    from PySide6.QtWidgets import (
        QAbstractButton,
        QComboBox,
        QLabel,
        QLineEdit,
        QListWidget,
        QTableView,
        QTextBrowser,
        QWidget,
    )  # fmt: skip

    from kesselton.ui.drum_list.drum_list import DrumList
    from kesselton.ui.parts.widgets.picture import Picture
    from tests.ui.clipping import painted

    for one in (widget, *widget.findChildren(QWidget)):
        if not one.isVisible() or isinstance(one, QTextBrowser):
            continue
        name = type(one).__name__
        yield f"{name} tip", one.toolTip()
        yield f"{name} accessible", one.accessibleName()
        yield f"{name} title", one.windowTitle()
        yield f"{name} description", one.accessibleDescription()
        data = isinstance(one, DrumList)  # names of drums, broken into lines
        if isinstance(one, Picture) and not data and not one.visibleRegion().isEmpty():
            yield from ((f"{name} painted", text) for text in painted(one))
        if isinstance(one, QLabel | QAbstractButton):
            yield name, one.text()
        elif isinstance(one, QComboBox):
            for place in range(one.count()):
                yield f"{name} entry", one.itemText(place)
        elif isinstance(one, QLineEdit):
            yield f"{name} hint", one.placeholderText()
        elif isinstance(one, QListWidget):
            for place in range(one.count()):
                yield f"{name} row", one.item(place).text()
        elif isinstance(one, QTableView):
            model = one.model()
            for column in range(model.columnCount()):
                yield (
                    f"{name} head",
                    str(model.headerData(column, Qt.Orientation.Horizontal) or ""),
                )
                for row in range(min(model.rowCount(), 40)):
                    yield f"{name} cell", str(model.index(row, column).data() or "")


def plain(text: str, known: set[str]) -> list[str]:
    """Words of a text that never went through gettext."""
    text = re.sub(r"<[^>]*>|\t", " ", text)
    for name in sorted(known, key=len, reverse=True):
        text = text.replace(name, " ")
    return [word for word in WORD.findall(text) if word not in SAME]


def papers(window: MainWindow, folder: Path) -> Iterator[tuple[str, str]]:
    """Which sheet, and a text that stands on it."""
    from datetime import date

    import pypdf
    from PySide6.QtGui import QPageSize, QPainter, QPdfWriter

    from kesselton.core.sets.model.chords import hz_of
    from kesselton.ui.printing.fit_sheet import write_fit_pdf, write_markdown
    from kesselton.ui.printing.sheet import paint_sheet
    from kesselton.ui.sets.set_sheet import SetSheet, write_set_sheet

    sheet = window.commands.papers._sheet()
    writer = QPdfWriter(str(folder / "tuning.pdf"))
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    with QPainter(writer) as p:
        paint_sheet(p, sheet)
    writer = None  # written to its end
    fit, drum = window.pages.fit, window.document.drum
    assert fit.procedure is not None
    assert drum is not None
    write_fit_pdf(folder / "fit.pdf", fit.procedure, drum, "", "", date(2026, 11, 27), fit.fitting)
    write_markdown(folder / "fit.md", fit.procedure, "", fit.fitting)
    sets = window.pages.set.sets
    assert sets.solved_set is not None
    assert sets.plans is not None
    made = SetSheet(
        sets.kit, sets.solved_set, sets.plans.plans[0], "", 440.0, False, True, date(2026, 11, 27)
    )
    write_set_sheet(folder / "set.md", made, lambda cents: f"{hz_of(cents, 440.0):.1f}")
    for path in sorted(folder.iterdir()):
        if path.suffix == ".pdf":
            for page in pypdf.PdfReader(path).pages:
                yield from ((path.name, line) for line in page.extract_text().splitlines())
        else:
            yield from ((path.name, line) for line in path.read_text().splitlines())


def main() -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    home = tempfile.mkdtemp()
    for name in ("DATA", "CONFIG", "STATE"):
        os.environ[f"XDG_{name}_HOME"] = home
    from PySide6.QtWidgets import QApplication

    from kesselton.core import language

    app = QApplication([])
    language.use(Pseudo())
    from datetime import date

    from kesselton.app.host.settings import Settings, SettingsStore
    from kesselton.app.workshop.head_stock import constructions
    from kesselton.core.practice.exercises import EXERCISES
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.window.start import open_window
    from tests.ui.clipping import faults as clipped
    from tests.ui.walk_sizes import DIALOGS, PAGES, night_moments

    def wait(until: Callable[[], bool], seconds: float = 40.0) -> None:
        end = time.monotonic() + seconds
        while not until() and time.monotonic() < end:
            app.processEvents()
            time.sleep(0.002)

    theme.load_fonts()
    window = open_window("demo", SettingsStore(Settings(theme="light")))
    assert window is not None
    window.resize(1280, 800)
    wait(lambda: window.bench.settled is not None and not window.bench.planning)
    workshop = window.document.workshop
    known = {workshop.name, "Kesselton", *(head.name for head in workshop.library)}
    known |= {entry.drum.name for entry in workshop.entries}
    known |= {
        drum.setting(side).head.name
        for drum in (e.drum for e in workshop.entries)
        for side in drum.sides
    }
    for part in (workshop.kits, workshop.shows, workshop.pupils, workshop.dials, workshop.keys):
        known |= {one.name for one in part}
    for entry in workshop.entries:
        for one in entry.kept:
            known |= {
                one.what_for,
                one.verdict,
                one.music,
                one.player,
                one.room,
                one.wires,
                *one.sets,
            }
            known |= {x.name for x in one.attached}
    known |= {pair.name for dial in workshop.dials for pair in dial.pairs}
    known |= {thing for show in workshop.shows for thing in show.own}
    known |= {made.name for made in constructions()}
    known |= {f"{date(2026, month, 1):%b}" for month in range(1, 13)}  # of no catalog: Babel's
    known.discard("")
    faults: dict[tuple[str, str], str] = {}

    def judge(where: str, kind: str, text: str) -> None:
        if words := plain(text, known):
            faults.setdefault((kind, text), f"{where}: {kind} {words}: {text[:150]!r}")

    def look(where: str, widget: QWidget) -> None:
        for kind, text in texts(widget):
            judge(where, kind, text)
        for fault in clipped(widget):
            faults.setdefault(("cut", fault), f"{where}: {fault}")

    for bar in window.menuBar().actions():
        for action in (bar, *(bar.menu().actions() if bar.menu() else ())):
            if plain(action.text().replace("&", ""), known):
                faults.setdefault(("menu", action.text()), f"menu: {action.text()!r}")
    ready = {
        "heads": lambda: window.pages.heads.candidates is not None,
        "measure": lambda: window.pages.measure.measured is not None,
        "fit": lambda: window.pages.fit.procedure is not None,
        "clear": lambda: window.pages.clear.settled is not None,
        "set": lambda: (
            window.pages.set.sets.solved_set is not None and window.pages.set.sets.plans is not None
        ),
    }
    firsts = {entry.drum.kind: entry for entry in reversed(workshop.entries)}
    for entry in sorted(firsts.values(), key=lambda one: one.id):
        window.document.select(entry.id)
        wait(lambda: window.bench.settled is not None and not window.bench.planning)
        for stage in PAGES:
            if entry.id > 1 and stage in ("heads", "set", "shows", "practice", "gauges"):
                continue
            window.choose_page(stage)
            wait(ready.get(stage, lambda: True), 6.0)  # a rope drum has no steps of some pages
            for _ in range(20):
                app.processEvents()
                time.sleep(0.005)
            if stage == "tuning":
                window.tuning.hear("bench")
                wait(lambda: window.tuning.heard is not None)
                for part in ("shell", "batter", "resonant", "beater"):
                    window.tuning.choose_part(part)
                    for _ in range(6):
                        app.processEvents()
                        time.sleep(0.005)
                    look(f"{stage} {part} of {entry.drum.name}", window)
            look(f"{stage} of {entry.drum.name}", window)
    for action in DIALOGS:
        window.actions_by_id[action].trigger()
        dialog = window.commands.hands.dialog
        assert dialog is not None
        for _ in range(10):
            app.processEvents()
            time.sleep(0.01)
        look(action, dialog)
        dialog.close()
        app.processEvents()
    window.choose_page("practice")
    practice = window.pages.practice
    for key in EXERCISES:
        practice.practice.choose(key)
        practice.go_on()
        for answering in (False, True):
            if answering:
                practice.answer_number(1)
            for _ in range(6):
                app.processEvents()
                time.sleep(0.01)
            look(f"practice, {key}", window)
        practice.stop_session()
    window.document.select(firsts["snare"].id)
    for page in ("tuning", "fit", "set"):
        window.choose_page(page)
        wait(ready.get(page, lambda: window.bench.settled is not None))
    with tempfile.TemporaryDirectory() as folder:
        for name, text in papers(window, Path(folder)):
            judge(name, "line", text)
    for moment, night in night_moments(window, wait):
        look(f"night, {moment}", night)
    for fault in faults.values():
        print(fault)
    print(f"{len(faults)} texts that never went through gettext")
    return len(faults)


if __name__ == "__main__":
    count = main()
    sys.stdout.flush()
    os._exit(min(count, 100))
