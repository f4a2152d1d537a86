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
from kesselton.ui.clearing import texts
from kesselton.ui.clearing.rim_picture import FieldPicture, RimStrip, RoundsPicture
from kesselton.ui.clearing.turn_panel import TurnPanel
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import fault_label, scroll
from kesselton.ui.parts.fields import Choice, Field, pitch_field
from kesselton.ui.parts.theme import Colours, font

SOURCES = (
    ("pitch", texts.PITCH_TYPED),
    ("dial", texts.DIAL_TYPED),
    ("microphone", "microphone"),
    ("bench_tap", texts.SIMULATED_TAP),
    ("bench_dial", texts.SIMULATED_DIAL),
    ("torque", texts.TORQUE_TYPED),
    ("bench_torque", texts.SIMULATED_TORQUE_KEY),
)
STEPS = (
    (1.0 / 64.0, texts.TEXT_1_64_TURN),
    (1.0 / 72.0, texts.TEXT_5_DEGREES),
    (1.0 / 32.0, texts.TEXT_1_32_TURN),
)
HOW = {
    "pitch": texts.TAP_TYPE_PITCH,
    "dial": texts.SET_DIAL_DOWN,
    "microphone": texts.TAP_ONCE_MICROPHONE_OVER_IT,
    "bench_tap": texts.PRESS_T_TO_TAP,
    "bench_dial": texts.PRESS_T_FOR_DIAL,
    "torque": texts.SET_TORQUE_KEY_ON,
    "bench_torque": texts.PRESS_T_FOR_TORQUE_KEY,
}
TYPED = ("pitch", "dial", "torque")
EXAMPLES = {
    "pitch": texts.PITCH_261_6_C4_12,
    "dial": texts.DIVISIONS_OF_DIAL,
    "torque": texts.NEWTON_METER_0_45,
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
        self.side, self.source = Choice(texts.HEAD), Choice(texts.READ_BY)
        self.pattern, self.step = Choice(texts.TARGET_PATTERN), Choice(texts.FINEST_TURN)
        self.target: Field = pitch_field(texts.FINAL_PITCH, 20.0, 1500.0, a4_hz, note)
        self.target.line.setPlaceholderText("unchanged")
        self.own = Field(texts.TENSION_AT_EACH_ROD_MEAN, _read_shares, _write_shares)
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
        self.value.setAccessibleName(texts.READING)
        self.read = QPushButton()
        self.imported = QPushButton(texts.FROM_RECORDING)
        self.down, self.up = QPushButton(texts.ALL_RODS_MINUS), QPushButton(texts.ALL_RODS_PLUS)
        self.again = QPushButton(texts.START_OVER)
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
            (texts.TENSION_OVER_HEAD_COMPUTED_LIGHTER, self.field, 4),
            (texts.SPREAD_BY_ROUND_CENTS, self.rounds, 5),
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
        self.title.setText(
            texts.ROUND.format(head=head, count=len(clearing.rounds), doing=self._doing(walk, now))
        )
        self.value.setVisible(source in TYPED)
        self.value.setPlaceholderText(EXAMPLES.get(source, ""))
        self.read.setVisible(source not in TYPED)
        self.read.setText(self._read_text(source, listening, walk, walk.reads(clearing, rods)))
        by_pitch = walk.kind == "lug_pitch"
        computed = turns = ()
        if found is not None:
            state = found.state
            computed = tuple((state.pitch_cents if by_pitch else state.local_cents).tolist())
            turns = tuple(found.plan.turns.tolist()) if walk.turning else ()
        unit = texts.CENTS_OF_PITCH if by_pitch else texts.CENTS_OF_TENSION
        self.strip.set_state(rods, now, cents, computed, turns, unit)
        self.field.set_state(found, now, rods)
        self.rounds.set_state(found.heard if found else ())
        self.unseen.setText(found.unseen if found else texts.READ_EVERY_ROD_ONCE_THEN)
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
            return (
                texts.TURN.format(place=place)
                if not self._words.mm_per_turn
                else texts.EVEN.format(place=place)
            )
        if walk.kind == "lug_pitch":
            return texts.TAP_25_MM_1_IN.format(place=place)
        way = texts.DIAL_BESIDE if walk.kind == "dial" else texts.TORQUE_AT
        return texts.SAME_PLACE_ALL_ROUND.format(way=way, place=place)

    def _read_text(self, source: str, listening: bool, walk: ClearingSequence, rod: int) -> str:
        if source == "microphone":
            return texts.STOP_LISTENING if listening else texts.LISTEN
        return (
            texts.READ_AGAIN_T.format(place=self._words.place, rod=rod)
            if walk.turning
            else texts.READ_T
        )


def _read_shares(text: str) -> tuple[float, ...]:
    try:
        return tuple(float(part.replace(",", ".")) for part in text.split())
    except ValueError:
        raise InputError(
            texts.IS_NO_PATTERN.format(text=text), texts.NUMBER_FOR_EVERY_ROD_WITH
        ) from None


def _write_shares(shares: tuple[float, ...] | None) -> str:
    return " ".join(f"{share:g}" for share in shares or ())
