"""A reference tone to tune to: any note, long, finely set; with another beside it the beat is heard
and seen."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.sound.player import Player
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.prediction.tone import HIGHEST_HZ, LONGEST_S, LOWEST_HZ, SHORTEST_S, tone
from kesselton.ui.parts.widgets.dialogs import Dialog, close_box
from kesselton.ui.parts.widgets.fields import number_field, pitch_field
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font

USUAL_S = 10.0
SHOWN_S = 2.0
POINTS = 400
FASTEST_BEAT_HZ = 15.0
"""Faster ones are heard as roughness, or as two notes (Zwicker and Fastl, section 11, memory)."""
FINE_CENTS, COARSE_CENTS = 1.0, 10.0


class BeatPicture(Picture):
    """How loud two tones are together over two seconds; flat for one."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Beating of the two tones"))
        self.setMinimumHeight(70)
        self.beat_hz = 0.0

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(360, 90)

    def set_state(self, beat_hz: float) -> None:
        """Show a beat of so many a second, 0 for a tone alone."""
        self.beat_hz = beat_hz
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        box = QRectF(4, 4, self.width() - 8, self.height() - 24)
        p.fillRect(box, QColor(c.panel))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawRect(box)
        top, bottom = [], []
        for number in range(POINTS + 1):
            share = number / POINTS
            loud = abs(math.cos(math.pi * self.beat_hz * SHOWN_S * share))
            x, half = box.left() + share * box.width(), 0.46 * loud * box.height()
            top.append(QPointF(x, box.center().y() - half))
            bottom.append(QPointF(x, box.center().y() + half))
        shade = QColor(c.accent)
        shade.setAlphaF(0.35)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(shade)
        p.drawPolygon(QPolygonF([*top, *reversed(bottom)]))
        p.setPen(QColor(c.soft_ink))
        p.setFont(font(8))
        right = Qt.AlignmentFlag.AlignRight
        p.drawText(QRectF(4, self.height() - 18, self.width() - 8, 16), right, _("two seconds"))


class ToneDialog(Dialog):
    """One note, or two; Space sounds it and stops it, arrow keys move it by cents."""

    def __init__(
        self,
        hz: float | None,
        a4: Callable[[], float],
        show: Callable[[float], str],
        player: Player,
        colours: Colours,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Reference tone"))
        self._player = player
        self._hz = hz if hz is not None and LOWEST_HZ <= hz <= HIGHEST_HZ else a4() / 2.0
        self._against: float | None = None
        self.note = pitch_field(_("Note"), LOWEST_HZ, HIGHEST_HZ, a4, show)
        self.against = pitch_field(
            _("Second note (optional)"), LOWEST_HZ, HIGHEST_HZ, a4, show, optional=True
        )
        self.against.setToolTip(
            _("A second note played with the first: the beat rate shows how far apart they are.")
        )
        self.seconds = number_field(_("Duration"), SHORTEST_S, LONGEST_S, "s", 1)
        self.seconds.set_state(USUAL_S)
        self.down, self.up = Button(_("− 1 cent")), Button(_("+ 1 cent"))
        self.sound = Button(_("Play (Space)"))
        self.sound.setObjectName("main")
        self.answer = Label()
        self.answer.setProperty("quiet", True)
        self.answer.setWordWrap(True)
        self.picture = BeatPicture()
        self.picture.set_colours(colours)
        grid = QGridLayout()
        grid.addWidget(self.note, 0, 0)
        grid.addWidget(self.against, 0, 1)
        grid.addWidget(self.seconds, 1, 0)
        steps = QHBoxLayout()
        steps.addWidget(self.down)
        steps.addWidget(self.up)
        grid.addLayout(steps, 1, 1, Qt.AlignmentFlag.AlignBottom)
        buttons = close_box()
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addLayout(grid)
        layout.addWidget(self.picture)
        layout.addWidget(self.answer)
        layout.addWidget(self.sound)
        layout.addWidget(buttons)
        self.note.edited.connect(self.set_hz)
        self.against.edited.connect(self._on_against)
        self.down.clicked.connect(lambda: self.move_cents(-FINE_CENTS))
        self.up.clicked.connect(lambda: self.move_cents(FINE_CENTS))
        self.seconds.edited.connect(self.seconds.set_state)
        self.sound.clicked.connect(self.toggle)
        player.state_changed.connect(self._on_player)
        self.finished.connect(lambda _unused: player.stop())
        self._show()
        self.sound.setFocus()

    @property
    def hz(self) -> float:
        """The note that sounds."""
        return self._hz

    def set_hz(self, hz: float) -> None:
        """Another note; while one sounds it changes."""
        self._hz = hz
        self._show()
        if self._player.playing:
            self._play()

    def move_cents(self, cents: float) -> None:
        """The note a little higher or lower."""
        self.set_hz(min(max(self._hz * ratio_of(cents), LOWEST_HZ), HIGHEST_HZ))

    def _on_against(self, hz: float | None) -> None:
        self._against = hz
        self.set_hz(self._hz)

    def toggle(self) -> None:
        """Sound it, or be quiet."""
        if self._player.playing:
            self._player.stop()
        else:
            self._play()

    def _play(self) -> None:
        try:
            sound = tone(self._hz, float(self.seconds.value or USUAL_S), self._against)
        except KesseltonError as error:
            self.answer.setText(f"{error.message} {error.remedy}")
            return
        self._player.play(sound, _("the reference tone"))

    def _on_player(self, text: str) -> None:
        self.sound.setText(_("Stop (Space)") if self._player.playing else _("Play (Space)"))
        if text and not self._player.playing:
            self.answer.setText(text)  # why nothing is heard

    def _show(self) -> None:
        self.note.set_state(self._hz)
        self.against.set_state(self._against)
        if self._against is None:
            self.picture.set_state(0.0)
            self.answer.setText(_("Arrow keys: 1 cent; Page keys: 10 cents."))
            return
        beat, cents = abs(self._hz - self._against), cents_between(self._against, self._hz)
        slow = beat < FASTEST_BEAT_HZ
        self.picture.set_state(beat if slow else 0.0)
        message = (
            _("{beat:.2f} beats/s, {cents:+.0f} cents apart: turn until the beating stops.")
            if slow
            else _("{cents:+.0f} cents apart: too far to beat.")
        )
        self.answer.setText(message.format(beat=beat, cents=cents))

    @safe_override
    def keyPressEvent(self, event: object) -> None:
        moves = {
            Qt.Key.Key_Up: FINE_CENTS,
            Qt.Key.Key_Down: -FINE_CENTS,
            Qt.Key.Key_PageUp: COARSE_CENTS,
            Qt.Key.Key_PageDown: -COARSE_CENTS,
        }
        key = event.key()  # type: ignore[attr-defined]
        if key in moves:
            self.move_cents(moves[key])
        elif key == Qt.Key.Key_Space:
            self.toggle()
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]
