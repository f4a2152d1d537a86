"""Names and notes of a stranger are text and nothing else, wherever they come to."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextDocument
from PySide6.QtWidgets import QApplication, QLabel

from kesselton.app.bench.fitting import procedure
from kesselton.core.escape import inert_cell, live_cell, pasted_cell
from kesselton.core.fit.fitting import Fitting
from kesselton.core.fit.procedure import Choices
from kesselton.core.fit.schedule import Date
from kesselton.core.heads.buying import BuyLine
from kesselton.core.instrument.gauge import Dial, DialPair
from kesselton.store.exports.buy_file import COLUMNS, buy_csv
from kesselton.store.exports.calendar_file import calendar_text
from kesselton.store.exports.fitting_file import markdown
from kesselton.ui.parts.widgets.clipboard import tabbed
from kesselton.ui.parts.widgets.labels import Label, MarkedLabel, plain_tip
from kesselton.ui.window.main_window import MainWindow
from tests.conftest import make_drum

Wait = Callable[..., None]
PAGES = ("tuning", "measure", "heads", "fit", "clear", "gauges", "log", "set")


def test_no_name_loads_a_picture(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    """A workshop's name did: the label took it for markup."""
    asked: list[str] = []
    real = QTextDocument.loadResource
    evil = f'<img src="{QUrl.fromLocalFile(str(tmp_path / "spy.png")).toString()}">x'
    document = window.document
    drum = document.drum
    assert drum is not None
    QTextDocument.loadResource = lambda self, kind, url: asked.append(url.toString())  # type: ignore[method-assign]
    try:
        workshop = replace(
            document.workshop,
            name=evil,
            dials=(Dial(evil, (DialPair(50.0, 1000.0, 2e-4, evil), DialPair(90.0, 3000.0, 2e-4))),),
        )
        document.commit("x", workshop)
        head = replace(drum.batter.head, name="<b>bold</b>")
        named = replace(drum, name="<i>slanted</i>")
        document.replace_drum("x", named.with_setting("batter", replace(drum.batter, head=head)))
        for stage in PAGES:
            window.choose_page(stage)
            QApplication.processEvents()
    finally:
        QTextDocument.loadResource = real  # type: ignore[method-assign]
    assert asked == []
    for label in window.findChildren(QLabel):
        assert isinstance(label, Label | MarkedLabel) or not label.text(), label.text()
        if isinstance(label, MarkedLabel):
            assert "<img" not in label.text()
            assert "<i>" not in label.text()
    assert "<" not in plain_tip("<b>x</b>").removeprefix("<span>").removesuffix("</span>")


@pytest.mark.parametrize("evil", ["=1+1", "+1 x", "-cmd", "@x", "\t=1", "'=1", "'quoted"])
def test_no_cell_is_a_formula(evil: str) -> None:
    line = BuyLine(evil, "14 in", 2, 0, 2, (evil,), evil)
    rows = list(csv.reader(io.StringIO(buy_csv([line]))))
    cells = dict(zip(COLUMNS, rows[1], strict=True))
    for name in ("what", "for_drums", "note"):
        assert cells[name].startswith("'")
        assert live_cell(cells[name]) == evil
    assert cells["needed"] == "2"
    assert inert_cell("-12.5") == "-12.5"
    assert inert_cell(-12.5) == "-12.5"
    assert "\n" not in pasted_cell("a\nb\tc")


def test_no_note_is_markdown_and_no_title_ends_an_event(window: MainWindow) -> None:
    steps = procedure(make_drum(), "batter", Choices(), None, 440.0, False)
    evil = "![x](http://spy.example/a.png) <img src=x>\n# heading"
    fitting = Fitting("batter", notes=((steps.steps[0].key, evil),))
    text = markdown(steps, evil, fitting)
    assert "![" not in text.replace(r"\!\[", "")
    assert "<img" not in text.replace(r"\<img", "")
    assert text.count("\n# ") == 0
    now = datetime(2026, 11, 26)
    made = calendar_text([Date("a", evil, now, "END:VCALENDAR\nBEGIN:X")], "x\r\nEND:VEVENT", now)
    lines = made.decode().splitlines()
    assert lines.count("END:VCALENDAR") == 1
    assert lines.count("END:VEVENT") == 1


def test_what_is_copied_is_no_formula(window: MainWindow, wait: Wait) -> None:
    drum = window.document.drum
    assert drum is not None
    window.document.replace_drum("x", replace(drum, name="=HYPERLINK(1)"))
    window.commands.workshop.buy_list()
    dialog = window.commands.hands.dialog
    assert dialog is not None
    assert "\t'=HYPERLINK" in tabbed(dialog.drums.rows.cells([0]))  # type: ignore[attr-defined]
    dialog.close()
