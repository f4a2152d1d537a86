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

from kesselton.app.bench.clear_bench import ClearBench
from kesselton.app.bench.clearing import Cleared
from kesselton.app.bench.reading_sources import ReadingSources, rod_and_value, typed_reading
from kesselton.core.clear.by_ear import (
    ALIKE,
    HIGHER,
    LOWER,
    UNSURE,
)
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.walk import Walk
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, _, figures
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.ui.clear.clear_face import TYPED, ClearFace, Standing
from kesselton.ui.parts.widgets.columns import as_page
from kesselton.ui.parts.widgets.inputs import TYPING_MODIFIERS, OwnedLines, is_letter
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.entry_text import many_entries, take_each

if TYPE_CHECKING:
    from kesselton.core.clear.taps.tap import HeardTap, LeftOut

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
        self._after: list[Callable[[], None]] = []  # keys pressed while a reading is taken
        self._typed = OwnedLines(self.value)
        self.bench = ClearBench(self)
        self._connect()

    def _connect(self) -> None:
        self.bench.changed.connect(self.changed)
        self.bench.answered.connect(self._show)
        self.bench.failed.connect(self._on_failed)
        self.panel.done.connect(self.bench.finish)
        self.panel.wrong.connect(self.take_back)
        self.panel.skipped.connect(self.bench.skip_rod)
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
        self.pattern.chosen.connect(
            lambda pattern: self._try(partial(self.bench.choose_pattern, pattern))
        )
        self.step.chosen.connect(lambda step: self._change(_("finest turn"), step=step))
        self.target.edited.connect(lambda hz: self._change(_("final pitch"), target_hz=hz))
        self.own.edited.connect(lambda shares: self._change("pattern", wanted=shares))
        self.value.returnPressed.connect(self._on_typed)
        self.value.pasted.connect(self.take_readings)
        self.value.installEventFilter(self)
        self.read.clicked.connect(lambda: self._in_turn(self.read_now))
        self.imported.clicked.connect(self._on_import)
        self.down.clicked.connect(lambda: self.bench.turn_all(-EIGHTH))
        self.up.clicked.connect(lambda: self.bench.turn_all(EIGHTH))
        self.again.clicked.connect(self.bench.begin)
        self.strip.rod_chosen.connect(self.pick_rod)
        for answer, button in self.answers.items():
            button.clicked.connect(partial(self._in_turn, partial(self.answer_by_ear, answer)))

    # state

    @property
    def sources(self) -> ReadingSources:
        """Where readings come from."""
        return self.bench.sources

    @property
    def clearing(self) -> Clearing:
        """The rounds on the head chosen."""
        return self.bench.clearing

    @property
    def walk(self) -> Walk:
        """Where the technician stands."""
        return self.bench.walk

    @property
    def cleared(self) -> Cleared | None:
        """Most recent answer for this head; may be of an earlier reading."""
        return self.bench.cleared

    @property
    def settled(self) -> Cleared | None:
        """The answer to all that was read and turned, None while it is worked out."""
        return self.bench.settled

    @property
    def now(self) -> int:
        """The rod that is read, or turned, next."""
        return self.bench.now

    @property
    def reads(self) -> int:
        """The rod that a reading now would belong to."""
        return self.bench.reads

    def set_state(self, entry: Entry | None, workshop: Workshop, flats: bool) -> None:
        """Show a drum and its rounds."""
        bench, before = self.bench, self.bench.entry
        if entry is None or before is None or entry.id != before.id:
            waits = self._typed.belong_to(entry.id if entry else None)
            if waits and before is not None:
                name = before.drum.name
                self.typed_dropped.emit(
                    _("“{text}” is not entered: it waits at {name}.").format(text=waits, name=name)
                )
            self._let_go()
            if entry is not None and len(entry.clearings):
                bench.side = entry.clearings[-1].side  # the head that was last in hand
        self._flats = flats
        bench.take(entry, workshop)
        self.setEnabled(entry is not None)
        if entry is None:
            return
        self.show_choices(entry.drum, bench.side, self.sources.name, self.clearing)
        bench.place_word = self._words.place
        bench.ask()
        self._show()

    def _let_go(self) -> None:
        """Another head comes: nothing that is on its way belongs to it."""
        self._after.clear()
        self.bench.let_go()
        self.panel.set_heard("", "", None)
        self._complain(None)

    def _show(self) -> None:
        bench, entry = self.bench, self.bench.entry
        if entry is None:
            return
        again, unheard = bench.again, bench.by_ear and bench.against == 0
        standing = Standing(
            head=wording.side_word(entry.drum, bench.side),
            clearing=bench.clearing,
            rods=bench.rods,
            walk=replace(bench.walk, turning=False) if again else bench.walk,
            now=bench.now,
            reads=bench.reads,
            missing=1 if again else bench.missing - unheard,
            cents=bench.read_cents(),
            cleared=bench.cleared,
            settled=bench.settled is not None,
            against=bench.compared_with,
            again=again,
        )
        self.show_round(standing, self.sources)
        self.sources.follow(entry.drum, bench.clearing)

    # intents

    def _change(self, label: str, **values: object) -> None:
        self._try(partial(self.bench.change, label, **values))

    def _try(self, change: Callable[[], None]) -> None:
        """Do it, or say why it cannot be."""
        try:
            change()
        except InputError as error:
            self._complain(error)
            self.own.set_state(self.clearing.wanted)
            return
        self._complain(None)

    def choose_side(self, side: str) -> None:
        """Clear that head."""
        entry = self.bench.entry
        if side != self.bench.side and entry is not None and side in entry.drum.sides:
            self._on_side(side)

    def _on_side(self, side: str) -> None:
        bench = self.bench
        assert bench.workshop is not None
        bench.side = side
        self._let_go()
        self.set_state(bench.entry, bench.workshop, self._flats)
        self.go_home()

    def _on_other(self) -> None:
        bench = self.bench
        assert bench.entry is not None
        self._on_side(next(side for side in bench.entry.drum.sides if side != bench.side))

    def choose_source(self, source: str) -> None:
        """Read by another means; rods that are half turned are turned on."""
        self.panel.state.setText("")
        self.source.set_state(source)
        self._complain(None)
        self.bench.choose_source(source)
        self.source_chosen.emit(source)
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
        self._try(partial(self.bench.pick, rod))
        self._show()

    def pick_next(self, by: int) -> None:
        """The rod beside the one in hand."""
        self.pick_rod((self.now - 1 + by) % self.bench.rods + 1)

    def add(self, tap: Reading, heard: HeardTap | None = None) -> None:
        """Note a reading at the rod that is next; the rod after it comes next."""
        self._add_to(self.bench.base, tap, heard)

    def _add_to(self, base: Clearing, tap: Reading, heard: HeardTap | None = None) -> None:
        self._complain(None)
        title, more = self._said_of(tap)
        self.panel.set_heard(title, self._with_half_step(more, tap.rod), heard)
        self.bench.add(base, tap, heard)

    def _with_half_step(self, text: str, rod: int) -> str:
        """What was heard at a rod, and how far its key goes for a half step there."""
        turn = self.bench.half_step_turn(rod)
        if turn is None:
            return text
        if self._words.mm_per_turn:
            way = self._words.amount(turn)
        else:
            way = _("{eighths} turn").format(eighths=wording.turn_words(max(turn, 1.0 / 8.0)))
        return _("{heard}. A half step there: about {turn}").format(heard=text, turn=way)

    def _said_of(self, tap: Reading) -> tuple[str, str]:
        """What was read, large, and how sure and where, small."""
        where = self.bench.place(tap.rod)
        if tap.kind in UNITS:
            more = _("{kind} at {where}").format(kind=tap.kind, where=where)
            return f"{figures(tap.value, 'g')} {UNITS[tap.kind]}", more
        half = round(SIGMAS_90 * tap.spread)
        message = (
            _("{value:.1f} Hz ± {half} cents at {where}")
            if half > 1
            else _("{value:.1f} Hz ± {half} cent at {where}")
        )
        if not half:
            message = _("{value:.1f} Hz at {where}")
        more = message.format(value=tap.value, half=half, where=where)
        return wording.note_words(tap.value, self._a4(), self._flats), more

    def pitch_in_hand(self) -> float | None:
        """What the rods are to end at: the final pitch, or what the head is set to."""
        return self.bench.pitch_in_hand()

    def answer_by_ear(self, answer: str) -> None:
        """Note how the rod that is next sounds against the first one."""
        if self.bench.entry is None:
            return
        rod = self.reads
        try:
            base, tap, other = self.bench.by_ear_now(answer)
        except KesseltonError as error:
            self._complain(error)
            return
        self._add_to(base, tap)
        message = _(HEARD_BY_EAR[answer]).format(other=other)
        self.panel.set_heard(self.bench.place(rod), self._with_half_step(message, rod), None)

    def _on_typed(self) -> None:
        text = self.value.text().strip()
        if not text:
            return
        try:
            rod, text = rod_and_value(text, self.reads, self.bench.rods)
            kind = self.sources.kind
            tap = typed_reading(kind, rod, text, self._a4(), self.bench.base.now)
            dial = self.bench.dial
            if tap.kind == "dial" and dial is not None:
                dial.tension(tap.value, self.bench.thickness_m)
        except InputError as error:
            self._complain(error)
            return
        self.value.clear()
        self.add(tap)

    def take_readings(self, text: str) -> None:
        """Take a column of readings, rod after rod; the first that cannot be taken stands in the
        line, and what is wrong with it beside it."""
        if self.bench.entry is None or self.sources.name not in TYPED:
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
        entry, workshop = self.bench.entry, self.bench.workshop
        if entry is None or workshop is None:
            return
        if self.sources.name == "microphone":
            self.sources.toggle_listening()
            self._show()
        elif self.sources.simulated:
            self.sources.take(entry, workshop, self.bench.base, self.reads)

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
        assert self.bench.entry is not None
        self.sources.import_taps(path, self.bench.entry, self.clearing)

    def _on_imported(self, heard: list[HeardTap], left: list[LeftOut]) -> None:
        if len(heard) > self.bench.rods:
            self._complain(InputError(
                _("The recording has {count} taps; the drum has {rods} rods.").format(
                    count=len(heard), rods=self.bench.rods
                ),
                _("Trim it to one round, one tap per rod."),
            ))  # fmt: skip
            return
        for tap in heard:
            self._note_heard(tap)
        if left:
            self.fault.setText(" ".join(left_out.words() for left_out in left))
            self.fault.show()

    def take_back(self) -> None:
        """The last reading, or the last turn, was wrong."""
        self.bench.take_back()

    # answers

    def _on_failed(self, error: KesseltonError) -> None:
        self._complain(error)
        self._show()

    def _complain(self, error: KesseltonError | None) -> None:
        self.fault.setText(f"{error.message} {error.remedy}" if error else "")
        self.fault.setVisible(error is not None)

    def forget_said(self) -> None:
        """A step was taken back: what was said of it is no longer so."""
        self.bench.forget_picked()
        self.panel.set_heard("", "", None)
        self.panel.state.setText("")
        self._complain(None)

    def means_key(self, event: QKeyEvent) -> bool:
        """Whether a key does something here, or is part of a reading that is typed."""
        if event.modifiers() & ~TYPING_MODIFIERS or self.bench.entry is None:
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
            Qt.Key.Key_Space: self.bench.finish,
            Qt.Key.Key_PageDown: self.bench.finish,
            Qt.Key.Key_Backspace: self.take_back,
            Qt.Key.Key_PageUp: self.take_back,
            Qt.Key.Key_S: self.bench.skip_rod,
            Qt.Key.Key_T: self.read_now,
            Qt.Key.Key_Left: lambda: self.pick_next(-1),
            Qt.Key.Key_Up: lambda: self.pick_next(-1),
            Qt.Key.Key_Right: lambda: self.pick_next(1),
            Qt.Key.Key_Down: lambda: self.pick_next(1),
        }
        if self.bench.by_ear and (not self.walk.turning or self.bench.again):
            acts |= {key: partial(self.answer_by_ear, answer) for key, answer in EAR_KEYS.items()}
        return acts

    def _act(self, event: QKeyEvent) -> bool:
        """Do what a key means here; False if it means nothing. A key held down means it once."""
        act = self._acts().get(Qt.Key(event.key()))
        plain = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if act is None or plain or self.bench.entry is None:
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
        self.bench.stop()
