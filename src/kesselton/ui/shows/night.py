"""The night: a repair on a stage, one thing at a time, by few keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from kesselton.app.shows.repair_bench import CLEAR_KEY, RepairBench
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.library import head_size_in
from kesselton.core.language import N_, _, figures
from kesselton.core.shows.pace import minutes_words, saved_by_skipping
from kesselton.core.shows.repair import CAUSES, MOST_MINUTES, WAYS, Repair, shown
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.words import wording
from kesselton.ui.shows.night_rods import NightRods

if TYPE_CHECKING:
    from kesselton.core.shows.ways import Way

WAY_HEADING = {
    "head": N_("Change head"),
    "drum": N_("Swap drum"),
    "nurse": N_("Stopgap"),
    "without": N_("Borrow one, retune another, or play without"),
}
OVER = {"done": N_("Done in {time}"), "broken off": N_("Abandoned after {time}")}

TICK_MS = 500
DONE_KEYS = (Qt.Key.Key_Space, Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Return,
             Qt.Key.Key_Enter)  # fmt: skip
BACK_KEYS = (Qt.Key.Key_Backspace, Qt.Key.Key_PageUp, Qt.Key.Key_Left)
THEN_SHOWN = 4


class Night(NightRods):
    """Questions, then steps, then what is left; nothing else has the keys while it is open.

    Signals
    -------
    closed : it is put away
    """

    closed = Signal()

    def __init__(
        self,
        repairs: RepairBench,
        flats: Callable[[], bool],
        a4: Callable[[], float],
        parent: QWidget,
    ) -> None:
        super().__init__(repairs, a4, parent)
        self._flats = flats
        self._page, self._row = "drum", 0
        self._drum_id, self._side, self._cause, self._minutes = 0, "batter", "gone", 7.0
        self._leaving, self._left_out = False, ""
        self._share = 0.0
        self._clock = QTimer(self, interval=TICK_MS)
        self._clock.timeout.connect(self._show_time)
        repairs.changed.connect(self.refresh)
        repairs.answered.connect(self.refresh)
        repairs.failed.connect(self._on_refused)
        self.done.clicked.connect(self.go_on)
        self.back.clicked.connect(self.go_back)
        self.skip.clicked.connect(self.skip_step)
        self.leave.clicked.connect(self.give_up)
        self.yes.clicked.connect(lambda: self.answer("yes"))
        self.no.clicked.connect(lambda: self.answer("no"))
        parent.installEventFilter(self)

    # opening and closing

    def open(self, read_by: str = "dial") -> None:
        """Come up over everything, where a repair was left or at the first question."""
        self.source = "bench" if read_by.startswith("bench") else "dial"
        self._said, self._leaving, self._typed = "", False, ""
        repair = self._repairs.repair
        if repair is None or repair.outcome:
            self._repairs.let_go()
            show = self._repairs.show
            self._page, self._row = "drum", 0
            self._minutes = 7.0 if show is None else show.minutes
        else:
            self._page = "step" if repair.way else "way"
            self._row = 0
        around = self.parentWidget()
        assert around is not None
        self.setGeometry(around.rect())
        self.show()
        self.raise_()
        self.setFocus()
        self._clock.start()
        self.refresh()

    def put_away(self) -> None:
        """Down again; a repair that goes on stays in hand."""
        self._clock.stop()
        self.sources.quiet()
        self.hide()
        self.closed.emit()

    def stop(self) -> None:
        """End the threads."""
        self.sources.stop()

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and self.isVisible():
            around = self.parentWidget()
            assert around is not None
            self.setGeometry(around.rect())
            self.refresh()
        return False

    @safe_override
    def event(self, event: QEvent) -> bool:
        """Every key is the night’s own while it is open."""
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        return super().event(event)

    @safe_override
    def focusNextPrevChild(self, forward: bool) -> bool:
        """The keys stay here."""
        return False

    # what is on show

    @property
    def page(self) -> str:
        """drum, side, cause, minutes, way, step or over."""
        return self._page

    def refresh(self) -> None:
        """Everything anew."""
        if not self.isVisible():
            return
        self.fit()
        repair = self._repairs.repair
        if self._page in ("way", "step", "over"):
            if repair is None:
                self._page, self._row = "drum", 0  # taken back by undo
            elif repair.outcome:
                self._page = "over"
            elif repair.way:
                self._page = "step"
            else:
                self._page = "way"
        show = {
            "drum": self._show_drums,
            "side": self._show_sides,
            "cause": self._show_causes,
            "minutes": self._show_minutes,
            "way": self._show_ways,
            "step": self._show_step,
            "over": self._show_over,
        }[self._page]
        show()
        self._show_time()

    def _ask(
        self,
        title: str,
        rows: list[tuple[str, str, bool]],
        text: str = "",
    ) -> None:
        text = text or _("Type its number, or ↑ ↓ and Space.  Backspace: back. Escape: leave.")
        self._row = min(self._row, max(len(rows) - 1, 0))
        self.head(title, text, self._said)
        self.choices.set_state(rows, self._row)
        self.pages.setCurrentIndex(0)
        self.offer(_("Choose (Space)"), back=self._page != "drum")
        self._share = 0.0

    def _show_drums(self) -> None:
        self.about.setText(_("Stage repair"))
        rows = []
        for entry in self._repairs.playing:
            size = _("{size:g} in, {rods}").format(
                size=head_size_in(entry.drum), rods=entry.drum.rod_count
            )
            rows.append((entry.drum.name, size, True))
        self._ask(
            _("Which drum?"),
            rows,
            _("Type its number, or ↑ ↓ and Space.  Backspace: back. Escape: leave.")
            if rows
            else _("The workshop has no drums to repair."),
        )

    def _show_sides(self) -> None:
        entry = self._repairs.workshop.entry(self._drum_id)
        assert entry is not None
        rows = [
            (wording.side_word(entry.drum, side), entry.drum.setting(side).head.name, True)
            for side in entry.drum.sides
        ]
        self._ask(_("Which head?"), rows)

    def _show_causes(self) -> None:
        self._ask(_("What happened?"), [(cause, "", True) for cause in CAUSES.values()])

    def _show_minutes(self) -> None:
        self._ask(_("Minutes to curtain?"), [], _("↑ ↓ change by one, or type; Space accepts."))
        shown_text = self._typed or figures(self._minutes, "g")
        self.choices.set_state([(f"{shown_text} min", "", True)], 0)

    def _show_ways(self) -> None:
        repair = self._repairs.repair
        assert repair is not None
        self._repairs.ask_ways()
        self._tell_about(repair)
        ways = self._repairs.ways
        if ways is None:
            self._ask(
                _("Which repair?"), [], self._said or _("Computing time and sound of each repair…")
            )
            self.offer(_("Choose (Space)"))
            return
        self._ask(_("Which repair?"), [self._way_row(way) for way in ways])

    def _way_row(self, way: Way) -> tuple[str, str, bool]:
        title = _(WAY_HEADING[way.way])
        if way.title != WAYS[way.way]:
            title = f"{title}: {way.title}"
        if way.refused:
            return title, _("not possible: {why}").format(why=way.refused), False
        time = _("{time} ({low} to {high}); {chance} likely in time").format(
            time=minutes_words(way.seconds), low=minutes_words(way.low_s),
            high=minutes_words(way.high_s), chance=f"{figures(100.0 * way.in_time, '.0f')} %",
        )  # fmt: skip
        note = wording.note_words(way.note_hz, self._a4(), self._flats())
        parts = [
            time,
            _("{note}, decay {ring:.1f} s: {sounds}").format(
                note=note, ring=way.ring_s, sounds=way.sounds
            ),
        ]
        if way.stock:
            parts.append(_("{count} in stock").format(count=way.stock))
        return title, " · ".join(parts), True

    def _tell_about(self, repair: Repair) -> None:
        entry = self._repairs.entry
        side = repair.side if entry is None else wording.side_inside(entry.drum, repair.side)
        words = _("{drum}, {side}: {way}") if repair.way else _("{drum}, {side}: {cause}")
        self.about.setText(
            words.format(
                drum=repair.drum_name, side=side, cause=CAUSES[repair.cause],
                way=WAYS.get(repair.way, "") + (f", {repair.head}" if repair.head else ""),
            )
        )  # fmt: skip

    def _show_step(self) -> None:
        repair = self._repairs.repair
        assert repair is not None
        self._repairs.ask_steps()
        self._tell_about(repair)
        procedure, step = self._repairs.procedure, self.step
        self.pages.setCurrentIndex(1)
        if procedure is None or step is None:
            self.head(_("Preparing the steps…"), "", self._said)
            self.offer(_("Done (Space)"))
            return
        steps, place = repair.place_in(procedure)
        self._share = place / len(steps)
        self.then.setText("\n".join(step.title for step in steps[place + 1 :][:THEN_SHOWN]))
        self.then_caption.setVisible(self.roomy and place + 1 < len(steps))
        self.then.setVisible(self.roomy)
        names = [step.title for step in steps if step.key in repair.skipped]
        message = ", ".join(names)
        self._left_out = (
            _("skipped until after the show: {names}").format(names=message) if names else ""
        )
        if step.key == CLEAR_KEY and not self._no_rods():
            self._show_clear(repair)
            return
        self.entry.hide()
        drum = self._repairs.drum
        rods = drum.shell.rods if drum is not None and step.picture in ("order", "mark") else 0
        self.ring.set_state(rods, step.order[0] if step.order else 0, step.order)
        cautions = " ".join(step.cautions)
        text = step.text
        if step.ask is not None:
            text = f"{text}\n{step.ask.question}"
        if step.key in ("turns", "halves"):
            text = f"{text} ({_('H switches: three half turns each, or ½ to 1 turn')})"
        self.head(step.title, text, "\n".join(part for part in (self._said, cautions) if part))
        done = "" if step.ask is not None else _("Done (Space)")
        self.offer(done, skip=not step.never_skipped)

    def _show_over(self) -> None:
        repair = self._repairs.repair
        assert repair is not None
        self._tell_about(repair)
        time = minutes_words(repair.elapsed_s(self._repairs.now()))
        work = repair.open_work
        self.head(
            _(OVER[repair.outcome]).format(time=time),
            _("After the show:") if work else _("No work left for after the show."),
        )
        words = [(self._repairs.work_words(repair, text), "", True) for text in work]
        self.choices.set_state(words, -1)
        self.pages.setCurrentIndex(0)
        self.offer(_("Close (Space)"), back=False, leave=False)
        self._share = 1.0

    def _show_time(self) -> None:
        repair = self._repairs.repair
        if repair is None or self._page not in ("way", "step", "over"):
            self.show_time("", "", False)
            self.progress.set_state(0.0, 0.0)
            return
        now = self._repairs.now()
        left, needed = repair.left_s(now), self._repairs.needed_s
        words = _("left of {minutes}").format(minutes=minutes_words(60.0 * repair.minutes))
        late, hint = left < 0.0, ""
        if left < 0.0:
            words = _("curtain up")
        elif needed is not None and self._page == "step":
            words = _("left of {minutes}; steps need {needed}").format(
                minutes=minutes_words(60.0 * repair.minutes), needed=minutes_words(needed)
            )
            if self._repairs.pace.repairs == 0:
                words = _("{needs} (estimated)").format(needs=words)
            late = needed > left
            if late:
                words = _("{needs}: {over} too long").format(
                    needs=words, over=minutes_words(needed - left)
                )
                procedure = self._repairs.procedure
                assert procedure is not None
                names = [
                    name
                    for name, _unused in saved_by_skipping(repair, procedure, self._repairs.pace)
                ]
                if names:
                    hint = _("To save time, skip: {names}").format(names=", ".join(names[:2]))
        self.skipped.setText("\n".join(part for part in (self._left_out, hint) if part))
        self.show_time(minutes_words(left), words, late)
        self.progress.set_state(self._share, 1.0 - left / (60.0 * repair.minutes))

    # keys

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A key held down means what it means once."""
        if event.isAutoRepeat():
            return
        key, text = Qt.Key(event.key()), event.text()
        leaving, self._leaving = self._leaving, False
        if key == Qt.Key.Key_Escape:
            self._leaving = leaving
            self._escape()
        elif key in BACK_KEYS:
            self.go_back()
        elif key in DONE_KEYS:
            self.go_on()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._move(-1 if key == Qt.Key.Key_Up else 1)
        elif text.isdecimal() or (text in ".,:" and text):
            self._type(text)
        elif key in (Qt.Key.Key_Insert,):
            self.put_away()
        else:
            acts: dict[Qt.Key, Callable[[], None]] = {
                Qt.Key.Key_S: self.skip_step,
                Qt.Key.Key_Y: lambda: self.answer("yes"),
                Qt.Key.Key_N: lambda: self.answer("no"),
                Qt.Key.Key_R: self.next_source,
                Qt.Key.Key_T: self.read_rod,
                Qt.Key.Key_H: self._turn_seating,
            }
            act = acts.get(key)
            if act is not None:
                act()

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A row is chosen by a click; the middle button is done, wherever it is pressed."""
        if event.button() == Qt.MouseButton.MiddleButton:
            self.go_on()
            return
        if self.pages.currentIndex() == 0 and self._page != "over":
            here = self.choices.mapFrom(self, event.position().toPoint())
            row = self.choices.row_at(self.choices.at(here).y()) if here.y() >= 0 else -1
            if row >= 0 and self.choices.rect().contains(self.choices.at(here).toPoint()):
                self._row = row
                self.refresh()

    def _move(self, by: int) -> None:
        if self._page == "minutes":
            now = float(self._typed) if self._typed else self._minutes
            self._typed = ""
            self._minutes = min(max(now - by, 1.0), MOST_MINUTES)
        else:
            self._row = max(self._row + by, 0)
        self._say("")

    def _type(self, text: str) -> None:
        if self._page == "minutes":
            self._typed = (self._typed + text)[:2] if text.isdecimal() else self._typed
            self._say("")
        elif self._page == "step":
            step = self.step
            if step is not None and step.key == CLEAR_KEY:
                self._typed = (self._typed + text)[:8]
                self._say("")
        elif text.isdecimal() and int(text) >= 1 and self._page != "over":
            self._row = int(text) - 1
            self.refresh()
            if self._row == int(text) - 1:
                self.go_on()

    def _escape(self) -> None:
        if self._typed:
            self._typed = ""
            self._say("")
        elif self._page in ("way", "step"):
            self.give_up()
        else:
            self.put_away()

    # acts

    def go_on(self) -> None:
        """Space: take the answer, do the step, enter the reading."""
        acts = {
            "drum": self._take_drum,
            "side": self._take_side,
            "cause": self._take_cause,
            "minutes": self._take_minutes,
            "way": self._take_way,
            "step": self._done,
            "over": self.put_away,
        }
        self._said = ""
        acts[self._page]()

    def _to(self, page: str, row: int = 0) -> None:
        self._page, self._row, self._typed = page, row, ""
        self._say("")

    def _take_drum(self) -> None:
        playing = self._repairs.playing
        if self._row < len(playing):
            entry = playing[self._row]
            self._drum_id, self._side = entry.id, "batter"
            self._to("side" if len(entry.drum.sides) > 1 else "cause")

    def _take_side(self) -> None:
        entry = self._repairs.workshop.entry(self._drum_id)
        assert entry is not None
        self._side = entry.drum.sides[self._row]
        self._to("cause")

    def _take_cause(self) -> None:
        self._cause = list(CAUSES)[self._row]
        self._to("minutes")

    def _take_minutes(self) -> None:
        minutes = float(self._typed) if self._typed else self._minutes
        try:
            self._repairs.begin(self._drum_id, self._side, self._cause, minutes)
        except KesseltonError as error:
            self._typed = ""
            self._on_refused(error)
            return
        self._minutes = minutes
        self._to("way")

    def _take_way(self) -> None:
        ways = self._repairs.ways
        if ways is None or self._row >= len(ways):
            return
        way = ways[self._row]
        if way.refused:
            self._say(_("not possible: {why}").format(why=way.refused))
            return
        self._repairs.decide(way)
        self._to("step")

    def _done(self) -> None:
        step = self.step
        if step is None:
            return
        if step.ask is not None:
            self._say(_("Answer with Y or N."))
        elif step.key == CLEAR_KEY and not self._no_rods():
            self._done_at_rod()
        else:
            self._repairs.finish_step()

    def answer(self, message: str) -> None:
        """Answer the question of the step."""
        step = self.step
        if self._page != "step" or step is None or step.ask is None:
            return
        if message == step.ask.good:
            self._said = ""
            self._repairs.finish_step()
        else:
            self._say(step.ask.otherwise)

    def skip_step(self) -> None:
        """Leave the step out; it comes up after the show."""
        if self._page != "step":
            return
        self._said = ""
        try:
            self._repairs.skip_step()
        except KesseltonError as error:
            self._on_refused(error)

    def go_back(self) -> None:
        """What was typed, the step before, the question before."""
        if self._typed:
            self._typed = self._typed[:-1]
            self._say("")
            return
        before = {"side": "drum", "cause": "side", "minutes": "cause"}
        if self._page in before:
            page = before[self._page]
            entry = self._repairs.workshop.entry(self._drum_id)
            if page == "side" and (entry is None or len(entry.drum.sides) < 2):
                page = "drum"
            self._to(page)
        elif self._page == "step":
            repair, procedure = self._repairs.repair, self._repairs.procedure
            first = procedure is not None and self.step is shown(procedure)[0]
            if repair is not None and first:
                self._repairs.undecide()
                self._to("way")
            else:
                self._say("")
                self._repairs.go_back()

    def _turn_seating(self) -> None:
        step, repair = self.step, self._repairs.repair
        if step is not None and repair is not None and step.key in ("turns", "halves"):
            self._repairs.choose_halves(not repair.halves)

    def give_up(self) -> None:
        """Twice: the repair is given up. Before there is one the night is put away."""
        if self._page not in ("way", "step"):
            self.put_away()
        elif self._leaving:
            self._leaving = False
            self._said = ""
            self._repairs.break_off()
        else:
            self._leaving = True
            self._say(
                _("Press Escape again to abandon the repair; open work is listed after the show.")
            )
