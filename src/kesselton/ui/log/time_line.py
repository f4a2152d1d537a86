"""The life of a drum: its pitches over time, its heads as bars, what happened as marks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QMouseEvent,
    QPainter,
    QPen,
    QPixmap,
)
from PySide6.QtWidgets import QWidget

from kesselton.core.instrument.kept import EVENTS, Kept
from kesselton.core.language import _
from kesselton.core.pitch import hz_of, note_of
from kesselton.ui.log.entry_picture import NEAR, EntryPicture
from kesselton.ui.parts.widgets.picture import hint, painted, sharpness
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

LEFT, RIGHT, HEAD, BAR, FOOT = 46.0, 16.0, 24.0, 18.0, 22.0
APART = 3
LEAST_SPAN = 1.25
"""Lowest to highest pitch shown, at least so far apart."""


class HeadBar(NamedTuple):
    """A head as long as it lay there: places of the first entry and of the one that ended it (None:
    it lies there still), its name, and whether it broke."""

    first: int
    last: int | None
    name: str
    broke: bool


def head_bars(log: Sequence[Kept], place: int) -> list[HeadBar]:
    """Heads of one side, batter 0, one after another; between a break and the next head there is
    none."""
    bars: list[HeadBar] = []
    for number, entry in enumerate(log):
        if place >= len(entry.drum.sides):
            continue
        side = entry.drum.sides[place]
        mine = entry.side == side or (not entry.side and len(entry.drum.sides) == 1)
        name = entry.drum.setting(side).head.name
        open_ = bars and bars[-1].last is None
        if open_ and (bars[-1].name != name or (entry.event == "fitted" and mine)):
            bars[-1] = bars[-1]._replace(last=number)
            open_ = False
        if open_ and entry.event == "broken" and mine:
            bars[-1] = bars[-1]._replace(last=number, broke=True)
        elif not open_ and entry.event != "broken":
            bars.append(HeadBar(number, None, name, False))
    return bars


class TimeLine(EntryPicture):
    """Entries from left to right; one is chosen by pointer or arrow keys.

    Signals
    -------
    chosen(int) : place of an entry
    """

    chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(_("Timeline of the drum"), parent)
        self.log: tuple[Kept, ...] = ()
        self.current = -1
        self._marked: frozenset[str] = frozenset()
        self._still: tuple[tuple[object, ...], QPixmap] | None = None
        self._shares: list[float] = []  # of the width, for each entry
        self._ends = (100.0, 200.0)
        self._a4, self._flats = 440.0, False

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(520, 380)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(300, 220)

    def set_state(self, log: tuple[Kept, ...], current: int, a4_hz: float, flats: bool) -> None:
        """Show a log, oldest first."""
        if log is not self.log:
            self._marked, self._still = frozenset(), None
            self._shares = _shares(log)
            every = [hz for entry in log for hz in (*entry.lug_pitches_hz, entry.heard_hz) if hz]
            self._ends = (min(every), max(every)) if every else (100.0, 200.0)
        self.log, self.current = log, current
        self._a4, self._flats = a4_hz, flats
        self.update()

    def mark(self, entries: Sequence[str]) -> None:
        """Ring the entries something comes from, by when they were kept."""
        self._marked = frozenset(entries)
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """The same in rows, for the clipboard."""
        return [
            (one.on, EVENTS[one.event], *(f"{hz:.1f}" for hz in one.lug_pitches_hz),
             "" if one.heard_hz is None else f"{one.heard_hz:.1f}", one.what_for, one.verdict)
            for one in self.log
        ]  # fmt: skip

    # geometry

    def x_of(self, place: int) -> float:
        """Where an entry stands: by its time; those of one time side by side."""
        inner = self.width() - LEFT - RIGHT - 20.0
        return LEFT + 10.0 + inner * self._shares[place]

    def _seen(self) -> list[int]:
        """Entries that can be told apart: of those side by side the first and the last."""
        columns = [int(self.x_of(place) / APART) for place in range(len(self.log))]
        return [
            place
            for place, column in enumerate(columns)
            if place in (0, len(columns) - 1)
            or columns[place - 1] != column
            or columns[place + 1] != column
        ]

    def _span(self) -> tuple[float, float]:
        low, high = self._ends
        middle = math.sqrt(low * high)
        half = math.sqrt(max(high / low, LEAST_SPAN)) * 1.06
        return middle / half, middle * half

    def _plot(self) -> QRectF:
        below = FOOT + 2 * BAR + 12.0
        return QRectF(LEFT, HEAD, self.width() - LEFT - RIGHT, self.height() - HEAD - below)

    def y_of(self, hz: float) -> float:
        """Height of a pitch."""
        low, high = self._span()
        box = self._plot()
        return box.bottom() - math.log(hz / low) / math.log(high / low) * box.height()

    # painting

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        self.paint_ground(p)
        if not self.log:
            self.paint_words(
                p,
                _(
                    "No entries for this drum yet. Press K to log the current "
                    "setting, readings and stroke."
                ),
            )
            return
        still = self._still_picture(p)
        p.drawPixmap(QRectF(self.rect()), still, QRectF(still.rect()))
        p.setPen(QPen(QColor(c.accent), 1.6))
        for place, entry in enumerate(self.log):
            if entry.on in self._marked and entry.lug_pitches_hz:
                at = QPointF(self.x_of(place), self.y_of(entry.lug_pitches_hz[0]))
                p.drawEllipse(at, 7, 7)
        if 0 <= self.current < len(self.log):
            x, box = self.x_of(self.current), self._plot()
            p.setPen(QPen(QColor(c.accent), 1.2))
            p.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))

    def _still_picture(self, p: QPainter) -> QPixmap:
        """All that stays while entries are chosen: painted once for a log and a size."""
        factor = sharpness(p)
        key = (self.width(), self.height(), factor, self._colours, self._a4,
               self._flats)  # fmt: skip
        if self._still is None or self._still[0] != key:
            qpixmap = painted(self.width(), self.height(), factor, self._paint_still)
            self._still = (key, qpixmap)
        return self._still[1]

    def _paint_still(self, p: QPainter) -> None:
        c = self._colours
        self._paint_notes(p)
        self._paint_heads(p)
        seen = self._seen()
        for place, (name, ink) in enumerate(((_("batter"), c.accent), (_("resonant"), c.ink))):
            self._paint_line(p, place, QColor(ink), seen)
            p.setFont(font(8, QFont.Weight.DemiBold))
            p.setPen(QColor(ink))
            where = QRectF(LEFT + 4 + 70 * place, 5, 66, 16)
            p.drawText(where, Qt.AlignmentFlag.AlignLeft, name)
        p.setPen(QColor(c.sharp))
        p.drawText(
            QRectF(LEFT + 148, 5, 160, 16), Qt.AlignmentFlag.AlignLeft, _("drum pitch, measured")
        )
        for place in seen:
            hz = self.log[place].heard_hz
            if hz:
                p.setPen(QPen(QColor(c.sharp), 1.4))
                p.setBrush(QColor(c.sharp))
                p.drawEllipse(QPointF(self.x_of(place), self.y_of(hz)), 3, 3)
        self._paint_events(p)

    def _paint_notes(self, p: QPainter) -> None:
        c, box = self._colours, self._plot()
        low, high = self._span()
        p.setFont(font(8))
        first = math.ceil(69 + 12 * math.log2(low / self._a4))
        last = math.floor(69 + 12 * math.log2(high / self._a4))
        step = max(1, round(14.0 * (last - first + 1) / max(box.height(), 1.0)))
        for number in range(first, last + 1, step):
            hz = hz_of(number, self._a4)
            y = self.y_of(hz)
            p.setPen(QPen(QColor(c.line), 1))
            p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            p.setPen(QColor(c.soft_ink))
            aside = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            name = note_of(hz, self._a4).name(self._flats)
            p.drawText(QRectF(0, y - 8, LEFT - 8, 16), aside, name)

    def _paint_line(self, p: QPainter, place: int, ink: QColor, seen: list[int]) -> None:
        """Pitches of one head, joined while it is the same head."""
        before: tuple[QPointF, str] | None = None
        for number in seen:
            entry = self.log[number]
            if place >= len(entry.lug_pitches_hz):
                before = None
                continue
            point = QPointF(self.x_of(number), self.y_of(entry.lug_pitches_hz[place]))
            name = entry.drum.setting(entry.drum.sides[place]).head.name
            p.setPen(QPen(ink, 1.6))
            if before is not None and before[1] == name:
                p.drawLine(before[0], point)
            p.setBrush(ink)
            p.drawEllipse(point, 2.6, 2.6)
            before = (point, name)

    def _paint_heads(self, p: QPainter) -> None:
        """Which head lay on either side, as bars under the pitches."""
        c, box = self._colours, self._plot()
        p.setFont(font(7.5))
        for place in range(2):
            top = box.bottom() + 6.0 + place * (BAR + 2.0)
            for head_bar in head_bars(self.log, place):
                left = self.x_of(head_bar.first) if head_bar.first else box.left()
                right = self.x_of(head_bar.last) if head_bar.last is not None else box.right()
                bar = QRectF(left + 1, top, max(right - left - 2, 2), BAR - 2)
                ink = QColor(c.accent if place == 0 else c.soft_ink)
                p.setPen(QPen(ink, 1))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(bar, 4, 4)
                if head_bar.broke:  # a cross where it ended
                    p.setPen(QPen(QColor(c.sharp), 2))
                    p.drawLine(bar.topRight() + QPointF(-3, 1), bar.bottomRight() + QPointF(3, -1))
                    p.drawLine(bar.topRight() + QPointF(3, 1), bar.bottomRight() + QPointF(-3, -1))
                p.setPen(QColor(c.ink))
                text = p.fontMetrics().elidedText(
                    head_bar.name, Qt.TextElideMode.ElideRight, int(bar.width()) - 8
                )
                p.drawText(bar.adjusted(4, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_events(self, p: QPainter) -> None:
        """What happened as a stroke across; the chosen entry plainly; dates at the foot."""
        c, box = self._colours, self._plot()
        named, drawn = -1000.0, -1000
        for place, entry in enumerate(self.log):
            x = self.x_of(place)
            if x < named and int(x) < drawn + APART:
                continue
            p.setFont(font(7.5))
            wide = p.fontMetrics().horizontalAdvance(EVENTS[entry.event]) + 4.0
            if entry.event != "set" and x > named and x + 3 + wide < box.right():
                p.setPen(QColor(c.soft_ink))
                where = QRectF(x + 3, box.bottom() - 14, wide, 13)
                p.drawText(where, Qt.AlignmentFlag.AlignLeft, EVENTS[entry.event])
                named = x + wide + 6.0
            if entry.event != "set" and int(x) >= drawn + APART:
                drawn = int(x)
                p.setPen(QPen(QColor(c.soft_ink), 1.2, Qt.PenStyle.DotLine))
                p.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        p.setFont(font(7.5))
        p.setPen(QColor(c.soft_ink))
        last = -1000.0
        for place, entry in enumerate(self.log):
            x = self.x_of(place)
            if x - last > 62.0:
                where = QRectF(min(x - 30, self.width() - 64.0), self.height() - FOOT + 3, 62, 16)
                p.drawText(where, Qt.AlignmentFlag.AlignHCenter, entry.on[:10])
                last = x

    # hands

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position().x()
        if self.log:
            best = min(range(len(self.log)), key=lambda n: abs(self.x_of(n) - at))
            if abs(self.x_of(best) - at) <= NEAR:
                self.chosen.emit(best)

    def step(self, by: int) -> bool:
        if self.log:
            self.chosen.emit(min(max(self.current + by, 0), len(self.log) - 1))
        return bool(self.log)


def _shares(log: tuple[Kept, ...]) -> list[float]:
    """Of the width, where each entry stands."""
    times = [datetime.fromisoformat(entry.on).timestamp() for entry in log]
    first, last = min(times, default=0.0), max(times, default=0.0)
    if last <= first:
        return [(place + 0.5) / len(times) for place in range(len(times))]
    return [(time - first) / (last - first) for time in times]
