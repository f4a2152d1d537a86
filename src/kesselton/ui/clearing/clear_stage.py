"""Clearing a head: read once round, know what to turn, turn, read again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent

from kesselton.app.clearing import (
    Cleared,
    cleared,
    combined,
    dial_fit,
    in_cents,
    taught,
    turned_so_far,
)
from kesselton.app.clearing_sequence import ClearingSequence
from kesselton.app.jobs import Latest
from kesselton.app.reading_sources import ReadingSources, typed_reading
from kesselton.core.clearing.clearing_records import Clearing, Round, at_rod
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.reading import Reading
from kesselton.store.holdings import Entry, Workshop
from kesselton.ui.clearing import texts
from kesselton.ui.clearing.clear_face import TYPED, ClearFace
from kesselton.ui.parts import wording

if TYPE_CHECKING:
    from kesselton.core.clearing.tap import HeardTap
    from kesselton.core.measuring.gauges import DialFit

UNITS = {"dial": "divisions", "torque": "N m"}
EIGHTH = 0.125


class ClearStage(ClearFace):
    """Joins what is read, turned and answered.

    Signals
    -------
    changed(str label, tuple clearings) : to be kept with the drum
    """

    changed = Signal(str, object)

    def __init__(
        self,
        a4_hz: Callable[[], float],
        note: Callable[[float], str],
        ask_open: Callable[[], Path | None],
    ) -> None:
        super().__init__(a4_hz, note)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._a4, self._ask_open = a4_hz, ask_open
        self._flats = False
        self._entry: Entry | None = None
        self._workshop: Workshop | None = None
        self._side = "batter"
        self._sequence = ClearingSequence()
        self.found: Cleared | None = None
        self.sources = ReadingSources(self)
        self._jobs = Latest(self._on_assessed, lambda key, error: self._on_failed(error), self)
        self._connect()

    def _connect(self) -> None:
        self.panel.done.connect(self.finish)
        self.panel.wrong.connect(self.take_back)
        self.panel.skipped.connect(self.skip_rod)
        self.sources.read.connect(self.add)
        self.sources.heard.connect(self._on_heard)
        self.sources.imported.connect(self._on_imported)
        self.sources.refused.connect(self._complain)
        self.sources.state_changed.connect(self._on_source_state)
        self.sources.level_changed.connect(self.panel.lines.set_level)
        self.side.chosen.connect(self._on_side)
        self.source.chosen.connect(self.choose_source)
        self.pattern.chosen.connect(self._on_pattern)
        self.step.chosen.connect(lambda step: self._change(texts.FINEST_TURN_2, step=step))
        self.target.edited.connect(lambda hz: self._change(texts.FINAL_PITCH_2, target_hz=hz))
        self.own.edited.connect(lambda shares: self._change("pattern", wanted=shares))
        self.value.returnPressed.connect(self._on_typed)
        self.read.clicked.connect(self.read_now)
        self.imported.clicked.connect(self._on_import)
        self.down.clicked.connect(lambda: self.turn_all(-EIGHTH))
        self.up.clicked.connect(lambda: self.turn_all(EIGHTH))
        self.again.clicked.connect(self.begin)
        self.strip.rod_chosen.connect(self.pick_rod)

    # state

    @property
    def clearing(self) -> Clearing:
        """The rounds on the head chosen."""
        assert self._entry is not None
        return self._entry.clearing(self._side)

    def set_state(self, entry: Entry | None, workshop: Workshop, flats: bool) -> None:
        """Show a drum and its rounds."""
        if self._entry is None or entry is None or entry.id != self._entry.id:
            self._sequence, self.found = self._sequence.next_round(), None
            self.sources.quiet()
            self.sources.forget_imports()
            self.panel.set_heard("", "", None)
        self._entry, self._workshop, self._flats = entry, workshop, flats
        self.setEnabled(entry is not None)
        if entry is None:
            return
        if self._side not in entry.drum.sides:
            self._side = "batter"
        clearing = self.clearing
        self.show_choices(entry.drum, self._side, self.sources.name, clearing)
        if any(r.taps for r in clearing.rounds):
            self._jobs.request(clearing, lambda: cleared(entry, workshop, clearing))
        else:
            self.found = None
        self._show()

    @property
    def _rods(self) -> int:
        assert self._entry is not None
        return self._entry.drum.shell.rods

    @property
    def now(self) -> int:
        """The rod that is read, or turned, next."""
        order = self.found.order if self.found is not None else ()
        return self._sequence.now(self.clearing, self._rods, order)

    @property
    def reads(self) -> int:
        """The rod that a reading now would belong to."""
        return self._sequence.reads(self.clearing, self._rods)

    def _show(self) -> None:
        entry = self._entry
        if entry is not None:
            name = wording.side_word(entry.drum, self._side)
            self.show_round(name, self.clearing, self._rods, self._sequence, self.sources.name,
                            self.sources.live, self._read_cents(), self.found)  # fmt: skip

    def _dial(self) -> DialFit | None:
        return dial_fit(self._workshop) if self._workshop else None

    def _thickness(self) -> float:
        assert self._entry is not None
        return self._entry.drum.setting(self._side).head.film_thickness_m

    def _read_cents(self) -> dict[int, float]:
        kind = self._sequence.kind
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
        self._change(texts.TARGET_PATTERN_2, pattern=pattern, wanted=wanted)

    def _on_side(self, side: str) -> None:
        assert self._workshop is not None
        self.sources.quiet()  # it listens for the other head
        self.sources.forget_imports()
        self._side, self.found = side, None
        self._sequence = self._sequence.next_round()
        self.set_state(self._entry, self._workshop, self._flats)

    def choose_source(self, source: str) -> None:
        """Read by another means."""
        self.sources.choose(source)
        self.panel.state.setText("")
        self.source.set_state(source)
        self._sequence = self._sequence.by(self.sources.kind)
        self._complain(None)
        self._show()
        (self.value if source in TYPED else self).setFocus()

    def pick_rod(self, rod: int) -> None:
        """Read a rod out of turn."""
        self._end_turning()
        self._sequence = self._sequence.picks(rod)
        self._show()

    def _end_turning(self) -> None:
        """Back to reading; what was turned so far ends the round, for the drum is no longer as it
        was read."""
        found, walk = self.found, self._sequence
        self._sequence = walk.back_to_reading()
        if found is not None and walk.turned:
            self._end_round(turned_so_far(found, walk))

    def _end_round(self, turns: tuple[float, ...]) -> None:
        self._sequence = self._sequence.next_round()
        self._keep(
            texts.ROUND_TURNED.format(count=len(self.clearing.rounds)), self.clearing.turned(turns)
        )

    def begin(self) -> None:
        """A new clearing; what earlier rounds taught of the rim is kept."""
        learned = taught(self.found) if self.found is not None else self.clearing.learned
        self._sequence = self._sequence.next_round()
        fresh = replace(self.clearing, rounds=(Round(),), learned=learned)
        self._keep(texts.START_CLEARING_OVER, fresh)

    def add(self, tap: Reading, heard: HeardTap | None = None) -> None:
        """Note a reading at the rod that is next; the rod after it comes next."""
        assert self._entry is not None
        self._complain(None)
        where = f"{self._words.place} {tap.rod}"
        if tap.kind in UNITS:
            title, more = (
                f"{tap.value:g} {UNITS[tap.kind]}",
                texts.AT.format(kind=tap.kind, where=where),
            )
        else:
            title = wording.note_words(tap.value, self._a4(), self._flats)
            half = round(SIGMAS_90 * tap.spread)
            said = texts.HZ_PLUS_MINUS_CENTS_AT if half > 1 else texts.HZ_PLUS_MINUS_CENT_AT
            if not half:
                said = texts.HZ_AT
            more = said.format(value=tap.value, half=half, where=where)
        self.panel.set_heard(title, more, heard)
        changed = self.clearing
        tap = combined(self.clearing.now, tap)
        if heard is not None and heard.second_hz is not None:
            changed = changed.with_tap(at_rod("second_partial", tap.rod, heard.second_hz))
        changed = changed.with_tap(tap)
        self._sequence = self._sequence.has_read(
            last=self._sequence.missing(changed, self._rods) == 0
        )
        self._keep(texts.READING_AT.format(where=where), changed)

    def _on_typed(self) -> None:
        text = self.value.text().strip()
        if not text:
            return
        try:
            kind = self._sequence.kind
            typed_reading(kind, self.reads, text, self._a4(), self.clearing.now)
            self._end_turning()
            tap = typed_reading(kind, self.reads, text, self._a4(), self.clearing.now)
            dial = self._dial()
            if tap.kind == "dial" and dial is not None:
                dial.tension(tap.value, self._thickness())
        except InputError as error:
            self._complain(error)
            return
        self.value.clear()
        self.add(tap)

    def read_now(self) -> None:
        """Take a reading from the simulated bench, or begin or end listening."""
        entry, workshop = self._entry, self._workshop
        if entry is None or workshop is None:
            return
        if self.sources.name == "microphone":
            self.sources.toggle_listening(entry, self.clearing)
            self._show()
        elif self.sources.simulated:
            self._end_turning()
            self.sources.take(self._entry or entry, workshop, self.clearing, self.reads)

    def _on_heard(self, heard: HeardTap) -> None:
        if self._sequence.turning:  # a tap to try a rod that is being turned belongs to no round
            self._on_source_state(texts.TAP_WAS_HEARD_BUT_NOT)
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
                texts.RECORDING_HAS_TAPS_BUT_DRUM.format(count=len(heard), rods=self._rods),
                texts.CUT_IT_TO_ONE_ROUND,
            ))  # fmt: skip
            return
        self._end_turning()
        for one in heard:
            self._note_heard(one)
        if left:
            self.fault.setText(" ".join(left))
            self.fault.show()

    def take_back(self) -> None:
        """The last reading, or the last turn, was wrong."""
        walk = self._sequence
        if walk.turning and walk.turned and self.found is not None:
            self._sequence = walk.steps_back(self.found.order)
            self._show()
            return
        if self.clearing.now.taps:
            self._sequence = replace(walk, turning=False, picked=0)
            self._keep(texts.UNDO_READING, self.clearing.without_last())

    def skip_rod(self) -> None:
        """Leave out the rod that is next."""
        walk, found = self._sequence, self.found
        if not walk.turning:
            self._sequence = replace(walk, skipped=walk.skipped | {self.now}, picked=0)
            self._show()
        elif found is not None and found.clearing == self.clearing:
            if walk.turned < len(found.order):
                self._sequence = walk.leaves(found.order)
                self._go_on(found)
            else:  # what all rods should get is left out
                self._end_round(turned_so_far(found, walk))

    def turn_all(self, turn: float) -> None:
        """Every rod by the same turn: a round of its own."""
        self._end_turning()
        turns = (turn,) * self._rods
        way = "tighten" if turn > 0 else "loosen"
        self._keep(texts.ALL_RODS.format(way=way), self.clearing.turned(turns))

    def finish(self) -> None:
        """The rod on show is turned, or reading is over; the last turn ends the round."""
        found = self.found
        if found is None or found.clearing != self.clearing:
            return
        if not self._sequence.turning:
            self._sequence = replace(self._sequence, turning=True, turned=0)
            self._show()
            return
        self._sequence = self._sequence.turns()
        self._go_on(found)

    def _go_on(self, found: Cleared) -> None:
        """To the next rod, or to the end of the round."""
        left = len(found.order) - self._sequence.turned
        if left > 0 or (left == 0 and found.plan.all_turns):
            self._show()
            return
        self._end_round(turned_so_far(found, self._sequence))

    # answers

    def _on_assessed(self, clearing: Clearing, found: Cleared) -> None:
        if self._entry is not None and clearing == self.clearing:
            self.found = found
            self._show()

    def _on_failed(self, error: KesseltonError) -> None:
        self.found = None
        self._complain(error)
        self._show()

    def _complain(self, error: KesseltonError | None) -> None:
        self.fault.setText(f"{error.message} {error.remedy}" if error else "")
        self.fault.setVisible(error is not None)

    def hideEvent(self, event: QHideEvent) -> None:
        """What is heard while nobody looks is not noted."""
        self.sources.quiet()
        super().hideEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        acts = {
            Qt.Key.Key_Space: self.finish,
            Qt.Key.Key_PageDown: self.finish,
            Qt.Key.Key_Backspace: self.take_back,
            Qt.Key.Key_S: self.skip_rod,
            Qt.Key.Key_T: self.read_now,
        }
        act = acts.get(Qt.Key(event.key()))
        if act is None or event.modifiers():
            super().keyPressEvent(event)
        else:
            act()

    def stop(self) -> None:
        """End the thread and the microphone."""
        self.sources.stop()
        self._jobs.stop()
