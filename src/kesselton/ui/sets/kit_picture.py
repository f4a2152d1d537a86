"""The kit from above, to scale: drums are dragged to where they stand."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.language import _
from kesselton.core.sets.model.kit import Member, on_side
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font

MARGIN_M, LEAST_M = 0.25, 1.6
STEP_M = 0.05
NAME_WIDTH = 74.0
PLAYER_Y_M = -0.25


class KitPicture(Picture):
    """The player sits at the bottom and looks up the picture.

    Signals
    -------
    moved(int number, float x, float y) : a drum was put elsewhere
    chosen(int number)
    """

    moved = Signal(int, float, float)
    chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(_("Kit from above (drag drums)"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._members: tuple[Member, ...] = ()
        self._at: dict[int, tuple[float, float]] = {}
        self._grabbed: tuple[int, QPointF] | None = None
        self.current = 0

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(330, 190)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(165, 120)

    def set_state(self, members: tuple[Member, ...], current: int) -> None:
        """Show where drums stand."""
        if members != self._members:
            self._at.clear()
            self._grabbed = None
        self._members, self.current = members, current
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """Places in rows, for the clipboard."""
        return [
            (
                member.name,
                f"{member.seat.x_m:.2f}",
                f"{member.seat.y_m:.2f}",
                f"{member.seat.height_m:.2f}",
            )
            for member in self._members
        ]

    def place(self, number: int) -> tuple[float, float]:
        """Meters to the right, and away."""
        seat = self._members[number].seat
        return self._at.get(number, (seat.x_m, seat.y_m))

    def _view(self) -> tuple[float, QPointF]:
        """Pixels a meter, and the middle of what is seen."""
        xs, ys = [0.0], [PLAYER_Y_M]
        for member in self._members:
            half = 0.5 * member.drum.shell.head_diameter_m
            xs += [member.seat.x_m - half, member.seat.x_m + half]
            ys += [member.seat.y_m - half, member.seat.y_m + half]
        wide = max(max(xs) - min(xs) + 2 * MARGIN_M, LEAST_M)
        high = max(max(ys) - min(ys) + MARGIN_M, 0.6 * LEAST_M)
        scale = min(self.width() / wide, (self.height() - 8) / high)
        return scale, QPointF(0.5 * (max(xs) + min(xs)), 0.5 * (max(ys) + min(ys)))

    def to_screen(self, x: float, y: float) -> QPointF:
        """Where a place is drawn."""
        scale, middle = self._view()
        return QPointF(
            0.5 * self.width() + scale * (x - middle.x()),
            0.5 * self.height() - scale * (y - middle.y()),
        )

    def shape(self, number: int) -> QRectF:
        """A drum as it is seen from above: a bass drum lies on its side."""
        scale, _unused = self._view()
        drum = self._members[number].drum
        wide = high = drum.shell.head_diameter_m * scale
        if on_side(drum):
            high = drum.shell.depth_m * scale
        at = self.to_screen(*self.place(number))
        return QRectF(at.x() - 0.5 * wide, at.y() - 0.5 * high, wide, high)

    def _paint(self, p: QPainter) -> None:
        c, on = self._colours, self.hasFocus()
        p.setPen(QPen(QColor(c.accent if on else c.line), 2 if on else 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        if not self._members:
            return
        scale, _unused = self._view()
        p.setFont(font(8))
        p.setPen(QPen(QColor(c.soft_ink), 1))
        foot = self.height() - 8.0
        p.drawLine(QPointF(10, foot), QPointF(10 + scale, foot))
        p.drawText(QRectF(10, foot - 15, 60, 14), Qt.AlignmentFlag.AlignLeft, _("1 m"))
        player = self.to_screen(0.0, PLAYER_Y_M)
        p.drawText(
            QRectF(player.x() - 40, player.y() - 8, 80, 14),
            Qt.AlignmentFlag.AlignCenter, _("player"),
        )  # fmt: skip
        # those near the floor first, so that what hangs over them is seen
        order = sorted(range(len(self._members)), key=lambda n: self._members[n].seat.height_m)
        for number in order:
            rect, drum = self.shape(number), self._members[number].drum
            chosen = number == self.current
            p.setPen(QPen(QColor(c.accent), 2.4 if chosen and on else 1.2))
            p.setBrush(QColor(c.band if chosen else c.panel))
            if on_side(drum):
                p.drawRect(rect)
            else:
                p.drawEllipse(rect)
        p.setFont(font(8.5))
        taken = [QRectF(player.x() - 24, player.y() - 8, 48, 14), QRectF(10, foot - 15, 60, 15)]
        for number in order:
            p.setPen(QColor(c.ink))
            box = self._name_box(self.shape(number), taken)
            taken.append(box)
            name = elided(p, self._members[number].name, box.width())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, name)

    def _name_box(self, rect: QRectF, taken: list[QRectF]) -> QRectF:
        """Where a drum's name stands: under it, over it, in or beside it, where there is room."""
        wide = max(rect.width(), NAME_WIDTH)
        x, middle = rect.center().x() - 0.5 * wide, rect.center().y() - 7.5
        places = (
            QPointF(x, rect.bottom() - 2.0),
            QPointF(x, rect.top() - 13.0),
            QPointF(x, middle),
            QPointF(rect.right() + 2.0, middle),
            QPointF(rect.left() - wide - 2.0, middle),
            QPointF(x, rect.bottom() + 12.0),
            QPointF(x, rect.top() - 27.0),
        )
        inside = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        boxes = [QRectF(at.x(), at.y(), wide, 15.0) for at in places]
        free = [box for box in boxes if not any(box.intersects(other) for other in taken)]
        return next((rect for rect in free if inside.contains(rect)), free[0] if free else boxes[0])

    def _hit(self, at: QPointF) -> int | None:
        order = sorted(range(len(self._members)), key=lambda n: -self._members[n].seat.height_m)
        return next((n for n in order if self.shape(n).contains(at)), None)

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._hit(event.position())
        if event.button() == Qt.MouseButton.LeftButton and hit is not None:
            self._grabbed = (hit, event.position() - self.to_screen(*self.place(hit)))
            self._choose(hit)

    def _choose(self, number: int) -> None:
        self.current = number
        self.chosen.emit(number)
        self.update()

    @safe_override
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is None:
            return
        number, offset = self._grabbed
        scale, middle = self._view()
        at = event.position() - offset
        x = middle.x() + (at.x() - 0.5 * self.width()) / scale
        y = middle.y() - (at.y() - 0.5 * self.height()) / scale
        self._at[number] = (round(x, 2), round(y, 2))
        self.update()

    @safe_override
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is not None:
            number = self._grabbed[0]
            self._grabbed = None
            if number in self._at:
                self.moved.emit(number, *self._at[number])

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Left: (-STEP_M, 0.0), Qt.Key.Key_Right: (STEP_M, 0.0),
            Qt.Key.Key_Up: (0.0, STEP_M), Qt.Key.Key_Down: (0.0, -STEP_M),
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._grabbed is not None:
            self._at.pop(self._grabbed[0], None)
            self._grabbed = None
            self.update()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and self._members:
            by = 1 if key == Qt.Key.Key_PageDown else -1
            self._choose((self.current + by) % len(self._members))
        elif key in steps and self.current < len(self._members):
            x, y = self.place(self.current)
            self.moved.emit(self.current, round(x + steps[key][0], 2), round(y + steps[key][1], 2))
        else:
            super().keyPressEvent(event)

    @safe_override
    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()
