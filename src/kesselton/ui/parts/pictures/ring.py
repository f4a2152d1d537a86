"""The rods seen from above, large: which one, in which order."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen

from kesselton.core.language import _, figures
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

CENTRE = Qt.AlignmentFlag.AlignCenter
ROD, LEAST_ROD = 27.0, 15.0


class Ring(Picture):
    """Rods round a hoop; the one in hand is filled, the way from rod to rod is a thin line."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Rods from above"))
        self.setMinimumSize(150, 130)
        self._rods, self._now = 0, 0
        self._order: tuple[int, ...] = ()
        self._cents: dict[int, float] = {}

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(380, 340)

    def set_state(
        self, rods: int, now: int, order: tuple[int, ...], cents: dict[int, float] | None = None
    ) -> None:
        """Show so many rods; `now` is in hand, `cents` what each is off by."""
        self._rods, self._now, self._order, self._cents = rods, now, order, cents or {}
        self.setVisible(rods > 0)
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """The order, and what each rod is off by."""
        rows: list[tuple[str, ...]] = [("rod", "cents")]
        for rod in self._order or range(1, self._rods + 1):
            away = self._cents.get(rod)
            rows.append((str(rod), "" if away is None else f"{away:+.0f}"))
        return rows

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        middle = QPointF(self.width() / 2.0, self.height() / 2.0)
        half = min(self.width(), self.height()) / 2.0
        size = min(max(0.17 * half, LEAST_ROD), ROD)
        far = half - size - 4.0
        if self._rods == 0 or far < 20.0:
            return
        p.setPen(QPen(QColor(c.line), 8))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(middle, far, far)

        def at(rod: int, out: float = 0.0) -> QPointF:
            angle = 2.0 * math.pi * (rod - 1) / self._rods
            away = far + out
            x, y = away * math.sin(angle), away * math.cos(angle)
            return QPointF(middle.x() + x, middle.y() - y)

        if len(self._order) > 1:
            p.setPen(QPen(QColor(c.soft_ink), 1.5, Qt.PenStyle.DashLine))
            p.drawPolyline([at(rod) for rod in self._order])
        p.setFont(font(0.6 * size, QFont.Weight.Bold))
        for rod in range(1, self._rods + 1):
            here = at(rod)
            hand = rod == self._now
            p.setPen(QPen(QColor(c.accent), 3))
            p.setBrush(QColor(c.accent if hand else c.panel))
            p.drawEllipse(here, size, size)
            p.setPen(QColor(c.on_accent if hand else c.ink))
            p.drawText(
                QRectF(here.x() - size, here.y() - size, 2 * size, 2 * size), CENTRE, str(rod)
            )
        p.setFont(font(11))
        for rod, away in self._cents.items():
            here = at(rod, -size - 15.0)
            p.setPen(QColor(c.sharp if away > 0 else c.flat))
            sign = "♯" if away > 0 else "♭"
            box = QRectF(here.x() - 26, here.y() - 10, 52, 20)
            if abs(away) >= 0.5:
                p.drawText(box, CENTRE, f"{sign}{figures(abs(away), '.0f')}")
