"""The stage Set: one ladder for all drums, who sets whom talking, the kit from above, and plans."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.sets.set_bench import SetBench
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import N_, _, choices
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.ui.parts.widgets.columns import scroll
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button, Tick
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.switch import Switch
from kesselton.ui.parts.widgets.theme import LIGHT, Colours, px
from kesselton.ui.parts.words import wording
from kesselton.ui.sets import words
from kesselton.ui.sets.answer_picture import AnswerPicture
from kesselton.ui.sets.kit_picture import KitPicture
from kesselton.ui.sets.panels import TONE_DB, HearPanel, PlanPanel, TalkPanel
from kesselton.ui.sets.set_ladder import SetLadder

if TYPE_CHECKING:
    from kesselton.core.sets.search.field import Spot
    from kesselton.core.sets.search.plan import Plan

PANELS = (("plan", N_("Plan")), ("talk", N_("Response")), ("hear", N_("Play")))

PANEL_WIDTH = 316
MOST_RANKED = 4
SAY_MS = 40
C1_UNDER_A4 = 4500.0


class SetPage(QWidget):
    """Drums that are played together.

    Signals
    -------
    drums_wanted, new_wanted, sheet_wanted
    play_wanted(bool planned) : a groove, as the set is or as the plan would have it
    drum_chosen(int drum id) : it comes to the bench
    said(str) : what was done, and can be taken back
    """

    drums_wanted = Signal()
    new_wanted = Signal()
    sheet_wanted = Signal()
    play_wanted = Signal(bool)
    drum_chosen = Signal(int)
    notice = Signal(str)

    def __init__(
        self,
        sets: SetBench,
        a4: Callable[[], float],
        show: Callable[[float], str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.sets = sets
        self._flats, self._metric, self._colours = False, False, LIGHT
        self._plan_row, self._place, self._drum_id = 0, "player", 0
        self._fault = ""
        self._tone_hz: float | None = None
        self.picture = SetLadder()
        self.answers = AnswerPicture()
        self.kit = KitPicture()
        self._a4, self._show = a4, show
        self._filled = False
        self._lay_out()
        self._connect()
        self.setFocusProxy(self.picture)

    def fill(self) -> None:
        """Make the panels at the side, apart from the rest: together they would be felt."""
        if self._filled:
            return
        self._filled = True
        self.plan = PlanPanel(self._a4, self._show, self.show_cents)
        self.talk = TalkPanel(self._a4, self._show)
        self.hear = HearPanel()
        self.hear.levels.set_colours(self._colours)
        for panel in (self.plan, self.talk, self.hear):
            self.panels.addWidget(panel)
        self.plan.form.edited.connect(self._on_wish)
        self.plan.chosen.connect(self._on_plan)
        self.plan.use_wanted.connect(self.use_plan)
        self.plan.few_wanted.connect(self.use_few)
        self.talk.use_wanted.connect(self.use_cure)
        self.talk.tone_edited.connect(self._on_tone)
        self.hear.play_wanted.connect(self.play_wanted)
        self.hear.place_chosen.connect(self._on_place)
        self.hear.tempo_edited.connect(self.sets.set_tempo)

    def _lay_out(self) -> None:
        self.choice = Choice("")
        self.choice.caption.hide()
        self.choice.box.setAccessibleName(_("Sets"))
        self.choice.setMinimumWidth(px(190))
        self.drums, self.new = (
            Button(_("Drums…"), tip=_("Which drums belong to the set, and which stay as they are")),
            Button(_("New set…"), tip=_("A new set of drums")),
        )
        self.remove, self.sheet = (
            Button(_("Remove set"), tip=_("Remove this set; its drums stay. Undo restores it")),
            Button(_("Set sheet…"), tip=_("Targets and turns of the whole set on one page")),
        )
        self.hold = Tick(_("Keep pitch (H)"))
        self.hold.setChecked(True)
        self.hold.setToolTip(
            _("On: dragging a lug pitch keeps the drum pitch. Off: the drum pitch follows.")
        )
        top = FlowLayout(spacing=8)
        for widget in (self.choice, self.drums, self.new, self.remove, self.sheet, self.hold):
            top.addWidget(widget)
        self.first = Label(
            _(
                "A set is a group of drums played together. Kesselton plans "
                "them as one chord and shows which drum makes which respond. "
                "Make one from your drums."
            )
        )
        self.first.setWordWrap(True)
        self.first.setAlignment(Qt.AlignmentFlag.AlignCenter)
        matrix, above = (
            _titled(_("Struck → responding (dB)"), self.answers),
            _titled(_("Kit from above (drag drums)"), self.kit),
        )
        left = QGridLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.addLayout(top, 0, 0, 1, 2)
        left.addWidget(self.picture, 1, 0, 1, 2)
        left.addWidget(self.first, 2, 0, 1, 2)
        left.addLayout(matrix, 3, 0)
        left.addLayout(above, 3, 1)
        left.setRowStretch(1, 5)
        left.setRowStretch(3, 2)
        left.setColumnStretch(0, 11)
        left.setColumnStretch(1, 9)
        self.panels = QStackedWidget()
        self.switch = Switch(list(choices(PANELS)))
        self.switch.chosen.connect(self._on_panel)
        right = QVBoxLayout()
        right.addWidget(self.switch)
        right.addWidget(scroll(self.panels, PANEL_WIDTH), 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 8, 8, 8)
        layout.setSpacing(10)
        layout.addLayout(left, 1)
        layout.addLayout(right)

    def _connect(self) -> None:
        sets = self.sets
        sets.changed.connect(self.refresh)
        sets.solved.connect(self.refresh)
        sets.planned.connect(self._on_planned)
        sets.cured.connect(self.refresh)
        sets.failed.connect(self._on_failed)
        sets.refused.connect(self._on_refused)
        # a little later: the bar it is said in makes everything be laid out anew
        sets.moved.connect(
            lambda message: QTimer.singleShot(SAY_MS, self, lambda: self._on_set(message))
        )
        self.choice.chosen.connect(self._on_kit)
        self.drums.clicked.connect(self.drums_wanted)
        self.new.clicked.connect(self.new_wanted)
        self.remove.clicked.connect(self._on_remove)
        self.sheet.clicked.connect(self.sheet_wanted)
        self.hold.toggled.connect(self._on_hold)
        self.picture.held_wanted.connect(self.hold.setChecked)
        self.picture.moved.connect(self._on_moved)
        self.picture.chosen.connect(self._on_chosen)
        self.kit.chosen.connect(self._on_chosen)
        self.kit.moved.connect(self._on_seat)
        self.answers.chosen.connect(self.look_at)

    # words

    def show_cents(self, cents: float) -> str:
        """A pitch in cents over C1, as a note."""
        a4 = self.sets.a4_hz
        return wording.note_words(a4 * ratio_of(cents - C1_UNDER_A4), a4, self._flats)

    # what holds

    @property
    def chosen_plan(self) -> Plan | None:
        """The plan that is looked at."""
        planned = self.sets.plans
        if planned is None or not 0 <= self._plan_row < len(planned.plans):
            return None
        return planned.plans[self._plan_row]

    def set_state(self, flats: bool, metric: bool, drum_id: int) -> None:
        """Bring everything up to date; `drum_id` is on the bench."""
        self._flats, self._metric = flats, metric
        self._drum_id = drum_id
        self.fill()
        self.sets.watch(True)
        self.refresh()

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        for picture in (self.picture, self.answers, self.kit):
            picture.set_colours(colours)
        if self._filled:
            self.hear.levels.set_colours(colours)

    def stop(self) -> None:
        """End every thread."""
        self.sets.stop()

    def refresh(self) -> None:
        """Show what holds now."""
        if not (self._filled and self.sets.watched):
            return
        sets, kit = self.sets, self.sets.kit
        self.choice.set_options([(kit.id, kit.name) for kit in sets.workshop.kits])
        self.choice.set_state(0 if kit is None else kit.id)
        none = kit is None
        self.first.setVisible(none)
        for picture in (self.picture, self.answers, self.kit):
            picture.setVisible(not none)
        for widget in (self.drums, self.remove, self.sheet, self.panels):
            widget.setEnabled(not none)
        if kit is None:
            return
        members, solved_set = sets.members, sets.solved_set or sets.last
        shown = (
            _("This set has no drums. Choose some under “Drums…”.")
            if not members
            else self._fault or _("Computing every drum in the set…")
        )
        self.picture.set_state(solved_set, shown, sets.a4_hz, self._flats, self._metric)
        place = next((i for i, m in enumerate(members) if m.seat.drum_id == self._drum_id), None)
        if place is not None and not self.picture.dragging:
            self.picture.choose(place)
        self.answers.set_state(solved_set, sets.pair)
        self.kit.set_state(members, self.picture.current)
        self.plan.form.set_state(kit.wish)
        self._show_plans()
        self.talk.set_state(sets.solved_set, sets.pair, sets.cures, self._ranking())
        self.hear.set_state(solved_set, members, self._place, self.chosen_plan)
        self.hear.say_tempo(solved_set, sets.settings.tempo_bpm)
        self._say_tone()

    def _show_plans(self) -> None:
        sets = self.sets
        planned = sets.plans
        words_if_none = self._fault or (
            _("Searching chords, roots and intervals…")
            if sets.members
            else _("This set has no drums. Choose some under “Drums…”.")
        )
        self.plan.set_state(planned, self._plan_row, words_if_none, self._few_lines())
        plan = self.chosen_plan
        if plan is None:
            self.picture.set_plan(None, ())
        else:
            self.picture.set_plan(plan.frame, tuple(drum.note_cents for drum in plan.drums))

    def _ranking(self) -> str:
        """Which drums are roughest together as they are; it ranks, it does not judge."""
        planned = self.sets.plans
        if planned is None:
            return ""
        names = [member.name for member in planned.members]
        lines = [
            _("{number}  {one} and {other}: {rough:.2f}").format(
                number=number, one=names[clash.one], other=names[clash.other], rough=clash.rough
            )
            for number, clash in enumerate(planned.few[0].clashes[:MOST_RANKED], start=1)
        ]
        return "\n".join((*lines, _("A ranking only: differences between drums are small.")))

    def _few_lines(self) -> list[str]:
        """Each of the few changes, with its turns."""
        planned, solved_set = self.sets.plans, self.sets.solved_set
        if planned is None or solved_set is None or solved_set.members != planned.members:
            return []
        from kesselton.core.sets.search.plan import changed_between
        from kesselton.core.sets.search.reasons import turns_between

        lines = []
        for number, (before, after) in enumerate(
            zip(planned.few, planned.few[1:], strict=False), start=1
        ):
            drum = changed_between(before, after)
            member, tuning = planned.members[drum], after.drums[drum]
            turns = turns_between(
                member.drum, solved_set.predictions[drum].tensions_n_per_m, tuning.tensions_n_per_m
            )
            what = words.tuned_words(tuning, self.show_cents)
            step = _("{number}  {name}: {what}").format(number=number, name=member.name, what=what)
            lines.append(f"{step}\n{words.turn_words(member, turns)}")
        return lines

    # what the technician does

    def _on_panel(self, key: str) -> None:
        self.panels.setCurrentIndex([text for text, _unused in PANELS].index(key))

    def _on_kit(self, number: int) -> None:
        self._plan_row, self._fault = 0, ""
        self.picture.let_go()
        self.sets.choose(number)

    def _on_remove(self) -> None:
        kit = self.sets.kit
        if kit is not None:
            self.sets.remove_kit()
            self.notice.emit(_("Set {name} removed; its drums stay.").format(name=kit.name))

    def _on_hold(self, on: bool) -> None:
        self.picture.hold = on

    def _on_moved(self, spots: dict[int, Spot]) -> None:
        self.sets.move_to(spots, _("change in set"))

    def _on_chosen(self, number: int) -> None:
        members = self.sets.members
        if 0 <= number < len(members):
            self.picture.choose(number)
            self.kit.set_state(members, number)
            self.drum_chosen.emit(members[number].seat.drum_id)

    def _on_seat(self, number: int, x: float, y: float) -> None:
        kit, members = self.sets.kit, self.sets.members
        if kit is None or number >= len(members):
            return
        try:
            seat = replace(members[number].seat, x_m=x, y_m=y)
        except InputError as error:
            self._on_refused(error)
            self.refresh()
            return
        self.sets.change(_("position in set"), kit.with_seat(seat))

    def look_at(self, struck: int, answering: int) -> None:
        """Show how one drum answers another, and what helps."""
        self.switch.set_state("talk")
        self.panels.setCurrentWidget(self.talk)
        self.sets.look_at((struck, answering))

    def _on_wish(self, values: dict[str, Any]) -> None:
        self._plan_row, self._fault = 0, ""
        try:
            self.sets.change_wish(_("set requirements"), **values)
        except InputError as error:
            self.plan.form.complain(error.one_line())

    def _on_plan(self, row: int) -> None:
        if row >= 0 and row != self._plan_row:
            self._plan_row = row
            self._show_plans()
            self.hear.planned.setEnabled(self.chosen_plan is not None)

    def _on_planned(self) -> None:
        planned = self.sets.plans
        if planned is not None:
            self._plan_row = min(self._plan_row, max(len(planned.plans) - 1, 0))
        self.refresh()

    def use_plan(self) -> None:
        """Set every drum as the plan that is looked at has it."""
        planned, plan = self.sets.plans, self.chosen_plan
        if planned is None or plan is None:
            return
        count = sum(not drum.as_is for drum in plan.drums)
        message = _("Targets set for {count} drums.").format(count=count)
        self.sets.use(plan, planned.members, _("set targets"), message)

    def use_few(self, count: int) -> None:
        """Set the drums of the first so many changes."""
        planned = self.sets.plans
        if planned is None or not 0 < count < len(planned.few):
            return
        message = _("Targets set for {count} drums.").format(count=count)
        self.sets.use(planned.few[count], planned.members, _("set changes"), message)

    def use_cure(self, row: int) -> None:
        """Do what helps."""
        cures, solved_set = self.sets.cures, self.sets.solved_set
        if cures is None or solved_set is None or not 0 <= row < len(cures.cures):
            return
        cure = cures.cures[row]
        name = solved_set.members[cure.drum].name
        self.sets.use_cure(cure, _("set remedy"))
        self.notice.emit(words.cure_title(cure, name))

    def _on_set(self, message: str) -> None:
        """What was asked is set."""
        if message:
            self._plan_row = 0
            self.notice.emit(message)

    def _on_place(self, place: str) -> None:
        self._place = place
        self.refresh()

    def _on_tone(self, hz: float | None) -> None:
        self._tone_hz = hz
        self.talk.tone.set_state(hz)
        self._say_tone()

    def _say_tone(self) -> None:
        """What a tone in the room does to the wires of the set."""
        solved_set, hz = self.sets.solved_set, self._tone_hz
        if solved_set is None or hz is None:
            self.talk.say_tone("")
            return
        from kesselton.core.sets.together.answering import tone

        pascal = 20e-6 * 2.0**0.5 * 10.0 ** (TONE_DB / 20.0)
        lines = []
        for number, item in enumerate(solved_set.ready):
            if item.on is None:
                continue
            over = tone(item, hz, pascal, number).wires_db
            says = (
                _("wires buzz, {over:.0f} dB above lift-off")
                if over > 0.0
                else _("wires stay on, {under:.0f} dB below lift-off")
            )
            text = says.format(over=over, under=-over)
            lines.append(f"{solved_set.members[number].name}: {text}")
        note = self.show_cents(C1_UNDER_A4 + cents_between(self.sets.a4_hz, hz))
        text = "; ".join(lines) or _("no wires in this set")
        self.talk.say_tone(
            _("{note} at {db:.0f} dB SPL: {words}").format(note=note, db=TONE_DB, words=text)
        )

    def _on_failed(self, error: KesseltonError) -> None:
        self._fault = _("Not computed: {why}").format(why=error.one_line())
        self.refresh()

    def _on_refused(self, error: KesseltonError) -> None:
        self.picture.let_go()
        self.plan.form.complain(error.one_line())

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_G and self.sets.solved_set is not None:
            shifted = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.play_wanted.emit(shifted and self.chosen_plan is not None)
            return
        super().keyPressEvent(event)


def _titled(text: str, widget: QWidget) -> QVBoxLayout:
    box = QVBoxLayout()
    box.setSpacing(2)
    label = Label(text)
    label.setProperty("quiet", True)
    box.addWidget(label)
    box.addWidget(widget, 1)
    return box
