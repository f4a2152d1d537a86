"""The rim unrolled, the tension over the head from above, and how the spread falls by rounds."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QImage, QMouseEvent, QPainter, QPen, QPolygonF

from kesselton.core.language import _, figures
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.app.bench.clearing import Cleared

CENTRE = Qt.AlignmentFlag.AlignCenter
LEFT, RIGHT, TOP, BOTTOM = 46.0, 14.0, 46.0, 58.0
"""Below stand the number of each rod and, in two lines, its turn."""
CLEAR_CENTS = 5.0
MIN_SPAN = 20.0
STEM = 3.0
HEAD = 7.0


class RimStrip(Picture):
    """Rod 1 to the last and 1 again: a stem per reading, in cents against the wanted pattern.

    Signals
    -------
    rod_chosen(int) : a rod was clicked
    """

    rod_chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Rim, unrolled"))
        self.setMinimumHeight(150)
        self._rods, self._now = 8, 1
        self._cents: dict[int, float] = {}
        self._computed: tuple[float, ...] = ()
        self._turns: tuple[float, ...] = ()
        self._unit, self._words = "", wording.TurnWords()

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(640, 320)

    def set_words(self, spoken: wording.TurnWords) -> None:
        """Speak of rods, or of ears."""
        self._words = spoken

    def set_state(
        self,
        rods: int,
        now: int,
        cents: dict[int, float],
        computed: tuple[float, ...],
        turns: tuple[float, ...],
        unit: str,
    ) -> None:
        """Show readings per rod, what the model makes of them, and the turn of each rod."""
        self._rods, self._now, self._cents = rods, now, cents
        self._computed, self._turns, self._unit = computed, turns, unit
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """What was read at each rod, what the model makes of it, and what is to be turned."""
        rows: list[tuple[str, ...]] = [(self._words.place, self._unit, _("computed"), _("turn"))]
        for rod in range(1, self._rods + 1):
            read = self._cents.get(rod)
            turn = self._turns[rod - 1] if self._turns else 0.0
            rows.append(
                (
                    str(rod),
                    "" if read is None else f"{read:.1f}",
                    f"{self._computed[rod - 1]:.1f}" if self._computed else "",
                    f"{self._words.way(turn)} {self._words.amount(turn)}" if turn else "",
                )
            )
        return rows

    def _x(self, place: int) -> float:
        return LEFT + 24.0 + (self.width() - LEFT - RIGHT - 48.0) * place / self._rods

    def rod_at(self, x: float) -> int:
        """The rod nearest to a place across."""
        place = round((x - self._x(0)) / (self._x(1) - self._x(0)))
        return min(max(place, 0), self._rods) % self._rods + 1

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.rod_chosen.emit(self.rod_at(event.position().x()))

    @property
    def span(self) -> float:
        """Cents shown up and down."""
        values = [abs(c) for c in (*self._cents.values(), *self._computed)]
        most = max(values, default=0.0) * 1.25
        step = 10.0 if most <= 60.0 else 50.0
        return max(MIN_SPAN, step * math.ceil(most / step))

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        p.setPen(QPen(QColor(c.line), 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
        top, bottom = TOP, self.height() - BOTTOM
        middle, span = 0.5 * (top + bottom), self.span

        def y(cents: float) -> float:
            return middle - (middle - top) * cents / span

        p.fillRect(
            QRectF(
                LEFT, y(CLEAR_CENTS), self.width() - LEFT - RIGHT, y(-CLEAR_CENTS) - y(CLEAR_CENTS)
            ),
            QColor(c.band),
        )
        p.setFont(font(8.5))
        for cents in (-span, -span / 2, 0.0, span / 2, span):
            p.setPen(QPen(QColor(c.line), 1))
            p.drawLine(QPointF(LEFT, y(cents)), QPointF(self.width() - RIGHT, y(cents)))
            p.setPen(QColor(c.soft_ink))
            text = f"{'+' if cents > 0 else '−' if cents < 0 else ''}{figures(abs(cents), '.0f')}"
            p.drawText(QRectF(2, y(cents) - 8, LEFT - 8, 16), Qt.AlignmentFlag.AlignRight, text)
        where = QRectF(self.width() - 250.0, 6, 240, 16)
        p.drawText(where, Qt.AlignmentFlag.AlignRight, self._unit)
        self._paint_now(p, top, bottom)
        for place in range(self._rods + 1):
            rod = place % self._rods + 1
            p.setOpacity(0.4 if place == self._rods else 1.0)
            self._paint_rod(p, rod, self._x(place), y, bottom)
        p.setOpacity(1.0)

    def _paint_now(self, p: QPainter, top: float, bottom: float) -> None:
        c = self._colours
        x = self._x(self._now - 1)
        p.setPen(QPen(QColor(c.accent), 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        half = min(30.0, 0.48 * (self._x(1) - self._x(0)))
        p.drawRoundedRect(QRectF(x - half, top - 20, 2 * half, bottom - top + 72), 5, 5)
        p.setFont(font(8.5, QFont.Weight.DemiBold))
        p.setPen(QColor(c.accent))
        p.drawText(QRectF(x - 30, top - 18, 60, 14), CENTRE, _("now"))

    def _paint_rod(self, p: QPainter, rod: int, x: float, y: object, bottom: float) -> None:
        c = self._colours
        at = y  # pixel of a value in cents
        assert callable(at)
        if self._computed:
            expected = self._computed[rod - 1]
            p.setPen(QPen(QColor(c.soft_ink), 1.4))
            p.drawLine(QPointF(x - 9, at(expected)), QPointF(x + 9, at(expected)))
        if rod in self._cents:
            self._paint_stem(p, self._cents[rod], x, at)
        turn = self._turns[rod - 1] if self._turns else 0.0
        if turn:
            p.setFont(font(8))
            p.setPen(QColor(c.flat if turn > 0 else c.sharp))
            amount = self._words.amount(turn, True)
            for line, text in enumerate((self._words.way(turn), amount)):
                p.drawText(QRectF(x - 40, bottom + 26 + 12 * line, 80, 13), CENTRE, text)
        p.setFont(font(11, QFont.Weight.Bold))
        p.setPen(QColor(c.accent if rod == self._now else c.ink))
        p.drawText(QRectF(x - 20, bottom + 8, 40, 20), CENTRE, str(rod))

    def _paint_stem(self, p: QPainter, cents: float, x: float, at: object) -> None:
        assert callable(at)
        c = self._colours
        whole = round(cents)
        colour = QColor(c.ink if whole == 0 else c.sharp if whole > 0 else c.flat)
        tip = at(cents)
        p.setPen(QPen(colour, STEM))
        p.drawLine(QPointF(x, at(0.0)), QPointF(x, tip))
        if abs(tip - at(0.0)) > HEAD:
            turn = 1.0 if cents > 0 else -1.0
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(colour)
            p.drawPolygon(QPolygonF([
                QPointF(x, tip - turn * 2.0), QPointF(x - HEAD, tip + turn * HEAD),
                QPointF(x + HEAD, tip + turn * HEAD),
            ]))  # fmt: skip
        p.setPen(colour)
        p.setFont(font(9.5, QFont.Weight.DemiBold))
        text = f"{'+' if whole > 0 else '−' if whole < 0 else ''}{abs(whole)}"
        p.drawText(QRectF(x - 24, tip - (20 if cents >= 0 else -6), 48, 14), CENTRE, text)


class FieldPicture(Picture):
    """Tension over the head from above, computed: lighter is tighter."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Tension across the head"))
        self.setMinimumSize(140, 140)
        self._found: Cleared | None = None
        self._image: QImage | None = None
        self._rods, self._now, self._range = 8, 1, 0.0

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(260, 260)

    def set_state(self, cleared: Cleared | None, now: int, rods: int) -> None:
        """Show the field of a state, or an empty rim."""
        self._now, self._rods = now, rods
        if cleared is not self._found:
            self._found, self._image = cleared, None
        self._range = 0.0 if cleared is None else cleared.heard[-1][1] if cleared.heard else 0.0
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        size = min(self.width(), self.height()) - 52.0
        centre = QPointF(self.width() / 2.0, self.height() / 2.0)
        rim = QRectF(centre.x() - size / 2, centre.y() - size / 2, size, size)
        if self._image is None and self._found is not None:  # only what is looked at is computed
            self._image = field_image(self._found, 150)
        if self._image is not None:
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            p.drawImage(rim, self._image)
        p.setPen(QPen(QColor(c.ink), 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(rim)
        p.setFont(font(9.5, QFont.Weight.DemiBold))
        for rod in range(1, self._rods + 1):
            angle = 2.0 * math.pi * (rod - 1) / self._rods
            x = centre.x() + (size / 2 + 14) * math.sin(angle)
            y = centre.y() - (size / 2 + 14) * math.cos(angle)
            p.setPen(QColor(c.accent if rod == self._now else c.ink))
            p.drawText(QRectF(x - 14, y - 9, 28, 18), CENTRE, str(rod))


def field_image(cleared: Cleared, size: int) -> QImage:
    """Mean of the two tensions over the head in greys, with steps as on a map."""
    import numpy as np

    from kesselton.core.clear.rim import field

    state = cleared.state
    patterns = state.rim.edge_per_turn @ state.turns
    axis = (np.arange(size) + 0.5) / size * 2.0 - 1.0
    x, y = np.meshgrid(axis, axis)
    s = np.hypot(x, y)
    angle = np.arctan2(x, -y)
    inside = np.minimum(s, 1.0).ravel()
    few = patterns[: state.rim.rods // 2 + 1]
    rr, tt, _unused = field(state.rim, few, inside, angle.ravel())
    part = (0.5 * (rr + tt) / float(patterns[0].real) - 1.0).reshape(size, size)
    most = max(float(np.abs(part).max()), 0.03)
    grey = np.clip(152.0 + 88.0 * np.round(6.0 * part / most) / 6.0, 0, 255).astype(np.uint8)
    alpha = np.clip((1.0 - s) * size / 2.0 + 0.5, 0.0, 1.0)
    pixels = np.empty((size, size, 4), dtype=np.uint8)
    pixels[..., :3] = grey[..., None]
    pixels[..., 3] = (255 * alpha).astype(np.uint8)
    image = QImage(pixels.tobytes(), size, size, 4 * size, QImage.Format.Format_RGBA8888)
    return image.copy()


class RoundsPicture(Picture):
    """Spread by round: of the pitches read, and of the tension expected."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Spread by round"))
        self.setMinimumSize(200, 130)
        self._rounds: tuple[tuple[float | None, float], ...] = ()

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(340, 240)

    def set_state(self, rounds: tuple[tuple[float | None, float], ...]) -> None:
        """Show spreads in cents."""
        self._rounds = rounds[-5:]
        self._first = len(rounds) - len(self._rounds)
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        p.setPen(QPen(QColor(c.line), 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
        p.setFont(font(8.5))
        for row, (text, colour) in enumerate(
            ((_("pitch, measured"), c.ink), (_("tension, computed"), c.metal))
        ):
            wide = min(p.fontMetrics().horizontalAdvance(text) + 4.0, self.width() - 24.0)
            p.fillRect(QRectF(self.width() - wide - 18.0, 12 + 16 * row, 9, 9), QColor(colour))
            p.setPen(QColor(c.soft_ink))
            p.drawText(QRectF(self.width() - wide - 4.0, 8 + 16 * row, wide, 16), text)
        if not self._rounds:
            return
        values = [v for pair in self._rounds for v in pair if v is not None]
        high = max((*values, 20.0)) * 1.1
        top, bottom = 48.0, self.height() - 26.0
        wide = min(96.0, (self.width() - 24.0) / len(self._rounds))
        for place, pair in enumerate(self._rounds):
            x = 16.0 + wide * place
            for which, (value, colour) in enumerate(zip(pair, (c.ink, c.metal), strict=True)):
                if value is None:
                    continue
                height = (bottom - top) * value / high
                left = x + which * 0.38 * wide
                p.fillRect(QRectF(left, bottom - height, 0.34 * wide, height), QColor(colour))
                p.setPen(QColor(c.ink))
                p.drawText(QRectF(left - 8, bottom - height - 16, 0.34 * wide + 16, 14), CENTRE,
                           figures(value, ".0f"))  # fmt: skip
            p.setPen(QColor(c.soft_ink))
            p.drawText(QRectF(x - 4, bottom + 6, 0.72 * wide + 8, 16), CENTRE,
                       _("round {first}").format(first=self._first + place + 1))  # fmt: skip
