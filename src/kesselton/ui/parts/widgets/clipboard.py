"""Pictures and tables on the clipboard, in every form another program may ask for."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMimeData, QRect
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from kesselton.core.escape import pasted_cell

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
    data.setData(SVG, svg_of(widget))
    QGuiApplication.clipboard().setMimeData(data)


def svg_of(widget: QWidget) -> QByteArray:
    """What a widget shows, as SVG."""
    from PySide6.QtSvg import QSvgGenerator

    written = QBuffer()
    written.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(written)
    generator.setSize(widget.size())
    generator.setViewBox(QRect(0, 0, widget.width(), widget.height()))
    generator.setTitle(widget.accessibleName())
    widget.render(generator)
    written.close()
    return written.data()
