"""Clearing a head: read once round, know what to turn, turn, read again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from kesselton.app.clearing import (
    Cleared,
    cleared,
    combined,
    dial_fit,
    in_cents,
    next_rod,
    taught,
)
from kesselton.app.devices import SimulatedBench
from kesselton.app.jobs import Latest
from kesselton.app.microphone import Microphone
from kesselton.core.drum import Drum
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.pitch import parse_pitch
from kesselton.core.rounds import PATTERNS, Clearing, Round, Tap
from kesselton.store.holdings import Entry, Workshop
from kesselton.ui import words
from kesselton.ui.columns import fault_label, scroll
from kesselton.ui.fields import Choice, Field, pitch_field
from kesselton.ui.rim_picture import FieldPicture, RimStrip, RoundsPicture
from kesselton.ui.theme import Colours, font
from kesselton.ui.turn_panel import TurnPanel

if TYPE_CHECKING:
    from kesselton.core.gauges import DialFit
    from kesselton.core.tap import Heard

SOURCES = (
    ("pitch", "pitch, typed"),
    ("dial", "dial, typed"),
    ("microphone", "microphone"),
    ("bench_tap", "simulated tap"),
    ("bench_dial", "simulated dial"),
    ("torque", "torque, typed"),
    ("bench_torque", "simulated torque key"),
)
STEPS = ((1.0 / 64.0, "1/64 turn"), (1.0 / 72.0, "5 degrees"), (1.0 / 32.0, "1/32 turn"))
HOW = {
    "pitch": "tap, type the pitch",
    "dial": "set the dial down",
    "microphone": "tap once",
    "bench_tap": "press T to tap",
    "bench_dial": "press T for the dial",
    "torque": "set the torque key on",
    "bench_torque": "press T for the torque key",
}
TYPED = ("pitch", "dial", "torque")
KINDS = {"dial": "dial", "bench_dial": "dial", "torque": "torque", "bench_torque": "torque"}
EXAMPLES = {
    "pitch": "a pitch: 261.6, C4 -12",
    "dial": "divisions of the dial",
    "torque": "newton metre: 0.45",
}
UNITS = {"dial": "divisions", "torque": "N m"}
EIGHTH = 0.125


class ClearStage(QWidget):
    """Rim, field and rounds left; what to turn right.

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
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._a4, self._ask_open = a4_hz, ask_open
        self._flats = False
        self._entry: Entry | None = None
        self._workshop: Workshop | None = None
        self._side, self._source = "batter", "pitch"
        self._skipped: frozenset[int] = frozenset()
        self._turned, self._turning, self._picked = 0, False, 0
        self.found: Cleared | None = None
        self.bench = SimulatedBench()
        self.microphone = Microphone(self)
        self.microphone.heard.connect(self._on_heard)
        self.microphone.refused.connect(self._complain)
        self.microphone.state_changed.connect(self._on_microphone)
        self._jobs = Latest(self)
        self._jobs.done.connect(self._on_assessed)
        self._jobs.failed.connect(lambda key, error: self._on_failed(error))
        self.panel = TurnPanel()
        self.panel.done.connect(self.finish)
        self.panel.wrong.connect(self.take_back)
        self.panel.skipped.connect(self.skip_rod)
        self.microphone.level_changed.connect(self.panel.lines.set_level)
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(16)
        across.addLayout(self._make_left(note), 76)
        across.addWidget(scroll(self.panel, None, 250), 24)

    def _make_left(self, note: Callable[[float], str]) -> QVBoxLayout:
        self.side, self.source = Choice("Head"), Choice("Read by")
        self.pattern, self.step = Choice("Wanted"), Choice("Smallest turn")
        self.target: Field = pitch_field("End at", 20.0, 1500.0, self._a4, note)
        self.target.line.setPlaceholderText("where it is")
        self.own = Field("Tension at each rod, mean 1", _read_shares, _write_shares)
        self.source.set_options(list(SOURCES))
        self.pattern.set_options(list(PATTERNS.items()))
        self.step.set_options(list(STEPS))
        self.side.chosen.connect(self._on_side)
        self.source.chosen.connect(self.choose_source)
        self.pattern.chosen.connect(self._on_pattern)
        self.step.chosen.connect(lambda step: self._change("smallest turn", step=step))
        self.target.edited.connect(lambda hz: self._change("pitch to end at", target_hz=hz))
        self.own.edited.connect(lambda shares: self._change("pattern", wanted=shares))
        row = QHBoxLayout()
        row.setSpacing(10)
        for widget in (self.side, self.source, self.pattern, self.target, self.step):
            row.addWidget(widget, 1)
        self.title = QLabel()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.value = QLineEdit()
        self.value.setAccessibleName("Reading")
        self.value.returnPressed.connect(self._on_typed)
        self.read = QPushButton()
        self.read.clicked.connect(self.read_now)
        self.imported = QPushButton("From a recording …")
        self.imported.clicked.connect(self._on_import)
        self.down, self.up = QPushButton("All rods − ⅛"), QPushButton("All rods + ⅛")
        self.down.clicked.connect(lambda: self.turn_all(-EIGHTH))
        self.up.clicked.connect(lambda: self.turn_all(EIGHTH))
        self.again = QPushButton("Begin again")
        self.again.clicked.connect(self.begin)
        typed = QHBoxLayout()
        typed.addWidget(self.value, 1)
        for button in (self.read, self.imported, self.down, self.up, self.again):
            typed.addWidget(button)
        self.fault = fault_label()
        self.strip = RimStrip()
        self.strip.rod_chosen.connect(self.pick_rod)
        self.unseen = QLabel()
        self.unseen.setProperty("quiet", True)
        self.unseen.setWordWrap(True)
        self.notes = QLabel()
        self.notes.setWordWrap(True)
        self.field, self.rounds = FieldPicture(), RoundsPicture()
        below = QHBoxLayout()
        below.setSpacing(12)
        for caption, picture, share in (
            ("Tension over the head, computed: lighter is tighter", self.field, 4),
            ("Spread by round, cents", self.rounds, 5),
        ):
            part = QVBoxLayout()
            label = QLabel(caption)
            label.setProperty("quiet", True)
            part.addWidget(label)
            part.addWidget(picture, 1)
            below.addLayout(part, share)
        left = QVBoxLayout()
        left.setContentsMargins(0, 10, 0, 10)
        left.setSpacing(6)
        left.addLayout(row)
        left.addWidget(self.own)
        left.addWidget(self.title)
        left.addLayout(typed)
        left.addWidget(self.fault)
        left.addWidget(self.strip, 5)
        left.addWidget(self.unseen)
        left.addWidget(self.notes)
        left.addLayout(below, 4)
        return left

    # state

    @property
    def clearing(self) -> Clearing:
        """The rounds on the head chosen."""
        assert self._entry is not None
        return self._entry.clearing(self._side)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for view in (self.strip, self.field, self.rounds, self.panel):
            view.set_colours(colours)
        self._show()

    def set_state(self, entry: Entry | None, workshop: Workshop, flats: bool) -> None:
        """Show a drum and its rounds."""
        if self._entry is None or entry is None or entry.id != self._entry.id:
            self._skipped, self._turned, self._turning, self._picked = frozenset(), 0, False, 0
            self.found = None
            self.panel.set_heard("", "", None)
        self._entry, self._workshop, self._flats = entry, workshop, flats
        self.setEnabled(entry is not None)
        if entry is None:
            return
        drum = entry.drum
        self.side.set_options([(s, words.side_word(drum, s)) for s in drum.sides])
        if self._side not in drum.sides:
            self._side = "batter"
        clearing = self.clearing
        for choice, key in (
            (self.side, self._side),
            (self.source, self._source),
            (self.pattern, clearing.pattern),
            (self.step, clearing.step),
        ):
            choice.set_state(key)
        self.target.set_state(clearing.target_hz)
        self.own.setVisible(clearing.pattern == "own")
        self.own.set_state(clearing.wanted)
        if any(r.taps for r in clearing.rounds):
            self._jobs.request(clearing, lambda: cleared(entry, workshop, clearing))
        else:
            self.found = None
        self._show()

    @property
    def _kind(self) -> str:
        return KINDS.get(self._source, "pitch")

    @property
    def now(self) -> int:
        """The rod that is read, or turned, next."""
        if self._turning and self.found is not None and self._turned < len(self.found.order):
            return self.found.order[self._turned]
        return self.reads

    @property
    def reads(self) -> int:
        """The rod that a reading now would belong to."""
        if self._picked:
            return self._picked
        assert self._entry is not None
        return next_rod(self.clearing, self._kind, self._entry.drum.shell.rods, self._skipped)

    def _missing(self, drum: Drum) -> int:
        have = {tap.rod for tap in self.clearing.now.taps if tap.kind == self._kind}
        return drum.shell.rods - len(have | self._skipped)

    def _show(self) -> None:
        entry = self._entry
        if entry is None:
            return
        drum, clearing = entry.drum, self.clearing
        rods = drum.shell.rods
        fits = self.found is not None and self.found.clearing == clearing
        found = self.found if fits else None
        name = words.side_word(drum, self._side)
        where = "25 mm from the edge; touch the centre, mute the other head"
        kind = {"dial": "dial beside", "torque": "torque at"}.get(self._kind, "tap")
        if self._kind != "pitch":
            where = "the same place at every rod"
        doing = f"turn rod {self.now}" if self._turning else f"{kind} rod {self.now}, {where}"
        self.title.setText(f"{name}, round {len(clearing.rounds)}: {doing}")
        self.value.setVisible(self._source in TYPED)
        self.value.setPlaceholderText(EXAMPLES.get(self._source, ""))
        self.read.setVisible(self._source not in TYPED)
        live = self._source == "microphone" and self.microphone.listening
        again = f"Read rod {self.reads} again (T)" if self._turning else "Read (T)"
        self.read.setText("Stop listening" if live else
                          "Listen" if self._source == "microphone" else again)  # fmt: skip
        shown = found or self.found  # the last answer stays while the next is computed
        cents = self._read_cents()
        self.strip.set_state(
            rods, self.now, cents,
            tuple(shown.state.pitch_cents.tolist()) if shown and self._kind == "pitch" else
            tuple(shown.state.local_cents.tolist()) if shown else (),
            tuple(shown.plan.turns.tolist()) if shown and self._turning else (),
            f"cents, {'lug pitch' if self._kind == 'pitch' else 'tension'}; dashes computed",
        )  # fmt: skip
        self.field.set_state(shown, self.now, rods)
        self.rounds.set_state(shown.heard if shown else ())
        self.unseen.setText(shown.unseen if shown else "Read every rod once, then turn.")
        self.notes.setText("<br>".join(shown.notes) if shown else "")
        self.notes.setVisible(bool(shown and shown.notes))
        if self._turning and shown is not None:
            self.panel.set_turns(shown, self._turned)
        else:
            self.panel.set_reading(self.now, HOW[self._source], self._missing(drum))
        self._show_expected(shown)
        self.panel.ready.setEnabled(found is not None)
        self.panel.back.setEnabled(bool(clearing.now.taps) or self._turned > 0)

    def _dial(self) -> DialFit | None:
        return dial_fit(self._workshop) if self._workshop else None

    def _thickness(self) -> float:
        assert self._entry is not None
        return self._entry.drum.setting(self._side).head.film_thickness_m

    def _read_cents(self) -> dict[int, float]:
        try:
            return in_cents(self.clearing.now, self._kind, self._dial(), self._thickness())
        except InputError:
            return {}  # a reading this dial never shows: the answer says so

    def _show_expected(self, found: Cleared | None) -> None:
        if found is None:
            self.panel.expected.setText("")
            return
        kept = "" if self.clearing.target_hz else ", the pitch of the whole head kept"
        within = max(found.plan.spread_cents, 1.0)
        self.panel.expected.setText(f"Expected after: lug pitches within {within:.0f} cents{kept}.")

    # intents

    def _keep(self, label: str, changed: Clearing) -> None:
        assert self._entry is not None
        self.changed.emit(label, self._entry.with_clearing(changed))

    def _change(self, label: str, **values: object) -> None:
        assert self._entry is not None
        changed = replace(self.clearing, **values)  # type: ignore[arg-type]
        try:
            changed.check(self._entry.drum.shell.rods)
        except InputError as error:
            self._complain(error)
            self.own.set_state(self.clearing.wanted)
            return
        self._complain(None)
        self._keep(label, changed)

    def _on_pattern(self, pattern: str) -> None:
        assert self._entry is not None
        wanted = (1.0,) * self._entry.drum.shell.rods if pattern == "own" else ()
        self._change("wanted pattern", pattern=pattern, wanted=wanted)

    def _on_side(self, side: str) -> None:
        assert self._workshop is not None
        self._side, self.found = side, None
        self._skipped, self._turned, self._turning, self._picked = frozenset(), 0, False, 0
        self.set_state(self._entry, self._workshop, self._flats)

    def choose_source(self, source: str) -> None:
        """Read by another means."""
        self.microphone.stop()
        self._source = source
        self.source.set_state(source)
        self._picked = 0
        if not self._turned:
            self._turning = False
        self._complain(None)
        self._show()
        (self.value if source in TYPED else self).setFocus()

    def pick_rod(self, rod: int) -> None:
        """Read a rod out of turn."""
        self._end_turning()
        self._picked = rod
        self._show()

    def _end_turning(self) -> None:
        """Back to reading; what was turned so far ends the round, for the drum is no longer as it
        was read."""
        found, done = self.found, self._turned
        self._turning, self._turned = False, 0
        if found is None or not done:
            return
        turns = [0.0] * len(found.plan.turns)
        for rod in found.order[:done]:
            turns[rod - 1] = float(found.plan.turns[rod - 1])
        self._skipped = frozenset()
        self._keep(f"round {len(self.clearing.rounds)} turned", self.clearing.turned(tuple(turns)))

    def begin(self) -> None:
        """A new clearing; what earlier rounds taught of the rim is kept."""
        learned = taught(self.found) if self.found is not None else self.clearing.learned
        self._turning, self._turned = False, 0
        fresh = replace(self.clearing, rounds=(Round(),), learned=learned)
        self._keep("begin clearing again", fresh)

    def add(self, tap: Tap, heard: Heard | None = None) -> None:
        """Note a reading at the rod that is next; the rod after it comes next."""
        assert self._entry is not None
        self._complain(None)
        self._picked, self._turning, self._turned = 0, False, 0
        if tap.kind in UNITS:
            title, more = f"{tap.value:g} {UNITS[tap.kind]}", f"{tap.kind} at rod {tap.rod}"
        else:
            title = words.note_words(tap.value, self._a4(), self._flats)
            half = round(1.645 * tap.spread)
            doubt = f" ± {half} cent{'s' if half > 1 else ''}" if half else ""
            more = f"{tap.value:.1f} Hz{doubt} at rod {tap.rod}"
        self.panel.set_heard(title, more, heard)
        changed = self.clearing
        tap = combined(self.clearing.now, tap)
        if heard is not None and heard.second_hz is not None:
            changed = changed.with_tap(Tap("second", tap.rod, heard.second_hz))
        changed = changed.with_tap(tap)
        if self._missing(self._entry.drum) <= 1:
            self._turning = True
        self._keep(f"reading at rod {tap.rod}", changed)

    def _on_typed(self) -> None:
        text = self.value.text().strip()
        if not text:
            return
        try:
            value = parse_pitch(text, self._a4()) if self._kind == "pitch" else _number(text)
            self._end_turning()
            tap = Tap(self._kind, self.reads, value)
            dial = self._dial()
            if tap.kind == "dial" and dial is not None:
                dial.tension(value, self._thickness())
            if tap.kind == "pitch":
                self._check_near(tap)
        except InputError as error:
            self._complain(error)
            return
        self.value.clear()
        self.add(tap)

    def _check_near(self, tap: Tap) -> None:
        """A dial reading or an overtone typed as a lug pitch is caught while it is in the field."""
        others = [t.value for t in self.clearing.now.taps if t.kind == "pitch" and t.rod != tap.rod]
        if others and not 0.72 < tap.value / (sum(others) / len(others)) < 1.39:
            raise InputError(
                f"{tap.value:.1f} Hz is far from the other rods ({min(others):.0f} to "
                f"{max(others):.0f} Hz).",
                "Check for a dial reading or an overtone typed as a lug pitch.",
            )

    def read_now(self) -> None:
        """Take a reading from the simulated bench, or begin or end listening."""
        entry = self._entry
        if entry is None:
            return
        if self._source == "microphone":
            if self.microphone.listening:
                self.microphone.stop()
            else:
                self.microphone.listen(self._near_hz())
            self._show()
            return
        self._end_turning()
        rod = self.reads
        try:
            if self._source == "bench_dial":
                value = self.bench.dial(entry.id, entry.drum, self.clearing, rod, self._dial())
                self.add(Tap("dial", rod, value))
            elif self._source == "bench_torque":
                value = self.bench.torque(entry.id, entry.drum, self.clearing, rod)
                self.add(Tap("torque", rod, value))
            elif self._source == "bench_tap":
                heard = self.bench.tap(entry.id, entry.drum, self.clearing, rod)
                self.add(Tap("pitch", rod, heard.lug_pitch_hz, heard.spread_cents), heard)
        except KesseltonError as error:
            self._complain(error)

    def _near_hz(self) -> float | None:
        """Lug pitch to expect: of this round, else of the drum as it is set."""
        from kesselton.core.lug import lug_pitch, tensions

        assert self._entry is not None
        pitches = [t.value for r in self.clearing.rounds for t in r.taps if t.kind == "pitch"]
        if pitches:
            return sum(pitches[-8:]) / len(pitches[-8:])
        try:
            return lug_pitch(self._entry.drum, self._side, tensions(self._entry.drum))
        except KesseltonError:
            return None  # a drum that cannot be worked out is listened to without an expectation

    def _on_heard(self, heard: Heard) -> None:
        if self._turning:  # a tap to try a rod that is being turned belongs to no round
            self._on_microphone(
                "A tap was heard, but not noted: press Space when the rod is turned, or choose a "
                "rod to read it again."
            )
            return
        self._note_heard(heard)

    def _note_heard(self, heard: Heard) -> None:
        self.add(Tap("pitch", self.reads, heard.lug_pitch_hz, heard.spread_cents), heard)

    def _on_microphone(self, text: str) -> None:
        self.panel.state.setText(text)
        self._show()

    def _on_import(self) -> None:
        path = self._ask_open()
        if path is not None:
            self.import_taps(path)

    def import_taps(self, path: Path) -> None:
        """Taps of a recording, one rod after another from the one that is next."""
        from kesselton.core.tap import hear_all
        from kesselton.store.sound_file import read_sound

        assert self._entry is not None
        try:
            samples, rate = read_sound(path)
            heard, left = hear_all(samples, rate, self._near_hz())
        except KesseltonError as error:
            self._complain(error)
            return
        rods = self._entry.drum.shell.rods
        if len(heard) > rods:
            self._complain(InputError(
                f"The recording has {len(heard)} taps, but the drum has {rods} rods.",
                "Cut it to one round, a tap at each rod.",
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
        if self._turning and self._turned:
            self._turned -= 1
            self._show()
            return
        if self.clearing.now.taps:
            self._turning, self._picked = False, 0
            self._keep("wrong tap", self.clearing.without_last())

    def skip_rod(self) -> None:
        """Leave out the rod that is next."""
        if self._turning:
            self._turned += 1
        else:
            self._skipped |= {self.now}
            self._picked = 0
        self._show()

    def turn_all(self, turn: float) -> None:
        """Every rod by the same turn: a round of its own."""
        assert self._entry is not None
        self._turning, self._turned = False, 0
        turns = (turn,) * self._entry.drum.shell.rods
        way = "tighten" if turn > 0 else "loosen"
        self._keep(f"{way} all rods", self.clearing.turned(turns))

    def finish(self) -> None:
        """The rod on show is turned, or reading is over; the last turn ends the round."""
        found = self.found
        if found is None or found.clearing != self.clearing:
            return
        if not self._turning:
            self._turning, self._turned = True, 0
            self._show()
            return
        self._turned += 1
        if self._turned < len(found.order):
            self._show()
            return
        if self._turned == len(found.order) and found.plan.all_turns:
            self._show()
            return
        turns = tuple((found.plan.turns + found.plan.all_turns).tolist())
        self._turning, self._turned, self._skipped = False, 0, frozenset()
        self._keep(f"round {len(self.clearing.rounds)} turned", self.clearing.turned(turns))

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
        self.microphone.stop()
        self._jobs.stop()


def _number(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise InputError(f"{text!r} is no reading.", "Type a number: 82.5.") from None


def _read_shares(text: str) -> tuple[float, ...]:
    try:
        return tuple(float(part.replace(",", ".")) for part in text.split())
    except ValueError:
        raise InputError(
            f"{text!r} is no pattern.", "A number for every rod with spaces between: 1 1 0.9 1."
        ) from None


def _write_shares(shares: tuple[float, ...] | None) -> str:
    return " ".join(f"{share:g}" for share in shares or ())
