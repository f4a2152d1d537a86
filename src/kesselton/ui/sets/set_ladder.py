"""The ladder of a set with notes, lug pitches and a chord to take hold of."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent

from kesselton.core.pitch import cents_between, ratio_of
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.sets.set_picture import BATTER, CHORD, LEFT, NOTE, RESONANT, RIGHT, SetPicture

if TYPE_CHECKING:
    from kesselton.core.sets.search.field import Spot

FINE, COARSE = 10.0, 100.0


class SetLadder(SetPicture):
    """Columns from low to high; what is dragged is shown at once and set when it is let go.

    Signals
    -------
    moved(dict number to Spot) : let go there
    chosen(int) : another drum has the keys
    held_wanted(bool) : the note is held, or free, while a lug pitch is moved
    """

    moved = Signal(object)
    chosen = Signal(int)
    held_wanted = Signal(bool)

    def _locked(self, number: int) -> bool:
        assert self._found is not None
        return self._found.members[number].seat.locked

    def _hit(self, at: QPointF) -> tuple[int, str] | None:
        """The drum and part under a place."""
        if self._found is None or self._look is None:
            return None
        for number, column in enumerate(self._look.columns):
            if self.note_rect(number).adjusted(-4, -4, 4, 4).contains(at):
                return number, NOTE
            for head in range(len(column.pitches_hz)):
                if self.grip_rect(number, head).adjusted(-3, -4, 3, 4).contains(at):
                    return number, (BATTER, RESONANT)[head]
        if self.chord_rect().contains(at):
            return CHORD, NOTE
        return None

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._hit(event.position())
        if event.button() != Qt.MouseButton.LeftButton or self._found is None:
            return
        if hit is None:
            wide = (self.width() - LEFT - RIGHT) / len(self._found.members)
            number = int((event.position().x() - LEFT) / wide)
            if 0 <= number < len(self._found.members):
                self._choose(number)
            return
        number, part = hit
        if number != CHORD:
            self.part = part
            self._choose(number)
            if self._locked(number):
                return
        self._begin(number)
        self._grabbed = (number, part, event.position().y())

    def _choose(self, number: int) -> None:
        if number != self.current:
            self.current = number
            self.chosen.emit(number)
        self.update()

    def _begin(self, number: int) -> None:
        """Remember where everything stood."""
        assert self._found is not None
        if not self._start:
            self._start = {i: self.spot(i) for i in range(len(self._found.members))}

    @safe_override
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._grabbed is None or self._found is None:
            over = self._hit(at) is not None
            shape = Qt.CursorShape.SizeVerCursor if over else Qt.CursorShape.ArrowCursor
            if self.cursor().shape() != shape:
                self.setCursor(shape)
            return
        number, part, began = self._grabbed
        self.drag(number, part, self._note_at(at.y()) - self._note_at(began))

    @safe_override
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._grabbed is not None:
            self._grabbed = None
            self._commit()

    def drag(self, number: int, part: str, cents: float) -> None:
        """Move a drum's note or lug pitch, or (CHORD) all of the chord, from where it began."""
        assert self._found is not None
        self._begin(number)
        if number == CHORD:
            for i, member in enumerate(self._found.members):
                if not member.seat.apart and not member.seat.locked:
                    self._put(i, self._shifted(i, cents))
        elif part == NOTE:
            self._put(number, self._shifted(number, cents))
        else:
            self._put(number, self._gripped(number, (BATTER, RESONANT).index(part), cents))
        self._look_again()

    def _put(self, number: int, spot: Spot) -> None:
        assert self._found is not None
        self._spots[number] = self._found.fields[number].clamped(spot)

    def _shifted(self, number: int, cents: float) -> Spot:
        from kesselton.core.sets.search.field import Spot

        start = self._start[number]
        return Spot(start.note + cents, start.interval)

    def _gripped(self, number: int, head: int, cents: float) -> Spot:
        assert self._found is not None
        field, start = self._found.fields[number], self._start[number]
        hz = float(field.at(start).pitches_hz[0, head]) * ratio_of(cents)
        if self.hold and len(field.curves) > 1:
            return field.held(head, hz, start.note)
        return field.free(head, hz, start)

    def _commit(self) -> None:
        spots = {
            number: spot
            for number, spot in self._spots.items()
            if self._found is not None and spot != self._found.spots[number]
        }
        self._start.clear()
        if spots:
            self.moved.emit(spots)
        else:
            self._spots.clear()
            self._look_again()

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        steps = {
            Qt.Key.Key_Up: FINE, Qt.Key.Key_Down: -FINE,
            Qt.Key.Key_PageUp: COARSE, Qt.Key.Key_PageDown: -COARSE,
        }  # fmt: skip
        if self._found is None:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._step(-1 if key == Qt.Key.Key_Left else 1)
        elif key in steps:
            cents = steps[key]
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                cents /= 10.0
            whole = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._step_note(CHORD if whole else self.current, cents)
        elif key == Qt.Key.Key_Escape and self._spots:
            self._start.clear()
            self.let_go()
        elif key == Qt.Key.Key_H and not event.modifiers():
            self.held_wanted.emit(not self.hold)
        else:
            super().keyPressEvent(event)

    @safe_override
    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if self._spots and self._grabbed is None and not event.isAutoRepeat():
            self._commit()
            return
        super().keyReleaseEvent(event)

    @safe_override
    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        if self._spots:
            self._grabbed = None
            self._commit()
        self.update()
        super().focusOutEvent(event)

    def _step(self, by: int) -> None:
        """From the note to the grips of a drum, and on to the next drum."""
        assert self._found is not None
        parts = [
            (number, part)
            for number, member in enumerate(self._found.members)
            for part in (BATTER, NOTE, RESONANT)[: 3 if member.drum.resonant else 2]
        ]
        place = parts.index((self.current, self.part)) + by
        if 0 <= place < len(parts):
            number, self.part = parts[place]
            self._choose(number)

    def _step_note(self, number: int, cents: float) -> None:
        if number != CHORD and self._locked(number):
            return
        self._begin(number)
        part = NOTE if number == CHORD else self.part
        before = self._moved_by(number, part)
        self.drag(number, part, before + cents)

    def _moved_by(self, number: int, part: str) -> float:
        """How far it is from where it began."""
        assert self._found is not None
        if not self._spots:
            return 0.0
        if number == CHORD or part == NOTE:
            index = next(iter(self._spots)) if number == CHORD else number
            return (
                self._spots[index].note - self._start[index].note if index in self._spots else 0.0
            )
        head = (BATTER, RESONANT).index(part)
        field = self._found.fields[number]
        now = float(field.at(self.spot(number)).pitches_hz[0, head])
        then = float(field.at(self._start[number]).pitches_hz[0, head])
        return cents_between(then, now)
