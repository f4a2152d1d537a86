"""How fitting looks: steps left, the step on show, what must lie ready right."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import (
    QHBoxLayout,
    QListWidgetItem,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from kesselton.core.fit.fitting import FINISHED, Fitting, TimerState
from kesselton.core.fit.procedure import Choices, Procedure, Step, is_roped
from kesselton.core.fit.tightening_sequence import REASONS
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _, choices
from kesselton.store.exports.fitting_file import minutes_text
from kesselton.ui.parts.pictures.fit_picture import FitPicture
from kesselton.ui.parts.widgets.columns import (
    column,
    fault_label,
    narrow,
    scroll,
    selectable,
)
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button, Line, Rows, Tick
from kesselton.ui.parts.widgets.labels import Label, MarkedLabel, marked, plain_tip
from kesselton.ui.parts.widgets.theme import Colours, font, px
from kesselton.ui.parts.words import wording

ROUNDS = ((0.125, N_("⅛ turn")), (0.25, N_("¼ turn")), (0.5, N_("½ turn")))
TITLE_POINTS, TEXT_POINTS = 22, 14
LAST_MINUTES = 2.0


class FitFace(QWidget):
    """Shows a step of a procedure; who does what with it is for `FitPage`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 3, 5, 3)
        across.setSpacing(16)
        across.addWidget(narrow(self._make_list(), 340), 24)
        across.addLayout(self._make_step(), 52)
        across.addWidget(narrow(scroll(self._make_ready()), 320), 24)

    def _make_list(self) -> QWidget:
        part, box = column(_("Fit a head"))
        self.side = Choice(_("Head"))
        self.order = Choice(_("Tightening order"))
        self.order.set_options([("star", _("star")), ("across", _("opposite pairs"))])
        self.reason = Label()
        self.reason.setProperty("quiet", True)
        self.reason.setWordWrap(True)
        self.round = Choice(_("Turn per pass"))
        self.round.set_options(list(choices(ROUNDS)))
        self.mounted = Tick(_("Skin is mounted on its hoop"))
        self.quick = Tick(_("Quick fit"))
        self.quick.setToolTip(
            _(
                "Essential steps only: clean edge, even finger-tight, press, "
                "damped center. The rest is listed for after the show."
            )
        )
        self.steps = Rows()
        self.steps.setAccessibleName(_("All steps"))
        self.steps.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.steps.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.steps.setTextElideMode(Qt.TextElideMode.ElideRight)
        for widget in (self.side, self.order, self.reason, self.round, self.mounted, self.quick):
            box.addWidget(widget)
        box.addWidget(self.steps, 1)
        self.again = Button(
            _("Start over"), tip=_("From the first step again; Undo restores the progress")
        )
        box.addWidget(self.again)
        return part

    def _make_step(self) -> QVBoxLayout:
        box = QVBoxLayout()
        box.setContentsMargins(0, 10, 0, 10)
        self._make_words()
        self.yes, self.no = Button(_("Yes (Y)")), Button(_("No (N)"))
        asked = QHBoxLayout()
        asked.addWidget(self.yes)
        asked.addWidget(self.no)
        asked.addStretch(1)
        self.timer = Label()
        self.timer.setFont(font(16, QFont.Weight.DemiBold))
        self.start_timer = Button(_("Start timer (T)"))
        timed = QHBoxLayout()
        timed.addWidget(self.timer, 1)
        timed.addWidget(self.start_timer)
        self.picture = FitPicture()
        self.note = Line()
        self.note.setPlaceholderText(_("note or reading for this step"))
        self.note.setAccessibleName(_("Note for this step"))
        self.back, self.skip = (
            Button(_("Back")),
            Button(_("Skip…"), tip=_("Leave this step out, and say why")),
        )
        self.done = Button(_("Done (Space)"))
        self.done.setObjectName("main")
        self.done.setMinimumHeight(px(56))
        self.done.setFont(font(16, QFont.Weight.Bold))
        self.back.setMinimumHeight(px(56))
        self.skip.setMinimumHeight(px(56))
        for button in (self.back, self.skip, self.done, self.yes, self.no, self.start_timer):
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        foot = FlowLayout(spacing=8)
        self.done.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        for button in (self.back, self.skip, self.done):
            foot.addWidget(button)
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

    def _make_words(self) -> None:
        self.count = Label()
        self.count.setProperty("quiet", True)
        self.title, self.text = Label(), Label()
        self.title.setFont(font(TITLE_POINTS, QFont.Weight.Bold))
        self.text.setFont(font(TEXT_POINTS))
        self.caution = Label()
        self.caution.setObjectName("caution")
        self.caution.setFont(font(11, QFont.Weight.DemiBold))
        self.question = Label()
        self.question.setFont(font(TEXT_POINTS, QFont.Weight.DemiBold))
        self.advice = fault_label()
        self.advice.setFont(font(12))
        for label in (self.title, self.text, self.caution, self.question):
            label.setWordWrap(True)

    def _make_ready(self) -> QWidget:
        part, box = column(_("You will need"))
        self.ready = MarkedLabel()
        self.ready.setWordWrap(True)
        self.log = selectable(Label())
        self.log.setProperty("quiet", True)
        self.log.setWordWrap(True)
        self.sheet = Button(_("Fitting sheet…"), tip=_("All steps on paper, or as Markdown"))
        self.dates = Button(
            _("Calendar dates…"), tip=_("Drying, re-check and replacement as calendar dates")
        )
        box.addWidget(self.ready)
        box.addWidget(self.log)
        box.addStretch(1)
        box.addWidget(self.sheet)
        box.addWidget(self.dates)
        return part

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.picture.set_colours(colours)

    def show_choices(self, drum: Drum, side: str, choices: Choices) -> None:
        """Show which head is fitted, and how."""
        self.side.set_options([(s, wording.side_word(drum, s)) for s in drum.sides])
        self.side.set_state(side)
        self.order.set_state(choices.order)
        self.reason.setText(REASONS[choices.order])
        self.round.set_state(choices.round_turns)
        self.mounted.setVisible(drum.setting(side).head.is_skin)
        self.mounted.setChecked(choices.mounted)
        self.quick.setChecked(choices.quick)
        self.quick.setVisible(not drum.setting(side).head.is_skin)
        rods = not is_roped(drum)
        self.order.setVisible(rods)
        self.reason.setVisible(rods)
        self.round.setVisible(rods and not choices.quick)

    def show_step(self, drum: Drum, procedure: Procedure, step: Step, progress: Fitting) -> None:
        """Show one step, and how far the whole is."""
        self._fill_list(procedure, progress)
        number = procedure.index(step.key) + 1
        self.count.setText(
            _("Step {number} of {count}").format(number=number, count=len(procedure.steps))
        )
        self.title.setText(step.title)
        self.text.setText(step.text)
        self.caution.setText("\n".join(f"⚠ {text}" for text in step.cautions))
        self.caution.setVisible(bool(step.cautions))
        self.question.setText(step.ask.question if step.ask else "")
        for widget in (self.question, self.yes, self.no):
            widget.setVisible(step.ask is not None)
        self.advice.hide()
        if not self.note.unsent:
            self.note.show_text(progress.note(step.key))
        self.picture.set_state(drum, step)
        self.picture.setVisible(bool(step.picture))
        self.back.setEnabled(number > 1)
        self._show_ready(procedure, progress)
        if progress.outcome == FINISHED:
            self.title.setText(_("Head fitted"))
            self.text.setText(_("All steps are done or skipped. Check again after a day."))
        elif progress.outcome:
            self.title.setText(_("Stopped"))
            self.text.setText(step.ask.otherwise if step.ask else "")
        fitted = progress.outcome == FINISHED
        self.done.setText(_("Go to Clear (Space)") if fitted else _("Done (Space)"))
        self.done.setEnabled(fitted or (not progress.outcome and step.ask is None))
        for control in (self.skip, self.note):
            control.setEnabled(not progress.outcome)

    def show_waiting(self) -> None:
        """The steps are not known yet: the plan is worked out."""
        self.steps.clear()
        for label in (self.count, self.text, self.ready, self.log):
            label.clear()
        self.title.setText(_("Preparing the steps…"))
        for widget in (
            self.caution, self.question, self.yes, self.no, self.advice, self.timer,
            self.start_timer, self.picture,
        ):  # fmt: skip
            widget.hide()
        for control in (self.done, self.back, self.skip, self.note):
            control.setEnabled(False)

    def show_fault(self, message: str, remedy: str) -> None:
        """Say why there are no steps."""
        self.show_waiting()
        self.title.setText(_("This head cannot be fitted as set"))
        self.text.setText(f"{message} {remedy}")

    def show_advice(self, text: str) -> None:
        """Say what to do about an answer."""
        self.advice.setText(text)
        self.advice.show()

    def show_timer(self, step: Step | None, state: TimerState | None) -> None:
        """Show the time of a step; None where it has none."""
        self.timer.setVisible(state is not None)
        self.start_timer.setVisible(state is not None)
        if step is None or state is None:
            return
        if state.odd:
            text = state.odd
        elif not state.running:
            text = minutes_text(step.timer_minutes)
        elif state.left_minutes > 0.0:
            left = state.left_minutes
            text = _("{time} left").format(time=minutes_text(left))
            if left < LAST_MINUTES:
                text = _("{seconds:.0f} s left").format(seconds=60.0 * left)
        else:
            text = _("ended {minutes_text} ago").format(
                minutes_text=minutes_text(-state.left_minutes)
            )
        self.timer.setText(f"{step.timer_label}: {text}")

    def _fill_list(self, procedure: Procedure, progress: Fitting) -> None:
        self.steps.clear()
        skipped = dict(progress.skipped)
        for number, step in enumerate(procedure.steps, start=1):
            mark = "✓" if step.key in progress.done else "–" if step.key in skipped else " "
            item = QListWidgetItem(f"{mark} {number}  {step.title}")
            item.setToolTip(plain_tip(step.title))
            item.setData(Qt.ItemDataRole.UserRole, step.key)
            self.steps.addItem(item)
            if step.key == progress.current:
                self.steps.setCurrentItem(item)

    def _show_ready(self, procedure: Procedure, progress: Fitting) -> None:
        parts = []
        for name, things in ((_("Tools"), procedure.tools), (_("Materials"), procedure.materials)):
            if things:
                parts.append(
                    marked(_("<b>{name}</b><br>"), name=name)
                    + "<br>".join(marked("{x}", x=x) for x in things)
                )
        self.ready.setText("<br><br>".join(parts))
        titles = {step.key: step.title for step in procedure.steps}
        lines = (
            [_("Started {started}").format(started=progress.started.replace("T", " "))]
            if progress.done
            else []
        )
        lines += [
            _("Skipped “{titles}”: {why}").format(titles=titles.get(k, k), why=why)
            for k, why in progress.skipped
        ]
        lines += [f"{titles.get(k, k)}: {text}" for k, text in progress.notes]
        self.log.setText("\n".join(lines))
