"""The buy list: what the plan asks for, against what is in store."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from kesselton.core.choosing.buying import BuyLine, buy_list
from kesselton.core.errors import KesseltonError
from kesselton.store.holdings import Workshop
from kesselton.ui.choosing import texts
from kesselton.ui.parts.columns import clear, scroll
from kesselton.ui.parts.inputs import Button, Tick
from kesselton.ui.parts.theme import LIGHT, font, on_paper
from kesselton.ui.printing.paper import HEIGHT, WIDTH, a4_writer

COLUMNS = ("buy", "head", "size", "needed", texts.IN_STOCK, "for", "")
WIDTHS = (44, 190, 48, 54, 54, 170, 138)


class BuyDialog(QDialog):
    """Tick the drums that are to be headed; save as CSV or PDF."""

    def __init__(
        self,
        workshop: Workshop,
        ask: Callable[[str, str, str], Path | None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(texts.BUY_LIST_2)
        self.resize(900, 560)
        self._workshop, self._ask = workshop, ask
        self.ticks: dict[int, Tick] = {}
        drums = QHBoxLayout()
        briefed = any(entry.brief is not None for entry in workshop.entries)
        for entry in workshop.entries:
            tick = Tick(entry.drum.name)
            tick.setChecked(entry.brief is not None or not briefed)
            tick.toggled.connect(lambda on: self._fill())
            self.ticks[entry.id] = tick
            drums.addWidget(tick)
        drums.addStretch(1)
        title = QLabel(texts.HEADS_PLANNED_FOR_THESE_DRUMS)
        title.setFont(font(12, QFont.Weight.DemiBold))
        self._body = QWidget()
        self._grid = QGridLayout(self._body)
        self.fault = QLabel()
        self.fault.setProperty("fault", True)
        self.csv, self.pdf = Button(texts.SAVE_AS_CSV), Button(texts.SAVE_AS_PDF)
        close = Button(texts.CLOSE)
        self.csv.clicked.connect(self.save_csv)
        self.pdf.clicked.connect(self.save_pdf)
        close.clicked.connect(self.accept)
        foot = QHBoxLayout()
        foot.addWidget(self.fault, 1)
        for button in (self.csv, self.pdf, close):
            foot.addWidget(button)
        layout = QVBoxLayout(self)
        layout.addWidget(title)
        layout.addLayout(drums)
        layout.addWidget(scroll(self._body), 1)
        layout.addLayout(foot)
        self._fill()

    @property
    def lines(self) -> list[BuyLine]:
        """What is to be bought for the drums that are ticked."""
        drums = [e.drum for e in self._workshop.entries if self.ticks[e.id].isChecked()]
        return buy_list(drums, lambda name, size: self._workshop.shelved(name, size).stock)

    def _fill(self) -> None:
        clear(self._grid)
        for column, text in enumerate(COLUMNS):
            label = QLabel(text)
            label.setProperty("quiet", True)
            self._grid.addWidget(label, 0, column)
        row = 0
        for row, line in enumerate(self.lines, start=1):
            for column, text in enumerate(_cells(line)):
                label = QLabel(text)
                label.setWordWrap(column > 4)
                if column == 0:
                    label.setFont(font(12, QFont.Weight.Bold))
                self._grid.addWidget(label, row, column, Qt.AlignmentFlag.AlignTop)
        self._grid.setColumnStretch(5, 1)
        self._grid.setColumnStretch(6, 1)
        self._grid.setRowStretch(row + 1, 1)

    def save_csv(self) -> None:
        """Write the list as CSV."""
        from kesselton.store.buy_file import write_buy_csv

        path = self._ask(texts.SAVE_BUY_LIST, texts.BUY_LIST_CSV, texts.CSV_CSV)
        if path is not None:
            self._guarded(lambda: write_buy_csv(path, self.lines))

    def save_pdf(self) -> None:
        """Write the list as PDF."""
        path = self._ask(texts.SAVE_BUY_LIST, texts.BUY_LIST_PDF, texts.PDF_PDF)
        if path is not None:
            self._guarded(
                lambda: write_buy_pdf(path, self.lines, self._workshop.name, date.today())
            )

    def _guarded(self, write: Callable[[], None]) -> None:
        try:
            write()
            self.fault.setText("")
        except KesseltonError as error:
            self.fault.setText(f"{error.message} {error.remedy}")


def _cells(line: BuyLine) -> tuple[str, ...]:
    return (
        str(line.buy) if line.buy else "–",
        line.what,
        line.size,
        str(line.needed),
        str(line.stock),
        line.for_drums,
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
    writer = a4_writer(path, texts.BUY_LIST.format(workshop=workshop))
    with QPainter(writer) as p:
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
    p.drawText(QRectF(0, 0, WIDTH, 40), texts.BUY_LIST_2)
    p.setFont(font(10))
    p.setPen(QColor(LIGHT.soft_ink))
    p.drawText(
        QRectF(0, 6, WIDTH, 20), Qt.AlignmentFlag.AlignRight, f"{workshop}, {on.isoformat()}"
    )
    x = 0.0
    for text, wide in zip(COLUMNS, WIDTHS, strict=True):
        p.drawText(QRectF(x, 46, wide, 16), text)
        x += wide
    return 68.0
