"""The card under the ladder: hear a stroke, and what was heard."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.language import N_, _, each, figures
from kesselton.core.pitch import cents_between
from kesselton.ui.parts.widgets.columns import selectable
from kesselton.ui.parts.widgets.fields import Choice, mark
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.level_bar import LevelBar
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.core.errors import KesseltonError
    from kesselton.core.hearing.stroke_lines import StrokeLine

HEARD_BY = (N_("simulated drum"), N_("recording…"), N_("microphone"))

Fact = tuple[str, str]
"""What a figure is of, and the figure."""
SOURCES = ("bench", "recording", "microphone")
APART = 1.25
"""So much must first and late ring differ to be told both."""
OTHER_CENTS = 12.0
"""So near to another drum's note a line may be that drum."""


class HeardCard(QFrame):
    """What hears, the button, and what was heard: the answer first, then its figures.

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
        self.setObjectName("card")
        self.source = Choice(_("Source"))
        self.source.set_options(list(zip(SOURCES, each(HEARD_BY), strict=True)))
        self.chosen = SOURCES[0]
        self.source.set_state(self.chosen)
        self.source.chosen.connect(self._choose)
        self.source.caption.hide()  # the button beside it says what the list is for
        self.button = Button(
            _("Analyze stroke (J)"), tip=_("Analyze a stroke on the real or the simulated drum")
        )
        self.button.clicked.connect(lambda: self.hear_wanted.emit(self.chosen))
        self.like = Button(
            _("Match stroke…"), tip=_("Heads and settings closest to the measured stroke")
        )
        self.like.clicked.connect(self.heads_wanted)
        self.anew = Button(
            _("Clear strokes"), tip=_("Discard the strokes analyzed at this setting")
        )
        self.anew.clicked.connect(self.anew_wanted)
        self.answer = selectable(Label())
        self.answer.setFont(font(13, QFont.Weight.DemiBold))
        self.answer.setWordWrap(True)
        self.fault = selectable(Label())
        mark(self.fault, "fault", True)
        self.fault.setWordWrap(True)
        self.rest = selectable(Label())
        mark(self.rest, "quiet", True)
        self.rest.setWordWrap(True)
        self.facts = FlowLayout(spacing=16)
        self._figures: list[_Figure] = []
        self.level = LevelBar()
        self._lay_out()
        self._show("", _("No stroke analyzed at this setting yet."))

    def _lay_out(self) -> None:
        title = Label(_("Heard"))
        title.setFont(font(10, QFont.Weight.DemiBold))
        top = QHBoxLayout()
        top.addWidget(title, 1)
        top.addWidget(self.source, 2)
        top.addWidget(self.button, 0, Qt.AlignmentFlag.AlignTop)
        qvbox_layout = QVBoxLayout()
        qvbox_layout.setSpacing(4)
        for item in (self.level, self.answer, self.fault):
            qvbox_layout.addWidget(item)
        qvbox_layout.addLayout(self.facts)
        below = QHBoxLayout()
        below.addWidget(self.rest, 1)
        for button in (self.anew, self.like):
            below.addWidget(button, 0, Qt.AlignmentFlag.AlignBottom)
        qvbox_layout.addLayout(below)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 8)
        column.setSpacing(2)
        column.addLayout(top)
        column.addLayout(qvbox_layout)

    def _choose(self, source: str) -> None:
        self.chosen = source
        self.source.set_state(source)

    def set_state(
        self, heard: HeardDrum | None, others: dict[str, float], listening: bool, possible: bool
    ) -> None:
        """Show what was heard of the drum on the bench, or that nothing was yet."""
        self.button.setText(_("Stop (J)") if listening else _("Analyze stroke (J)"))
        self.button.setEnabled(possible or listening)
        self.level.setVisible(listening)
        if heard is None:
            self._show(
                "",
                _("Strike the drum with both heads free and let it ring for two seconds.")
                if listening
                else _("No stroke analyzed at this setting yet."),
            )
            return
        self._show(
            answer_words(heard),
            " ".join(rest_words(heard, others)),
            " ".join((*_fault_words(heard), *_remedy_words(heard))),
            heard_facts(heard),
        )
        self.anew.setVisible(heard.strokes > 1)
        self.like.setVisible(heard.note is not None)

    def _show(self, answer: str, rest: str, fault: str = "", facts: tuple[Fact, ...] = ()) -> None:
        for label, text in ((self.answer, answer), (self.fault, fault), (self.rest, rest)):
            label.setText(text)
            label.setVisible(bool(text))
        self.anew.hide()
        self.like.hide()
        while len(self._figures) < len(facts):
            self._figures.append(_Figure())
            self.facts.addWidget(self._figures[-1])
        for place, figure in enumerate(self._figures):
            figure.setVisible(place < len(facts))
            if place < len(facts):
                figure.say(*facts[place])

    def say(self, text: str) -> None:
        """What is being done."""
        self._show("", text)

    def refuse(self, error: KesseltonError) -> None:
        """Why nothing was heard."""
        self._show("", "", f"{error.message} {error.remedy}")

    def text(self) -> str:
        """All that is to be read there."""
        shown = [
            label.text() for label in (self.answer, self.fault, self.rest) if not label.isHidden()
        ]
        return " ".join((*shown, *(x.text() for x in self._figures if not x.isHidden())))


class _Figure(QWidget):
    """A figure under what it is of."""

    def __init__(self) -> None:
        super().__init__()
        self._of, self._figure = Label(), selectable(Label())
        mark(self._of, "quiet", True)
        self._figure.setFont(font(10, QFont.Weight.DemiBold))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._of)
        column.addWidget(self._figure)

    def say(self, of: str, figure: str) -> None:
        self._of.setText(of)
        self._figure.setText(figure)

    def text(self) -> str:
        return f"{self._of.text()} {self._figure.text()}"


def answer_words(heard: HeardDrum) -> str:
    """How the drum stands against its target, or why that is not told."""
    note = heard.note
    if note is not None and not note.near:
        return _("Not near the plan: {hz}").format(hz=wording.hz_words(note.hz))
    if heard.disagree_hz:
        least, most = heard.disagree_hz[0], heard.disagree_hz[-1]
        return _("These strokes disagree: {low} to {high}").format(
            low=wording.hz_words(least), high=wording.hz_words(most)
        )
    cents = heard.matching.cents(heard.prediction)
    if cents is None and heard.on_wires:
        return _("The wires are on: the fundamental of the bare head was not found.")
    if cents is None:
        unknown = heard.matching.sure or note is None
        return (
            _("No pitch can be identified in this stroke. Strike the center and let it ring.")
            if unknown
            else _("Peaks cannot be matched to partials: a match by chance would be as good.")
        )
    if round(cents) == 0:
        return _("On target")
    return _("{cents} of target").format(cents=wording.cents_words(cents))


def heard_facts(heard: HeardDrum) -> tuple[Fact, ...]:
    """The figures under the answer: pitch, decay late and at first, what it glides by."""
    note, matching = heard.note, heard.matching
    if heard.disagree_hz or matching.fundamental_hz is None:
        return ()
    hz, half = wording.hz_words(matching.fundamental_hz), matching.fundamental_half_cents
    facts = [(_("Pitch"), _("{hz} ± {half:.0f}").format(hz=hz, half=half))]
    if note is None:
        return tuple(facts)
    if math.isnan(note.t60_s):
        facts.append((_("Decay"), _("unknown")))
    else:
        computed = float(heard.prediction.partials.t60_s[heard.prediction.partials.fundamental])
        ring, planned = (wording.seconds_words(value) for value in (note.t60_s, computed))
        facts.append(
            (_("Decay"), _("{ring}, computed {computed}").format(ring=ring, computed=planned))
        )
        first = note.first_t60_s
        if not math.isnan(first) and not 1.0 / APART < first / note.t60_s < APART:
            facts.append((_("Early decay"), wording.seconds_words(first)))
    glide = cents_between(note.hz, note.early_hz)
    if glide >= 1.0:
        facts.append((_("At 50 ms"), _("{cents:.0f} cents sharper").format(cents=glide)))
    return tuple(facts)


def early_words(hz: float, early_hz: float) -> str:
    """How much sharper than at rest a line is 50 ms after the stroke; "" where it is not."""
    cents = cents_between(hz, early_hz)
    return _(", {cents:.0f} cents sharper at 50 ms").format(cents=cents) if cents >= 1.0 else ""


def _strokes_words(heard: HeardDrum) -> str:
    if heard.strokes == 1:
        return _("one stroke")
    message = _("{strokes} strokes").format(strokes=heard.strokes)
    return (
        message
        if heard.places == 1
        else _("{strokes} at {places} points or with {places} beaters").format(
            strokes=message, places=heard.places
        )
    )


def _fault_words(heard: HeardDrum) -> list[str]:
    from kesselton.core.hearing.sound_faults import CLIPPED, HUM, NO_LOW_END, QUIET, SECOND

    words = {
        CLIPPED: _(
            "The sound is clipped: only the pitch can be identified. Move "
            "the microphone away or strike softer."
        ),
        QUIET: _("Too quiet: move the microphone closer."),
        HUM: _("Mains hum in this sound."),
        NO_LOW_END: _("The low end does not come through this microphone."),
        SECOND: _("Two strokes close together: the first is used. Strike once and let it ring."),
    }
    return [words[name] for name in heard.faults]


def _remedy_words(heard: HeardDrum) -> list[str]:
    """What to do where the drum's own pitch was not had."""
    if heard.on_wires:
        return [
            _(
                "{lines} of them match the head with its wires on: throw the "
                "strainer off, or strike harder."
            ).format(lines=heard.on_wires)
        ]
    if heard.disagree_hz:
        return [_("Clear these strokes and strike again.")]
    return (
        [_("Is this the drum, at this setting, with both heads free?")]
        if heard.note is None or not heard.note.near
        else []
    )


