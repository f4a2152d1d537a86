"""The buy list: what the plan asks for, against what is in store."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from kesselton.core.errors import KesseltonError
from kesselton.core.heads.buying import BuyLine, buy_list
from kesselton.core.language import N_, _, each
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.ui.parts.widgets.columns import fault_label
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Button, Finder
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.widgets.theme import LIGHT, font, on_paper
from kesselton.ui.printing.paper import HEIGHT, WIDTH, a4_pages

COLUMNS = (N_("Buy"), N_("Head"), N_("Size"), N_("Needed"), N_("In stock"), N_("For"), "")
WIDTHS = (44, 190, 48, 54, 54, 170, 138)


class BuyDialog(Dialog):
    """Tick the drums that are to be headed; save as CSV or PDF."""

    def __init__(
        self,
        workshop: Workshop,
        ask: Callable[[str, str, str], Path | None],
        parent: QWidget | None = None,
        spares: Sequence[BuyLine] = (),
    ) -> None:
        super().__init__(parent)
        self._spares = list(spares)
        self.setWindowTitle(_("Buy list"))
        size_dialog(self, 980, 560)
        self._workshop, self._ask = workshop, ask
        briefed = any(entry.brief is not None for entry in workshop.entries)
        self.ticked = {
            entry.id for entry in workshop.entries if entry.brief is not None or not briefed
        }
        self._shown: list[Entry] = []
        title = Label(_("Heads to buy for these drums"))
        title.setFont(font(12, QFont.Weight.DemiBold))
        self.search = Finder(_("Search drums"))
        self.search.textChanged.connect(lambda text: self._list_drums())
        self.all, self.none = Button(_("Check all")), Button(_("Uncheck all"))
        self.all.clicked.connect(lambda: self._tick_shown(True))
        self.none.clicked.connect(lambda: self._tick_shown(False))
        self.drums = Table(
            TableModel(("", _("Drum")), ticks=[0], changed=self._on_tick),
            _("Drums to fit with heads"),
        )
        self.drums.set_widths((40, 0))
        self.list = Table(TableModel(each(COLUMNS), bold=[0]), _("Buy list"))
        self.list.set_widths((50, 190, 60, 66, 74, 0, 0))
        self.list.wrap()
        self.fault = fault_label()
        self.csv, self.pdf = Button(_("Save as CSV…")), Button(_("Save as PDF…"))
        close = Button(_("Close"))
        self.csv.clicked.connect(self.save_csv)
        self.pdf.clicked.connect(self.save_pdf)
        close.clicked.connect(self.accept)
        left = QGridLayout()
        left.addWidget(self.search, 0, 0, 1, 2)
        left.addWidget(self.drums, 1, 0, 1, 2)
        left.addWidget(self.all, 2, 0)
        left.addWidget(self.none, 2, 1)
        foot = QHBoxLayout()
        foot.addWidget(self.fault, 3)
        foot.addStretch(1)
        for button in (self.csv, self.pdf, close):
            foot.addWidget(button)
        layout = QGridLayout(self)
        layout.addWidget(title, 0, 0, 1, 2)
        layout.addLayout(left, 1, 0)
        layout.addWidget(self.list, 1, 1)
        layout.addLayout(foot, 2, 0, 1, 2)
        layout.setColumnStretch(0, 1)
        layout.setColumnStretch(1, 3)
        self._list_drums()
        self._fill()

    @property
    def lines(self) -> list[BuyLine]:
        """What is to be bought for the drums that are ticked, and as spares for shows to come."""
        drums = [e.drum for e in self._workshop.entries if e.id in self.ticked]
        lines = buy_list(drums, lambda name, size: self._workshop.shelved(name, size).stock)
        return lines + self._spares

    def _list_drums(self) -> None:
        words = self.search.text().casefold().split()
        self._shown = [
            entry
            for entry in self._workshop.entries
            if all(word in entry.drum.name.casefold() for word in words)
        ]
        self.drums.rows.set_rows([(e.id in self.ticked, e.drum.name) for e in self._shown])

    def _on_tick(self, row: int, column: int, on: bool) -> None:
        self.tick([self._shown[row].id], on)

    def _tick_shown(self, on: bool) -> None:
        self.tick([entry.id for entry in self._shown], on)
        self._list_drums()

    def tick(self, drums: list[int], on: bool) -> None:
        """Count these drums in or out."""
        self.ticked = self.ticked | set(drums) if on else self.ticked - set(drums)
        self._fill()

    def _fill(self) -> None:
        self.list.rows.set_rows([_cells(line) for line in self.lines])

    def save_csv(self) -> None:
        """Write the list as CSV."""
        from kesselton.store.exports.buy_file import write_buy_csv

        path = self._ask(_("Save buy list"), _("buy list.csv"), _("CSV (*.csv)"))
        if path is not None:
            self._guarded(lambda: write_buy_csv(path, self.lines))

    def save_pdf(self) -> None:
        """Write the list as PDF."""
        path = self._ask(_("Save buy list"), _("buy list.pdf"), _("PDF (*.pdf)"))
        if path is not None:
            self._guarded(
                lambda: write_buy_pdf(path, self.lines, self._workshop.name, date.today())
            )

    def _guarded(self, write: Callable[[], None]) -> None:
        self.fault.hide()
        try:
            write()
        except KesseltonError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()


def _cells(line: BuyLine) -> tuple[str, ...]:
    return (
        str(line.buy) if line.buy else "–",
        line.what,
        line.size,
        str(line.needed),
        str(line.stock),
        line.for_some,
        line.note,
    )


@on_paper()
def write_buy_pdf(path: Path, lines: list[BuyLine], workshop: str, on: date) -> None:
    """Write the buy list as a PDF of as many pages as it takes.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    title = _("{workshop}: buy list").format(workshop=workshop)
    with a4_pages(path, title) as writer, QPainter(writer) as p:
        y = _head(p, workshop, on)
        for line in lines:
            tall = max(_height(p, text, w) for text, w in zip(_cells(line), WIDTHS, strict=True))
            if y + tall > HEIGHT - 20:
                writer.newPage()
                y = _head(p, workshop, on)
            x = 0.0
            for column, (text, wide) in enumerate(zip(_cells(line), WIDTHS, strict=True)):
                p.setPen(QColor(LIGHT.ink))
                p.setFont(font(10, QFont.Weight.Bold if column < 2 else QFont.Weight.Normal))
                p.drawText(QRectF(x, y, wide - 6, tall), Qt.TextFlag.TextWordWrap, text)
                x += wide
            y += tall + 6
            p.setPen(QPen(QColor(LIGHT.line), 1))
            p.drawLine(QRectF(0, y - 3, WIDTH, 0).topLeft(), QRectF(0, y - 3, WIDTH, 0).topRight())


def _height(p: QPainter, text: str, wide: float) -> float:
    p.setFont(font(10, QFont.Weight.Bold))
    box = p.boundingRect(QRectF(0, 0, wide - 6, 1000), Qt.TextFlag.TextWordWrap, text)
    return float(box.height()) + 2


def _head(p: QPainter, workshop: str, on: date) -> float:
    p.setPen(QColor(LIGHT.ink))
    p.setFont(font(20, QFont.Weight.Bold))
    p.drawText(QRectF(0, 0, WIDTH, 40), _("Buy list"))
    p.setFont(font(10))
    p.setPen(QColor(LIGHT.soft_ink))
    p.drawText(
        QRectF(0, 6, WIDTH, 20), Qt.AlignmentFlag.AlignRight, f"{workshop}, {on.isoformat()}"
    )
    x = 0.0
    for text, wide in zip(each(COLUMNS), WIDTHS, strict=True):
        p.drawText(QRectF(x, 46, wide, 16), text)
        x += wide
    return 68.0
