"""What a set must do, as a sentence that unfolds into a form."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import DENSITIES, TOUCHES
from kesselton.core.language import _, begin
from kesselton.core.pitch import NAMES_FLAT, NAMES_SHARP, parse_pitch
from kesselton.core.sets.model.kit import (
    BASSES,
    CHORD_TONES,
    CHORDS,
    LISTENERS,
    SCHOOL_WORDS,
    Wish,
)
from kesselton.ui.parts.widgets.fields import Choice, Field, pitch_field
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label

DEFAULT_INTERVALS, DEFAULT_NOTES = (0.0, 400.0, 700.0), (0, 4, 7)
MIDDLE_OCTAVE = 3
"""Of a note that is written without one: it counts in any octave anyway."""


class WishForm(QWidget):
    """Edits a wish.

    Signals
    -------
    edited(dict) : values of the wish that are others now
    """

    edited = Signal(object)

    def __init__(
        self, a4: Callable[[], float], show: Callable[[float], str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._wish = Wish()
        self._a4, self._show = a4, show
        self.sentence = Label()
        self.sentence.setWordWrap(True)
        self.chord = _choice(_("Chord"), list(CHORDS.items()))
        self.chord.chosen.connect(self._on_chord)
        self.school = _choice(_("Interval between heads"), list(SCHOOL_WORDS.items()))
        self.listener = _choice(_("Listener"), list(LISTENERS.items()))
        self.density = _choice(_("Note density"), [(k, o.label) for k, o in DENSITIES.items()])
        self.touch = _choice(_("Touch"), [(k, o.label) for k, o in TOUCHES.items()])
        self.bass = _choice(_("Lowest drum"), list(BASSES.items()))
        for name in ("school", "listener", "density", "touch", "bass"):
            choice: Choice = getattr(self, name)
            choice.chosen.connect(lambda key, name=name: self.edited.emit({name: key}))
        self.root: Field = pitch_field(
            _("Root (optional)"), LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, a4, show, optional=True
        )
        self.root.edited.connect(lambda hz: self.edited.emit({"root_hz": hz}))
        self.intervals = Field(_("Cents above lowest"), _read_numbers, _write_numbers)
        self.intervals.edited.connect(lambda v: self.edited.emit({"intervals": v}))
        self.notes = Field(_("Notes in the music"), _read_notes, self._write_notes)
        self.notes.edited.connect(lambda v: self.edited.emit({"notes": v}))
        self.avoid = Field(_("Avoid notes"), self._read_pitches, self._write_pitches)
        self.avoid.edited.connect(lambda v: self.edited.emit({"avoid_hz": v}))
        self.agree = Field(_("Match notes"), self._read_pitches, self._write_pitches)
        self.agree.edited.connect(lambda v: self.edited.emit({"agree_hz": v}))
        self.rest = QWidget()
        grid = QGridLayout(self.rest)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        for column in (0, 1):
            grid.setColumnStretch(column, 1)
        grid.addWidget(self.school, 0, 0, 1, 2)
        grid.addWidget(self.listener, 1, 0, 1, 2)
        grid.addWidget(self.density, 2, 0)
        grid.addWidget(self.touch, 2, 1)
        grid.addWidget(self.root, 3, 0)
        grid.addWidget(self.avoid, 3, 1)
        grid.addWidget(self.agree, 4, 0)
        grid.addWidget(self.bass, 4, 1)
        self.open = Button()
        self.open.clicked.connect(lambda: self.unfold(self.rest.isHidden()))
        self.fault = Label()
        self.fault.setProperty("fault", True)
        self.fault.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        for widget in (
            self.chord, self.intervals, self.notes, self.sentence, self.rest, self.open, self.fault
        ):  # fmt: skip
            layout.addWidget(widget)
        self.fault.hide()
        self.unfold(False)

    def unfold(self, on: bool) -> None:
        """Show every wish as a list to choose from, or (False) all as one sentence."""
        self.rest.setVisible(on)
        self.sentence.setVisible(not on)
        self.open.setText(_("Show less") if on else _("More requirements"))

    def set_state(self, wish: Wish) -> None:
        """Show a wish."""
        self._wish = wish
        for name in ("chord", "school", "listener", "density", "touch", "bass"):
            choice: Choice = getattr(self, name)
            choice.set_state(getattr(wish, name))
        self.root.set_state(wish.root_hz)
        self.intervals.setVisible(wish.chord == "intervals")
        self.intervals.set_state(wish.intervals)
        self.notes.setVisible(wish.chord == "notes")
        self.notes.set_state(wish.notes)
        self.root.setEnabled(wish.chord != "notes")
        self.bass.setEnabled(wish.chord == "any" or wish.chord in CHORD_TONES)
        self.avoid.set_state(wish.avoid_hz)
        self.agree.set_state(wish.agree_hz)
        self.complain("")
        self.sentence.setText(self.said(wish))

    def said(self, wish: Wish) -> str:
        """The wish in a sentence, its chord apart."""
        message = _("{chord}; {school}; for {listener}; {density} playing, {touch} touch.").format(
            chord=CHORDS[wish.chord],
            school=SCHOOL_WORDS[wish.school],
            listener=LISTENERS[wish.listener],
            density=DENSITIES[wish.density].label,
            touch=TOUCHES[wish.touch].label,
        )
        return begin(message)

    def complain(self, text: str) -> None:
        """Say what is wrong with a wish; "" takes it back."""
        self.fault.setText(text)
        self.fault.setVisible(bool(text))

    def _on_chord(self, chord: str) -> None:
        values: dict[str, Any] = {"chord": chord}
        if chord == "intervals" and len(self._wish.intervals) < 2:
            values["intervals"] = DEFAULT_INTERVALS
        if chord == "notes" and not self._wish.notes:
            values["notes"] = DEFAULT_NOTES
        self.edited.emit(values)

    def _read_pitches(self, text: str) -> tuple[float, ...]:
        return tuple(
            parse_pitch(_with_octave(word), self._a4())
            for word in re.split(r"[,;\s]+", text)
            if word
        )

    def _write_pitches(self, values: tuple[float, ...] | None) -> str:
        return " ".join(self._show(hz).split("·")[0].strip().split(" ")[0] for hz in values or ())

    def _write_notes(self, notes: tuple[int, ...] | None) -> str:
        names = NAMES_FLAT if "♭" in self._show(233.08) else NAMES_SHARP
        return " ".join(names[note] for note in notes or ())


def _choice(caption: str, options: list[tuple[Any, str]]) -> Choice:
    choice = Choice(caption)
    choice.set_options(options)
    return choice


def _with_octave(word: str) -> str:
    """A note written without an octave, in one."""
    return word if re.search(r"\d", word) else f"{word}{MIDDLE_OCTAVE}"


def _read_numbers(text: str) -> tuple[float, ...]:
    try:
        results = [float(x.replace("−", "-")) for x in re.split(r"[,;\s]+", text.strip()) if x]
    except ValueError:
        raise InputError(
            _("“{text}” is not a list of numbers.").format(text=text.strip()),
            _("Enter them like 0 400 700."),
        ) from None
    return tuple(sorted(results))


def _write_numbers(values: tuple[float, ...] | None) -> str:
    return " ".join(f"{value:g}" for value in values or ())


def _read_notes(text: str) -> tuple[int, ...]:
    results = []
    for word in re.split(r"[,;\s]+", text.strip()):
        if not word:
            continue
        try:
            hz = parse_pitch(_with_octave(word))
        except InputError:
            raise InputError(
                _("“{text}” is not a note.").format(text=word), _("Enter them like C E♭ G.")
            ) from None
        from kesselton.core.pitch import note_of

        results.append(note_of(hz).number % 12)
    return tuple(dict.fromkeys(results))