def rest_words(heard: HeardDrum, others: dict[str, float]) -> list[str]:
    """How sure it is, how many lines were told, and what the others may be; sentences."""
    number = sum(match.partial is not None for match in heard.matching.matches)
    results = []
    if heard.note is not None:
        results.append(
            _("Pitch {chance:.0f} % sure.").format(chance=min(100.0 * heard.note.confidence, 99.0))
        )
    if heard.lines:
        results.append(
            _("{told} of {lines} peaks identified, {strokes}.").format(
                lines=len(heard.lines),
                told=number,
                strokes=_strokes_words(heard),
            )
        )
    results += _beats_words(heard)
    if not heard.matching.sure:
        return results
    from kesselton.core.hearing.unmatched import ROOM, SHELL

    also = {
        SHELL: _("the shell"),
        ROOM: _("something in the room"),
    }  # of wires it was said of all together
    named = [
        _("{hz} may be {name}.").format(hz=wording.hz_words(line.hz), name=name)
        for line, match, kinds in zip(
            heard.lines, heard.matching.matches, heard.may_be, strict=True
        )
        if match.partial is None
        for name in (*_notes_at(line.hz, others), *(also[kind] for kind in kinds if kind in also))
    ]
    return [*results, *named[:3]]


def _beats_words(heard: HeardDrum) -> list[str]:
    """The loudest pair that beats."""
    beating = [line for line in heard.lines if line.pair is not None]
    if not beating:
        return []
    line = max(beating, key=lambda item: item.level_db)
    return [
        _("Two peaks at {hz} beat {beat} times a second.").format(
            hz=wording.hz_words(line.hz), beat=beat_of(line)
        )
    ]


def beat_of(line: StrokeLine) -> str:
    """Beats a second of a line that is one of a pair; "" of another."""
    return "" if line.pair is None else figures(line.pair.split_hz, ".1f")


def _notes_at(hz: float, others: dict[str, float]) -> list[str]:
    """Which other drums may be heard in a line."""
    return [name for name, note in others.items() if abs(cents_between(note, hz)) < OTHER_CENTS]
