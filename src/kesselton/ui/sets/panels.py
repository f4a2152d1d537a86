"""What stands beside the ladder of a set: plans, clashes and their cures, sound."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QListWidgetItem, QVBoxLayout, QWidget

from kesselton.core.language import _, figures
from kesselton.core.prediction.tempo import FASTEST_BPM, SLOWEST_BPM, falls
from kesselton.core.sets.model.kit import Member
from kesselton.ui.parts.widgets.fields import Choice, Field, number_field, pitch_field
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button, Rows
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import font, px
from kesselton.ui.sets import words
from kesselton.ui.sets.level_picture import LevelPicture
from kesselton.ui.sets.wish_form import WishForm

if TYPE_CHECKING:
    from kesselton.app.sets.set_bench import Cures
    from kesselton.core.sets.search.plan import Plan
    from kesselton.core.sets.search.whole import Planned, SolvedSet

Show = Callable[[float], str]
LOWEST_TONE_HZ, HIGHEST_TONE_HZ = 20.0, 2000.0
TONE_DB = 94.0
"""Sound pressure level at the drum of the tone that is tried: a bass player near by; assumed."""


def title(text: str) -> Label:
    """Over a part of a column."""
    label = Label(text)
    label.setFont(font(11, QFont.Weight.DemiBold))
    label.setWordWrap(True)
    return label


def quiet() -> Label:
    """A remark of some lines."""
    label = Label()
    label.setProperty("quiet", True)
    label.setWordWrap(True)
    return label


def rows(name: str, least: int) -> Rows:
    """A list of entries of two lines."""
    result = Rows()
    result.setAccessibleName(name)
    result.setWordWrap(True)
    result.setFixedHeight(px(least))
    result.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return result


def fill(result: Rows, entries: list[str], current: int) -> None:
    """Show entries; one stays chosen."""
    shown = [result.item(i).text() for i in range(result.count())]
    with QSignalBlocker(result):
        if shown != entries:
            result.clear()
            for text in entries:
                result.addItem(QListWidgetItem(text))
        result.setCurrentRow(min(current, len(entries) - 1))


class PlanPanel(QWidget):
    """The wish, the best plans, and the few changes that help most.

    Signals
    -------
    chosen(int) : another plan is looked at
    use_wanted : the plan that is looked at; few_wanted(int) : the first so many changes
    """

    chosen = Signal(int)
    use_wanted = Signal()
    few_wanted = Signal(int)

    def __init__(
        self, a4: Callable[[], float], show_hz: Callable[[float], str], show: Show
    ) -> None:
        super().__init__()
        self._show = show
        self._planned: Planned | None = None
        self.form = WishForm(a4, show_hz)
        self.state = quiet()
        self.list = rows(_("Plans, best first"), 104)
        self.list.currentRowChanged.connect(self.chosen.emit)
        self.list.itemActivated.connect(lambda item: self.use_wanted.emit())
        self.drums = Label()
        self.drums.setWordWrap(True)
        self.helping = quiet()
        self.use = Button(_("Use these targets"), tip=_("Set every drum to the chosen plan"))
        self.use.clicked.connect(self.use_wanted)
        self.few = rows(_("Five minutes: best changes"), 84)
        self.few_use = Button(_("Use the first"), tip=_("Set the first of these drums"))
        self.few_use.clicked.connect(lambda: self.few_wanted.emit(self.few.currentRow() + 1))
        self.few.currentRowChanged.connect(self._say_few)
        self.order = quiet()
        self.order.setText(_("Work order: low drums first, snare drum last."))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 0)
        layout.setSpacing(6)
        layout.addWidget(self.form)
        layout.addWidget(title(_("Plans, best first")))
        for widget in (self.state, self.list, self.drums, self.helping, self.use):
            layout.addWidget(widget)
        layout.addSpacing(6)
        layout.addWidget(title(_("Five minutes: best changes")))
        for widget in (self.few, self.few_use, self.order):
            layout.addWidget(widget)
        layout.addStretch(1)

    def set_state(
        self, planned: Planned | None, current: int, words_if_none: str, turns: list[str]
    ) -> None:
        """Show plans; `turns` what each of the few changes asks for."""
        self._planned = planned
        self.state.setText("" if planned is not None else words_if_none)
        self.state.setVisible(planned is None)
        plans = () if planned is None else planned.plans
        fill(
            self.list,
            [f"{words.plan_title(p, self._show)} · {words.plan_state(p)}" for p in plans],
            current,
        )
        self.use.setEnabled(bool(plans))
        self._show_plan(planned, current)
        fill(
            self.few,
            turns or ([_("No change is worth the time.")] if planned is not None else []),
            0,
        )
        self.few_use.setEnabled(bool(turns))
        self._say_few(self.few.currentRow())

    def _say_few(self, row: int) -> None:
        text = _("Use the first") if row < 1 else _("Use the first {count}").format(count=row + 1)
        self.few_use.setText(text)

    def _show_plan(self, planned: Planned | None, current: int) -> None:
        lines: list[str] = []
        helping = ""
        if planned is not None and 0 <= current < len(planned.plans):
            from kesselton.core.sets.search.reasons import reasons, reasons_words

            plan = planned.plans[current]
            for drum, member in zip(plan.drums, planned.members, strict=True):
                said = "; ".join(reasons_words(reasons(drum, member)))
                lines.append(f"{drum.name} {self._show(drum.note_cents)}: {said}")
            helping = words.helping_words(planned.helping[current], plan)
        self.drums.setText("\n".join(lines))
        self.helping.setText(helping)
        self.helping.setVisible(bool(helping))


class TalkPanel(QWidget):
    """How one drum answers another, what helps, and a tone in the room against wires.

    Signals
    -------
    use_wanted(int) : one of the cures
    tone_edited(float Hz)
    """

    use_wanted = Signal(int)
    tone_edited = Signal(object)

    def __init__(self, a4: Callable[[], float], show_hz: Callable[[float], str]) -> None:
        super().__init__()
        self.title = title(_("Remedies, best first"))
        self.state = Label()
        self.state.setWordWrap(True)
        self.list = rows(_("Remedies, best first"), 190)
        self.list.itemActivated.connect(lambda item: self._use())
        self.use = Button(_("Apply"), tip=_("Apply the remedy chosen above"))
        self.use.clicked.connect(self._use)
        self.list.currentRowChanged.connect(lambda row: self._enable())
        self.tone: Field = pitch_field(
            _("Room tone and wires"), LOWEST_TONE_HZ, HIGHEST_TONE_HZ, a4, show_hz, optional=True
        )
        self.tone.edited.connect(self.tone_edited)
        self.tone_says = quiet()
        self.rough = quiet()
        self._usable: list[bool] = []
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 0)
        layout.setSpacing(6)
        for widget in (self.title, self.state, self.list, self.use):
            layout.addWidget(widget)
        layout.addSpacing(8)
        layout.addWidget(self.tone)
        layout.addWidget(self.tone_says)
        layout.addSpacing(8)
        layout.addWidget(title(_("Roughest pairs now")))
        layout.addWidget(self.rough)
        layout.addStretch(1)

    def _use(self) -> None:
        if self.use.isEnabled():
            self.use_wanted.emit(self.list.currentRow())

    def _enable(self) -> None:
        row = self.list.currentRow()
        self.use.setEnabled(0 <= row < len(self._usable) and self._usable[row])

    def set_state(
        self,
        solved_set: SolvedSet | None,
        pair: tuple[int, int] | None,
        cures: Cures | None,
        ranking: str,
    ) -> None:
        """Show an answer and what helps against it; `ranking` which drums are roughest together."""
        self.rough.setText(ranking)
        item = None
        if solved_set is not None and pair is not None and max(pair) < len(solved_set.members):
            item = solved_set.answers[pair[0]][pair[1]]
        if solved_set is None or pair is None or item is None:
            self.title.setText(_("Remedies, best first"))
            self.state.setText(_("Click a pair in the table to see what helps."))
            self._usable = []
            fill(self.list, [], -1)
        else:
            names = [member.name for member in solved_set.members]
            message = _("{struck} struck: {answering} responds").format(
                struck=names[pair[0]], answering=names[pair[1]]
            )
            self.title.setText(message)
            self.state.setText(words.answer_words(item))
            if cures is None:
                self._usable = []
                fill(self.list, [_("Computing remedies…")], -1)
            else:
                fill(
                    self.list,
                    [
                        f"{words.cure_title(c, names[c.drum])}\n{words.cure_state(c)}"
                        for c in cures.cures
                    ],
                    max(self.list.currentRow(), 0),
                )
                self._usable = [
                    c.changed is not None and not solved_set.members[c.drum].seat.locked
                    for c in cures.cures
                ]
        self._enable()

    def say_tone(self, text: str) -> None:
        """What a tone in the room does to the wires."""
        self.tone_says.setText(text)


class HearPanel(QWidget):
    """Grooves over the whole set, and how loud each drum is at a place.

    Signals
    -------
    play_wanted(bool planned), place_chosen(str), tempo_edited(float)
    """

    play_wanted = Signal(bool)
    place_chosen = Signal(object)
    tempo_edited = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        from kesselton.core.sets.model.kit import PATTERNS

        self.pattern = Choice(_("Groove"))
        self.pattern.set_options([*PATTERNS.items(), ("one", _("One by one"))])
        self.pattern.set_state("medium")
        self.key = "medium"
        self.pattern.chosen.connect(self._on_pattern)
        self.mute = Choice(_("Mute"))
        self.muted = -1
        self.mute.chosen.connect(self._on_mute)
        self.play, self.planned = (
            Button(_("Play (G)")),
            Button(_("Play plan (Shift+G)"), tip=_("The groove with the drums as planned")),
        )
        self.play.clicked.connect(lambda: self.play_wanted.emit(False))
        self.planned.clicked.connect(lambda: self.play_wanted.emit(True))
        self.place = Choice(_("Position"))
        self.place.chosen.connect(self.place_chosen)
        self.levels = LevelPicture()
        self.tempo = number_field(
            _("Tempo of the fastest part"), SLOWEST_BPM, FASTEST_BPM, _("beats/min"), 0
        )
        self.tempo.edited.connect(self.tempo_edited)
        self.at_tempo = Label()
        self.at_tempo.setWordWrap(True)
        self.sure = quiet()
        self.sure.setText(
            _("From distance and the nearer head only; room and direction ignored (± 3 dB).")
        )
        buttons = FlowLayout(spacing=6)
        for button in (self.play, self.planned):
            buttons.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 0)
        layout.setSpacing(6)
        layout.addWidget(self.pattern)
        layout.addWidget(self.mute)
        layout.addLayout(buttons)
        layout.addSpacing(10)
        layout.addWidget(self.tempo)
        layout.addWidget(self.at_tempo)
        layout.addSpacing(10)
        layout.addWidget(title(_("Level by listening position")))
        for widget in (self.place, self.levels, self.sure):
            layout.addWidget(widget)
        layout.addStretch(1)

    def _on_pattern(self, key: str) -> None:
        self.key = key

    def _on_mute(self, number: int) -> None:
        self.muted = number

    def say_tempo(self, solved_set: SolvedSet | None, tempo_bpm: float) -> None:
        """Which drums stay clear in sixteenths at a tempo."""
        self.tempo.set_state(tempo_bpm)
        lines = []
        if solved_set is not None:
            for member, heard in zip(solved_set.members, solved_set.predictions, strict=True):
                last = falls(heard.decay.early_s, tempo_bpm)[-1]
                lines.append(
                    _("{drum}: {note} fall {db:.0f} dB, {words}").format(
                        drum=member.name, note=last.note, db=last.db, words=last.words
                    )
                )
        self.at_tempo.setText("\n".join(lines))

    def set_state(
        self,
        solved_set: SolvedSet | None,
        members: tuple[Member, ...],
        place: str,
        plan: Plan | None,
    ) -> None:
        """Show what can be heard of a set."""
        from kesselton.core.sets.model.kit import PLACES

        names = [(-1, _("none")), *((i, m.name) for i, m in enumerate(members))]
        self.mute.set_options(names)
        if self.muted >= len(members):
            self.muted = -1
        self.mute.set_state(self.muted)
        self.play.setEnabled(solved_set is not None)
        self.planned.setEnabled(plan is not None and solved_set is not None)
        self.place.set_options(list(PLACES.items()))
        self.place.set_state(place)
        lines = []
        if solved_set is not None:
            for heard in solved_set.heard[place]:
                name = solved_set.members[heard.drum].name
                if math.isnan(heard.level_db):
                    lines.append((name, math.nan, _("not applicable")))
                    continue
                message = f"{figures(heard.level_db, '.0f')} dB"
                if not math.isnan(heard.batter_share):
                    message = _("{db:.0f} dB, {share:.0f} % batter").format(
                        db=heard.level_db, share=100.0 * heard.batter_share
                    )
                lines.append((name, heard.level_db, message))
        self.levels.set_state(lines)
