"""What is seen after the answer: lines that sounded, answers of a session, and all the weeks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from kesselton.core.dates import day_words
from kesselton.core.language import _, figures
from kesselton.core.practice.progress import share_between
from kesselton.core.practice.pupil import RIGHT, UNSURE, Session, Trial
from kesselton.core.practice.question import Lines
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

LEFT, BOTTOM = 78.0, 20.0
FLOOR_DB = 45.0
CENTRE = Qt.AlignmentFlag.AlignCenter


class LinesPicture(Picture):
    """Each sound on a row of one pitch axis: a stem per line, as high as it is loud."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Partials: first sound above, second below"))
        self.setMinimumHeight(120)
        self._lines: tuple[Lines, ...] = ()

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(560, 200)

    def set_state(self, lines: Sequence[Lines]) -> None:
        """Show these; none: nothing."""
        self._lines = tuple(lines)
        self.setVisible(bool(lines))
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """Every line."""
        rows: list[tuple[str, ...]] = [("sound", "Hz", "dB")]
        for line in self._lines:
            for hz, level in zip(line.hz.tolist(), line.level_db.tolist(), strict=True):
                rows.append((line.label, f"{hz:.1f}", f"{level:.0f}"))
        return rows

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        if not self._lines:
            return
        every = [hz for line in self._lines for hz in line.hz.tolist()]
        low = min(every, default=50.0) * 0.85
        high = min(max(every, default=500.0) * 1.1, low * 16.0)
        wide = self.width() - LEFT - 10.0
        high_row = (self.height() - BOTTOM) / len(self._lines)

        def x(hz: float) -> float:
            return LEFT + wide * math.log(hz / low) / math.log(high / low)

        p.setFont(font(9))
        for tick in (50, 100, 150, 200, 300, 400, 600, 800, 1200, 1600, 2400):
            if low < tick < high:
                p.setPen(QPen(QColor(c.line), 1))
                p.drawLine(QPointF(x(tick), 0), QPointF(x(tick), self.height() - BOTTOM))
                p.setPen(QColor(c.soft_ink))
                p.drawText(
                    QRectF(x(tick) - 24, self.height() - BOTTOM, 48, BOTTOM), CENTRE, str(tick)
                )
        for row, lines in enumerate(self._lines):
            base = (row + 1) * high_row - 4.0
            p.setPen(QColor(c.ink))
            box = QRectF(0, base - high_row, LEFT - 8, high_row)
            p.drawText(box, Qt.AlignmentFlag.AlignVCenter, elided(p, lines.label, LEFT - 8))
            p.setPen(QPen(QColor(c.line), 1))
            p.drawLine(QPointF(LEFT, base), QPointF(LEFT + wide, base))
            p.setPen(QPen(QColor(c.accent), 3))
            for hz, level in zip(lines.hz.tolist(), lines.level_db.tolist(), strict=True):
                if low <= hz <= high:
                    tall = (high_row - 12.0) * max(1.0 + level / FLOOR_DB, 0.0)
                    p.drawLine(QPointF(x(hz), base), QPointF(x(hz), base - tall))


