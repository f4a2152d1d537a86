"""The whole procedure on paper: tick boxes, orders, cautions."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPdfWriter, QPen

from kesselton.core.fit.fitting import Fitting
from kesselton.core.fit.procedure import Procedure, Step
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.store.exports.fitting_file import markdown, step_cautions, step_extras
from kesselton.store.io.atomic_file import write_file
from kesselton.ui.parts.pictures.fit_picture import FitPicture
from kesselton.ui.parts.widgets.theme import LIGHT, font, on_paper
from kesselton.ui.printing.paper import HEIGHT, WIDTH, a4_pages

BOX, PICTURE = 14.0, 150.0


def write_markdown(path: Path, procedure: Procedure, title: str, fitting: Fitting | None) -> None:
    """Write the procedure as Markdown.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    write_file(path, markdown(procedure, title, fitting).encode())


@on_paper()
def write_fit_pdf(
    path: Path,
    procedure: Procedure,
    drum: Drum,
    title: str,
    workshop: str,
    on: date,
    fitting: Fitting | None,
) -> None:
    """Write the procedure as a PDF of as many pages as it takes.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    with a4_pages(path, title) as writer, QPainter(writer) as p:
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        page = _Page(writer, p, title, f"{workshop}, {on.isoformat()}")
        page.begin()
        for name, things in (
            (_("Tools"), procedure.tools),
            (_("Materials"), procedure.materials),
        ):
            if things:
                page.paragraph(f"{name}: {', '.join(things)}", 10, False, 0.0)
        order = next((step for step in procedure.steps if step.order), None)
        if order is not None:
            page.picture(drum, order)
        done = set(fitting.done) if fitting else set()
        for number, step in enumerate(procedure.steps, start=1):
            page.step(number, step, step.key in done)


class _Page:
    """Where the next line goes, turning pages."""

    def __init__(self, writer: QPdfWriter, p: QPainter, title: str, corner: str) -> None:
        self._writer, self._p, self._title, self._corner = writer, p, title, corner
        self._y = 0.0

    def begin(self) -> None:
        p = self._p
        p.setPen(QColor(LIGHT.ink))
        p.setFont(font(18, QFont.Weight.Bold))
        p.drawText(QRectF(0, 0, WIDTH - 160, 36), self._title)
        p.setFont(font(10))
        p.setPen(QColor(LIGHT.soft_ink))
        p.drawText(QRectF(0, 8, WIDTH, 20), Qt.AlignmentFlag.AlignRight, self._corner)
        self._y = 48.0

    def _room(self, tall: float) -> None:
        if self._y + tall > HEIGHT - 10:
            self._writer.newPage()
            self.begin()

    def paragraph(self, text: str, points: float, bold: bool, indent: float) -> None:
        p = self._p
        p.setFont(font(points, QFont.Weight.DemiBold if bold else QFont.Weight.Normal))
        box = QRectF(indent, self._y, WIDTH - indent, 1000)
        tall = p.boundingRect(box, Qt.TextFlag.TextWordWrap, text).height()
        self._room(tall + 4)
        p.setPen(QColor(LIGHT.ink))
        p.drawText(
            QRectF(indent, self._y, WIDTH - indent, tall + 4), Qt.TextFlag.TextWordWrap, text
        )
        self._y += tall + 4

    def picture(self, drum: Drum, step: Step) -> None:
        drawing = FitPicture()
        drawing.resize(int(2 * PICTURE), int(2 * PICTURE))
        drawing.set_state(drum, step)
        self._room(PICTURE + 8)
        self._p.save()
        self._p.translate((WIDTH - PICTURE) / 2, self._y)
        self._p.scale(0.5, 0.5)
        drawing.paint_on(self._p)
        self._p.restore()
        self._y += PICTURE + 8

    def step(self, number: int, step: Step, done: bool) -> None:
        p = self._p
        self._room(44)
        p.setPen(QPen(QColor(LIGHT.ink), 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(0, self._y + 2, BOX, BOX))
        if done:
            p.drawLine(QRectF(2, self._y + 4, BOX - 4, BOX - 4).topLeft(),
                       QRectF(2, self._y + 4, BOX - 4, BOX - 4).bottomRight())  # fmt: skip
            p.drawLine(QRectF(2, self._y + 4, BOX - 4, BOX - 4).topRight(),
                       QRectF(2, self._y + 4, BOX - 4, BOX - 4).bottomLeft())  # fmt: skip
        self.paragraph(f"{number}  {step.title}", 11.5, True, 24.0)
        self.paragraph(step.text, 10, False, 24.0)
        for line in step_extras(step):
            self.paragraph(line, 9.5, False, 36.0)
        for line in step_cautions(step):
            self.paragraph(line, 9.5, True, 36.0)
        self._y += 6
