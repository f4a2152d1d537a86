"""What the entries of a drum say it stands off the model, point by point."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.language import _
from kesselton.ui.log.entry_picture import NEAR, EntryPicture
from kesselton.ui.parts.widgets.picture import elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.log.own_note import Own, Point

LEFT, RIGHT, HEAD, FOOT = 38.0, 12.0, 22.0, 18.0


class OwnPicture(EntryPicture):
    """Each entry a point with its doubt, the model the line at 0, what was learned the band.

    Signals
    -------
    chosen(str when) : an entry was pointed at
    """

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(_("Deviation from the model, cents"), parent)
        self.setMinimumSize(180, 110)
        self._own: Own | None = None
        self._current = ""

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(260, 150)

    def set_state(self, own: Own | None, current: str) -> None:
        """Show what was learned, and which entry is chosen."""
        self._own, self._current = own, current
        self.update()

    @property
    def points(self) -> list[Point]:
        """All that is shown, by date."""
        if self._own is None:
            return []
        return sorted((*self._own.points, *self._own.odd), key=lambda point: point.on)

    def table(self) -> list[tuple[str, ...]]:
        """The same in rows, for the clipboard."""
        return [
            (point.on, f"{point.cents:+.1f}", f"{point.half_cents:.1f}",
             _("outlier") if self._own is not None and point in self._own.odd else "")
            for point in self.points
        ]  # fmt: skip

    def _box(self) -> QRectF:
        return QRectF(LEFT, HEAD, self.width() - LEFT - RIGHT, self.height() - HEAD - FOOT)

    def _x(self, place: int) -> float:
        box = self._box()
        return box.left() + box.width() * (place + 0.5) / max(len(self.points), 1)

    def _span(self) -> float:
        own = self._own
        if own is None:
            return 10.0
        far = [abs(point.cents) + point.half_cents for point in self.points]
        return 1.15 * max(*far, own.before_cents, 5.0)

    def _y(self, cents: float) -> float:
        box = self._box()
        return box.center().y() - cents / self._span() * box.height() / 2.0

    def _paint(self, p: QPainter) -> None:
        c, own, box = self._colours, self._own, self._box()
        self.paint_ground(p)
        if own is None:
            self.paint_words(
                p,
                _("Analyze a stroke (J) and log it (K): the model then learns this drum’s pitch."),
            )
            return
        p.setPen(QColor(c.soft_ink))
        p.setFont(font(8, QFont.Weight.DemiBold))
        title = QRectF(10, 4, self.width() - 20, HEAD - 6)
        words = elided(p, _("off model, cents"), title.width())
        p.drawText(title, Qt.AlignmentFlag.AlignLeft, words)
        band = QColor(c.accent)
        band.setAlpha(50)
        top, low = self._y(own.cents + own.half_cents), self._y(own.cents - own.half_cents)
        p.fillRect(QRectF(box.left(), top, box.width(), low - top), band)
        p.setPen(QPen(QColor(c.soft_ink), 1, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(box.left(), self._y(0.0)), QPointF(box.right(), self._y(0.0)))
        self._paint_scale(p)
        for place, point in enumerate(self.points):
            self._paint_point(p, place, point)

    def _paint_scale(self, p: QPainter) -> None:
        c, own = self._colours, self._own
        assert own is not None
        p.setFont(font(8))
        aside = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        p.setPen(QColor(c.soft_ink))
        named = [0.0]
        for cents in (own.cents, own.before_cents, -own.before_cents):
            if all(abs(self._y(cents) - self._y(other)) > 12.0 for other in named):
                named.append(cents)
        for cents in named:
            where = QRectF(0, self._y(cents) - 8, LEFT - 5, 16)
            p.drawText(where, aside, wording.signed_words(cents))
        where = QRectF(8, self.height() - FOOT + 1, self.width() - 16, FOOT - 3)
        words = elided(p, _("0: model; band: this drum"), where.width())
        p.drawText(where, Qt.AlignmentFlag.AlignHCenter, words)

    def _paint_point(self, p: QPainter, place: int, point: Point) -> None:
        c, own = self._colours, self._own
        odd = own is not None and point in own.odd
        ink = QColor(c.sharp if odd else c.ink)
        x = self._x(place)
        p.setPen(QPen(ink, 1.4))
        p.drawLine(QPointF(x, self._y(point.cents + point.half_cents)),
                   QPointF(x, self._y(point.cents - point.half_cents)))  # fmt: skip
        p.setBrush(Qt.BrushStyle.NoBrush if odd else ink)
        p.drawEllipse(QPointF(x, self._y(point.cents)), 3.4, 3.4)
        if point.on == self._current:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(c.accent), 1.6))
            p.drawEllipse(QPointF(x, self._y(point.cents)), 7.0, 7.0)

    # hands

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        at, points = event.position().x(), self.points
        if points:
            best = min(range(len(points)), key=lambda n: abs(self._x(n) - at))
            if abs(self._x(best) - at) <= NEAR:
                self.chosen.emit(points[best].on)

    def step(self, by: int) -> bool:
        points = self.points
        now = next((n for n, point in enumerate(points) if point.on == self._current), -by)
        if points:
            self.chosen.emit(points[min(max(now + by, 0), len(points) - 1)].on)
        return bool(points)
