"""A drawing for a step: the rim with the next rods, the tape mark, thirds, the section."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QFont, QHideEvent, QPainter, QPen, QShowEvent

from kesselton.core.fit.procedure import Step
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

BEAT_MS = 900
MARKED = {
    "edge": "batter",
    "skin_on": "batter",
    "patch": "batter",
    "wires": "resonant",
    "wires_on": "resonant",
    "port": "resonant",
}
"""Part of the section that a step is about."""


class FitPicture(Picture):
    """Follows the step on show; the next rod to turn moves on by itself."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Drawing for this step"))
        self.setMinimumSize(240, 220)
        self._drum: Drum | None = None
        self._step: Step | None = None
        self._beat = 0
        self._timer = QTimer(self)
        self._timer.setInterval(BEAT_MS)
        self._timer.timeout.connect(self._on_beat)

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(300, 300)

    def set_state(self, drum: Drum | None, step: Step | None) -> None:
        """Show a step."""
        if step != self._step:
            self._beat = 0
        self._drum, self._step = drum, step
        moves = step is not None and bool(step.order) and self.isVisible()
        if moves and not self._timer.isActive():
            self._timer.start()
        elif not moves:
            self._timer.stop()
        self.update()

    @safe_override
    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.set_state(self._drum, self._step)

    @safe_override
    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()
        super().hideEvent(event)

    def _on_beat(self) -> None:
        self._beat += 1
        self.update()

    def paint_on(self, p: QPainter) -> None:
        """The same on paper."""
        self._paint(p)

    def _paint(self, p: QPainter) -> None:
        drum, step = self._drum, self._step
        if drum is None or step is None or not step.picture:
            return
        if step.picture == "section":
            shell = drum.shell
            scale = min(
                (self.width() - 80) / shell.head_diameter_m,
                (self.height() - 60) / max(shell.depth_m, 0.05),
            )
            zones = paint_section(p, QRectF(self.rect()), drum, self._colours, scale)
            marked = MARKED.get(step.key, "shell")
            if marked in zones:
                p.setPen(QPen(QColor(self._colours.accent), 2.5))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(zones[marked].adjusted(-4, -4, 4, 4), 6, 6)
            return
        c = self._colours
        side = min(self.width(), self.height()) - 16.0
        box = QRectF((self.width() - side) / 2, (self.height() - side) / 2, side, side)
        rim = box.adjusted(26, 26, -26, -26)
        p.setPen(QPen(QColor(c.metal), 6))
        p.setBrush(QColor(c.panel))
        p.drawEllipse(rim)
        if step.picture == "order":
            self._paint_order(p, rim, step, drum.shell.rods)
        elif step.picture == "mark":
            top = QPointF(rim.center().x(), rim.top())
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(c.accent))
            p.drawRect(QRectF(top.x() - 9, top.y() - 12, 18, 30))
            self._word(p, QPointF(top.x(), top.y() + 34), "tape")
        else:
            parts = 3 if step.picture == "thirds" else 4
            names = ("1", "2", "3", "4") if parts == 3 else ("1", "3", "2", "4")
            p.setPen(QPen(QColor(c.line), 2))
            for part in range(parts):
                p.drawLine(rim.center(), self._at(rim, part / parts, 1.0))
                where = self._at(rim, (part + 0.5) / parts if parts == 3 else part / parts, 0.72)
                self._word(p, where, names[part], large=True)

    @staticmethod
    def _at(rim: QRectF, turn: float, reach: float) -> QPointF:
        angle = 2.0 * math.pi * turn
        half = rim.width() / 2.0 * reach
        return rim.center() + QPointF(half * math.sin(angle), -half * math.cos(angle))

    def _word(self, p: QPainter, at: QPointF, text: str, large: bool = False) -> None:
        p.setFont(font(16 if large else 11, QFont.Weight.DemiBold))
        p.setPen(QColor(self._colours.ink))
        p.drawText(QRectF(at.x() - 40, at.y() - 14, 80, 28), Qt.AlignmentFlag.AlignCenter, text)

    def _paint_order(self, p: QPainter, rim: QRectF, step: Step, rods: int) -> None:
        """Rods round the rim with their place in the order; the next one filled, a line to it."""
        c = self._colours
        place = {rod: number for number, rod in enumerate(step.order, start=1)}
        now = self._beat % len(step.order)
        next_rod = step.order[now]
        if now > 0:
            pen = QPen(QColor(c.accent), 2)
            pen.setStyle(Qt.PenStyle.DashLine)
            p.setPen(pen)
            p.drawLine(
                self._at(rim, (step.order[now - 1] - 1) / rods, 0.82),
                self._at(rim, (next_rod - 1) / rods, 0.82),
            )
        for rod in range(1, rods + 1):
            at = self._at(rim, (rod - 1) / rods, 1.0)
            on = rod == next_rod
            p.setPen(QPen(QColor(c.accent), 2))
            p.setBrush(QColor(c.accent if on else c.panel))
            p.drawEllipse(at, 17, 17)
            p.setPen(QColor(c.on_accent if on else c.ink))
            p.setFont(font(13, QFont.Weight.Bold))
            p.drawText(
                QRectF(at.x() - 17, at.y() - 17, 34, 34),
                Qt.AlignmentFlag.AlignCenter,
                str(place[rod]),
            )
            inner = self._at(rim, (rod - 1) / rods, 0.74)
            p.setFont(font(8.5))
            p.setPen(QColor(c.soft_ink))
            p.drawText(
                QRectF(inner.x() - 24, inner.y() - 8, 48, 16),
                Qt.AlignmentFlag.AlignCenter,
                _("rod {rod}").format(rod=rod),
            )
