"""Two criteria against each other: every pair a point, those that nothing beats on a line."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font

if TYPE_CHECKING:
    from kesselton.core.heads.choose import Candidates

LEFT, BOTTOM, TOP, RIGHT = 44.0, 26.0, 8.0, 12.0
REACH = 14.0


class TradeoffPicture(Picture):
    """The points; a click takes the nearest.

    Signals
    -------
    chosen(int candidate)
    """

    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Trade-off between two criteria"))
        self._found: Candidates | None = None
        self._axes = ("ring", "response")
        self._current = -1
        self._marked: list[int] = []

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(420, 180)

    def set_state(
        self, candidates: Candidates | None, axes: tuple[str, str], current: int, marked: list[int]
    ) -> None:
        """Show candidates on two axes."""
        self._found, self._axes = candidates, axes
        self._current, self._marked = current, marked
        self.update()

    def point(self, number: int) -> QPointF:
        """Where a candidate is drawn: scores, better towards the top right."""
        assert self._found is not None
        from kesselton.core.heads.criteria import KEYS

        score = self._found.scores.score
        x, y = (float(score[KEYS.index(key), number]) for key in self._axes)
        return QPointF(
            LEFT + x * (self.width() - LEFT - RIGHT),
            self.height() - BOTTOM - y * (self.height() - BOTTOM - TOP),
        )

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        frame = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - BOTTOM - TOP)
        p.fillRect(frame, QColor(c.panel))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawRect(frame)
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        p.drawText(
            QRectF(LEFT, frame.bottom() + 4, frame.width(), 18),
            Qt.AlignmentFlag.AlignRight,
            _("{label}, better →").format(label=_label(self._axes[0])),
        )
        p.save()
        p.translate(14, frame.bottom())
        p.rotate(-90)
        p.drawText(
            QRectF(0, 0, frame.height(), 18),
            Qt.AlignmentFlag.AlignRight,
            elided(p, f"{_label(self._axes[1])} →", frame.height()),
        )
        p.restore()
        if self._found is None:
            return
        plain = QColor(c.soft_ink)
        plain.setAlphaF(0.4)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(plain)
        for number in self._found.feasible.tolist():
            p.drawEllipse(self.point(number), 2.5, 2.5)
        front = [self.point(n) for n in self._found.pareto(*self._axes).tolist()]
        p.setPen(QPen(QColor(c.accent), 1.5))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(front)
        p.setBrush(QColor(c.accent))
        for point in front:
            p.drawEllipse(point, 3.5, 3.5)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(c.ink), 1.5))
        for number in self._marked:
            p.drawRect(QRectF(-6, -6, 12, 12).translated(self.point(number)))
        if self._current >= 0:
            p.setPen(QPen(QColor(c.ink), 2))
            p.drawEllipse(self.point(self._current), 7, 7)

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._found is None:
            return
        here = event.position()

        def distance(number: int) -> float:
            away = self.point(number) - here
            return float(away.x() ** 2 + away.y() ** 2)

        numbers = self._found.feasible.tolist()
        if numbers:
            nearest = min(numbers, key=distance)
            if distance(nearest) <= REACH**2:
                self.chosen.emit(nearest)


class Tradeoff(QWidget):
    """The picture with a list for each axis.

    Signals
    -------
    axes_chosen(tuple of two keys)
    """

    axes_chosen = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.picture = TradeoffPicture()
        self.axes = ("ring", "response")
        self.boxes = (Choice(_("X axis")), Choice(_("Y axis")))
        top = QHBoxLayout()
        note = Label(_("On the line: no other pair beats it on both axes."))
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        for place, box in enumerate(self.boxes):
            box.chosen.connect(lambda key, place=place: self._on_axis(place, key))
            top.addWidget(box, 4)
        top.addWidget(note, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(top)
        layout.addWidget(self.picture, 1)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.picture.set_colours(colours)

    def set_criteria(self, options: list[tuple[str, str]]) -> None:
        """Offer criteria for the axes."""
        keys = [key for key, _unused in options]
        self.axes = tuple(  # type: ignore[assignment]
            axis if axis in keys else keys[place] for place, axis in enumerate(self.axes)
        )
        for box, axis in zip(self.boxes, self.axes, strict=True):
            box.set_options(options)
            box.set_state(axis)

    def _on_axis(self, place: int, key: str) -> None:
        axes = list(self.axes)
        axes[place] = key
        self.axes = (axes[0], axes[1])
        self.axes_chosen.emit(self.axes)


def _label(key: str) -> str:
    from kesselton.core.heads.criteria import CRITERIA

    return next(criterion.label for criterion in CRITERIA if criterion.key == key)
