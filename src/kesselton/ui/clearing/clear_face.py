"""What the clear stage looks like: rim, field and rounds left, what to turn right."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from kesselton.app.clearing import Cleared
from kesselton.app.clearing_sequence import ClearingSequence
from kesselton.core.clearing.clearing_records import PATTERNS, Clearing
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.ui.clearing.rim_picture import FieldPicture, RimStrip, RoundsPicture
from kesselton.ui.clearing.turn_panel import TurnPanel
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import fault_label, scroll
from kesselton.ui.parts.fields import Choice, Field, pitch_field
from kesselton.ui.parts.theme import Colours, font

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
    "microphone": "tap once, microphone over it",
    "bench_tap": "press T to tap",
    "bench_dial": "press T for the dial",
    "torque": "set the torque key on",
    "bench_torque": "press T for the torque key",
}
TYPED = ("pitch", "dial", "torque")
EXAMPLES = {
    "pitch": "a pitch: 261.6, C4 -12",
    "dial": "divisions of the dial",
    "torque": "newton meter: 0.45",
}


class ClearFace(QWidget):
    """Widgets of the clear stage, and how a round stands in them."""

    def __init__(self, a4_hz: Callable[[], float], note: Callable[[float], str]) -> None:
        super().__init__()
        self.panel, self._words = TurnPanel(), wording.TurnWords()
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(16)
        across.addLayout(self._make_left(a4_hz, note), 76)
        across.addWidget(scroll(self.panel, None, 250), 24)

    def _make_left(self, a4_hz: Callable[[], float], note: Callable[[float], str]) -> QVBoxLayout:
        self.side, self.source = Choice("Head"), Choice("Read by")
        self.pattern, self.step = Choice("Target pattern"), Choice("Finest turn")
        self.target: Field = pitch_field("Final pitch", 20.0, 1500.0, a4_hz, note)
        self.target.line.setPlaceholderText("unchanged")
        self.own = Field("Tension at each rod, mean 1", _read_shares, _write_shares)
        self.source.set_options(list(SOURCES))
        self.pattern.set_options(list(PATTERNS.items()))
        self.step.set_options(list(STEPS))
        row = QHBoxLayout()
        row.setSpacing(10)
        for widget in (self.side, self.source, self.pattern, self.target, self.step):
            row.addWidget(widget, 1)
        self.title = QLabel()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.value = QLineEdit()
        self.value.setAccessibleName("Reading")
        self.read = QPushButton()
        self.imported = QPushButton("From a recording …")
        self.down, self.up = QPushButton("All rods − ⅛"), QPushButton("All rods + ⅛")
        self.again = QPushButton("Start over")
        typed = QHBoxLayout()
        typed.addWidget(self.value, 1)
        for button in (self.read, self.imported, self.down, self.up, self.again):
            typed.addWidget(button)
        self.fault = fault_label()
        self.strip = RimStrip()
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

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for view in (self.strip, self.field, self.rounds, self.panel):
            view.set_colours(colours)
        self._show()

    def _show(self) -> None:
        """Show the round there is."""

    def show_choices(self, drum: Drum, side: str, source: str, clearing: Clearing) -> None:
        """Show what was chosen for a head."""
        self.side.set_options([(s, wording.side_word(drum, s)) for s in drum.sides])
        self._words = wording.turn_words_of(drum)
        self.panel.set_words(self._words)
        self.strip.set_words(self._words)
        for widget in (self.down, self.up, self.step):  # a rope has no key
            widget.setVisible(not self._words.mm_per_turn)
        for choice, key in (
            (self.side, side),
            (self.source, source),
            (self.pattern, clearing.pattern),
            (self.step, clearing.step),
        ):
            choice.set_state(key)
        self.target.set_state(clearing.target_hz)
        self.own.setVisible(clearing.pattern == "own")
        self.own.set_state(clearing.wanted)

    def show_round(
        self,
        head: str,
        clearing: Clearing,
        rods: int,
        walk: ClearingSequence,
        source: str,
        listening: bool,
        cents: dict[int, float],
        found: Cleared | None,
    ) -> None:
        """Show where the round stands.

        Parameters
        ----------
        cents : what was read per rod
        found : the last answer, which stays while the next is computed
        """
        now = walk.now(clearing, rods, found.order if found is not None else ())
        self.title.setText(f"{head}, round {len(clearing.rounds)}: {self._doing(walk, now)}")
        self.value.setVisible(source in TYPED)
        self.value.setPlaceholderText(EXAMPLES.get(source, ""))
        self.read.setVisible(source not in TYPED)
        self.read.setText(self._read_text(source, listening, walk, walk.reads(clearing, rods)))
        by_pitch = walk.kind == "pitch"
        computed = turns = ()
        if found is not None:
            state = found.state
            computed = tuple((state.pitch_cents if by_pitch else state.local_cents).tolist())
            turns = tuple(found.plan.turns.tolist()) if walk.turning else ()
        unit = f"cents, {'lug pitch' if by_pitch else 'tension'}; dashes = model"
        self.strip.set_state(rods, now, cents, computed, turns, unit)
        self.field.set_state(found, now, rods)
        self.rounds.set_state(found.heard if found else ())
        self.unseen.setText(found.unseen if found else "Read every rod once, then turn.")
        self.notes.setText("<br>".join(found.notes) if found else "")
        self.notes.setVisible(bool(found and found.notes))
        if walk.turning and found is not None:
            self.panel.set_turns(found, walk.turned)
        else:
            self.panel.set_reading(now, HOW[source], walk.missing(clearing, rods))
        self.panel.set_expected(found, bool(clearing.target_hz))
        self.panel.ready.setEnabled(found is not None and found.clearing == clearing)
        self.panel.back.setEnabled(bool(clearing.now.taps) or walk.turned > 0)

    def _doing(self, walk: ClearingSequence, now: int) -> str:
        place = f"{self._words.place} {now}"
        if walk.turning:
            return f"turn {place}" if not self._words.mm_per_turn else f"even {place}"
        if walk.kind == "pitch":
            return f"tap {place}, 25 mm (1 in) from the edge; touch the center, mute the other head"
        way = "dial beside" if walk.kind == "dial" else "torque at"
        return f"{way} {place}, the same place all round"

    def _read_text(self, source: str, listening: bool, walk: ClearingSequence, rod: int) -> str:
        if source == "microphone":
            return "Stop listening" if listening else "Listen"
        return f"Read {self._words.place} {rod} again (T)" if walk.turning else "Read (T)"


def _read_shares(text: str) -> tuple[float, ...]:
    try:
        return tuple(float(part.replace(",", ".")) for part in text.split())
    except ValueError:
        raise InputError(
            f"{text!r} is no pattern.", "A number for every rod with spaces between: 1 1 0.9 1."
        ) from None


def _write_shares(shares: tuple[float, ...] | None) -> str:
    return " ".join(f"{share:g}" for share in shares or ())
