"""A note to sing: heard, sung or hummed, named."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.practice.practice_bench import PracticeBench
from kesselton.app.practice.voice_listener import VoiceEar
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.language import _, figures
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import font, px
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.practice.to_note import NoteBench
    from kesselton.core.practice.voice import Sung

A4_HALF_STEPS = 69
TURN, FINE = 1.0 / 32.0, 1.0 / 128.0


class SingPanel(QWidget):
    """One note at a time."""

    def __init__(
        self,
        voice: VoiceEar,
        practice: PracticeBench,
        a4: Callable[[], float],
        flats: Callable[[], bool],
    ) -> None:
        super().__init__()
        self.voice, self._a4, self._flats = voice, a4, flats
        self._sung: Sung | None = None
        self._practice = practice
        self._bench: NoteBench | None = None
        self._begun = 0.0
        self.note, self.verdict = Label(), Label()
        self.note.setFont(font(30, QFont.Weight.Bold))
        self.verdict.setFont(font(17, QFont.Weight.DemiBold))
        self.verdict.setWordWrap(True)
        self.tone, self.sing = Button(_("Play tone (A)")), Button(_("Sing: microphone (M)"))
        self.simulated, self.next = Button(_("Simulated voice (V)")), Button(_("Next (Space)"))
        self.sing.setObjectName("main")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.tune, self.tap = Button(_("Tune a head to it (N)")), Button(_("Tap (T)"))
        self.up, self.down = Button(_("Tighten all 1/32 (↑)")), Button(_("Loosen all 1/32 (↓)"))
        self.end = Button(_("Show result (E)"))
        self.score = Label()
        self.score.setFont(font(15, QFont.Weight.DemiBold))
        self.score.setWordWrap(True)
        hands = QHBoxLayout()
        for button in (self.tap, self.up, self.down, self.end):
            hands.addWidget(button)
        for widget in (self.note, self.tone, self.sing, self.simulated, self.verdict, self.tune):
            box.addWidget(widget)
        box.addLayout(hands)
        box.addWidget(self.score)
        box.addWidget(self.next)
        for button in (
            self.tone, self.sing, self.simulated, self.next, self.tune, self.tap, self.up,
            self.down, self.end,
        ):  # fmt: skip
            button.setMinimumHeight(px(44))
        box.addStretch(1)
        self.tone.clicked.connect(self.hear_tone)
        self.sing.clicked.connect(self.listen)
        self.simulated.clicked.connect(lambda: voice.simulated(self.hz))
        self.next.clicked.connect(self.another)
        voice.heard.connect(self._on_heard)
        self.tune.clicked.connect(self.begin_tuning)
        self.tap.clicked.connect(self.hear_head)
        self.up.clicked.connect(lambda: self.turn(TURN))
        self.down.clicked.connect(lambda: self.turn(-TURN))
        self.end.clicked.connect(self.show_note)

    @property
    def hz(self) -> float:
        """The note to sing."""
        return self._a4() * ratio_of(100.0 * (self.voice.half_steps() - A4_HALF_STEPS))

    def refresh(self) -> None:
        """Show what holds now."""
        name = note_of(self.hz, self._a4()).name(self._flats())
        self.note.setText(_("Sing {note}").format(note=name))
        tuning = self._bench is not None
        self.tune.setVisible(self._sung is not None and not tuning)
        for button in (self.tap, self.up, self.down, self.end):
            button.setVisible(tuning)
        for button in (self.tone, self.sing, self.simulated):
            button.setVisible(not tuning)
        self.score.setVisible(bool(self.score.text()))
        if self._sung is None:
            self.verdict.setText("")
            return
        sung_note = self._sung
        cents = cents_between(self.hz, sung_note.hz)
        octaves = round(cents / CENTS_PER_OCTAVE)
        cents -= CENTS_PER_OCTAVE * octaves  # an octave away is the same note to who hums along
        message = _("{note}: {cents} of the tone, steady to ± {sway} cents").format(
            note=wording.note_words(sung_note.hz, self._a4(), self._flats()),
            cents=wording.cents_words(cents), sway=figures(sung_note.sway_cents, ".0f"),
        )  # fmt: skip
        self.verdict.setText(message)

    def hear_tone(self) -> None:
        """The note as a tone."""
        self.voice.sound_tone(self.hz)

    def listen(self) -> None:
        """Sing now."""
        self.verdict.setText(_("Listening: sing now"))
        self.voice.listen()

    # a head tuned to what was sung

    def begin_tuning(self) -> None:
        """A head some way off the note that was sung; the gauge comes at the end."""
        from kesselton.core.practice.to_note import NoteBench

        if self._sung is not None and self._bench is None:
            self._begun = time.monotonic()
            self._bench = NoteBench(self.voice.half_steps() + int(self._sung.hz), self._sung.hz)
            self.score.setText("")
            self.refresh()
            self.hear_head()

    def hear_head(self) -> None:
        """Tap it."""
        if self._bench is not None:
            self._practice.sound(self._bench.tap())

    def turn(self, turns: float) -> None:
        """Turn all rods alike."""
        if self._bench is not None:
            self._bench.turn(turns)

    def show_note(self) -> None:
        """How near it came; kept with who practises."""
        bench = self._bench
        if bench is None:
            return
        self._bench = None
        off = bench.off_cents
        message = _(
            "The head is {cents} of the note you sang, after {turns} turns of all rods."
        ).format(cents=wording.cents_words(off), turns=bench.turns)
        self.score.setText(message)
        measures = (("off_cents", off), ("turns", float(bench.turns)))
        self._practice.keep_measures(time.monotonic() - self._begun, measures)
        self.refresh()

    def another(self) -> None:
        """Another note."""
        self.voice.another()
        self._sung = self._bench = None
        self.score.setText("")
        self.refresh()

    def _on_heard(self, sung_note: Sung) -> None:
        self._sung = sung_note
        self.refresh()

    def took(self, event: QKeyEvent) -> bool:
        """Whether a key was one of its own."""
        if self._bench is not None:
            return self._took_with_hands(event)
        acts: dict[Qt.Key, Callable[[], None]] = {
            Qt.Key.Key_N: self.begin_tuning,
            Qt.Key.Key_A: self.hear_tone,
            Qt.Key.Key_M: self.listen,
            Qt.Key.Key_V: lambda: self.voice.simulated(self.hz),
            Qt.Key.Key_Space: self.another,
        }
        act = acts.get(Qt.Key(event.key()))
        if act is None or event.isAutoRepeat():
            return False
        act()
        return True

    def _took_with_hands(self, event: QKeyEvent) -> bool:
        """Keys while a head is tuned."""
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        step = FINE if fine else TURN
        acts: dict[Qt.Key, Callable[[], None]] = {
            Qt.Key.Key_T: self.hear_head,
            Qt.Key.Key_Space: self.hear_head,
            Qt.Key.Key_Up: lambda: self.turn(step),
            Qt.Key.Key_Down: lambda: self.turn(-step),
            Qt.Key.Key_A: self.hear_tone,
            Qt.Key.Key_E: self.show_note,
        }
        act = acts.get(Qt.Key(event.key()))
        turning = Qt.Key(event.key()) in (Qt.Key.Key_Up, Qt.Key.Key_Down)
        if act is None or (event.isAutoRepeat() and not turning):
            return False
        act()
        return True
