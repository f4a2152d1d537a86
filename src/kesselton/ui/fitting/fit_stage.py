"""Fitting a head: one step at a time, large enough to read at arm's length."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QInputDialog,
    QListWidgetItem,
    QWidget,
)

from kesselton.app.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.fitting.fitting import Fitting, timer_state
from kesselton.core.fitting.procedure import Choices, Procedure, Step
from kesselton.core.instrument.drum import Drum
from kesselton.store.holdings import Entry
from kesselton.ui.fitting import texts
from kesselton.ui.fitting.fit_face import FitFace
from kesselton.ui.parts import wording

TICK_MS = 1000
DONE_KEYS = (Qt.Key.Key_Space, Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Return)
BACK_KEYS = (Qt.Key.Key_Backspace, Qt.Key.Key_PageUp, Qt.Key.Key_Left)


class FitStage(FitFace):
    """Joins the steps to the drum they are of.

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
        self._connect()

    def _connect(self) -> None:
        self.side.chosen.connect(self._on_side)
        self.order.chosen.connect(lambda key: self._choose(order=key))
        self.round.chosen.connect(lambda turns: self._choose(round_turns=turns))
        self.mounted.clicked.connect(lambda on: self._choose(mounted=on))
        self.steps.itemClicked.connect(self._on_step_clicked)
        self.again.clicked.connect(self.begin)
        self.yes.clicked.connect(lambda: self.answer("yes"))
        self.no.clicked.connect(lambda: self.answer("no"))
        self.start_timer.clicked.connect(self._on_timer)
        self.note.editingFinished.connect(self._on_note)
        self.back.clicked.connect(self.go_back)
        self.skip.clicked.connect(self.skip_step)
        self.done.clicked.connect(self.finish_step)
        self.sheet.clicked.connect(self.sheet_wanted)
        self.dates.clicked.connect(self.calendar_wanted)

    # state

    @property
    def fitting(self) -> Fitting | None:
        """Progress on the drum on the bench."""
        return self._entry.fitting if self._entry else None

    @property
    def side_now(self) -> str:
        """The head that is fitted."""
        return self._side

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
        self.show_choices(drum, self._side, self._choices)
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
            self.show_fault(error.message, error.remedy)

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
        self.show_step(self._entry.drum, made, step, self._progress())
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
        if self.fitting is not None and self.fitting.side == self._side:
            self.changed.emit("fitting", replace(self.fitting, choices=self._choices))
        else:
            self.refresh()

    def _on_side(self, side: str) -> None:
        if side == self._side:
            return
        self._side = side
        self.changed.emit(texts.FIT_OTHER_HEAD, None)

    def begin(self) -> None:
        """Begin this head from the first step; undo brings the progress back."""
        self.changed.emit(texts.BEGIN_FITTING_AGAIN, None)

    def _keep(self, label: str, fitting: Fitting) -> None:
        self.changed.emit(label, fitting)

    def finish_step(self) -> None:
        """The step is done: the next one."""
        step = self._step()
        progress = self._progress()
        if self.procedure is not None and step is not None and not progress.outcome:
            self._keep(
                texts.DONE.format(title=step.title),
                progress.finish_step(self.procedure, self._now()),
            )

    def go_back(self) -> None:
        """The step before."""
        if self.procedure is not None:
            self._keep(texts.STEP_BACK, self._progress().go_back(self.procedure))

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
        self._keep(texts.SKIP_2.format(title=step.title), changed)

    def ask_reason(self, step: Step) -> str | None:
        """Why a step is skipped; tests answer in the technician's place."""
        text, ok = QInputDialog.getText(
            self, texts.SKIP_3, texts.WHY_IS_LEFT_OUT.format(title=step.title)
        )
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
            self.show_advice(step.ask.otherwise)

    def _on_timer(self) -> None:
        step = self._step()
        if step is not None and step.timer_minutes > 0.0:
            self._keep("timer", self._progress().with_timer(step.key, self._now()))

    def _on_note(self) -> None:
        step = self._step()
        if step is not None and self.note.text() != self._progress().note(step.key):
            self._keep("note", self._progress().noted(step.key, self.note.text()))

    def _on_step_clicked(self, item: QListWidgetItem) -> None:
        self._keep(texts.ANOTHER_STEP, self._progress().go_to(item.data(Qt.ItemDataRole.UserRole)))
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
    return texts.FIT.format(name=drum.name, side_word=wording.side_word(drum, side).lower())
