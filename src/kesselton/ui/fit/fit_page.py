"""Fitting a head: one step at a time, large enough to read at arm's length."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QInputDialog, QListWidgetItem, QWidget

from kesselton.app.host.jobs import Answer
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.fitting import FINISHED, Fitting, timer_state
from kesselton.core.fit.procedure import Choices, Procedure, Step
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.store.exports.fitting_file import minutes_text
from kesselton.store.workshop.holdings import Entry
from kesselton.ui.fit.fit_face import FitFace
from kesselton.ui.parts.widgets.columns import as_page
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.words import wording

TICK_MS = 1000
DONE_KEYS = (Qt.Key.Key_Space, Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Return)
BACK_KEYS = (Qt.Key.Key_Backspace, Qt.Key.Key_PageUp, Qt.Key.Key_Left)


class FitPage(FitFace):
    """Joins the steps to the drum they are of.

    Signals
    -------
    changed(str label, tuple of Fitting) : to be kept with the drum
    sheet_wanted(), calendar_wanted()
    clear_wanted(str side) : the head is fitted, and cleared next
    """

    changed = Signal(str, object)
    sheet_wanted = Signal()
    calendar_wanted = Signal()
    clear_wanted = Signal(str)

    def __init__(self, now: Callable[[], datetime], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        as_page(self, _("Fit a head"))
        self._now = now
        self._entry: Entry | None = None
        self._turns: dict[str, float] | None = None
        self._a4, self._flats = 440.0, False
        self._side, self._choices = "batter", Choices()
        self._about: tuple[object, ...] = ()  # what the steps were asked for, but for the turns
        self._warned = ""  # key of the step whose time did not run
        self._answer: Answer[Procedure] = Answer(self._show, self._on_failed, self)
        self._clock = QTimer(self)
        self._clock.setInterval(TICK_MS)
        self._clock.timeout.connect(self._show_timer)
        self._connect()

    def _connect(self) -> None:
        self.side.chosen.connect(self._on_side)
        self.order.chosen.connect(lambda key: self._choose(order=key))
        self.round.chosen.connect(lambda turns: self._choose(round_turns=turns))
        self.mounted.clicked.connect(lambda on: self._choose(mounted=on))
        self.quick.clicked.connect(lambda on: self._choose(quick=on))
        self.steps.itemClicked.connect(self._on_step_clicked)
        self.again.clicked.connect(self.begin)
        self.yes.clicked.connect(lambda: self.answer("yes"))
        self.no.clicked.connect(lambda: self.answer("no"))
        self.start_timer.clicked.connect(self._on_timer)
        self.note.editingFinished.connect(self._on_note)
        self.note.returnPressed.connect(self.setFocus)
        self.note.escaped.connect(self._on_note_dropped)
        self.back.clicked.connect(self.go_back)
        self.skip.clicked.connect(self.skip_step)
        self.done.clicked.connect(self.finish_step)
        self.sheet.clicked.connect(self.sheet_wanted)
        self.dates.clicked.connect(self.calendar_wanted)

    # state

    @property
    def fitting(self) -> Fitting | None:
        """Progress on the head that is chosen; None if it was not begun."""
        return self._entry.fitting(self._side) if self._entry else None

    @property
    def procedure(self) -> Procedure | None:
        """The steps of the head that is chosen, None while they are made."""
        return self._answer.settled

    @property
    def side_now(self) -> str:
        """The head that is fitted."""
        return self._side

    def set_state(
        self, entry: Entry | None, a4_hz: float, flats: bool, turns: dict[str, float] | None
    ) -> None:
        """Show a drum; `turns` past finger tight are what its log has taught, per side; None while
        that is worked out."""
        if entry is None or self._entry is None or entry.id != self._entry.id:
            self._side, self._choices = "batter", Choices()
            if entry is not None and entry.fittings:
                self._side = entry.fittings[-1].side  # the head that was last in hand
        self._entry, self._a4, self._flats, self._turns = entry, a4_hz, flats, turns
        self.setEnabled(entry is not None)
        if entry is None:
            self._answer.forget()
            self.picture.set_state(None, None)
            return
        if self._side not in entry.drum.sides:
            self._side = "batter"
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Make the steps anew if drum, side or choices have changed. What was begun goes on with
        the turns it was begun with: no step comes or goes under the technician’s hands."""
        entry = self._entry
        if entry is None:
            return
        drum, side, progress = entry.drum, self._side, self.fitting
        if progress is not None:
            self._choices = progress.choices
        choices = self._choices
        self.show_choices(drum, side, choices)
        turns = progress.turns if progress is not None else None
        if turns is None:
            if self._turns is None:
                self._answer.forget()
                self.show_waiting()
                return
            turns = self._turns.get(side)
        a4, flats = self._a4, self._flats

        def work() -> Procedure:
            from kesselton.app.bench.fitting import procedure

            return procedure(drum, side, choices, turns, a4, flats)

        result, about = self._answer.settled, (drum, choices, a4, flats)
        if result is None or about != self._about or result.turns != turns:  # else these very steps
            self._about = about
            self._answer.ask((entry.id, side), (about, turns), work)
        if self._answer.settled is None:
            self.show_waiting()
        else:
            self._show()

    def _on_failed(self, error: KesseltonError) -> None:
        self.show_fault(error.message, error.remedy)

    def _progress(self) -> Fitting:
        """Progress as it stands, a fresh one if none has begun for this head."""
        fitting, procedure = self.fitting, self.procedure
        if fitting is not None:
            return fitting
        started = self._now().isoformat(timespec="seconds")
        if procedure is None:
            return Fitting(self._side, self._choices, started=started)
        first = procedure.steps[0].key
        return Fitting(self._side, self._choices, first, started=started, turns=procedure.turns)

    def _step(self) -> Step | None:
        if self.procedure is None:
            return None
        return self.procedure.steps[self.procedure.index(self._progress().current)]

    def _show(self) -> None:
        procedure, step = self.procedure, self._step()
        if procedure is None or step is None or self._entry is None:
            return
        self.show_step(self._entry.drum, procedure, step, self._progress())
        self._show_timer()

    def _show_timer(self) -> None:
        step, state = self._step(), None
        if step is not None and step.timer_minutes > 0.0:
            state = timer_state(self._progress(), step.key, step.timer_minutes, self._now())
        self.show_timer(step, state)
        if state is None:
            self._clock.stop()
        elif state.running and self.isVisible() and not self._clock.isActive():
            self._clock.start()

    # intents

    def _choose(self, **values: object) -> None:
        self._choices = replace(self._choices, **values)  # type: ignore[arg-type]
        if self.fitting is not None:
            self._keep(_("fitting method"), replace(self.fitting, choices=self._choices))
        else:
            self.refresh()
        self.setFocus()

    def _on_side(self, side: str) -> None:
        """The other head, with its own progress."""
        if side != self._side:
            # order and rounds go across to the other head; its skin is another
            self._side, self._choices = side, replace(self._choices, mounted=False)
            self.refresh()
        self.setFocus()

    def begin(self) -> None:
        """Begin this head from the first step; undo brings the progress back."""
        self._keep(_("restart fitting"), None)

    def _keep(self, label: str, fitting: Fitting | None) -> None:
        if self._entry is not None:
            self._warned = ""
            self.changed.emit(label, self._entry.with_fitting(self._side, fitting))

    def finish_step(self) -> None:
        """The step is done: the next one. A question is answered, not done; a time that did not run
        is said first, and noted if the step is done all the same."""
        procedure, step, progress = self.procedure, self._step(), self._progress()
        if progress.outcome == FINISHED:
            self.clear_wanted.emit(self._side)
        if procedure is None or step is None or progress.outcome:
            return
        if step.ask is not None:
            self.show_advice(_("Answer this question with Y or N."))
            return
        self._finish(procedure, step, progress)

    def _finish(self, procedure: Procedure, step: Step, progress: Fitting) -> None:
        waited = self._not_waited(step, progress)
        if waited and self._warned != step.key:
            self._warned = step.key
            self.show_advice(
                waited + _(". Press again to continue anyway (recorded), or T to start the timer.")
            )
            return
        if waited:
            note = "; ".join(part for part in (progress.note(step.key), waited) if part)
            progress = progress.noted(step.key, note)
        self._keep(
            _("done: {title}").format(title=step.title),
            progress.finish_step(procedure, self._now()),
        )

    def _not_waited(self, step: Step, progress: Fitting) -> str:
        """In words, if the time of a step did not run, or is not over; else ""."""
        if step.timer_minutes <= 0.0:
            return ""
        state = timer_state(progress, step.key, step.timer_minutes, self._now())
        if not state.running:
            return _("{label}: timer not started").format(label=step.timer_label)
        if state.left_minutes > 0.0:
            left = minutes_text(state.left_minutes)
            return _("{label}: {left} left").format(label=step.timer_label, left=left)
        return ""

    def go_back(self) -> None:
        """The step before."""
        if self.procedure is not None:
            self._keep(_("previous step"), self._progress().go_back(self.procedure))

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
            self.show_advice(f"{error.message} {error.remedy}")
            return
        self._keep(_("skip: {title}").format(title=step.title), changed)

    def ask_reason(self, step: Step) -> str | None:
        """Why a step is skipped; tests answer in the technician's place."""
        text, ok = QInputDialog.getText(
            self, _("Skip"), _("Why skip “{title}”?").format(title=step.title)
        )
        return text if ok else None

    def answer(self, message: str) -> None:
        """Answer the question of the step."""
        step = self._step()
        if step is None or step.ask is None or self.procedure is None:
            return
        if self._progress().outcome:
            return
        if message == step.ask.good:
            self._finish(self.procedure, step, self._progress())
        elif step.ask.ends:
            self._keep("stopped", self._progress().stop(self._now()))
        else:
            self.show_advice(step.ask.otherwise)

    def _on_timer(self) -> None:
        step = self._step()
        if step is not None and step.timer_minutes > 0.0:
            self._keep("timer", self._progress().with_timer(step.key, self._now()))

    def _on_note(self) -> None:
        step = self._step()
        text = self.note.text()
        self.note.sent = text
        if step is not None and text != self._progress().note(step.key):
            self._keep("note", self._progress().noted(step.key, text))

    def _on_step_clicked(self, item: QListWidgetItem) -> None:
        self._keep(_("go to step"), self._progress().go_to(item.data(Qt.ItemDataRole.UserRole)))
        self.setFocus()

    def _on_note_dropped(self) -> None:
        self.note.show_text(self.note.sent)
        self.setFocus()

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A key held down means what it means once."""
        acts: dict[Qt.Key, Callable[[], None]] = {
            **dict.fromkeys(DONE_KEYS, self.finish_step),
            **dict.fromkeys(BACK_KEYS, self.go_back),
            Qt.Key.Key_Y: lambda: self.answer("yes"),
            Qt.Key.Key_N: lambda: self.answer("no"),
            Qt.Key.Key_T: self._on_timer,
        }
        act = acts.get(Qt.Key(event.key()))
        if act is None or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            super().keyPressEvent(event)
        elif not event.isAutoRepeat():
            act()

    def stop(self) -> None:
        """End the thread."""
        self._answer.stop()

    @safe_override
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
    return _("{name}: fit the {side_word}").format(
        name=drum.name, side_word=wording.side_inside(drum, side)
    )
