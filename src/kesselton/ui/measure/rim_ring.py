"""The rim from above: what was read stands at its rod, what the bare shell measured on the ring."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QMouseEvent, QPainter, QPen

from kesselton.core.instrument.gauge import Inspected
from kesselton.core.language import N_, _, each
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

RING_CAPTIONS = (N_("rod"), N_("reading"))

WORDS, LINE, MOST_LINES = 62.0, 13.0, 2
CENTRE = Qt.AlignmentFlag.AlignCenter
GAP_PIXELS = 14.0
"""How far the widest gap under the plate is drawn out."""


class RimRing(Picture):
    """A rim with its rods.

    Signals
    -------
    rod_chosen(int) : a rod was clicked; 0 for the middle, which is all of them
    """

    rod_chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Rim with readings"))
        self.setMinimumHeight(230)
        self._rods, self._rod = 8, 0
        self._read: dict[int, list[str]] = {}
        self._found = Inspected()

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(300, 260)

    def set_state(
        self, rods: int, rod: int, read: dict[int, list[str]], inspection: Inspected | None
    ) -> None:
        """Show readings in words by rod (0: of all rods), and the rod that is read next."""
        self._rods, self._rod, self._read = rods, rod, read
        self._found = inspection or Inspected()
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """Rod and what was read there."""
        rows: list[tuple[str, ...]] = [
            (str(rod) if rod else _("all"), text)
            for rod, words in sorted(self._read.items())
            for text in words
        ]
        return [each(RING_CAPTIONS), *rows] if rows else []

    @property
    def _ring(self) -> QRectF:
        size = max(min(self.width() - 2 * WORDS - 16, self.height() - 4 * LINE - 24), 40.0)
        return QRectF((self.width() - size) / 2, (self.height() - size) / 2, size, size)

    def _at(self, place: float, out: float = 0.0) -> QPointF:
        """A place round the rim, in rods from the first at the top, so far outside it."""
        ring = self._ring
        turn = 2.0 * math.pi * place / self._rods
        far = ring.width() / 2 + out
        return ring.center() + QPointF(far * math.sin(turn), -far * math.cos(turn))

    def rod_at(self, point: QPointF) -> int:
        """The rod nearest to a place; 0 in the middle."""
        away = point - self._ring.center()
        if math.hypot(away.x(), away.y()) < 0.55 * self._ring.width() / 2:
            return 0
        turn = math.atan2(away.x(), -away.y()) / (2.0 * math.pi) * self._rods
        return round(turn) % self._rods + 1

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.rod_chosen.emit(self.rod_at(event.position()))

    def _paint(self, p: QPainter) -> None:
        c, ring = self._colours, self._ring
        self._paint_shell(p)
        p.setPen(QPen(QColor(c.ink), 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(ring)
        p.setPen(QColor(c.soft_ink))
        p.setFont(font(8.5))
        self._paint_middle(p, self._read.get(0, []) or [_("Click a rod")])
        for rod in range(1, self._rods + 1):
            self._paint_rod(p, rod)

    def _paint_middle(self, p: QPainter, words: list[str]) -> None:
        """What was read of all rods together, as much as there is room for."""
        ring = self._ring
        inner = QRectF(0, 0, 0.66 * ring.width() - 8, 0.5 * ring.height())
        shown = words[-min(int(inner.height() / LINE), 3) :] if inner.height() >= LINE else []
        inner.moveCenter(ring.center())
        top = ring.center().y() - LINE * len(shown) / 2
        for number, text in enumerate(shown):
            line = QRectF(inner.left(), top + LINE * number, inner.width(), LINE)
            p.drawText(line, CENTRE, elided(p, text, inner.width()))

    def _paint_rod(self, p: QPainter, rod: int) -> None:
        c, here = self._colours, self._at(rod - 1)
        now = rod == self._rod
        p.setPen(QPen(QColor(c.accent if now else c.ink), 1.5))
        p.setBrush(QColor(c.accent if now else c.panel))
        p.drawEllipse(here, 9, 9)
        p.setFont(font(8.5, QFont.Weight.DemiBold))
        p.setPen(QColor(c.on_accent if now else c.ink))
        p.drawText(QRectF(here.x() - 9, here.y() - 9, 18, 18), CENTRE, str(rod))
        words = self._read.get(rod, [])[-MOST_LINES:]
        if not words:
            return
        away = here - self._ring.center()
        out = self._at(rod - 1, 14.0)
        box = QRectF(0, 0, WORDS, LINE * len(words))
        if abs(away.x()) < 0.25 * self._ring.width():  # above or below
            box.moveCenter(out + QPointF(0, math.copysign(box.height() / 2, away.y())))
            flag = Qt.AlignmentFlag.AlignHCenter
        elif away.x() > 0:
            box.moveTopLeft(out - QPointF(0, box.height() / 2))
            flag = Qt.AlignmentFlag.AlignLeft
        else:
            box.moveTopRight(out - QPointF(0, box.height() / 2))
            flag = Qt.AlignmentFlag.AlignRight
        p.setFont(font(8))
        p.setPen(QColor(c.ink))
        for number, text in enumerate(words):
            line = QRectF(box.left(), box.top() + LINE * number, box.width(), LINE)
            p.drawText(line, flag | Qt.AlignmentFlag.AlignVCenter, elided(p, text, WORDS))

    def _paint_shell(self, p: QPainter) -> None:
        """Gaps under the plate, drawn inward; the widest and the narrowest diameter."""
        c, inspection = self._colours, self._found
        if inspection.gaps_m and max(inspection.gaps_m) > 0.0:
            p.setPen(QPen(QColor(c.sharp), 5, c=Qt.PenCapStyle.RoundCap))
            for i, gap in enumerate(inspection.gaps_m):
                if gap > 0.0:
                    place = i * self._rods / len(inspection.gaps_m)
                    far = GAP_PIXELS * gap / max(inspection.gaps_m)
                    p.drawLine(self._at(place, -2.0), self._at(place, -2.0 - far))
        if len(inspection.diameters_m) >= 2:
            half = 0.5 * self._rods / len(inspection.diameters_m)
            for value, style in (
                (max(inspection.diameters_m), Qt.PenStyle.SolidLine),
                (min(inspection.diameters_m), Qt.PenStyle.DotLine),
            ):
                place = inspection.diameters_m.index(value) * half
                p.setPen(QPen(QColor(c.line), 1.5, style))
                p.drawLine(self._at(place), self._at(place + self._rods / 2))
