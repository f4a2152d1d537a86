"""A sheet of tables and remarks as PDF, SVG or Markdown."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter
from PySide6.QtSvg import QSvgGenerator

from kesselton.core.escape import in_markdown
from kesselton.store.io.atomic_file import write_file
from kesselton.ui.parts.widgets.clipboard import svg_of
from kesselton.ui.parts.widgets.theme import font, on_paper
from kesselton.ui.printing.paper import BOLD, HEIGHT, INK, RESOLUTION, SOFT, WIDTH, Pen, a4_pages

TITLE_POINTS, HEAD_POINTS, TEXT_POINTS = 18.0, 11.0, 9.0
GAP = 8.0


@dataclass(frozen=True)
class Section:
    """A part of a sheet: a heading, a table whose first row is its captions, and a remark."""

    title: str
    rows: tuple[tuple[str, ...], ...] = ()
    widths: tuple[float, ...] = ()
    """Shares of the width."""
    remark: str = ""


@dataclass(frozen=True)
class Listing:
    """A sheet: what it is of, whose and when, its parts."""

    title: str
    corner: str
    sections: tuple[Section, ...]


def markdown(listing: Listing) -> str:
    """The sheet as Markdown."""
    out = [f"# {in_markdown(listing.title)}", "", in_markdown(listing.corner), ""]
    for section in listing.sections:
        out += [f"## {in_markdown(section.title)}", ""]
        for number, row in enumerate(section.rows):
            out.append(f"| {' | '.join(map(in_markdown, row))} |")
            if number == 0:
                out.append(f"|{'---|' * len(row)}")
        if section.rows:
            out.append("")
        if section.remark:
            out += [in_markdown(section.remark), ""]
    return "\n".join(out)


def write_markdown(path: Path, listing: Listing) -> None:
    """Write it as Markdown.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    write_file(path, markdown(listing).encode())


@on_paper()
def write_pdf(path: Path, listing: Listing) -> None:
    """Write it as PDF, as many pages as it takes.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    with a4_pages(path, listing.title) as writer, QPainter(writer) as p:
        _Writer(p, listing, writer.newPage).write()


@on_paper()
def write_svg(path: Path, listing: Listing) -> None:
    """Write it as one SVG, as high as it takes.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """

    def draw(generator: QSvgGenerator) -> None:
        generator.setResolution(RESOLUTION)
        with QPainter(generator) as p:
            _Writer(p, listing, None).write()

    high = 2.0 * HEIGHT
    box = QRectF(0.0, 0.0, WIDTH, high)
    written = svg_of(QSize(int(WIDTH), int(high)), box, listing.title, draw)
    write_file(path, bytes(written.data()))


class _Writer:
    """Where the next line goes; `turn` begins a new page, None: there is one long one."""

    def __init__(self, p: QPainter, listing: Listing, turn: object) -> None:
        self._p, self._pen = p, Pen(p)
        self._listing, self._turn = listing, turn
        self._y = 0.0

    def write(self) -> None:
        """All of it."""
        self._head()
        for section in self._listing.sections:
            self._room(60.0)
            self._pen.text(0, self._y, section.title, HEAD_POINTS, BOLD)
            self._y += 24.0
            for number, row in enumerate(section.rows):
                self._row(row, section.widths, captions=number == 0)
            if section.remark:
                self._paragraph(section.remark)
            self._y += 14.0

    def _head(self) -> None:
        pen = self._pen
        pen.text(0, 0, self._listing.title, TITLE_POINTS, BOLD)
        pen.text(0, 34, self._listing.corner, TEXT_POINTS, colour=SOFT)
        pen.rule(56)
        self._y = 68.0

    def _room(self, high: float) -> None:
        if self._turn is not None and self._y + high > HEIGHT:
            self._turn()  # type: ignore[operator]
            self._head()

    def _row(self, row: tuple[str, ...], widths: tuple[float, ...], captions: bool) -> None:
        p = self._p
        p.setFont(font(TEXT_POINTS, BOLD if captions else font(TEXT_POINTS).weight()))
        wrap = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop)
        total = sum(widths)
        metrics = QFontMetricsF(p.font(), p.device())
        places, x = [], 0.0
        for share in widths:
            wide = WIDTH * share / total
            places.append((x, wide - GAP))
            x += wide
        high = max(
            metrics.boundingRect(QRectF(0, 0, wide, 1e4), wrap, text).height()
            for text, (_, wide) in zip(row, places, strict=True)
        )
        self._room(high + GAP)
        p.setPen(SOFT if captions else INK)
        for text, (left, wide) in zip(row, places, strict=True):
            p.drawText(QRectF(left, self._y, wide, high + 2.0), wrap, text)
        self._y += high + GAP - 2.0
        self._pen.rule(self._y - 3.0)

    def _paragraph(self, text: str) -> None:
        self._room(40.0)
        self._y += self._pen.paragraph(self._y, text, TEXT_POINTS, 400.0) + GAP
