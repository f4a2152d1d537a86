"""Lug pitch squared against turns: the line a head has taught us, with its points."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from kesselton.core.language import _
from kesselton.core.pitch import note_of
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.measure.gauges import TurnFit

LEFT, BOTTOM, TOP, RIGHT = 40.0, 22.0, 20.0, 10.0


class TurnPicture(Picture):
    """Points and line; the note at the plan's pitch is marked on it."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Pitch against turns"))
        self.setMinimumHeight(170)
        self._title = ""
        self._fit: TurnFit | None = None
        self._target_hz: float | None = None
        self._a4, self._flats = 440.0, False

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(300, 190)

    def set_state(
        self, title: str, fit: TurnFit | None, target_hz: float | None, a4_hz: float, flats: bool
    ) -> None:
        """Show a line, or nothing."""
        self._title, self._fit, self._target_hz = title, fit, target_hz
        self._a4, self._flats = a4_hz, flats
        self.setVisible(fit is not None)
        self.update()

    def _paint(self, p: QPainter) -> None:
        fit, c = self._fit, self._colours
        if fit is None:
            return
        box = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        p.fillRect(box, QColor(c.panel))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawRect(box)
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        p.drawText(QRectF(0, 0, self.width(), 18), elided(p, self._title, self.width()))
        goal = self._target_hz
        far = max(float(fit.turns.max()), fit.turns_to(goal) if goal else 0.0) * 1.1 + 0.1
        top = max(float((fit.hz**2).max()), (goal or 0.0) ** 2, fit.pitch(far) ** 2) * 1.05

        def at(turns: float, hz: float) -> QPointF:
            return QPointF(
                box.left() + turns / far * box.width(), box.bottom() - hz * hz / top * box.height()
            )

        for hz in {float(fit.hz.min()), float(fit.hz.max())}:
            name = note_of(hz, self._a4).name(self._flats)
            y = at(0.0, hz).y()
            p.drawText(QRectF(0, y - 8, LEFT - 5, 16), Qt.AlignmentFlag.AlignRight, name)
        step = next(s for s in (0.25, 0.5, 1.0, 2.0, 5.0) if s * 5 >= far or s == 5.0)
        for turns in (step * place for place in range(int(far / step) + 1)):
            x = at(turns, 1.0).x()
            p.drawText(
                QRectF(x - 30, box.bottom() + 3, 60, 16),
                Qt.AlignmentFlag.AlignHCenter,
                wording.turn_words(turns),
            )
        p.save()
        p.setClipRect(box)
        p.setPen(QPen(QColor(c.accent), 2))
        steps = [far * i / 40 for i in range(41)]
        p.drawPolyline([at(t, fit.pitch(t)) for t in steps])
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.ink))
        for turns, hz in zip(fit.turns.tolist(), fit.hz.tolist(), strict=True):
            p.drawEllipse(at(turns, hz), 3.5, 3.5)
        if goal is not None:
            point = at(fit.turns_to(goal), goal)
            p.setPen(QPen(QColor(c.accent), 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(point, 6, 6)
        p.restore()
