"""The rack: every drum of the workshop, drawn to one scale."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QAction,
    QColor,
    QContextMenuEvent,
    QFont,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPixmap,
)
from PySide6.QtWidgets import QMenu, QWidget

from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.picture import Picture, hint, painted, sharpness
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font, px
from kesselton.ui.parts.words import wording

ROW = 92
PICTURE = 72
DRAWN_FROM = 150
"""Pixels of width; under it there is room for words alone."""
MOST_DRAWN = 200
"""Pictures of drums that are kept."""


class _Drawn(NamedTuple):
    """What of a drum was drawn, and for what: how it is set is not to be seen."""

    looks: tuple[object, ...]
    key: tuple[object, ...]
    picture: QPixmap


class DrumList(Picture):
    """A column of drums. Click, or use the arrow keys, to put one on the bench.

    Signals
    -------
    drum_chosen(int) : number of the entry
    moved(int) : Alt with an arrow key: the current drum up (-1) or down (1)
    """

    main = False
    drum_chosen = Signal(int)
    moved = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Drum list"))
        self._drums: list[tuple[int, Drum]] = []
        self._notes: dict[int, str] = {}
        self._current = 0
        self._drawn: dict[int, _Drawn] = {}
        self.more: list[QAction] = []
        """Actions of the program that belong in its menu."""
        self._metric = self._found = False

    def set_state(
        self, drums: list[tuple[int, Drum]], current: int, metric: bool, hit: bool = False
    ) -> None:
        """Show the drums of the workshop, or (`hit`) those that are looked for."""
        self._drums, self._current, self._metric = drums, current, metric
        self._found = hit
        self.setMinimumHeight(ROW * len(drums))
        self.update()

    def row_of(self, drum_id: int) -> int | None:
        """Where on the screen's widget a drum is drawn, None if it is not."""
        ids = [number for number, _unused in self._drums]
        return px(ROW * (ids.index(drum_id) + 0.5)) if drum_id in ids else None

    @property
    def notes(self) -> dict[int, str]:
        """What each drum sounds, as far as it is known."""
        known = {drum_id for drum_id, _unused in self._drums}
        return {drum_id: note for drum_id, note in self._notes.items() if drum_id in known}

    def set_note(self, drum_id: int, note: str) -> None:
        """Show what a drum sounds; "" while that is not known."""
        if self._notes.get(drum_id) != note:
            self._notes[drum_id] = note
            self.update()

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(188, ROW * max(len(self._drums), 1))

    def row_rect(self, place: int) -> QRectF:
        """Where the drum at a place is drawn."""
        return QRectF(0, ROW * place, self.width(), ROW)

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        p.fillRect(self.rect(), QColor(c.drum_list))
        if not self._drums:
            p.setPen(QColor(c.soft_ink))
            p.drawText(
                self.rect().adjusted(16, 16, -16, 0),
                Qt.TextFlag.TextWordWrap,
                _("No drum matches this name, kind or size.")
                if self._found
                else _("No drums yet. Add one with Ctrl+N."),
            )
            return
        widest = max(max(d.shell.head_diameter_m, d.shell.depth_m) for _unused, d in self._drums)
        scale = min(PICTURE / widest, 190.0)
        for place, (drum_id, drum) in enumerate(self._drums):
            row = self.row_rect(place)
            if not row.intersects(self._exposed):
                continue
            if drum_id == self._current:
                p.fillRect(row, QColor(c.window))
                p.fillRect(QRectF(0, row.top(), 4, ROW), QColor(c.accent))
                if self.hasFocus():
                    p.setPen(QPen(QColor(c.accent), 1.5))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRoundedRect(row.adjusted(7, 3, -3, -3), 4, 4)
            left = 12.0
            if self.width() >= DRAWN_FROM:
                picture = QRectF(left, row.top() + 4, PICTURE, ROW - 8)
                self._paint_drum(p, picture, drum_id, drum, scale)
                left = 92.0
            text = QRectF(left, row.top() + 12, self.width() - left - 4, 20)
            p.setPen(QColor(c.ink))
            strong = QFont.Weight.DemiBold if drum_id == self._current else QFont.Weight.Normal
            p.setFont(font(10, strong))
            lines = _lines(p, drum.name, text.width())
            down = 6.0 if len(lines) > 1 else 0.0
            for line, words in enumerate(lines):
                p.drawText(
                    text.translated(0, 16.0 * line - down), Qt.AlignmentFlag.AlignVCenter, words
                )
            text.translate(0, down)
            p.setPen(QColor(c.soft_ink))
            p.setFont(font(8.5))
            p.drawText(
                text.translated(0, 20),
                Qt.AlignmentFlag.AlignVCenter,
                wording.size_words(drum, self._metric),
            )
            p.setPen(QColor(c.accent if drum_id == self._current else c.ink))
            p.setFont(font(12, QFont.Weight.Bold))
            p.drawText(
                text.translated(0, 43 - 0.5 * down),
                Qt.AlignmentFlag.AlignVCenter,
                self._notes.get(drum_id, "…"),
            )

    def _paint_drum(self, p: QPainter, box: QRectF, drum_id: int, drum: Drum, scale: float) -> None:
        """A drum in section: drawn once, and again when its looks, the scale or the colours
        change."""
        factor = sharpness(p)
        over = math.modf(box.left() * factor)[0], math.modf(box.top() * factor)[0]
        key = (scale, factor, over, self._colours)
        bottom = None if drum.resonant is None else drum.resonant.head
        looks = (drum.kind, drum.shell, drum.batter.head, bottom, drum.mufflers)
        drawn = self._drawn.get(drum_id)
        if drawn is None or drawn.looks != looks or drawn.key != key:

            def paint(painter: QPainter) -> None:
                inside = QRectF(0.0, 0.0, box.width(), box.height())
                painter.setClipRect(inside)
                paint_section(painter, inside, drum, self._colours, scale, 0.5)

            if len(self._drawn) >= MOST_DRAWN:
                self._drawn.clear()
            qpixmap = painted(box.width(), box.height(), factor, paint, over)
            drawn = self._drawn[drum_id] = _Drawn(looks, key, qpixmap)
        corner = box.topLeft() - QPointF(*over) / factor
        p.drawPixmap(QRectF(corner, QSizeF(drawn.picture.size()) / factor), drawn.picture,
                     QRectF(drawn.picture.rect()))  # fmt: skip

    def menu(self) -> QMenu:
        """What can be done with the drum on the bench: it is the one that is pointed at."""
        menu = super().menu()
        for action in self.more:
            menu.addAction(action)
        return menu

    @safe_override
    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        place = int(self.at(event.pos()).y() // ROW)
        if 0 <= place < len(self._drums):
            self.drum_chosen.emit(self._drums[place][0])
        super().contextMenuEvent(event)

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = int(event.position().y() // ROW)
        if 0 <= place < len(self._drums):
            self.drum_chosen.emit(self._drums[place][0])

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None or not self._drums:
            super().keyPressEvent(event)
            return
        if event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.moved.emit(step)
            return
        ids = [drum_id for drum_id, _unused in self._drums]
        place = ids.index(self._current) + step if self._current in ids else 0
        if 0 <= place < len(ids):
            self.drum_chosen.emit(ids[place])


def _lines(p: QPainter, name: str, width: float) -> list[str]:
    """A name in one line or, where it is too long, in two; what is longer ends in an ellipsis."""
    measure = p.fontMetrics()
    if measure.horizontalAdvance(name) <= width:
        return [name]
    words = name.split()
    count = len(words) - 1
    while count > 1 and measure.horizontalAdvance(" ".join(words[:count])) > width:
        count -= 1
    parts = (" ".join(words[:count]), " ".join(words[count:])) if count > 0 else (name,)
    return [measure.elidedText(part, Qt.TextElideMode.ElideRight, int(width)) for part in parts]
