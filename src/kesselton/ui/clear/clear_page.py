"""Clearing a head: read once round, know what to turn, turn, read again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent
from PySide6.QtWidgets import QWidget

from kesselton.app.bench.clearing import (
    Cleared,
    cleared,
    combined,
    dial_fit,
    in_cents,
    plain_pitch,
    taught,
)
from kesselton.app.bench.reading_sources import ReadingSources, rod_and_value, typed_reading
from kesselton.app.host.jobs import Answer
from kesselton.core.clear.by_ear import (
    ALIKE,
    HIGHER,
    LOWER,
    UNSURE,
    heard_by_ear,
    reference,
)
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.walk import Walk
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, _
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.ui.clear.clear_face import EAR, TYPED, ClearFace, Standing
from kesselton.ui.parts.widgets.columns import as_page
from kesselton.ui.parts.widgets.inputs import TYPING_MODIFIERS, OwnedLines, is_letter
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.entry_text import many_entries, take_each

if TYPE_CHECKING:
    from kesselton.core.clear.taps.tap import HeardTap
    from kesselton.core.measure.gauges import DialFit

HEARD_BY_EAR = {
    "higher": N_("higher than {other}"),
    "lower": N_("lower than {other}"),
    "alike": N_("like {other}"),
    "unsure": N_("cannot tell from {other}"),
}

UNITS = {"dial": "divisions", "torque": "N m"}
EIGHTH = 0.125

EAR_KEYS = {
    Qt.Key.Key_H: HIGHER,
    Qt.Key.Key_PageDown: HIGHER,
    Qt.Key.Key_L: LOWER,
    Qt.Key.Key_PageUp: LOWER,
    Qt.Key.Key_A: ALIKE,
    Qt.Key.Key_Return: ALIKE,
    Qt.Key.Key_Enter: ALIKE,
    Qt.Key.Key_U: UNSURE,
}
"""While rods are heard against each other; a foot-switch sends the page keys."""


class ClearPage(ClearFace):
    """Joins what is read, turned and answered.

    Signals
    -------
    changed(str label, tuple clearings) : to be kept with the drum
    source_chosen(str) : how rods are read from now on
    tuning_wanted, hear_wanted : the head is clear; the whole drum is to be heard
    typed_dropped(str in words) : something typed could not be taken, and its drum went
    """

    changed = Signal(str, object)
    source_chosen = Signal(str)
    tuning_wanted = Signal()
    hear_wanted = Signal()
    typed_dropped = Signal(str)

    def __init__(
        self,
        a4_hz: Callable[[], float],
        note: Callable[[float], str],
        ask_open: Callable[[], Path | None],
    ) -> None:
        super().__init__(a4_hz, note)
        as_page(self, _("Clear a head"))
        self._a4, self._ask_open = a4_hz, ask_open
        self._flats = False
        self._entry: Entry | None = None
        self._workshop: Workshop | None = None
        self._side = "batter"
        self._picked = 0  # a rod chosen out of turn
        self._after: list[Callable[[], None]] = []  # keys pressed while a reading is taken
        self._typed = OwnedLines(self.value)
        self._checked: tuple[object, set[int]] = (None, set())  # of a round: rods read once more
        self.sources = ReadingSources(self)
        self._answer: Answer[Cleared] = Answer(self._show, self._on_failed, self)
        self._connect()

    def _connect(self) -> None:
        self.panel.done.connect(self.finish)
        self.panel.wrong.connect(self.take_back)
        self.panel.skipped.connect(self.skip_rod)
        self.panel.tuning_wanted.connect(self.tuning_wanted)
        self.panel.hear_wanted.connect(self.hear_wanted)
        self.panel.other_wanted.connect(self._on_other)
        self.sources.read.connect(self._on_read)
        self.sources.heard.connect(self._on_heard)
        self.sources.imported.connect(self._on_imported)
        self.sources.refused.connect(self._on_refused)
        self.sources.state_changed.connect(self._on_source_state)
        self.sources.level_changed.connect(self.panel.lines.set_level)
        self.side.chosen.connect(self._on_side)
        self.source.chosen.connect(self.choose_source)
        self.pattern.chosen.connect(self._on_pattern)
        self.step.chosen.connect(lambda step: self._change(_("finest turn"), step=step))
        self.target.edited.connect(lambda hz: self._change(_("final pitch"), target_hz=hz))
        self.own.edited.connect(lambda shares: self._change("pattern", wanted=shares))
        self.value.returnPressed.connect(self._on_typed)
        self.value.pasted.connect(self.take_readings)
        self.value.installEventFilter(self)
        self.read.clicked.connect(lambda: self._in_turn(self.read_now))
        self.imported.clicked.connect(self._on_import)
        self.down.clicked.connect(lambda: self.turn_all(-EIGHTH))
        self.up.clicked.connect(lambda: self.turn_all(EIGHTH))
        self.again.clicked.connect(self.begin)
        self.strip.rod_chosen.connect(self.pick_rod)
        for answer, button in self.answers.items():
            button.clicked.connect(partial(self._in_turn, partial(self.answer_by_ear, answer)))

    # state

    @property
    def clearing(self) -> Clearing:
        """The rounds on the head chosen."""
        assert self._entry is not None
        return self._entry.clearing(self._side)

    @property
    def walk(self) -> Walk:
        """Where the technician stands; what is to be turned is fixed with the first turn."""
        walk, found = self.clearing.walk, self.settled
        if walk.turning and not walk.turned and found is not None:
            return walk.begins_turning(found.asked, found.plan.all_turns)
        return walk

    @property
    def found(self) -> Cleared | None:
        """The last answer for this head, be it of a reading before."""
        return self._answer.value

    @property
    def settled(self) -> Cleared | None:
        """The answer to all that was read and turned, None while it is worked out."""
        return self._answer.settled

    def set_state(self, entry: Entry | None, workshop: Workshop, flats: bool) -> None:
        """Show a drum and its rounds."""
        if entry is None or self._entry is None or entry.id != self._entry.id:
            waits = self._typed.belong_to(entry.id if entry else None)
            if waits and self._entry is not None:
                name = self._entry.drum.name
                self.typed_dropped.emit(
                    _("“{text}” is not entered: it waits at {name}.").format(text=waits, name=name)
                )
            self._let_go()
            if entry is not None and len(entry.clearings):
                self._side = entry.clearings[-1].side  # the head that was last in hand
        self._entry, self._workshop, self._flats = entry, workshop, flats
        self.setEnabled(entry is not None)
        if entry is None:
            return
        if self._side not in entry.drum.sides:
            self._side = "batter"
        self.show_choices(entry.drum, self._side, self.sources.name, self.clearing)
        self._ask(entry, workshop)
        self._show()

    def _let_go(self) -> None:
        """Another head comes: nothing that is on its way belongs to it."""
        self._after.clear()
        self._answer.forget()
        self._picked = 0
        self.sources.quiet()
        self.sources.forget_imports()
        self.panel.set_heard("", "", None)
        self._complain(None)

    def _ask(self, entry: Entry, workshop: Workshop) -> None:
        clearing = self.clearing.as_read
        if not any(one.taps for one in clearing.rounds):
            self._answer.forget()
            return
        owner = (entry.id, clearing.side, entry.drum.shell.rods)
        checked = frozenset(self._read_again())
        key = (entry.drum, clearing, workshop.dials[:1], checked)
        self._answer.ask(owner, key, lambda: cleared(entry, workshop, clearing, checked))

    def _read_again(self) -> set[int]:
        """Rods that were read once more in this round, for the one opposite was heard off."""
        assert self._entry is not None
        clearing = self.clearing
        round_ = (self._entry.id, clearing.side, len(clearing.rounds), bool(clearing.now.taps))
        if self._checked[0] != round_:
            self._checked = (round_, set())
        return self._checked[1]

    @property
    def by_ear(self) -> bool:
        """Whether rods are heard against each other."""
        return self.sources.name == EAR

    @property
    def _again(self) -> int:
        """The rod that is to be read once more before any is turned; 0 for none."""
        found, walk = self.settled, self.walk
        if found is None or not found.ask_again or walk.turned:
            return 0
        complete = self.clearing.missing(self.sources.kind, self._rods) == 0
        by_pitch = self.sources.kind == "lug_pitch"
        return found.ask_again if complete and by_pitch else 0

    @property
    def _rods(self) -> int:
        assert self._entry is not None
        return self._entry.drum.shell.rods

    @property
    def now(self) -> int:
        """The rod that is read, or turned, next."""
        turns = self.walk.turns_now if self.walk.turning and not self._again else 0
        return turns or self.reads

    @property
    def reads(self) -> int:
        """The rod that a reading now would belong to."""
        if self._picked or self._again:
            return self._picked or self._again
        if self.by_ear and self._against() == 0:
            return self._first_two()[1]
        return self._base().reads(self.sources.kind, self._rods)

    @property
    def _compared_with(self) -> int:
        """By ear, the rod the others are heard against, or will be."""
        return self._against() or self._first_two()[0]

    def _first_two(self) -> tuple[int, int]:
        """By ear, the rod the others are heard against, and the first of these."""
        left = [rod for rod in range(1, self._rods + 1) if rod not in self._base().walk.skipped]
        return (left[0], left[1]) if len(left) > 1 else (1, 2)

    def _base(self) -> Clearing:
        """What a reading now is noted in: after the first turn that is the next round, for the drum
        is no longer as it was read."""
        clearing, walk = self.clearing, self.walk
        if walk.turning and walk.turned:
            return clearing.turned(walk.made(self._rods))
        return replace(clearing, walk=walk.back_to_reading())

    def _show(self) -> None:
        entry = self._entry
        if entry is not None:
            name = wording.side_word(entry.drum, self._side)
            again, missing = self._again, self.clearing.missing(self.sources.kind, self._rods)
            unheard = self.by_ear and self._against() == 0
            standing = Standing(
                name,
                self.clearing,
                self._rods,
                replace(self.walk, turning=False) if again else self.walk,
                self.now,
                self.reads,
                1 if again else missing - unheard,
                self._read_cents(),
                self.found,
                self.settled is not None,
                self._compared_with,
                again,
            )
            self.show_round(standing, self.sources)
            self.sources.follow(entry.drum, self.clearing)

    def _dial(self) -> DialFit | None:
        return dial_fit(self._workshop) if self._workshop else None

    def _thickness(self) -> float:
        assert self._entry is not None
        return self._entry.drum.setting(self._side).head.film_thickness_m

    def _read_cents(self) -> dict[int, float]:
        kind = self.sources.kind
        dial = self._dial() if kind == "dial" else None  # a fit: not for every press of a key
        try:
            return in_cents(self.clearing.now, kind, dial, self._thickness())
        except InputError:
            return {}  # a reading this dial never shows: the answer says so

    # intents

    def _keep(self, label: str, changed: Clearing) -> None:
        assert self._entry is not None
        self.changed.emit(label, self._entry.with_clearing(changed))

    def _change(self, label: str, **values: object) -> None:
        changed = replace(self.clearing, **values)  # type: ignore[arg-type]
        try:
            changed.check(self._rods)
        except InputError as error:
            self._complain(error)
            self.own.set_state(self.clearing.wanted)
            return
        self._complain(None)
        self._keep(label, changed)

    def _on_pattern(self, pattern: str) -> None:
        wanted = (1.0,) * self._rods if pattern == "own" else ()
        self._change(_("target pattern"), pattern=pattern, wanted=wanted)

    def choose_side(self, side: str) -> None:
        """Clear that head."""
        if side != self._side and self._entry is not None and side in self._entry.drum.sides:
            self._on_side(side)

    def _on_side(self, side: str) -> None:
        assert self._workshop is not None
        self._side = side
        self._let_go()
        self.set_state(self._entry, self._workshop, self._flats)
        self.go_home()

    def _on_other(self) -> None:
        assert self._entry is not None
        self._on_side(next(side for side in self._entry.drum.sides if side != self._side))

    def choose_source(self, source: str) -> None:
        """Read by another means; rods that are half turned are turned on."""
        self.sources.choose(source)
        self._picked = 0
        self.panel.state.setText("")
        self.source.set_state(source)
        self._complain(None)
        self.source_chosen.emit(source)
        if self._entry is not None and self.walk.turning and not self.walk.turned:
            self._keep(_("next reading"), self._base())
        self._show()
        self.go_home()

    @property
    def home(self) -> QWidget:
        """Where the keys belong: where reading and turning are done."""
        return self.value if self.sources.name in TYPED else self

    def go_home(self) -> None:
        """The keys to where reading and turning are done."""
        self.home.setFocus()

    def pick_rod(self, rod: int) -> None:
        """Read a rod out of turn; what was turned so far ends the round."""
        if self.by_ear and rod == self._compared_with:
            said = _("{place} {rod} is the reference for the others.").format(
                place=self._words.place.capitalize(), rod=rod
            )
            self._complain(InputError(said, _("Choose another one.")))
            return
        self._complain(None)
        self._picked = rod
        if self.clearing.walk.turning:
            self._keep(_("next reading"), self._base())
        self._show()

    def pick_next(self, by: int) -> None:
        """The rod beside the one in hand."""
        self.pick_rod((self.now - 1 + by) % self._rods + 1)

    def _end_round(self, walk: Walk) -> None:
        changed = self.clearing.turned(walk.made(self._rods))
        self._keep(_("turns of round {count}").format(count=len(self.clearing.rounds)), changed)

    def begin(self) -> None:
        """A new clearing; what earlier rounds taught of the rim is kept."""
        learned = taught(self.found) if self.found is not None else self.clearing.learned
        self._picked = 0
        self._keep(_("restart clearing"), replace(self.clearing.begun_again(), learned=learned))

    def add(self, tap: Reading, heard: HeardTap | None = None) -> None:
        """Note a reading at the rod that is next; the rod after it comes next."""
        self._add_to(self._base(), tap, heard)

    def _add_to(self, base: Clearing, tap: Reading, heard: HeardTap | None = None) -> None:
        assert self._entry is not None
        self._complain(None)
        where = f"{self._words.place} {tap.rod}"
        if tap.kind in UNITS:
            title, more = (
                f"{tap.value:g} {UNITS[tap.kind]}",
                _("{kind} at {where}").format(kind=tap.kind, where=where),
            )
        else:
            title = wording.note_words(tap.value, self._a4(), self._flats)
            half = round(SIGMAS_90 * tap.spread)
            said = (
                _("{value:.1f} Hz ± {half} cents at {where}")
                if half > 1
                else _("{value:.1f} Hz ± {half} cent at {where}")
            )
            if not half:
                said = _("{value:.1f} Hz at {where}")
            more = said.format(value=tap.value, half=half, where=where)
        self.panel.set_heard(title, more, heard)
        again = tap.rod == self._again
        tap = combined(base.now, tap) if not (again and self.by_ear) else tap
        changed = base
        if heard is not None and heard.second_hz is not None:
            changed = changed.with_tap(at_rod("second_partial", tap.rod, heard.second_hz))
        changed = changed.with_tap(tap)
        self._picked = 0
        if again:
            self._read_again().add(tap.rod)
        self._keep(_("reading at {where}").format(where=where), self._all_read(changed))

    def _all_read(self, changed: Clearing) -> Clearing:
        """After the last rod is read, or left out, rods are turned."""
        done = changed.now.taps and changed.missing(self.sources.kind, self._rods) == 0
        return replace(changed, walk=replace(changed.walk, turning=bool(done)))

    def _against(self) -> int:
        """The rod the others are heard against in this round; 0 before there is one."""
        first = reference(self._base())
        return first.rod if first is not None else 0

    def pitch_in_hand(self) -> float | None:
        """What the rods are to end at: the final pitch, or what the head is set to."""
        if self._entry is None:
            return None
        return self.clearing.target_hz or plain_pitch(self._entry.drum, self._side)

    def answer_by_ear(self, answer: str) -> None:
        """Note how the rod that is next sounds against the first one."""
        entry = self._entry
        if entry is None:
            return
        base, rod = self._base(), self.reads
        try:
            plain = plain_pitch(entry.drum, self._side)
            if reference(base) is None:  # no pitch is named: the first stands for itself
                first = heard_by_ear(base, self._first_two()[0], ALIKE, plain)
                base = base.with_tap(first)
            tap = heard_by_ear(base, rod, answer, plain)
        except KesseltonError as error:
            self._complain(error)
            return
        self._add_to(base, tap)
        said = _(HEARD_BY_EAR[answer]).format(other=reference(base).rod)  # type: ignore[union-attr]
        self.panel.set_heard(f"{self._words.place} {rod}", said, None)

    def _on_typed(self) -> None:
        text = self.value.text().strip()
        if not text:
            return
        try:
            rod, text = rod_and_value(text, self.reads, self._rods)
            kind = self.sources.kind
            tap = typed_reading(kind, rod, text, self._a4(), self._base().now)
            dial = self._dial()
            if tap.kind == "dial" and dial is not None:
                dial.tension(tap.value, self._thickness())
        except InputError as error:
            self._complain(error)
            return
        self.value.clear()
        self.add(tap)

    def take_readings(self, text: str) -> None:
        """Take a column of readings, rod after rod; the first that cannot be taken stands in the
        line, and what is wrong with it beside it."""
        if self._entry is None or self.sources.name not in TYPED:
            self._complain(
                InputError(
                    _("Paste a column of readings where readings are entered."),
                    _("Choose how they were read: pitch, gauge or torque, entered."),
                )
            )
            return
        entries = many_entries(text)
        take_each(entries, self.value, self._on_typed, self.fault)

    def read_now(self) -> None:
        """Take a reading from the simulated bench, or begin or end listening."""
        entry, workshop = self._entry, self._workshop
        if entry is None or workshop is None:
            return
        if self.sources.name == "microphone":
            self.sources.toggle_listening()
            self._show()
        elif self.sources.simulated:
            self.sources.take(entry, workshop, self._base(), self.reads)

    def _on_heard(self, heard: HeardTap) -> None:
        if self.clearing.walk.turning:  # a tap to try the rod belongs to no round
            self._on_source_state(
                _(
                    "Tap ignored: press Space when the rod is turned, or choose a "
                    "rod to read it again."
                )
            )
            return
        self._note_heard(heard)

    def _note_heard(self, heard: HeardTap) -> None:
        self.add(at_rod("lug_pitch", self.reads, heard.lug_pitch_hz, heard.spread_cents), heard)

    def _on_source_state(self, text: str) -> None:
        self.panel.state.setText(text)
        self._show()

    def _on_import(self) -> None:
        path = self._ask_open()
        if path is not None:
            self.import_taps(path)

    def import_taps(self, path: Path) -> None:
        """Taps of a recording, one rod after another from the one that is next."""
        assert self._entry is not None
        self.sources.import_taps(path, self._entry, self.clearing)

    def _on_imported(self, heard: list[HeardTap], left: list[str]) -> None:
        if len(heard) > self._rods:
            self._complain(InputError(
                _("The recording has {count} taps; the drum has {rods} rods.").format(
                    count=len(heard), rods=self._rods
                ),
                _("Trim it to one round, one tap per rod."),
            ))  # fmt: skip
            return
        for one in heard:
            self._note_heard(one)
        if left:
            self.fault.setText(" ".join(left))
            self.fault.show()

    def take_back(self) -> None:
        """The last reading, or the last turn, was wrong."""
        walk = self.walk
        if walk.turning and walk.turned:
            changed = replace(self.clearing, walk=walk.steps_back())
            self._keep(_("undo turn"), changed)
        elif self.clearing.now.taps:
            self._picked = 0
            self._keep(_("undo reading"), self._base().without_last())

    def skip_rod(self) -> None:
        """Leave out the rod that is next."""
        walk = self.walk
        if self._again:
            self._goes_without()
            return
        if not walk.turning:
            changed = replace(self.clearing, walk=walk.skips(self.now))
            where = _("skip {place} {rod}").format(place=self._words.place, rod=self.now)
            self._picked = 0
            self._keep(where, self._all_read(changed))
        elif self._may_turn(walk):
            self._go_on(walk.leaves(), _("skip {place} {rod}"))

    def turn_all(self, turn: float) -> None:
        """Every rod by the same turn: a round of its own."""
        way = "tighten" if turn > 0 else "loosen"
        self._keep(_("{way} all rods").format(way=way), self._base().turned((turn,) * self._rods))

    def finish(self) -> None:
        """The rod on show is turned, or reading is over; the last turn ends the round."""
        walk = self.walk
        if self._again:
            self._goes_without()
            return
        if not walk.turning:
            if self.settled is not None:
                turning = replace(self.clearing, walk=replace(walk, turning=True))
                self._picked = 0
                self._keep(_("start turning"), turning)
        elif self._may_turn(walk):
            self._go_on(walk if walk.over else walk.turns(), _("{place} {rod} turned"))

    def _goes_without(self) -> None:
        """The rod that was to be read once more is not: its readings stand."""
        assert self._entry is not None
        assert self._workshop is not None
        self._read_again().add(self._again)
        self._ask(self._entry, self._workshop)
        self._show()

    def _may_turn(self, walk: Walk) -> bool:
        """Whether what is to be turned is known: from the first turn on it is noted."""
        return bool(walk.turned) or self.settled is not None

    def _go_on(self, walk: Walk, label: str) -> None:
        """To the next rod, or to the end of the round."""
        if walk.over:
            self._end_round(walk)
        else:
            said = label.format(place=self._words.place, rod=walk.order[walk.turned - 1])
            self._keep(said, replace(self.clearing, walk=walk))

    # answers

    def _on_failed(self, error: KesseltonError) -> None:
        self._complain(error)
        self._show()

    def _complain(self, error: KesseltonError | None) -> None:
        self.fault.setText(f"{error.message} {error.remedy}" if error else "")
        self.fault.setVisible(error is not None)

    def forget_said(self) -> None:
        """A step was taken back: what was said of it is no longer so."""
        self._picked, self._checked = 0, (None, set())
        self.panel.set_heard("", "", None)
        self.panel.state.setText("")
        self._complain(None)

    def means_key(self, event: QKeyEvent) -> bool:
        """Whether a key does something here, or is part of a reading that is typed."""
        if event.modifiers() & ~TYPING_MODIFIERS or self._entry is None:
            return False
        return Qt.Key(event.key()) in self._acts() or (
            self.sources.name in TYPED and is_letter(event)
        )

    def take_key(self, event: QKeyEvent) -> bool:
        """A key pressed anywhere in the window: it acts, or is part of a reading."""
        if not self.value.text() and self._act(event):
            return True
        return self.sources.name in TYPED and self.value.take_key(event)

    @safe_override
    def hideEvent(self, event: QHideEvent) -> None:
        """What is heard while nobody looks is not noted."""
        self.sources.quiet()
        super().hideEvent(event)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self._act(event):
            super().keyPressEvent(event)

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Keys pressed in the line of readings act as long as nothing is typed there."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if not self.value.text():
                return self._act(event)
            if event.key() == Qt.Key.Key_PageDown:  # a foot-switch enters what is typed
                self._on_typed()
                return True
        return super().eventFilter(watched, event)

    def _acts(self) -> dict[Qt.Key, Callable[[], None]]:
        """What keys mean here now."""
        acts: dict[Qt.Key, Callable[[], None]] = {
            Qt.Key.Key_Space: self.finish,
            Qt.Key.Key_PageDown: self.finish,
            Qt.Key.Key_Backspace: self.take_back,
            Qt.Key.Key_PageUp: self.take_back,
            Qt.Key.Key_S: self.skip_rod,
            Qt.Key.Key_T: self.read_now,
            Qt.Key.Key_Left: lambda: self.pick_next(-1),
            Qt.Key.Key_Up: lambda: self.pick_next(-1),
            Qt.Key.Key_Right: lambda: self.pick_next(1),
            Qt.Key.Key_Down: lambda: self.pick_next(1),
        }
        if self.by_ear and (not self.walk.turning or self._again):
            acts |= {key: partial(self.answer_by_ear, answer) for key, answer in EAR_KEYS.items()}
        return acts

    def _act(self, event: QKeyEvent) -> bool:
        """Do what a key means here; False if it means nothing. A key held down means it once."""
        act = self._acts().get(Qt.Key(event.key()))
        plain = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if act is None or plain or self._entry is None:
            return False
        if not event.isAutoRepeat():
            self._in_turn(act)
        return True

    def _in_turn(self, act: Callable[[], None]) -> None:
        """Now, or as soon as the reading is there that was asked for before."""
        if self.sources.busy:
            self._after.append(act)
        else:
            act()

    def _on_read(self, tap: Reading, heard: HeardTap | None) -> None:
        self.add(tap, heard)
        self._catch_up()

    def _on_refused(self, error: KesseltonError) -> None:
        self._complain(error)
        self._after.clear()  # what follows was meant for another state

    def _catch_up(self) -> None:
        while self._after and not self.sources.busy:
            self._after.pop(0)()

    def stop(self) -> None:
        """End the thread and the microphone."""
        self.sources.stop()
        self._answer.stop()
