"""Drums drawn in true proportion with one fault, to be found by eye."""

from __future__ import annotations

import math
import random

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF

from kesselton.core.language import N_, _, each
from kesselton.core.practice.question import Seen
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

EYE_CAPTIONS = {
    "hoop": N_("hoop and shell, unrolled"),
    "head": N_("head in its hoop, from above"),
    "collar": N_("collar under the hoop, cross section"),
    "wrinkles": N_("head from above, lit from the side"),
    "rope": N_("shell and rope, unrolled"),
    "hide": N_("hide on the bench, one corner folded over"),
}

CENTRE = Qt.AlignmentFlag.AlignCenter
PLACES = (N_("rod 1"), N_("right"), N_("opposite"), N_("left"))
HOOP_M, COLLAR_M, TENSION_M = 0.0045, 0.009, 0.03
STEPS = 180


class EyePicture(Picture):
    """One `Seen`; a millimetre is the same everywhere in the picture."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Drum to look at"))
        self.setMinimumHeight(230)
        self._seen: Seen | None = None

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(640, 340)

    def set_state(self, seen: Seen | None) -> None:
        """Show it; None: nothing."""
        self._seen = seen
        self.setVisible(seen is not None)
        self.setAccessibleDescription("" if seen is None else _(EYE_CAPTIONS[seen.kind]))
        self.update()

    def _paint(self, p: QPainter) -> None:
        seen = self._seen
        if seen is None:
            return
        p.setFont(font(10))
        p.setPen(QColor(self._colours.soft_ink))
        p.drawText(QRectF(0, 0, self.width(), 20), _(EYE_CAPTIONS[seen.kind]))
        paint = {
            "hoop": self._hoop, "head": self._head, "collar": self._collar,
            "wrinkles": self._wrinkles, "rope": self._rope, "hide": self._hide,
        }[seen.kind]  # fmt: skip
        paint(p, seen)

    # unrolled: the rim from rod 1 round to rod 1

    def _unrolled(self, p: QPainter, seen: Seen) -> tuple[QRectF, float]:
        """Where it is drawn, and pixels a metre."""
        box = QRectF(32, 26, self.width() - 64, self.height() - 56)
        scale = box.width() / (math.pi * seen.diameter_m)
        p.setPen(QColor(self._colours.soft_ink))
        for n, name in enumerate(each((*PLACES, PLACES[0]))):
            x = box.left() + box.width() * n / 4.0
            half = min(40.0, x, self.width() - x)
            p.drawText(QRectF(x - half, box.bottom() + 4, 2.0 * half, 20), CENTRE, name)
        return box, scale

    def _hoop(self, p: QPainter, seen: Seen) -> None:
        c = self._colours
        box, scale = self._unrolled(p, seen)
        edge = box.top() + 0.3 * box.height()
        p.fillRect(QRectF(box.left(), edge, box.width(), box.bottom() - edge), QColor(c.wood))
        p.setPen(QPen(QColor(c.ink), 1))
        p.drawLine(QPointF(box.left(), edge), QPointF(box.right(), edge))
        upper, lower = QPainterPath(), QPainterPath()
        for n in range(STEPS + 1):
            angle = 2.0 * math.pi * n / STEPS
            low = 0.5 * seen.size_m * math.cos(angle - seen.where)
            y = edge + scale * (COLLAR_M + low)
            x = box.left() + box.width() * n / STEPS
            for path, off in ((upper, -scale * HOOP_M), (lower, scale * HOOP_M)):
                (path.lineTo if n else path.moveTo)(QPointF(x, y + off))
        hoop = QPainterPath(upper)
        hoop.connectPath(lower.toReversed())
        p.setBrush(QColor(c.metal))
        p.drawPath(hoop)
        for rod in range(seen.rods + 1):
            x = box.left() + box.width() * rod / seen.rods
            p.fillRect(QRectF(x - 2, edge + scale * COLLAR_M, 4, scale * 0.06), QColor(c.ink))

    def _rope(self, p: QPainter, seen: Seen) -> None:
        c = self._colours
        box, scale = self._unrolled(p, seen)
        tall = min(scale * seen.depth_m, box.height() - 10)
        top = box.top() + 0.5 * (box.height() - tall)
        p.fillRect(QRectF(box.left(), top, box.width(), tall), QColor(c.wood))
        runs = 2 * seen.rods
        width = box.width() / runs
        for run in range(runs):
            middle = (run + 0.5) * 2.0 * math.pi / runs
            near = math.cos(middle - seen.where)
            sag = seen.size_m if near > 0.99 * math.cos(math.pi / runs) else 0.0
            up = run % 2 == 0
            start = QPointF(box.left() + run * width, top + (tall if up else 0.0))
            end = QPointF(start.x() + width, top + (0.0 if up else tall))
            path = QPainterPath(start)
            bend = QPointF(0.5 * (start.x() + end.x()), 0.5 * (start.y() + end.y()))
            path.quadTo(bend + QPointF(0.0, 2.0 * scale * sag), end)
            p.setPen(QPen(QColor(c.ink), max(scale * 0.006, 1.5)))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPath(path)
        for y in (top, top + tall):
            p.fillRect(QRectF(box.left(), y - 4, box.width(), 8), QColor(c.metal))

    # from above

    def _disc(self, p: QPainter, seen: Seen) -> tuple[QPointF, float, float]:
        """Middle, radius in pixels, and pixels a metre."""
        middle = QPointF(self.width() / 2.0, self.height() / 2.0 + 4.0)
        radius = 0.5 * min(self.width() - 160.0, self.height() - 70.0)
        scale = radius / (0.5 * seen.diameter_m + 0.012)
        c = self._colours
        p.setPen(QColor(c.soft_ink))
        for n, name in enumerate(each(PLACES)):
            angle = 0.5 * math.pi * n
            at = QPointF(
                middle.x() + (radius + 34) * math.sin(angle),
                middle.y() - (radius + 13) * math.cos(angle),
            )
            p.drawText(QRectF(at.x() - 40, at.y() - 10, 80, 20), CENTRE, name)
        return middle, 0.5 * seen.diameter_m * scale, scale

    def _head(self, p: QPainter, seen: Seen) -> None:
        c = self._colours
        middle, radius, scale = self._disc(p, seen)
        gap = 0.013 * scale
        p.setPen(QPen(QColor(c.metal), 5))
        p.setBrush(QColor(c.drum_list))
        p.drawEllipse(middle, radius + gap, radius + gap)
        away = scale * seen.size_m * math.sin(seen.where)
        down = -scale * seen.size_m * math.cos(seen.where)
        p.setPen(QPen(QColor(c.ink), 1.5))
        p.setBrush(QColor(c.panel))
        p.drawEllipse(QPointF(middle.x() + away, middle.y() + down), radius, radius)

    def _wrinkles(self, p: QPainter, seen: Seen) -> None:
        c = self._colours
        middle, radius, scale = self._disc(p, seen)
        p.setPen(QPen(QColor(c.metal), 5))
        p.setBrush(QColor(c.panel))
        p.drawEllipse(middle, radius, radius)
        deep = min(seen.size_m * scale, 0.1 * radius)
        for n in range(5):
            angle = seen.where + (n - 2) * 0.13
            far = radius * 0.97
            tip = QPointF(middle.x() + far * math.sin(angle), middle.y() - far * math.cos(angle))
            near = radius * (0.97 - 0.28 - 0.04 * (n % 2))
            root = QPointF(middle.x() + near * math.sin(angle), middle.y() - near * math.cos(angle))
            shade = QLinearGradient(tip, root)
            shade.setColorAt(0.0, QColor(c.ink))
            shade.setColorAt(1.0, QColor(c.panel))
            p.setPen(QPen(shade, max(deep, 0.4)))
            p.drawLine(tip, root)

    def _hide(self, p: QPainter, seen: Seen) -> None:
        """A hide with a corner turned over; grain on one of its sides."""
        c = self._colours
        side = min(self.width() - 80.0, self.height() - 50.0)
        box = QRectF(0.5 * (self.width() - side), 30.0, side, side)
        fold = 0.38 * side
        hide = QPolygonF([
            box.topLeft(), QPointF(box.right() - fold, box.top()),
            QPointF(box.right(), box.top() + fold), box.bottomRight(), box.bottomLeft(),
        ])  # fmt: skip
        flap = QPolygonF([
            QPointF(box.right() - fold, box.top()), QPointF(box.right(), box.top() + fold),
            QPointF(box.right() - fold, box.top() + fold),
        ])  # fmt: skip
        for part, rough in ((hide, seen.where > 1.0), (flap, seen.where < 1.0)):
            p.save()
            path = QPainterPath()
            path.addPolygon(part)
            path.closeSubpath()
            p.setClipPath(path)
            p.fillPath(path, QColor(c.wood))
            if rough:
                self._grain(p, part.boundingRect(), seen.size_m)
            p.restore()
            p.setPen(QPen(QColor(c.ink), 1.2))
            p.drawPath(path)

    def _grain(self, p: QPainter, box: QRectF, strong: float) -> None:
        ink = QColor(self._colours.ink)
        ink.setAlphaF(min(0.9, strong))
        p.setPen(QPen(ink, 1.0))
        draw = random.Random(12345)
        for _unused in range(int(box.width() * box.height() / 90.0)):
            x = box.left() + box.width() * draw.random()
            y = box.top() + box.height() * draw.random()
            p.drawLine(QPointF(x, y), QPointF(x + 3.0, y + 1.0))

    def _collar(self, p: QPainter, seen: Seen) -> None:
        """The rim in section, left and right alike; a rod’s washer to compare with."""
        c = self._colours
        scale = min((self.height() - 80) / 0.09, self.width() / 0.2)
        base = self.height() - 24.0
        top = base - scale * 0.075
        left = self.width() / 2.0 - scale * 0.03
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.wood))
        p.drawRect(QRectF(left, top, scale * 0.006, base - top))
        p.setPen(QPen(QColor(c.ink), 2))
        hoop_y = top + scale * seen.size_m
        p.drawLine(QPointF(left + scale * 0.08, top), QPointF(left, top))
        p.drawLine(QPointF(left, top), QPointF(left - scale * 0.003, hoop_y))
        p.setBrush(QColor(c.metal))
        p.setPen(QPen(QColor(c.ink), 1))
        p.drawEllipse(QPointF(left - scale * 0.0055, hoop_y), scale * 0.003, scale * 0.003)
        p.drawRect(
            QRectF(left - scale * 0.013, hoop_y - scale * 0.004, scale * 0.003, scale * 0.016)
        )
        rod_x = left - scale * 0.024
        p.drawRect(
            QRectF(rod_x - scale * 0.003, hoop_y - scale * 0.002, scale * 0.006, base - hoop_y)
        )
        p.setBrush(QColor(c.panel))
        washer = 0.0127 * scale
        p.drawRect(QRectF(rod_x - 0.5 * washer, hoop_y - scale * 0.004, washer, scale * 0.002))
