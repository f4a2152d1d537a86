"""Fitting a head: one step at a time, large enough to read at arm's length."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.fitting.fitting import FINISHED, Fitting, timer_state
from kesselton.core.fitting.procedure import Choices, Procedure, Step
from kesselton.core.fitting.tightening_sequence import REASONS
from kesselton.core.instrument.drum import Drum
from kesselton.store.fitting_file import minutes_text
from kesselton.store.holdings import Entry
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import column, fault_label, scroll
from kesselton.ui.parts.fields import Choice
from kesselton.ui.parts.fit_picture import FitPicture
from kesselton.ui.parts.theme import Colours, font

TICK_MS = 1000
ROUNDS = ((0.125, "⅛ turn"), (0.25, "¼ turn"), (0.5, "½ turn"))
TITLE_POINTS, TEXT_POINTS = 22, 14
DONE_KEYS = (Qt.Key.Key_Space, Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Return)
BACK_KEYS = (Qt.Key.Key_Backspace, Qt.Key.Key_PageUp, Qt.Key.Key_Left)


class FitStage(QWidget):
    """Steps left, the step on show, what must lie ready right.

    Signals
    -------
    changed(str label, Fitting or None) : to be kept with the drum
    sheet_wanted(), calendar_wanted()
    """

    changed = Signal(str, object)
    sheet_wanted = Signal()
    calendar_wanted = Signal()

    def __init__(self, now: Callable[[], datetime], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._now = now
        self._entry: Entry | None = None
        self._turns: dict[str, float] = {}
        self._a4, self._flats = 440.0, False
        self._side, self._choices = "batter", Choices()
        self.procedure: Procedure | None = None
        self._asked: tuple[object, ...] = ()
        self._jobs = Latest(self._on_built, self._on_failed, self)
        self._clock = QTimer(self)
        self._clock.setInterval(TICK_MS)
        self._clock.timeout.connect(self._show_timer)
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(16)
        across.addWidget(self._make_list(), 24)
        across.addLayout(self._make_step(), 52)
        across.addWidget(scroll(self._make_ready()), 24)

    # layout

    def _make_list(self) -> QWidget:
        part, box = column("Fit a head")
        self.side = Choice("Which")
        self.side.chosen.connect(self._on_side)
        self.order = Choice("Order of the rods")
        self.order.set_options([("star", "in a star"), ("across", "plainly across")])
        self.reason = QLabel()
        self.reason.setProperty("quiet", True)
        self.reason.setWordWrap(True)
        self.order.chosen.connect(lambda key: self._choose(order=key))
        self.round = Choice("Rounds of")
        self.round.set_options(list(ROUNDS))
        self.round.chosen.connect(lambda turns: self._choose(round_turns=turns))
        self.mounted = QCheckBox("the skin is on its hoop already")
        self.mounted.clicked.connect(lambda on: self._choose(mounted=on))
        self.steps = QListWidget()
        self.steps.setAccessibleName("All steps")
        self.steps.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.steps.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.steps.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.steps.itemClicked.connect(self._on_step_clicked)
        for widget in (self.side, self.order, self.reason, self.round, self.mounted):
            box.addWidget(widget)
        box.addWidget(self.steps, 1)
        self.again = QPushButton("Begin again")
        self.again.clicked.connect(self.begin)
        box.addWidget(self.again)
        return part

    def _make_step(self) -> QVBoxLayout:
        box = QVBoxLayout()
        box.setContentsMargins(0, 10, 0, 10)
        self.count = QLabel()
        self.count.setProperty("quiet", True)
        self.title, self.text = QLabel(), QLabel()
        self.title.setFont(font(TITLE_POINTS, QFont.Weight.Bold))
        self.text.setFont(font(TEXT_POINTS))
        self.caution = QLabel()
        self.caution.setObjectName("caution")
        self.caution.setFont(font(11, QFont.Weight.DemiBold))
        self.question = QLabel()
        self.question.setFont(font(TEXT_POINTS, QFont.Weight.DemiBold))
        self.advice = fault_label()
        self.advice.setFont(font(12))
        for label in (self.title, self.text, self.caution, self.question):
            label.setWordWrap(True)
        self.yes, self.no = QPushButton("Yes (Y)"), QPushButton("No (N)")
        self.yes.clicked.connect(lambda: self.answer("yes"))
        self.no.clicked.connect(lambda: self.answer("no"))
        asked = QHBoxLayout()
        asked.addWidget(self.yes)
        asked.addWidget(self.no)
        asked.addStretch(1)
        self.timer = QLabel()
        self.timer.setFont(font(16, QFont.Weight.DemiBold))
        self.start_timer = QPushButton("Start the time (T)")
        self.start_timer.clicked.connect(self._on_timer)
        timed = QHBoxLayout()
        timed.addWidget(self.timer, 1)
        timed.addWidget(self.start_timer)
        self.picture = FitPicture()
        self.note = QLineEdit()
        self.note.setPlaceholderText("a note or a reading at this step")
        self.note.setAccessibleName("Note at this step")
        self.note.editingFinished.connect(self._on_note)
        self.back, self.skip = QPushButton("Back"), QPushButton("Skip …")
        self.done = QPushButton("Done (Space)")
        self.done.setObjectName("main")
        self.done.setMinimumHeight(56)
        self.done.setFont(font(16, QFont.Weight.Bold))
        self.back.setMinimumHeight(56)
        self.skip.setMinimumHeight(56)
        self.back.clicked.connect(self.go_back)
        self.skip.clicked.connect(self.skip_step)
        self.done.clicked.connect(self.finish_step)
        for button in (self.back, self.skip, self.done, self.yes, self.no, self.start_timer):
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        foot = QHBoxLayout()
        foot.addWidget(self.back, 1)
        foot.addWidget(self.skip, 1)
        foot.addWidget(self.done, 3)
        box.addWidget(self.count)
        box.addWidget(self.title)
        box.addWidget(self.text)
        box.addWidget(self.caution)
        box.addWidget(self.question)
        box.addLayout(asked)
        box.addWidget(self.advice)
        box.addLayout(timed)
        box.addWidget(self.picture, 20)
        box.addStretch(1)
        box.addWidget(self.note)
        box.addLayout(foot)
        return box

    def _make_ready(self) -> QWidget:
        part, box = column("Lay ready")
        self.ready = QLabel()
        self.ready.setWordWrap(True)
        self.log = QLabel()
        self.log.setProperty("quiet", True)
        self.log.setWordWrap(True)
        sheet, dates = QPushButton("Fitting sheet …"), QPushButton("Dates for a calendar …")
        sheet.clicked.connect(self.sheet_wanted)
        dates.clicked.connect(self.calendar_wanted)
        box.addWidget(self.ready)
        box.addWidget(self.log)
        box.addStretch(1)
        box.addWidget(sheet)
        box.addWidget(dates)
        return part

    # state

    @property
    def fitting(self) -> Fitting | None:
        """Progress on the drum on the bench."""
        return self._entry.fitting if self._entry else None

    @property
    def side_now(self) -> str:
        """The head that is fitted."""
        return self._side

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.picture.set_colours(colours)

    def set_state(
        self, entry: Entry | None, a4_hz: float, flats: bool, turns: dict[str, float]
    ) -> None:
        """Show a drum; `turns` past finger tight are what its log has taught, per side."""
        self._entry, self._a4, self._flats, self._turns = entry, a4_hz, flats, turns
        self.setEnabled(entry is not None)
        if entry is None:
            self.procedure = None
            self.picture.set_state(None, None)
            return
        drum = entry.drum
        if entry.fitting is not None:
            self._side, self._choices = entry.fitting.side, entry.fitting.choices
        if self._side not in drum.sides:
            self._side = "batter"
        self.side.set_options([(s, wording.side_word(drum, s)) for s in drum.sides])
        self.side.set_state(self._side)
        self.order.set_state(self._choices.order)
        self.reason.setText(REASONS[self._choices.order])
        self.round.set_state(self._choices.round_turns)
        skin = drum.setting(self._side).head.is_skin
        self.mounted.setVisible(skin)
        self.mounted.setChecked(self._choices.mounted)
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Make the steps anew if drum, side or choices have changed."""
        entry = self._entry
        if entry is None:
            return
        drum, side, choices = entry.drum, self._side, self._choices
        turns = self._turns.get(side)
        asked = (drum, side, choices, turns, self._a4, self._flats)
        if asked == self._asked and self.procedure is not None:
            self._show()
            return
        self._asked = asked
        a4, flats = self._a4, self._flats

        def work() -> Procedure:
            from kesselton.app.fitting import procedure

            return procedure(drum, side, choices, turns, a4, flats)

        self._jobs.request(asked, work)

    def _on_built(self, key: object, made: Procedure) -> None:
        if key == self._asked:
            self.procedure = made
            self._show()

    def _on_failed(self, key: object, error: KesseltonError) -> None:
        if key == self._asked:
            self.procedure = None
            self.title.setText("This head cannot be fitted as it is planned")
            self.text.setText(f"{error.message} {error.remedy}")

    def _progress(self) -> Fitting:
        """Progress as it stands, a fresh one if none has begun for this head."""
        fitting = self.fitting
        if fitting is not None and fitting.side == self._side:
            return fitting
        first = self.procedure.steps[0].key if self.procedure else ""
        return Fitting(
            self._side, self._choices, first, started=self._now().isoformat(timespec="seconds")
        )

    def _step(self) -> Step | None:
        if self.procedure is None:
            return None
        return self.procedure.steps[self.procedure.index(self._progress().current)]

    def _show(self) -> None:
        made, step = self.procedure, self._step()
        if made is None or step is None or self._entry is None:
            return
        progress = self._progress()
        self._fill_list(made, progress)
        number = made.index(step.key) + 1
        self.count.setText(f"step {number} of {len(made.steps)}")
        self.title.setText(step.title)
        self.text.setText(step.text)
        self.caution.setText("\n".join(f"⚠ {text}" for text in step.cautions))
        self.caution.setVisible(bool(step.cautions))
        self.question.setText(step.ask.question if step.ask else "")
        for widget in (self.question, self.yes, self.no):
            widget.setVisible(step.ask is not None)
        self.advice.hide()
        self.note.setText(progress.note(step.key))
        self.picture.set_state(self._entry.drum, step)
        self.picture.setVisible(bool(step.picture))
        self.back.setEnabled(number > 1)
        self._show_ready(made, progress)
        self._show_timer()
        if progress.outcome == FINISHED:
            self.title.setText("Fitted")
            self.text.setText("Every step is done or skipped. Look again after a day.")
        elif progress.outcome:
            self.title.setText("Stopped")
            self.text.setText(step.ask.otherwise if step.ask else "")
        self.done.setEnabled(not progress.outcome)

    def _fill_list(self, made: Procedure, progress: Fitting) -> None:
        self.steps.clear()
        skipped = dict(progress.skipped)
        for number, step in enumerate(made.steps, start=1):
            mark = "✓" if step.key in progress.done else "–" if step.key in skipped else " "
            item = QListWidgetItem(f"{mark} {number}  {step.title}")
            item.setToolTip(step.title)
            item.setData(Qt.ItemDataRole.UserRole, step.key)
            self.steps.addItem(item)
            if step.key == progress.current:
                self.steps.setCurrentItem(item)

    def _show_ready(self, made: Procedure, progress: Fitting) -> None:
        parts = []
        for name, things in (("Tools", made.tools), ("Materials", made.materials)):
            if things:
                parts.append(f"<b>{name}</b><br>" + "<br>".join(things))
        self.ready.setText("<br><br>".join(parts))
        titles = {step.key: step.title for step in made.steps}
        lines = [f"Begun {progress.started.replace('T', ' ')}"] if progress.done else []
        lines += [f"Skipped “{titles.get(k, k)}”: {why}" for k, why in progress.skipped]
        lines += [f"{titles.get(k, k)}: {text}" for k, text in progress.notes]
        self.log.setText("\n".join(lines))

    def _show_timer(self) -> None:
        step = self._step()
        timed = step is not None and step.timer_minutes > 0.0
        self.timer.setVisible(timed)
        self.start_timer.setVisible(timed)
        if step is None or not timed:
            self._clock.stop()
            return
        state = timer_state(self._progress(), step.key, step.timer_minutes, self._now())
        if not state.running:
            self.timer.setText(f"{step.timer_label}: {minutes_text(step.timer_minutes)}")
        elif state.left_minutes > 0.0:
            left = state.left_minutes
            shown = minutes_text(left) if left >= 2.0 else f"{60.0 * left:.0f} s"
            self.timer.setText(f"{step.timer_label}: {shown} left")
        else:
            self.timer.setText(
                f"{step.timer_label}: over since {minutes_text(-state.left_minutes)}"
            )
        if state.odd:
            self.timer.setText(f"{step.timer_label}: {state.odd}")
        if state.running and self.isVisible() and not self._clock.isActive():
            self._clock.start()

    # intents

    def _choose(self, **values: object) -> None:
        self._choices = replace(self._choices, **values)  # type: ignore[arg-type]
        if self.fitting is not None and self.fitting.side == self._side:
            self.changed.emit("fitting", replace(self.fitting, choices=self._choices))
        else:
            self.refresh()

    def _on_side(self, side: str) -> None:
        if side == self._side:
            return
        self._side = side
        self.changed.emit("fit the other head", None)

    def begin(self) -> None:
        """Begin this head from the first step; undo brings the progress back."""
        self.changed.emit("begin fitting again", None)

    def _keep(self, label: str, fitting: Fitting) -> None:
        self.changed.emit(label, fitting)

    def finish_step(self) -> None:
        """The step is done: the next one."""
        step = self._step()
        progress = self._progress()
        if self.procedure is not None and step is not None and not progress.outcome:
            self._keep(f"done: {step.title}", progress.finish_step(self.procedure, self._now()))

    def go_back(self) -> None:
        """The step before."""
        if self.procedure is not None:
            self._keep("step back", self._progress().go_back(self.procedure))

    def skip_step(self) -> None:
        """Leave the step out, and say why."""
        step = self._step()
        if self.procedure is None or step is None:
            return
        reason = self.ask_reason(step)
        if reason is None:
            return
        try:
            changed = self._progress().skip_step(self.procedure, reason, self._now())
        except KesseltonError as error:
            self.advice.setText(f"{error.message} {error.remedy}")
            self.advice.show()
            return
        self._keep(f"skip: {step.title}", changed)

    def ask_reason(self, step: Step) -> str | None:
        """Why a step is skipped; tests answer in the technician's place."""
        text, ok = QInputDialog.getText(self, "Skip", f"Why is “{step.title}” left out?")
        return text if ok else None

    def answer(self, said: str) -> None:
        """Answer the question of the step."""
        step = self._step()
        if step is None or step.ask is None or self.procedure is None:
            return
        if said == step.ask.good:
            self.finish_step()
        elif step.ask.ends:
            self._keep("stopped", self._progress().stop(self._now()))
        else:
            self.advice.setText(step.ask.otherwise)
            self.advice.show()

    def _on_timer(self) -> None:
        step = self._step()
        if step is not None and step.timer_minutes > 0.0:
            self._keep("timer", self._progress().with_timer(step.key, self._now()))

    def _on_note(self) -> None:
        step = self._step()
        if step is not None and self.note.text() != self._progress().note(step.key):
            self._keep("note", self._progress().noted(step.key, self.note.text()))

    def _on_step_clicked(self, item: QListWidgetItem) -> None:
        self._keep("another step", self._progress().go_to(item.data(Qt.ItemDataRole.UserRole)))
        self.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        step = self._step()
        if key in DONE_KEYS:
            if step is None or step.ask is None:
                self.finish_step()
            else:
                self.answer(step.ask.good)
        elif key in BACK_KEYS:
            self.go_back()
        elif key == Qt.Key.Key_Y:
            self.answer("yes")
        elif key == Qt.Key.Key_N:
            self.answer("no")
        elif key == Qt.Key.Key_T:
            self._on_timer()
        else:
            super().keyPressEvent(event)

    def stop(self) -> None:
        """End the thread."""
        self._jobs.stop()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()


def fitted_at(fitting: Fitting | None, now: datetime) -> datetime:
    """When the head was fitted, or now if it is not yet."""
    if fitting is not None and fitting.ended:
        return datetime.fromisoformat(fitting.ended)
    return now


def title_of(drum: Drum, side: str) -> str:
    """What the fitting sheet is called."""
    return f"{drum.name}: fit the {wording.side_word(drum, side).lower()}"
