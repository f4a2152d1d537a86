"""One ladder for all drums of a set: a column each, their notes dragged, the chord across."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.language import N_, _, each, figures
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.ui.parts.widgets.picture import Picture, elided, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.sets.model.chords import Frame
    from kesselton.core.sets.search.field import Spot
    from kesselton.core.sets.search.look import Column, Look
    from kesselton.core.sets.search.whole import SolvedSet

TABLE_CAPTIONS = (
    N_("Drum"),
    N_("Drum pitch, Hz"),
    N_("Batter, Hz"),
    N_("Resonant, Hz"),
    N_("Remark"),
)
SAYS = {
    "": "",
    "above": N_("too high to speak"),
    "below": N_("too low to speak"),
    "nowhere": N_("no sweet spot"),
    "shell": N_("at its shell note"),
    "far": N_("far from shell note"),
}

LEFT, RIGHT, HEAD, FOOT = 92.0, 12.0, 46.0, 26.0
NOTE_BOX, GRIP_BOX = (62.0, 19.0), (46.0, 18.0)
LABEL_GAP = 12.0

HALF_STEPS = (0, 2, 4, 5, 7, 9, 11)
"""Notes without accidental, named at the side."""
NOTE, BATTER, RESONANT = "note", "batter", "resonant"
TONES = {0.0: N_("root"), 300.0: N_("third"), 400.0: N_("third"), 700.0: N_("fifth")}
CHORD = -1


class SetPicture(Picture):
    """Columns from low to high; nothing to take hold of."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(_("Pitch ladder of the set"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._found: SolvedSet | None = None
        self._frame: Frame | None = None
        self._flags: tuple[float, ...] = ()
        self._look: Look | None = None
        self._spots: dict[int, Spot] = {}  # of drums that are dragged
        self._start: dict[int, Spot] = {}
        self._grabbed: tuple[int, str, float] | None = None
        self._words = ""
        self._a4, self._flats, self._metric = 440.0, False, False
        self._ends = (0.0, 0.0)
        self.hold = True
        self.current = 0
        self.part = NOTE

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(640, 430)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(380, 300)

    # state

    def set_state(
        self, solved_set: SolvedSet | None, words: str, a4_hz: float, flats: bool, metric: bool
    ) -> None:
        """Show a solved set, or words where there is none."""
        other = (
            self._found is None or solved_set is None or solved_set.members != self._found.members
        )
        self._found, self._words = solved_set, words
        self._a4, self._flats, self._metric = a4_hz, flats, metric
        if other or not self._ends[1]:
            self._ends = self._ends_of(solved_set)
        if other and not self._start:  # what was let go is set now
            self._spots.clear()
        if solved_set is not None:
            self.current = min(self.current, len(solved_set.members) - 1)
        self._look_again()

    def set_plan(self, frame: Frame | None, notes: tuple[float, ...]) -> None:
        """Draw a chord across, and flags where a plan wants the drums."""
        self._frame, self._flags = frame, notes
        self.update()

    def choose(self, number: int) -> None:
        """Give a drum the keys."""
        if self._found is not None and 0 <= number < len(self._found.members):
            self.current = number
            self.update()

    @property
    def dragging(self) -> bool:
        """Whether something is held, by mouse or key."""
        return bool(self._spots)

    def let_go(self) -> None:
        """Forget a drag."""
        self._grabbed = None
        self._start.clear()
        self._spots.clear()
        self._look_again()

    def spot(self, number: int) -> Spot:
        """Where a drum stands now."""
        assert self._found is not None
        return self._spots.get(number, self._found.spots[number])

    def _look_again(self) -> None:
        solved_set = self._found
        if solved_set is None:
            self._look = None
        else:
            from kesselton.core.sets.search.look import look

            spots = [self.spot(i) for i in range(len(solved_set.members))]
            self._look = look(solved_set.members, solved_set.fields, spots, self._a4)
        self.update()

    @property
    def shown(self) -> Look | None:
        """What is drawn."""
        return self._look

    def table(self) -> list[tuple[str, ...]]:
        """The set in rows, for the clipboard."""
        if self._found is None or self._look is None:
            return []
        rows: list[tuple[str, ...]] = [each(TABLE_CAPTIONS)]
        for member, column in zip(self._found.members, self._look.columns, strict=True):
            hz = self._hz(column.spot.note)
            pitches = [f"{x:.1f}" for x in column.pitches_hz]
            says = _(SAYS[column.says])
            rows.append((member.name, f"{hz:.1f}", *(*pitches, "")[:2], says))
        return rows

    # geometry

    def _hz(self, cents: float) -> float:
        return self._a4 * ratio_of(cents - 4500.0)

    def _cents(self, hz: float) -> float:
        return 4500.0 + cents_between(self._a4, hz)

    def _ends_of(self, solved_set: SolvedSet | None) -> tuple[float, float]:
        """Lowest and highest cents drawn."""
        if solved_set is None:
            return 0.0, 3600.0
        low = min(f.curves[0].borne[0] for f in solved_set.fields)
        high = max(
            self._cents(float(c.pitches_hz.max())) for f in solved_set.fields for c in f.curves
        )
        return low - 150.0, min(high, 5400.0) + 100.0

    def y_of(self, cents: float) -> float:
        """Height of a note."""
        low, high = self._ends
        room = self.height() - HEAD - FOOT
        return self.height() - FOOT - (cents - low) / (high - low) * room

    def _note_at(self, y: float) -> float:
        low, high = self._ends
        room = self.height() - HEAD - FOOT
        return low + (self.height() - FOOT - y) / room * (high - low)

    def column_x(self, number: int) -> float:
        """Middle of a column."""
        assert self._found is not None
        wide = (self.width() - LEFT - RIGHT) / len(self._found.members)
        return LEFT + wide * (number + 0.5)

    def _half(self) -> float:
        """Half of what a column has to spread in."""
        assert self._found is not None
        return min(0.5 * (self.width() - LEFT - RIGHT) / len(self._found.members), 92.0)

    def note_rect(self, number: int) -> QRectF:
        """The box of a drum's note."""
        assert self._look is not None
        y = self.y_of(self._look.columns[number].spot.note)
        wide, high = NOTE_BOX
        return QRectF(self.column_x(number) - 0.5 * wide, y - 0.5 * high, wide, high)

    def grip_rect(self, number: int, head: int) -> QRectF:
        """The grip of a head's lug pitch."""
        assert self._look is not None
        hz = float(self._look.columns[number].pitches_hz[head])
        wide, high = GRIP_BOX
        side = -1.0 if head == 0 else 1.0
        x = self.column_x(number) + side * max(self._half() - 0.5 * wide - 2.0, 0.5 * wide)
        return QRectF(x - 0.5 * wide, self.y_of(self._cents(hz)) - 0.5 * high, wide, high)

    def chord_rect(self) -> QRectF:
        """Where the whole chord is taken hold of: the names of its notes at the left."""
        return QRectF(0.0, HEAD, LEFT - 6.0, self.height() - HEAD - FOOT)

    # painting

    def _paint(self, p: QPainter) -> None:
        c, on = self._colours, self.hasFocus()
        p.setPen(QPen(QColor(c.accent if on else c.line), 2 if on else 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        if self._found is None or self._look is None:
            p.setPen(QColor(c.soft_ink))
            box = QRectF(self.rect()).adjusted(16, 0, -16, 0)
            p.drawText(
                box, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self._words
            )
            return
        self._paint_notes(p)
        self._paint_chord(p)
        ties = self._ties()
        for ends, _unused, ink in ties:
            p.setPen(QPen(QColor(ink), 1.4, Qt.PenStyle.DashLine))
            p.drawLine(*ends)
        for number, column in enumerate(self._look.columns):
            self._paint_column(p, number, column)
        self._paint_ties(p, ties)

    def _paint_notes(self, p: QPainter) -> None:
        """Faint lines for every C, so that heights can be read."""
        c = self._colours
        low, high = self._ends
        p.setFont(font(8))
        for number in range(
            math.ceil(low / CENTS_PER_OCTAVE), math.floor(high / CENTS_PER_OCTAVE) + 1
        ):
            y = self.y_of(CENTS_PER_OCTAVE * number)
            p.setPen(QPen(QColor(c.line), 1))
            p.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            p.setPen(QColor(c.soft_ink))
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            p.drawText(QRectF(LEFT - 34, y - 8, 28, 16), right, f"C{number + 1}")

    def _paint_chord(self, p: QPainter) -> None:
        if self._frame is None or self._found is None:
            return
        c = self._colours
        low, high = self._ends
        shift = self._chord_shift()
        lines: list[tuple[float, str]] = []
        drums = [i for i, m in enumerate(self._found.members) if not m.seat.apart]
        top = max(
            (
                f.borne(s.interval)[1]
                for f, s in zip(self._found.fields, self._found.spots, strict=True)
            ),
            default=high,
        )
        if self._frame.free:
            for tone in self._frame.tones:
                for note in self._frame.notes(0, low, min(high, top + 100.0)):
                    gap = (note - self._frame.root_cents - tone) % CENTS_PER_OCTAVE
                    if min(gap, CENTS_PER_OCTAVE - gap) < 1.0:
                        lines.append((note + shift, _(TONES.get(tone, ""))))
        else:
            for place in range(len(drums)):
                tone = self._frame.tones[min(place, len(self._frame.tones) - 1)]
                lines.append(
                    (self._frame.root_cents + tone + shift, _("root") if place == 0 else "")
                )
        last = math.inf
        for note, name in sorted(set(lines)):
            y = self.y_of(note)
            ink = QColor(c.accent)
            ink.setAlphaF(0.8 if name == _("root") else 0.35)
            p.setPen(QPen(ink, 1))
            p.drawLine(QPointF(LEFT - 4, y), QPointF(self.width() - RIGHT, y))
            if last - y >= LABEL_GAP:
                p.setFont(font(8.5))
                p.setPen(QColor(c.accent))
                text = f"{name} {self._name(note)}".strip()
                left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
                p.drawText(QRectF(8, y - 8, LEFT - 40, 16), left, elided(p, text, LEFT - 40))
                last = y

    def _chord_shift(self) -> float:
        if self._grabbed is None or self._grabbed[0] != CHORD or not self._spots:
            return 0.0
        number = next(iter(self._spots))
        return self._spots[number].note - self._start[number].note

    def _name(self, cents: float) -> str:
        return note_of(self._hz(cents), self._a4).name(self._flats)

    def _paint_column(self, p: QPainter, number: int, column: Column) -> None:
        assert self._found is not None
        c, member = self._colours, self._found.members[number]
        x, half = self.column_x(number), self._half()
        chosen = number == self.current and self.hasFocus()
        box = QRectF(x - half, 4, 2 * half, 20)
        p.setFont(font(10, QFont.Weight.DemiBold))
        p.setPen(QColor(c.accent if chosen else c.ink))
        name = member.name + ("  " + _("(locked)") if member.seat.locked else "")
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, elided(p, name, 2 * half))
        says = _(SAYS[column.says])
        if says:
            p.setFont(font(8.5))
            p.setPen(QColor(c.sharp if column.says != "shell" else c.soft_ink))
            p.drawText(
                box.translated(0, 19), Qt.AlignmentFlag.AlignCenter, elided(p, says, 2 * half)
            )
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        foot = QRectF(x - half, self.height() - FOOT + 4, 2 * half, 18)
        size = wording.size_words(member.drum, self._metric)
        p.drawText(foot, Qt.AlignmentFlag.AlignCenter, elided(p, size, 2 * half))
        wide = min(0.36 * half, 24.0)
        low, high = (self.y_of(end) for end in column.borne)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.drum_list))
        p.drawRect(QRectF(x - wide, high, 2 * wide, low - high))
        if column.band is not None:
            low, high = (self.y_of(end) for end in column.band)
            p.setPen(QPen(QColor(c.accent), 1))
            p.setBrush(QColor(c.band))
            p.drawRect(QRectF(x - wide, high, 2 * wide, low - high))
        p.setBrush(Qt.BrushStyle.NoBrush)
        if not math.isnan(column.shell_cents):
            y = self.y_of(column.shell_cents)
            p.setPen(QPen(QColor(c.wood), 2, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x - half + 6, y), QPointF(x + half - 6, y))
        top = self.y_of(self._ends[1])
        for hz, level in zip(column.hz, column.level_db, strict=True):
            y = self.y_of(self._cents(float(hz)))
            if y < top:
                continue
            long = 4.0 + 0.55 * half * max(1.0 + float(level) / 40.0, 0.0) * 0.6
            p.setPen(QPen(QColor(c.soft_ink), 2.6))
            p.drawLine(QPointF(x - long, y), QPointF(x + long, y))
        self._paint_flag(p, number, x, wide)
        for head in range(len(column.pitches_hz)):
            part = (BATTER, RESONANT)[head]
            self._paint_grip(p, number, head, chosen and self.part == part)
        self._paint_note(p, number, column, chosen and self.part == NOTE)

    def _paint_flag(self, p: QPainter, number: int, x: float, wide: float) -> None:
        """Where the plan wants it, if that is elsewhere."""
        if number >= len(self._flags):
            return
        c, y = self._colours, self.y_of(self._flags[number])
        if abs(y - self.note_rect(number).center().y()) < 3.0:
            return
        rect = QRectF(x - 0.5 * NOTE_BOX[0], y - 0.5 * NOTE_BOX[1], *NOTE_BOX)
        p.setPen(QPen(QColor(c.accent), 1.4, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(rect)

    def _paint_note(self, p: QPainter, number: int, column: Column, chosen: bool) -> None:
        c, rect = self._colours, self.note_rect(number)
        p.setPen(QPen(QColor(c.accent), 2.4 if chosen else 1.4))
        p.setBrush(QColor(c.panel))
        p.drawRect(rect)
        if chosen:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(c.accent), 1))
            p.drawRect(rect.adjusted(-3.5, -3.5, 3.5, 3.5))
        p.setFont(font(9, QFont.Weight.DemiBold))
        p.setPen(QColor(c.ink))
        text = wording.note_words(self._hz(column.spot.note), self._a4, self._flats)
        p.drawText(rect, Qt.AlignmentFlag.AlignCenter, elided(p, text, rect.width() - 4))

    def _paint_grip(self, p: QPainter, number: int, head: int, chosen: bool) -> None:
        assert self._look is not None
        c, rect = self._colours, self.grip_rect(number, head)
        if rect.top() < HEAD - 12.0:
            return
        p.setPen(QPen(QColor(c.accent), 2) if chosen else Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.accent if not chosen else c.panel))
        p.drawRoundedRect(rect, 4, 4)
        p.setFont(font(8.5))
        p.setPen(QColor(c.on_accent if not chosen else c.ink))
        hz = float(self._look.columns[number].pitches_hz[head])
        p.drawText(rect, Qt.AlignmentFlag.AlignCenter, figures(hz, ".0f"))

    def _ties(self) -> list[tuple[list[QPointF], str, str]]:
        """Beats between drums, and notes that wake wires: ends, words and colour of each."""
        assert self._look is not None
        assert self._found is not None
        c, out = self._colours, []
        for beat in self._look.beats:
            ends = [
                QPointF(self.column_x(i), self.y_of(self._cents(hz)))
                for i, hz in ((beat.one, beat.hz), (beat.other, beat.other_hz))
            ]
            out.append((ends, _("{beats:.0f} beats/s").format(beats=beat.beats_hz), c.flat))
        if self._spots:
            return out
        for row in self._found.answers:
            for answer in row:
                if answer is not None and answer.wires_over and answer.wires_hz > 0.0:
                    y = self.y_of(self._cents(answer.wires_hz))
                    ends = [QPointF(self.column_x(n), y) for n in (answer.struck, answer.answering)]
                    name = self._found.members[answer.struck].name
                    out.append((ends, _("{name} excites the wires").format(name=name), c.sharp))
        return out

    def _paint_ties(self, p: QPainter, ties: list[tuple[list[QPointF], str, str]]) -> None:
        """What the lines mean, where nothing else stands."""
        assert self._look is not None
        taken = []
        for number, column in enumerate(self._look.columns):
            taken.append(self.note_rect(number))
            taken += [self.grip_rect(number, head) for head in range(len(column.pitches_hz))]
        p.setFont(font(8.5))
        for ends, words, ink in ties:
            wide = p.fontMetrics().horizontalAdvance(words) + 8.0
            middle = (ends[0] + ends[1]) * 0.5
            box = QRectF(middle.x() - 0.5 * wide, middle.y() - 17.0, wide, 15.0)
            box.moveLeft(min(max(box.left(), LEFT), self.width() - RIGHT - wide))
            for _unused in range(12):
                if not any(box.intersects(other) for other in taken):
                    break
                box.translate(0, -8.0)
            taken.append(box)
            p.fillRect(box, QColor(self._colours.panel))
            p.setPen(QColor(ink))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
