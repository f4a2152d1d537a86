"""The line under the ladder: hear a stroke, and in words what was heard."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.pitch import cents_between
from kesselton.ui.bench import texts
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import selectable
from kesselton.ui.parts.fields import Choice
from kesselton.ui.parts.inputs import Button
from kesselton.ui.parts.labels import Label
from kesselton.ui.parts.level_bar import LevelBar
from kesselton.ui.parts.theme import font

if TYPE_CHECKING:
    from kesselton.app.hearing import HeardDrum
    from kesselton.core.errors import KesseltonError
    from kesselton.core.hearing.stroke_lines import StrokeLine

SOURCES = ("bench", "recording", "microphone")
APART = 1.25
"""So much must first and late ring differ to be told both."""
OTHER_CENTS = 12.0
"""So near to another drum's note a line may be that drum."""


class HearBar(QWidget):
    """What hears, the button, and what was heard.

    Signals
    -------
    hear_wanted(str source)
    anew_wanted() : strokes heard so far are not to be taken together with the next
    heads_wanted() : heads that make the drum sound like what was heard
    """

    hear_wanted = Signal(str)
    heads_wanted = Signal()
    anew_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.source = Choice(texts.HEARD_BY)
        self.source.set_options(list(zip(SOURCES, texts.HEARD_BY_OPTIONS.split("|"), strict=True)))
        self.chosen = SOURCES[0]
        self.source.set_state(self.chosen)
        self.source.chosen.connect(self._choose)
        self.button = Button(texts.HEAR_STROKE, tip=texts.HEAR_STROKE_TIP)
        self.button.clicked.connect(lambda: self.hear_wanted.emit(self.chosen))
        self.like = Button(texts.LIKE_THIS, tip=texts.LIKE_THIS_TIP)
        self.like.clicked.connect(self.heads_wanted)
        self.like.hide()
        self.anew = Button(texts.HEAR_ANEW, tip=texts.HEAR_ANEW_TIP)
        self.anew.clicked.connect(self.anew_wanted)
        self.anew.hide()
        self.first = selectable(Label())
        self.first.setFont(font(10, QFont.Weight.DemiBold))
        self.first.setWordWrap(True)
        self.rest = selectable(Label())
        self.rest.setProperty("quiet", True)
        self.rest.setWordWrap(True)
        self.level = LevelBar()
        self.level.hide()
        self.source.caption.hide()  # the button beside it says what the list is for
        row = QHBoxLayout()
        row.addWidget(self.source, 1)
        row.addWidget(self.button, 1, Qt.AlignmentFlag.AlignTop)
        row.addWidget(self.like, 1, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(row)
        column.addWidget(self.level)
        column.addWidget(self.first)
        below = QHBoxLayout()
        below.addWidget(self.rest, 1)
        below.addWidget(self.anew, 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(below)

    def _choose(self, source: str) -> None:
        self.chosen = source
        self.source.set_state(source)

    def set_state(
        self, heard: HeardDrum | None, others: dict[str, float], listening: bool, possible: bool
    ) -> None:
        """Show what was heard of the drum on the bench, or that nothing was yet."""
        self.button.setText(texts.STOP_LISTENING if listening else texts.HEAR_STROKE)
        self.button.setEnabled(possible or listening)
        self.level.setVisible(listening)
        self.anew.setVisible(heard is not None and heard.strokes > 1)
        self.like.setVisible(heard is not None and heard.note is not None)
        if heard is None:
            self.first.clear()
            self.rest.setText(texts.LISTENING if listening else texts.NOTHING_HEARD)
            return
        self.first.setText(first_words(heard))
        self.rest.setText(rest_words(heard, others))

    def say(self, text: str) -> None:
        """What is being done."""
        self.first.clear()
        self.rest.setText(text)

    def refuse(self, error: KesseltonError) -> None:
        """Why nothing was heard."""
        self.say(f"{error.message} {error.remedy}")


def first_words(heard: HeardDrum) -> str:
    """The note against the plan: "134.2 Hz, 14 cents flat of the plan (± 4), rings 1.7 s"."""
    note, matching = heard.note, heard.matching
    if note is not None and not note.near:
        return texts.NOT_NEAR_PLAN.format(hz=wording.hz_words(note.hz))
    if heard.disagree_hz:
        least, most = heard.disagree_hz[0], heard.disagree_hz[-1]
        return texts.STROKES_DISAGREE.format(
            low=wording.hz_words(least), high=wording.hz_words(most)
        )
    cents = matching.cents(heard.found)
    if cents is None and heard.on_wires:
        return texts.NOT_THROWN
    if cents is None:
        return texts.NOTE_NOT_HEARD if matching.sure or note is None else texts.CANNOT_BE_TOLD
    assert matching.fundamental_hz is not None
    off = texts.AT_PLAN
    if round(cents) != 0:
        off = texts.OFF_PLAN.format(cents=wording.cents_words(cents))
    early = "" if note is None else early_words(note.hz, note.early_hz)
    return texts.NOTE_HEARD.format(
        hz=wording.hz_words(matching.fundamental_hz),
        off=off,
        half=matching.fundamental_half_cents,
        early=early,
        ring=_ring_words(heard),
    )


def _ring_words(heard: HeardDrum) -> str:
    """How long the note rings, late and at first."""
    note = heard.note
    if note is None or math.isnan(note.t60_s):
        return texts.RING_NOT_TOLD
    computed = float(heard.found.partials.t60_s[heard.found.partials.fundamental])
    said = texts.RINGS.format(
        ring=wording.seconds_words(note.t60_s), computed=wording.seconds_words(computed)
    )
    first = note.first_t60_s
    if not math.isnan(first) and not 1.0 / APART < first / note.t60_s < APART:
        said += texts.RINGS_AT_FIRST.format(ring=wording.seconds_words(first))
    return said


def early_words(hz: float, early_hz: float) -> str:
    """How much sharper than at rest a line is 50 ms after the stroke; "" where it is not."""
    cents = cents_between(hz, early_hz)
    return texts.EARLY.format(cents=cents) if cents >= 1.0 else ""


def _strokes_words(heard: HeardDrum) -> str:
    if heard.strokes == 1:
        return texts.ONE_STROKE
    said = texts.STROKES.format(strokes=heard.strokes)
    return said if heard.places == 1 else texts.AT_PLACES.format(strokes=said, places=heard.places)


def _fault_words(heard: HeardDrum) -> list[str]:
    from kesselton.core.hearing.sound_faults import CLIPPED, HUM, NO_LOW_END, QUIET, SECOND

    words = {
        CLIPPED: texts.SOUND_CLIPPED,
        QUIET: texts.SOUND_QUIET,
        HUM: texts.SOUND_HUMS,
        NO_LOW_END: texts.SOUND_WITHOUT_LOW_END,
        SECOND: texts.SOUND_OF_TWO,
    }
    return [words[name] for name in heard.faults]


def rest_words(heard: HeardDrum, others: dict[str, float]) -> str:
    """What is wrong with the sound, how many lines were told, and what the others may be."""
    told = sum(one.partial is not None for one in heard.matching.matches)
    said = _fault_words(heard)
    if heard.note is not None:
        said.append(texts.NOTE_SURE.format(chance=min(100.0 * heard.note.confidence, 99.0)))
    if heard.lines:
        said.append(
            texts.LINES_TOLD.format(
                lines=len(heard.lines),
                told=told,
                strokes=_strokes_words(heard),
            )
        )
    said += _beats_words(heard)
    if heard.on_wires:
        said.append(texts.ON_WIRES.format(lines=heard.on_wires))
    elif heard.disagree_hz:
        said.append(texts.FORGET_AND_STRIKE)
    elif heard.note is None or not heard.note.near:
        said.append(texts.IS_IT_THIS_DRUM)
    if not heard.matching.sure:
        return " ".join(said)
    from kesselton.core.hearing.unmatched import ROOM, SHELL

    also = {SHELL: texts.THE_SHELL, ROOM: texts.THE_ROOM}  # of wires it was said of all together
    named = [
        texts.MAY_BE_OTHER.format(hz=wording.hz_words(line.hz), name=name)
        for line, one, kinds in zip(heard.lines, heard.matching.matches, heard.may_be, strict=True)
        if one.partial is None
        for name in (*_notes_at(line.hz, others), *(also[kind] for kind in kinds if kind in also))
    ]
    return " ".join((*said, *named[:3]))


def _beats_words(heard: HeardDrum) -> list[str]:
    """The loudest pair that beats."""
    beating = [line for line in heard.lines if line.pair is not None]
    if not beating:
        return []
    line = max(beating, key=lambda one: one.level_db)
    return [texts.BEATS.format(hz=wording.hz_words(line.hz), beat=beat_of(line))]


def beat_of(line: StrokeLine) -> str:
    """Beats a second of a line that is one of a pair; "" of another."""
    return "" if line.pair is None else f"{line.pair.split_hz:.1f}"


def _notes_at(hz: float, others: dict[str, float]) -> list[str]:
    """Which other drums may be heard in a line."""
    return [name for name, note in others.items() if abs(cents_between(note, hz)) < OTHER_CENTS]
