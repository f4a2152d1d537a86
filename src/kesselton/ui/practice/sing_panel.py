"""A note to sing: heard, sung or hummed, named."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from kesselton.app.practice import PracticeBench
from kesselton.app.voice import VoiceEar
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.ui.parts import wording
from kesselton.ui.parts.inputs import Button
from kesselton.ui.parts.labels import Label
from kesselton.ui.parts.theme import font, px
from kesselton.ui.practice import texts

if TYPE_CHECKING:
    from kesselton.core.practice.voice import Sung

A4_HALF_STEPS = 69


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
        self.note, self.said = Label(), Label()
        self.note.setFont(font(30, QFont.Weight.Bold))
        self.said.setFont(font(17, QFont.Weight.DemiBold))
        self.said.setWordWrap(True)
        self.tone, self.sing = Button(texts.TONE_BUTTON), Button(texts.SING_BUTTON)
        self.simulated, self.next = Button(texts.SING_SIMULATED), Button(texts.NEXT)
        self.sing.setObjectName("main")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.note, self.tone, self.sing, self.simulated, self.said, self.next):
            box.addWidget(widget)
        for button in (self.tone, self.sing, self.simulated, self.next):
            button.setMinimumHeight(px(44))
        box.addStretch(1)
        self.tone.clicked.connect(self.hear_tone)
        self.sing.clicked.connect(self.listen)
        self.simulated.clicked.connect(lambda: voice.simulated(self.hz))
        self.next.clicked.connect(self.another)
        voice.heard.connect(self._on_heard)
        del practice

    @property
    def hz(self) -> float:
        """The note to sing."""
        return self._a4() * ratio_of(100.0 * (self.voice.half_steps() - A4_HALF_STEPS))

    def refresh(self) -> None:
        """Show what holds now."""
        name = note_of(self.hz, self._a4()).name(self._flats())
        self.note.setText(texts.SING_NOW.format(note=name))
        if self._sung is None:
            self.said.setText("")
            return
        found = self._sung
        cents = cents_between(self.hz, found.hz)
        octaves = round(cents / 1200.0)
        cents -= 1200.0 * octaves  # an octave away is the same note to who hums along
        said = texts.SUNG.format(
            note=wording.note_words(found.hz, self._a4(), self._flats()),
            cents=wording.cents_words(cents), sway=f"{found.sway_cents:.0f}",
        )  # fmt: skip
        self.said.setText(said)

    def hear_tone(self) -> None:
        """The note as a tone."""
        self.voice.sound_tone(self.hz)

    def listen(self) -> None:
        """Sing now."""
        self.said.setText(texts.LISTENING)
        self.voice.listen()

    def another(self) -> None:
        """Another note."""
        self.voice.another()
        self._sung = None
        self.refresh()

    def _on_heard(self, found: Sung) -> None:
        self._sung = found
        self.refresh()

    def took(self, event: QKeyEvent) -> bool:
        """Whether a key was one of its own."""
        acts: dict[Qt.Key, Callable[[], None]] = {
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
