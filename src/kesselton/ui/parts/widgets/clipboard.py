"""Pictures and tables on the clipboard, in every form another program may ask for."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QBuffer, QByteArray, QMimeData, QRectF, QSize
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from kesselton.core.escape import pasted_cell

if TYPE_CHECKING:
    from PySide6.QtSvg import QSvgGenerator

SVG, CSV = "image/svg+xml", "text/csv"


def copy_table(rows: Iterable[Sequence[object]]) -> None:
    """Rows, the captions first: as text with tabs, and as CSV (RFC 4180) for who asks for it."""
    cells = list(rows)
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(
        [pasted_cell(value) for value in row] for row in cells
    )
    data = QMimeData()
    data.setText(tabbed(cells))
    data.setData(CSV, QByteArray(out.getvalue().encode()))
    QGuiApplication.clipboard().setMimeData(data)


def tabbed(rows: Iterable[Sequence[object]]) -> str:
    """Rows as text with tabs; no cell is a formula to who pastes it."""
    return "\n".join("\t".join(map(pasted_cell, row)) for row in rows)


def copy_picture(widget: QWidget) -> None:
    """What a widget shows: as an image of its points, and as SVG for whoever asks for it."""
    data = QMimeData()
    data.setImageData(widget.grab().toImage())
    box = QRectF(0.0, 0.0, widget.width(), widget.height())
    data.setData(SVG, svg_of(widget.size(), box, widget.accessibleName(), widget.render))
    QGuiApplication.clipboard().setMimeData(data)


def svg_of(
    size: QSize, box: QRectF, title: str, draw: Callable[[QSvgGenerator], object]
) -> QByteArray:
    """What `draw` paints, as SVG."""
    from PySide6.QtSvg import QSvgGenerator

    buffer = QBuffer()
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    generator.setSize(size)
    generator.setViewBox(box)
    generator.setTitle(title)
    draw(generator)
    return buffer.data()
