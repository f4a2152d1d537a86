"""The stage Practice: one question, one sound, few keys, the picture only after the answer."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QFont, QKeyEvent, QWheelEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.practice.practice_bench import CLEAR_BY_EAR, SING, PracticeBench
from kesselton.app.practice.voice_listener import VoiceEar
from kesselton.core.errors import KesseltonError
from kesselton.core.language import N_, _, figures
from kesselton.core.practice.pupil import RIGHT, Pupil
from kesselton.core.practice.question import UNSURE_KEY
from kesselton.ui.parts.widgets.columns import as_page, fault_label, scroll
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import AddLine, Button, Rows, Slider, Tick
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font, px
from kesselton.ui.practice.after_picture import LinesPicture, TracePicture, WeeksPicture, plain
from kesselton.ui.practice.ear_panel import EarPanel
from kesselton.ui.practice.eye_picture import EyePicture
from kesselton.ui.practice.sing_panel import SingPanel

if TYPE_CHECKING:
    from kesselton.core.practice.exercises import Exercise
    from kesselton.core.practice.question import Question

OUTCOMES = {
    "right": N_("Correct."),
    "wrong": N_("No: {right}."),
    "unsure": N_("It was {right}. On a drum, turn a little and hear whether the two get closer."),
}

LIST_WIDTH = 268
MOST_ANSWERS, MOST_HELPS = 12, 3
FULL_STEPS = 20
QUESTION, HANDS, VOICE = range(3)
KEY, TITLE = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1


class PracticePage(QWidget):
    """Left the exercises, right the one in hand.

    Signals
    -------
    said(str) : something was done that can be taken back
    told(KesseltonError) : something could not be done
    """

    notice = Signal(str)
    told = Signal(object)

    def __init__(
        self,
        practice: PracticeBench,
        a4: Callable[[], float],
        flats: Callable[[], bool],
        ask_save: Callable[[str, str, str], Path | None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        as_page(self, _("Practice"))
        self.practice, self._ask_save = practice, ask_save
        self.voice = VoiceEar(practice, self)
        self._filled, self._way = False, QUESTION
        self._listed: Pupil | None = None  # whose standings are in the list
        self.lines, self.trace, self.eye = LinesPicture(), TracePicture(), EyePicture()
        self.weeks, self.loud_words = (
            WeeksPicture(),
            Label(
                _(
                    "“Test” plays a stroke: set a comfortable volume. Nothing "
                    "after it is louder. Long or loud listening harms hearing: "
                    "keep it low, and rest."
                )
            ),
        )
        self.ear = EarPanel(practice)
        self.sing = SingPanel(self.voice, practice, a4, flats)
        self._lay_out()
        self._connect()
        self._minute = QTimer(self, interval=1000)
        self._minute.timeout.connect(self._show_time)

    def _lay_out(self) -> None:
        self.who = Choice(_("Trainee"))
        self._make_list()
        left = self._left_column()
        self._make_words()
        row = self._answer_row()
        self.foot = QWidget()
        foot = QHBoxLayout(self.foot)
        foot.setContentsMargins(0, 0, 0, 0)
        for widget in (self.go, self.again, *self.helps, self.stop_here):
            foot.addWidget(widget, 2 if widget is self.go else 0)
        self.ask = QWidget()
        box = QVBoxLayout(self.ask)
        box.setContentsMargins(0, 0, 0, 0)
        self.loud_words.setWordWrap(True)
        box.addWidget(self.loud_words)
        box.addWidget(self.weeks, 2)
        box.addWidget(self.asks)
        box.addWidget(self.eye, 3)
        box.addLayout(row)
        box.addWidget(self.outcome)
        box.addWidget(self.truth)
        box.addWidget(self.lines, 2)
        box.addWidget(self.trace, 1)
        box.addStretch(1)
        self.pages = QWidget()  # no stack: it is as high as its highest page
        pages = QVBoxLayout(self.pages)
        pages.setContentsMargins(0, 0, 0, 0)
        for page in (self.ask, self.ear, self.sing):
            pages.addWidget(page)
        self.fault = fault_label()
        self.caution = Label(
            _("Hearing: keep the volume low, rest after ten minutes; ringing ears are a warning.")
        )
        self.caution.setObjectName("caution")
        self.caution.setWordWrap(True)
        right_part = QWidget()
        right = QVBoxLayout(right_part)
        right.setContentsMargins(0, 0, 0, 0)
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        top.addWidget(self.today)
        right.addLayout(top)
        right.addWidget(self.next_up, 0, Qt.AlignmentFlag.AlignLeft)
        right.addWidget(self.listen)
        right.addWidget(self.count)
        right.addWidget(self.fault)
        right.addWidget(self.pages, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 8, 10, 8)
        layout.setSpacing(14)
        layout.addLayout(left)
        whole = QVBoxLayout()
        whole.addWidget(scroll(right_part), 1)
        whole.addWidget(self.foot)  # always in sight, however much there is to be seen
        whole.addWidget(self.caution)
        layout.addLayout(whole, 1)

    def _answer_row(self) -> FlowLayout:
        row = FlowLayout(spacing=8)
        for number in range(MOST_ANSWERS):
            button = Button()
            button.setFont(font(14))
            button.setMinimumHeight(px(44))
            button.clicked.connect(partial(self.answer_number, number + 1))
            self.answers.append(button)
            row.addWidget(button)
        self.unsure = Button(_("cannot tell (0)"))
        self.unsure.setFont(font(14))
        self.unsure.setMinimumHeight(px(44))
        row.addWidget(self.unsure)
        return row

    def _left_column(self) -> QVBoxLayout:
        who = QHBoxLayout()
        who.addWidget(self.who, 1)
        left = QVBoxLayout()
        left.addLayout(who)
        left.addWidget(self.add_name)
        buttons = QHBoxLayout()
        buttons.addWidget(self.remove)
        buttons.addWidget(self.export)
        left.addLayout(buttons)
        left.addWidget(self.list, 1)
        loud = QHBoxLayout()
        loud.addWidget(Label(_("Volume")))
        loud.addWidget(self.loudness, 1)
        loud.addWidget(self.try_it)
        left.addLayout(loud)
        return left

    def _make_list(self) -> None:
        self.add_name = AddLine()
        self.add_name.setPlaceholderText(_("New name, Enter"))
        self.add_name.setAccessibleName(_("New name, Enter"))
        self.remove, self.export = (
            Button(_("Remove"), tip=_("This person and all their weeks")),
            Button(_("Export…"), tip=_("The weeks of this person as a file")),
        )
        self.next_up = Button()
        self.next_up.setObjectName("chip")
        self.list = Rows()
        self.list.setAccessibleName(_("Exercises, in order of difficulty"))
        self.list.setFixedWidth(px(LIST_WIDTH))
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.loudness = Slider()
        self.loudness.setRange(1, FULL_STEPS)
        self.loudness.setValue(FULL_STEPS // 2)
        self.loudness.setAccessibleName(_("Volume"))
        self.loudness.setFixedWidth(px(120))
        self.try_it = Button(_("Test"), tip=_("A tone as loud as the questions"))
        self.try_it.setToolTip(
            _(
                "“Test” plays a stroke: set a comfortable volume. Nothing "
                "after it is louder. Long or loud listening harms hearing: "
                "keep it low, and rest."
            )
        )

    def _make_words(self) -> None:
        self.title, self.listen, self.asks = Label(), Label(), Label()
        self.title.setFont(font(18, QFont.Weight.Bold))
        self.listen.setFont(font(12))
        self.listen.setProperty("quiet", True)
        self.asks.setFont(font(17, QFont.Weight.DemiBold))
        self.outcome = Label()
        self.outcome.setFont(font(15, QFont.Weight.DemiBold))
        self.truth, self.count, self.today = Label(), Label(), Label()
        self.truth.setFont(font(13))
        for label in (self.listen, self.asks, self.outcome, self.truth):
            label.setWordWrap(True)
        self.count.setProperty("quiet", True)
        self.today.setProperty("quiet", True)
        self.go = Button(_("Start (Space)"))
        self.go.setObjectName("main")
        self.go.setMinimumHeight(px(48))
        self.again, self.stop_here = Button(_("Play again (A)")), Button(_("Stop (Esc)"))
        self.helps = [Tick() for _unused in range(MOST_HELPS)]
        self.answers: list[Button] = []

    def _connect(self) -> None:
        practice = self.practice
        practice.changed.connect(self._on_changed)
        practice.refused.connect(self._on_refused)
        self.voice.refused.connect(self._on_refused)
        self.who.chosen.connect(practice.choose_pupil)
        self.add_name.returnPressed.connect(self._on_added)
        self.remove.clicked.connect(self._on_remove)
        self.export.clicked.connect(self._on_export)
        self.next_up.clicked.connect(self._on_next_up)
        self.list.itemClicked.connect(self._on_row)
        self.list.itemActivated.connect(self._on_row)
        self.loudness.valueChanged.connect(self._on_loudness)
        self.try_it.clicked.connect(self.try_loudness)
        self.go.clicked.connect(self.go_on)
        self.again.clicked.connect(self.play_again)
        self.stop_here.clicked.connect(self.stop_session)
        self.unsure.clicked.connect(lambda: self.answer_number(0))
        for tick in self.helps:
            tick.toggled.connect(self._on_help)

    # state

    def set_state(self) -> None:
        """Bring everything up to date."""
        self.refresh()

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for picture in (self.lines, self.trace, self.weeks, self.eye, self.ear.picture):
            picture.set_colours(colours)

    def stop(self) -> None:
        """Keep what was answered, and end every thread."""
        self.voice.stop()
        self.practice.stop()

    @safe_override
    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._minute.start()

    @safe_override
    def hideEvent(self, event: object) -> None:
        super().hideEvent(event)  # type: ignore[arg-type]
        self._minute.stop()

    @property
    def exercise(self) -> Exercise | None:
        """The one in hand; None for those of the hands and the voice."""
        from kesselton.core.practice.exercises import EXERCISES

        return EXERCISES.get(self.practice.exercise)

    def _on_changed(self) -> None:
        if self.isVisible():
            self.refresh()

    def fill(self) -> None:
        """The list of exercises, once; apart from the rest: together they would be felt."""
        if self._filled:
            return
        from kesselton.core.practice.exercises import EXERCISES, GROUPS

        self._filled = True
        group = 0
        for exercise in EXERCISES.values():
            if exercise.group != group:
                group = exercise.group
                self._heading(_("{number}. {title}").format(number=group, title=GROUPS[group]))
            self._row(exercise.key, exercise.title)
            if exercise.key == "name":
                self._row(SING, _("Sing the note"))
        self._heading(_("With your hands"))
        self._row(CLEAR_BY_EAR, _("Clear a head by ear"))

    def _heading(self, text: str) -> None:
        item = QListWidgetItem(text, self.list)
        item.setFlags(Qt.ItemFlag.NoItemFlags)
        item.setFont(font(9.5, QFont.Weight.DemiBold))

    def _row(self, key: str, title: str) -> None:
        item = QListWidgetItem(f"    {title}", self.list)
        item.setData(KEY, key)
        item.setData(TITLE, title)

    def refresh(self) -> None:
        """Show what holds now."""
        self.fill()
        practice, pupil = self.practice, self.practice.pupil
        self.who.set_options([(pupil.id, pupil.name) for pupil in practice.workshop.pupils])
        self.who.set_state(0 if pupil is None else pupil.id)
        self.who.setVisible(pupil is not None)
        self.remove.setEnabled(pupil is not None)
        self.export.setEnabled(pupil is not None)
        self._show_rows()
        self._show_next()
        self._show_time()
        exercise = self.exercise
        hands, voice = practice.exercise == CLEAR_BY_EAR, practice.exercise == SING
        self._turn_to(HANDS if hands else VOICE if voice else QUESTION)
        if pupil is None:
            self.title.setText(_("Practice"))
            self.listen.setText(
                _(
                    "A few minutes a day train the ear. Add your name: your "
                    "results are shown to no one else."
                )
            )
        elif exercise is not None:
            self.title.setText(exercise.title)
            words = _("Look: {listen}") if exercise.group == 10 else _("Listen: {listen}")
            self.listen.setText(words.format(listen=exercise.listen))
        else:
            self.title.setText(_("Clear a head by ear") if hands else _("Sing the note"))
            self.listen.setText(
                _(
                    "A head with hidden faults. Tap a rod, turn it, and hear "
                    "whether it gets closer to the others. The gauge is shown only "
                    "at the end."
                )
                if hands
                else _(
                    "A tone is played. Sing or hum it, hold it for a second, and "
                    "see how close you are."
                )
            )
        self.pages.setVisible(pupil is not None)
        self.foot.setVisible(pupil is not None and exercise is not None)
        if hands:
            self.count.hide()
            self.ear.refresh()
        elif voice:
            self.count.hide()
            self.sing.refresh()
        elif exercise is not None:
            self._show_question(exercise)

    def _turn_to(self, number: int) -> None:
        """Show one way of practising: a question, the hands, the voice."""
        self._way = number
        for place, page in enumerate((self.ask, self.ear, self.sing)):
            page.setVisible(place == number)

    def _show_rows(self) -> None:
        pupil = self.practice.pupil
        if pupil is not self._listed:
            self._listed = pupil
            self._write_rows(pupil)
        for place in range(self.list.count()):
            item = self.list.item(place)
            if item.data(KEY) == self.practice.exercise and self.list.currentItem() is not item:
                self.list.setCurrentItem(item)

    def _write_rows(self, pupil: Pupil | None) -> None:
        """Every exercise with where the pupil stands in it; it looks through all sessions."""
        from kesselton.core.practice.exercises import EXERCISES
        from kesselton.core.practice.progress import standing

        now = datetime.now()
        for place in range(self.list.count()):
            item = self.list.item(place)
            key = item.data(KEY)
            if key is None:
                continue
            title, text = item.data(TITLE), ""
            at = standing(pupil, key, now) if pupil is not None else None
            if at is not None and at.threshold is not None:
                unit = EXERCISES[key].unit if key in EXERCISES else ""
                text = _("{threshold} {unit}").format(
                    threshold=plain(at.threshold), unit=unit.split(" ")[0]
                )
            elif at is not None and at.trials:
                text = _("{share} % correct").format(share=figures(100.0 * at.share, ".0f"))
            item.setText(f"    {title}" + (f"   {text}" if text else ""))

    def _show_next(self) -> None:
        from kesselton.core.practice.exercises import EXERCISES

        result = None if self.practice.running else self.practice.next_up()
        self.next_up.setVisible(result is not None)
        if result is not None:
            key, why = result
            self.next_up.setText(
                _("Next: {title} ({why})").format(title=EXERCISES[key].title, why=why)
            )

    def _show_time(self) -> None:
        from kesselton.core.practice.progress import DAY_UNIT_S, today_s

        pupil = self.practice.pupil
        if pupil is None:
            self.today.setText("")
            return
        gone = today_s(pupil, datetime.now()) + self.practice.seconds
        if gone >= DAY_UNIT_S:
            self.today.setText(_("Five minutes done: enough for you and your ears. More tomorrow."))
        else:
            self.today.setText(
                _("{minutes} of 5 minutes today").format(minutes=figures(gone / 60.0, ".1f"))
            )

    def _show_question(self, exercise: Exercise) -> None:
        practice, question, message = self.practice, self.practice.question, self.practice.told
        hit = question is not None
        waiting = practice.running and not hit
        self.asks.setText(
            question.asks if question else _("Preparing next question…") if waiting else ""
        )
        self.asks.setVisible(practice.running)
        self.loud_words.setVisible(not practice.running and exercise.group != 10)
        done = practice.pupil.of(exercise.key) if practice.pupil else ()
        same = [
            x
            for x in done
            if x.trials and (x.threshold is not None) == (exercise.scale is not None)
        ]
        self.weeks.set_state(() if practice.running else same, exercise.unit)
        self.eye.set_state(question.seen if question else None)
        given = question.answers if question else ()
        for number, button in enumerate(self.answers):
            shown = number < len(given)
            button.setVisible(shown)
            if shown:
                label = given[number][1]
                button.setText(_("{label} ({number})").format(label=label, number=number + 1))
                button.setEnabled(message is None)
        self.unsure.setVisible(hit)
        self.unsure.setEnabled(message is None)
        self.again.setVisible(hit and bool(question and question.sounds))
        self.stop_here.setVisible(practice.running)
        self.go.setVisible(not practice.running or message is not None)
        self.go.setText(_("Next (Space)") if message is not None else _("Start (Space)"))
        self._show_helps(exercise)
        self.outcome.setVisible(message is not None)
        self.truth.setVisible(message is not None)
        if message is not None:
            right = dict(message.question.answers)[message.question.right]
            self.outcome.setText(_(OUTCOMES[message.outcome]).format(right=right))
            self.truth.setText(message.question.truth)
        seen = question is not None and (message is not None or "lines" in practice.helps)
        self.lines.set_state(question.lines if question is not None and seen else ())
        self._show_count(exercise, question)

    def _show_helps(self, exercise: Exercise) -> None:
        """What can be had to make it easier, and be taken away again."""
        from kesselton.core.practice.exercises import HELPS

        for number, tick in enumerate(self.helps):
            tick.setVisible(number < len(exercise.helps))
            if number < len(exercise.helps):
                tick.setText(_("Hint: {what}").format(what=HELPS[exercise.helps[number]]))

    def _show_count(self, exercise: Exercise, question: Question | None) -> None:
        practice = self.practice
        estimate, trials = practice.estimate, practice.trials
        parts = [_("question {count}").format(count=len(trials) + (practice.told is None))]
        if exercise.scale is None:
            right = sum(trial.outcome == RIGHT for trial in trials)
            parts.append(_("{right} of {count} correct").format(right=right, count=len(trials)))
        elif estimate is not None:
            parts.append(
                _("so far {threshold} {unit} ({low} to {high})").format(
                    threshold=plain(estimate.threshold), unit=exercise.unit,
                    low=plain(estimate.low), high=plain(estimate.high),
                )
            )  # fmt: skip
        self.count.setText("; ".join(parts))
        self.count.setVisible(practice.running)
        between = None if estimate is None else (estimate.low, estimate.high)
        self.trace.set_state(trials, between, exercise.unit)
        self.trace.setVisible(bool(trials) and exercise.scale is not None)

    # what is done

    def go_on(self) -> None:
        """Begin, or the next question."""
        self.fault.hide()
        if self.practice.pupil is None:
            self.add_name.setFocus()
        elif self.practice.told is not None:
            self.practice.go_on()
        elif not self.practice.running:
            self.practice.begin()

    def answer_number(self, number: int) -> None:
        """Answer by number; 0 is “cannot tell”."""
        question = self.practice.question
        if question is None or self.practice.told is not None:
            return
        if number == 0:
            self.practice.answer(UNSURE_KEY)
        elif number <= len(question.answers):
            self.practice.answer(question.answers[number - 1][0])

    def play_again(self) -> None:
        """The same sounds once more."""
        self.practice.play()

    def stop_session(self) -> None:
        """Keep what was answered."""
        self.practice.finish()

    def try_loudness(self) -> None:
        """A stroke as loud as the loudest that follows."""
        self.practice.try_loudness()

    def _on_loudness(self, steps: int) -> None:
        louder = steps / FULL_STEPS > self.practice.level_share
        if louder and self.practice.running:
            self.loudness.setValue(round(self.practice.level_share * FULL_STEPS))
            self.fault.setText(
                _("Louder than your first setting: use the lowest volume you hear clearly.")
            )
            self.fault.show()
            return
        self.practice.level_share = steps / FULL_STEPS

    def _on_help(self, on: bool) -> None:
        exercise = self.exercise
        given = zip(exercise.helps if exercise is not None else (), self.helps, strict=False)
        self.practice.helps = frozenset(key for key, tick in given if tick.isChecked())
        self.refresh()

    def _on_row(self, item: QListWidgetItem) -> None:
        key = item.data(KEY)
        if key is not None:
            self.fault.hide()
            for tick in self.helps:
                tick.setChecked(False)
            self.practice.choose(key)
            self.setFocus()

    def _on_next_up(self) -> None:
        result = self.practice.next_up()
        if result is not None:
            self.practice.choose(result[0])
            self.practice.begin()
            self.setFocus()

    def _on_added(self) -> None:
        name = self.add_name.text().strip()
        if name:
            try:
                self.practice.add_pupil(name)
            except KesseltonError as error:
                self._on_refused(error)
                return
            self.add_name.show_text("")
            self.notice.emit(_("{name} added.").format(name=name))
            self.setFocus()

    def _on_remove(self) -> None:
        pupil = self.practice.pupil
        if pupil is not None:
            self.practice.remove_pupil()
            self.notice.emit(_("{name} and all results removed.").format(name=pupil.name))

    def _on_export(self) -> None:
        pupil = self.practice.pupil
        if pupil is None:
            return
        name = _("{name} practice.csv").format(name=pupil.name)
        path = self._ask_save(_("Save practice results"), name, _("CSV (*.csv);;JSON (*.json)"))
        if path is not None:
            try:
                self.practice.export(path)
            except KesseltonError as error:
                self.told.emit(error)

    def _on_refused(self, error: KesseltonError) -> None:
        self.fault.setText(f"{error.message} {error.remedy}")
        self.fault.show()

    # keys

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A key held down means what it means once."""
        if self._way == HANDS and self.ear.took(event):
            return
        if self._way == VOICE and self.sing.took(event):
            return
        key, text = Qt.Key(event.key()), event.text()
        acts: dict[Qt.Key, Callable[[], None]] = {
            Qt.Key.Key_Space: self.go_on,
            Qt.Key.Key_Return: self.go_on,
            Qt.Key.Key_Enter: self.go_on,
            Qt.Key.Key_PageDown: self.go_on,
            Qt.Key.Key_A: self.play_again,
            Qt.Key.Key_Escape: self.stop_session,
        }
        act = acts.get(key)
        if event.modifiers() & ~(
            Qt.KeyboardModifier.KeypadModifier | Qt.KeyboardModifier.ShiftModifier
        ):
            super().keyPressEvent(event)
        elif event.isAutoRepeat():
            return
        elif text.isdecimal() and self._way == QUESTION:
            self.answer_number(int(text))
        elif act is not None:
            act()
        else:
            super().keyPressEvent(event)

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel is the key on the rod in hand."""
        if self._way == HANDS and self.hasFocus():
            self.ear.turn_by_wheel(event.angleDelta().y())
            event.accept()
        else:
            super().wheelEvent(event)
