"""A store of a thousand drums and thousands of heads, where nothing may grow out of its window."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path

import pypdf
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from kesselton.core.instrument.head import Head
from kesselton.store.workshop.holdings import Shelved
from kesselton.ui.heads.buy_dialog import BuyDialog, write_buy_pdf
from kesselton.ui.heads.store_dialog import StoreDialog
from kesselton.ui.parts.widgets.clipboard import tabbed
from kesselton.ui.parts.widgets.inputs import Count
from kesselton.ui.window.main_window import MainWindow
from tests.ui.clipping import faults

LEFT = Qt.MouseButton.LeftButton


def big_store(window: MainWindow, drums: int, heads: int) -> None:
    """So many drums like the first, and so many heads of one's own in stock."""
    workshop = window.document.workshop
    first = workshop.entries[0]
    entries = tuple(
        replace(first, id=n, drum=replace(first.drum, name=f"{first.drum.name} {n}"))
        for n in range(1, drums + 1)
    )
    own = tuple(Head(f"own film {n}", areal_density_kg_per_m2=0.3 + 1e-5 * n) for n in range(heads))
    shelf = tuple(Shelved(head.name, 14.0, n % 4) for n, head in enumerate(own))
    window.document.commit("big", replace(workshop, entries=entries, library=own, shelf=shelf))


def test_the_buy_list_of_sixty_drums_stays_in_its_window(
    window: MainWindow, tmp_path: Path
) -> None:
    big_store(window, 60, 0)
    document = window.document
    document.commit(
        "no shows", replace(document.workshop, shows=())
    )  # they have spares of their own
    window.commands.workshop.buy_list()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, BuyDialog)
    QApplication.processEvents()
    assert dialog.width() <= 1000
    assert faults(dialog) == []
    assert {line.needed for line in dialog.lines} == {60}
    assert "and 56 more" in tabbed(dialog.list.rows.cells(range(2)))
    dialog.search.setText("snare 7")
    QTest.mouseClick(dialog.none, LEFT)
    assert {line.needed for line in dialog.lines} == {54}  # what is listed: 7, 17 … 57
    dialog.search.clear()
    QTest.mouseClick(dialog.none, LEFT)
    assert dialog.lines == []
    third = dialog.drums.rows.index(2, 0)
    dialog.drums.setFocus()
    dialog.drums.setCurrentIndex(third)
    QTest.keyClick(dialog.drums, Qt.Key.Key_Space)
    assert [line.for_drums for line in dialog.lines] == [
        "Pit snare 3 batter",
        "Pit snare 3 resonant",
    ]
    QTest.mouseClick(dialog.all, LEFT)
    path = tmp_path / "buy.pdf"
    write_buy_pdf(path, dialog.lines, "Tern Island Opera", date(2026, 11, 25))
    assert len(pypdf.PdfReader(path).pages) == 1
    dialog.accept()


def test_stock_is_counted_by_keys_among_thousands(window: MainWindow) -> None:
    big_store(window, 1, 5000)
    window.commands.workshop.stock()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, StoreDialog)
    assert dialog.table.rows.rowCount() > 5000
    dialog.search.setText("film 4321")
    assert [offer.head.name for offer in dialog.shown] == ["own film 4321"]
    table = dialog.table
    table.setFocus()
    table.setCurrentIndex(table.rows.index(0, 3))
    QTest.keyClick(table, Qt.Key.Key_8)
    editor = table.findChild(Count)
    assert isinstance(editor, Count)
    QTest.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()  # Qt takes the text a turn later
    assert window.document.workshop.shelved("own film 4321", 14.0).stock == 8
    table.setCurrentIndex(table.rows.index(0, 2))
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert window.document.workshop.shelved("own film 4321", 14.0).favourite
    dialog.accept()
