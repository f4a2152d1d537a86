"""The ladder to work with: grips are dragged or stepped, rungs are pointed at."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QHelpEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QToolTip, QWidget

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ, SIDES
from kesselton.core.pitch import ratio_of
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.tuning.ladder_picture import BAND, COLUMNS, LadderPicture

if TYPE_CHECKING:
    from kesselton.core.prediction.speaks import End
    from kesselton.core.prediction.usable import Limit

FINE, COARSE = 5.0, 100.0


class LadderView(LadderPicture):
    """The ladder of the drum on the bench.

    Signals
    -------
    pitch_moved(str side, float hertz) : while a grip is dragged or stepped by key
    pitch_set(str side, float hertz) : let go
    cancelled() : Escape while a grip is held: what was set stands
    rung_named(int) : index of the partial under the pointer or in focus, -1 for none
    """

    pitch_moved = Signal(str, float)
    pitch_set = Signal(str, float)
    cancelled = Signal()
    rung_named = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._grabbed: tuple[str, float] | None = None  # side, pixels between pointer and grip

    @property
    def dragging(self) -> bool:
        """True while a grip is held, by mouse or by key."""
        return bool(self._held)

    @property
    def column(self) -> str:
        """The column the keyboard works on."""
        return self._column

    def let_go(self) -> None:
        """Forget a drag, as when what it asked for is impossible."""
        self._grabbed = None
        self._held.clear()
        self._let.clear()
        self.update()

    # mouse

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton or self._result is None:
            return
        for side in self._result.drum.sides:
            rect = self.grip_rect(side)
            if rect.adjusted(-6, -6, 6, 6).contains(event.position()):
                hz = self.grip_hz(side)
                assert hz is not None
                self._column = side
                self._held = {side: hz}
                self._grabbed = (side, event.position().y() - rect.center().y())
                self.setCursor(Qt.CursorShape.ClosedHandCursor)
                self.update()
                return
        index = self._rung_at(event.position())
        if index >= 0:
            self._column = "drum"
            self._name(index)

    @safe_override
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is not None:
            side, offset = self._grabbed
            hz = self._clamped(self.axis().hz(event.position().y() - offset))
            self._held = {side: hz}
            self.update()
            self.pitch_moved.emit(side, hz)
            return
        over_grip = any(self.grip_rect(s).contains(event.position()) for s in SIDES)
        shape = Qt.CursorShape.OpenHandCursor if over_grip else Qt.CursorShape.ArrowCursor
        if self.cursor().shape() != shape:
            self.setCursor(shape)
        index = -1 if over_grip else self._rung_at(event.position())
        if index >= 0:
            self._name(index)

    @safe_override
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grabbed = None
            self.setCursor(Qt.CursorShape.OpenHandCursor)
            self._commit_held()

    @safe_override
    def leaveEvent(self, event: QEvent) -> None:
        if self._column != "drum" and not self._held and self._result is not None:
            self._name(self._result.prediction.partials.fundamental)
        super().leaveEvent(event)

    def _rung_at(self, point: QPointF) -> int:
        """Nearest rung within a few pixels, the louder one where they crowd."""
        if self._result is None or abs(point.x() - self._column_x("drum")) > 64:
            return -1
        near = [
            (abs(self.rung_rect(i).center().y() - point.y()), i)
            for i in self._rungs_shown()
            if abs(self.rung_rect(i).center().y() - point.y()) < 7
        ]
        return min(near)[1] if near else -1

    def _name(self, index: int) -> None:
        if index != self._rung:
            self._rung = index
            self.rung_named.emit(index)
            self.update()

    def _clamped(self, hz: float) -> float:
        low, high = self._span
        return min(max(hz, low, LOWEST_PITCH_HZ), high, HIGHEST_PITCH_HZ)

    # keyboard

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._step_column(-1 if key == Qt.Key.Key_Left else 1)
        elif key == Qt.Key.Key_Escape and self._held:
            self.let_go()
            self.setCursor(Qt.CursorShape.ArrowCursor)
            self.cancelled.emit()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._column == "drum":
            self._step_rung(1 if key == Qt.Key.Key_Up else -1)
        elif key in _STEPS and self._column != "drum":
            cents = _STEPS[key]
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                cents /= FINE
            self._step_pitch(cents)
        else:
            super().keyPressEvent(event)

    @safe_override
    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if self._held and self._grabbed is None and not event.isAutoRepeat():
            self._commit_held()
            return
        super().keyReleaseEvent(event)

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        self._grabbed = None
        self._commit_held()
        self.update()
        super().focusOutEvent(event)

    def _commit_held(self) -> None:
        for side, hz in tuple(self._held.items()):
            self._held.clear()
            self._let = {side: hz}
            self.pitch_set.emit(side, hz)
        self.update()

    def _step_column(self, by: int) -> None:
        if self._result is None:
            return
        columns = [c for c in COLUMNS if c == "drum" or c in self._result.drum.sides]
        place = columns.index(self._column) + by
        if 0 <= place < len(columns):
            self._column = columns[place]
            self._name(self._result.prediction.partials.fundamental)
            self.update()

    def _step_rung(self, by: int) -> None:
        shown = self._rungs_shown()
        if not shown:
            return
        place = shown.index(self._rung) + by if self._rung in shown else 0
        self._name(shown[max(0, min(len(shown) - 1, place))])

    def _step_pitch(self, cents: float) -> None:
        hz = self.grip_hz(self._column)
        if hz is not None:
            moved = self._clamped(hz * ratio_of(cents))
            self._held = {self._column: moved}
            self.update()
            self.pitch_moved.emit(self._column, moved)

    def pitch_in_hand(self) -> float | None:
        """The lug pitch whose grip is chosen, or the rung."""
        if self._result is None:
            return None
        if self._column != "drum":
            return self.grip_hz(self._column)
        prediction = self._result.prediction
        rung = self.rung
        return (
            float(prediction.partials.frequency_hz[rung])
            if rung >= 0
            else prediction.fundamental_hz
        )

    @safe_override
    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            self._show_tip(event)
            return True
        return super().event(event)

    def _show_tip(self, event: QHelpEvent) -> None:
        """Hover over the end of a band: why it ends there."""
        if self._result is None:
            return
        axis, point = self.axis(), self.at(event.pos())
        for side, head_range in zip(self._result.drum.sides, self._result.ranges, strict=True):
            if abs(point.x() - self._column_x(side)) > BAND:
                continue
            index = self._result.drum.sides.index(side)
            ends: list[tuple[Limit | End, float]] = [
                (head_range.lowest, head_range.lowest_pitch_hz),
                (head_range.highest, head_range.highest_pitch_hz),
                *((end, end.lug_pitches_hz[index]) for end in self.speaks_ends()),
            ]
            for limit, hz in ends:
                if abs(point.y() - axis.y(hz)) < 18:
                    text = f"{limit.label}: {limit.reason}"
                    QToolTip.showText(event.globalPos(), text, self)
                    return
        QToolTip.hideText()


_STEPS = {
    Qt.Key.Key_Up: FINE,
    Qt.Key.Key_Down: -FINE,
    Qt.Key.Key_PageUp: COARSE,
    Qt.Key.Key_PageDown: -COARSE,
}