class TracePicture(Picture):
    """How hard each question was, and what came of it."""

    main = False

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(
            _("Answers this session: filled correct, open wrong, dash cannot tell")
        )
        self.setMinimumHeight(90)
        self._trials: tuple[Trial, ...] = ()
        self._between: tuple[float, float] | None = None
        self._unit = ""

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(560, 120)

    def set_state(
        self, trials: Sequence[Trial], between: tuple[float, float] | None, unit: str
    ) -> None:
        """Show the answers, and where the threshold lies."""
        self._trials, self._between, self._unit = tuple(trials), between, unit
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """All of them."""
        rows: list[tuple[str, ...]] = [(self._unit, "answer")]
        return rows + [(f"{trial.level:.3g}", trial.outcome) for trial in self._trials]

    def _paint(self, p: QPainter) -> None:
        c, trials = self._colours, self._trials
        if not trials:
            return
        levels = [trial.level for trial in trials] + list(self._between or ())
        low, high = min(levels) / 1.3, max(levels) * 1.3
        box = QRectF(LEFT, 6, self.width() - LEFT - 10, self.height() - 14)

        def y(level: float) -> float:
            return box.bottom() - box.height() * math.log(level / low) / math.log(high / low)

        if self._between is not None:
            top, bottom = y(self._between[1]), y(self._between[0])
            p.fillRect(QRectF(box.left(), top, box.width(), bottom - top), QColor(c.band))
        p.setFont(font(9))
        p.setPen(QColor(c.soft_ink))
        for level in (max(levels), min(levels)):
            words = f"{plain(level)} {self._unit}".strip()
            p.drawText(QRectF(0, y(level) - 9, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight,
                       elided(p, words, LEFT - 6))  # fmt: skip
        step = min(box.width() / max(len(trials), 12), 26.0)
        p.setPen(QPen(QColor(c.accent), 1.8))
        for n, candidate in enumerate(trials):
            at = QPointF(box.left() + (n + 0.5) * step, y(candidate.level))
            if candidate.outcome == UNSURE:
                p.drawLine(at - QPointF(5, 0), at + QPointF(5, 0))
                continue
            p.setBrush(QColor(c.accent) if candidate.outcome == RIGHT else Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, 4.5, 4.5)


class WeeksPicture(Picture):
    """Thresholds with their doubt, session by session, over the weeks."""

    main = False

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Progress by week"))
        self.setMinimumHeight(120)
        self._sessions: tuple[Session, ...] = ()
        self._unit = ""

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(560, 220)

    def set_state(self, sessions: Sequence[Session], unit: str) -> None:
        """Show the sessions of one exercise that have a threshold, or a share."""
        self._sessions, self._unit = tuple(sessions), unit
        self.setVisible(len(self._sessions) > 0)
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """All of them."""
        rows: list[tuple[str, ...]] = [("date", self._unit or "%", "low", "high")]
        for session in self._sessions:
            rows.append((session.on[:10], *(f"{value:.3g}" for value in _values(session))))
        return rows

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        values = [_values(session) for session in self._sessions]
        if not values:
            return
        p.setFont(font(10))
        p.setPen(QColor(c.soft_ink))
        p.drawText(QRectF(0, 0, self.width(), 18), _("Progress by week"))
        low = max(min(low for _unused, low, _unused in values) / 1.15, 1e-3)
        high = max(high for _unused, _unused, high in values) * 1.15
        box = QRectF(LEFT, 24, self.width() - LEFT - 24, self.height() - 48)
        days = [datetime.fromisoformat(session.on).timestamp() for session in self._sessions]
        span = max(days[-1] - days[0], 86400.0)

        def at(day: float, value: float) -> QPointF:
            x = box.left() + box.width() * (day - days[0]) / span
            share = math.log(max(value, low) / low) / math.log(high / low)
            return QPointF(x, box.bottom() - box.height() * share)

        p.setPen(QPen(QColor(c.line), 1))
        p.drawRect(box)
        p.setPen(QColor(c.soft_ink))
        unit = self._unit or "%"
        for value in (
            max(v for v, _unused, _unused in values),
            min(v for v, _unused, _unused in values),
        ):
            words = f"{plain(value)} {unit}"
            y = at(days[0], value).y()
            p.drawText(QRectF(0, y - 9, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight,
                       elided(p, words, LEFT - 6))  # fmt: skip
        for day in (days[0], days[-1]):
            name = day_words(datetime.fromtimestamp(day))
            x = at(day, low).x()
            p.drawText(QRectF(x - 40, box.bottom() + 3, 80, 18), CENTRE, name)
        p.setPen(QPen(QColor(c.accent), 2))
        middles = []
        for day, (value, lowest, highest) in zip(days, values, strict=True):
            p.drawLine(at(day, lowest), at(day, highest))
            middles.append(at(day, value))
        p.drawPolyline(middles)
        p.setBrush(QColor(c.accent))
        for point in middles:
            p.drawEllipse(point, 4.0, 4.0)


def _values(session: Session) -> tuple[float, float, float]:
    """Threshold, or share in per cent, and where it lies."""
    if session.threshold is not None and session.low is not None and session.high is not None:
        return session.threshold, session.low, session.high
    right = sum(trial.outcome == RIGHT for trial in session.trials)
    low, high = share_between(right, len(session.trials))
    return 100.0 * session.right_share, 100.0 * low, 100.0 * high


def plain(value: float) -> str:
    """Two figures, without powers of ten."""
    return figures(value, ".0f") if value >= 10.0 else figures(value, ".2g")
