"""A4 pages as vector PDF, and what all sheets share."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from PySide6.QtCore import QBuffer, QMarginsF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from kesselton.store.io.atomic_file import write_file
from kesselton.ui.parts.widgets.theme import LIGHT, font

RESOLUTION = 96
WIDTH, HEIGHT = 698.0, 1026.0  # A4 less margins, at 96 dots an inch
INK, SOFT = QColor(LIGHT.ink), QColor(LIGHT.soft_ink)
BOLD = QFont.Weight.Bold
RIGHT = Qt.AlignmentFlag.AlignRight


class Pen:
    """Writes on a page of WIDTH x HEIGHT."""

    def __init__(self, painter: QPainter) -> None:
        self.painter = painter
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def text(
        self,
        x: float,
        y: float,
        what: str,
        points: float,
        weight: QFont.Weight = QFont.Weight.Normal,
        colour: QColor = INK,
        width: float = WIDTH,
        flag: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> None:
        """One line."""
        p = self.painter
        p.setPen(colour)
        p.setFont(font(points, weight))
        p.drawText(QRectF(x, y, width, points * 2.2), flag | Qt.AlignmentFlag.AlignTop, what)

    def paragraph(self, y: float, what: str, points: float = 9.0, height: float = 60.0) -> float:
        """Small words over the whole width; returns how high they are."""
        p = self.painter
        p.setPen(SOFT)
        p.setFont(font(points))
        box = QRectF(0, y, WIDTH, height)
        used = p.boundingRect(box, Qt.TextFlag.TextWordWrap, what)
        p.drawText(box, Qt.TextFlag.TextWordWrap, what)
        return used.height()

    def rule(self, y: float) -> None:
        """A line across."""
        self.painter.setPen(QPen(QColor(LIGHT.line), 1))
        self.painter.drawLine(QPointF(0, y), QPointF(WIDTH, y))


@contextmanager
def a4_pages(path: Path, title: str) -> Iterator[QPdfWriter]:
    """A PDF of A4 pages to paint on, written once it is whole: Qt says nothing of full disks.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    buffer = QBuffer()
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setResolution(RESOLUTION)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(12.7, 12.7, 12.7, 12.7), QPageLayout.Unit.Millimeter)
    yield writer
    write_file(path, bytes(buffer.data().data()))
