"""What the clear stage looks like: rim, field and rounds left, what to turn right."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.clearing import Cleared
from kesselton.app.reading_sources import ReadingSources
from kesselton.core.clearing.clearing_records import PATTERNS, Clearing
from kesselton.core.clearing.walk import Walk
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.ui.clearing import texts
from kesselton.ui.clearing.rim_picture import FieldPicture, RimStrip, RoundsPicture
from kesselton.ui.clearing.turn_panel import TurnPanel
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import fault_label, scroll
from kesselton.ui.parts.elided import Elided
from kesselton.ui.parts.fields import Choice, Field, pitch_field
from kesselton.ui.parts.flow import FlowLayout
from kesselton.ui.parts.inputs import AddLine, Button
from kesselton.ui.parts.labels import Label
from kesselton.ui.parts.theme import Colours, font, px

EAR = "ear"
SOURCES = (
    ("pitch", texts.PITCH_TYPED),
    (EAR, texts.BY_EAR),
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
    EAR: texts.COMPARE_BY_EAR,
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


@dataclass(frozen=True, eq=False)
class Standing:
    """Where a round stands.

    Attributes
    ----------
    now, reads : rod that is read or turned next; rod a reading would belong to
    missing : how many rods have no reading yet
    cents : what was read per rod
    against : the rod the others are heard against
    again : the rod that is read once more for the one opposite, 0 for none
    found : the last answer, which stays while the next is worked out; `settled` if it is the last
    """

    head: str
    clearing: Clearing
    rods: int
    walk: Walk
    now: int
    reads: int
    missing: int
    cents: dict[int, float]
    found: Cleared | None
    settled: bool
    against: int = 0
    again: int = 0


class ClearFace(QWidget):
    """Widgets of the clear stage, and how a round stands in them."""

    def __init__(self, a4_hz: Callable[[], float], note: Callable[[float], str]) -> None:
        super().__init__()
        self.panel, self._words = TurnPanel(), wording.TurnWords()
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 3, 5, 3)
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
        self.source.setToolTip(texts.TAPPING_AIDS)
        self.pattern.set_options(list(PATTERNS.items()))
        self.step.set_options(list(STEPS))
        row = QHBoxLayout()
        row.setSpacing(10)
        for widget in (self.side, self.source, self.pattern, self.target, self.step):
            row.addWidget(widget, 1)
        self.title = Label()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.value = AddLine()
        self.value.setAccessibleName(texts.READING)
        self.read = Button()
        self.imported = Button(texts.FROM_RECORDING, tip=texts.FROM_RECORDING_TIP)
        self.down, self.up = (
            Button(texts.ALL_RODS_MINUS, tip=texts.ALL_RODS_MINUS_TIP),
            Button(texts.ALL_RODS_PLUS, tip=texts.ALL_RODS_PLUS_TIP),
        )
        self.again = Button(texts.START_OVER, tip=texts.START_OVER_TIP)
        typed = FlowLayout(spacing=6)
        typed.addWidget(self.value)
        typed.addWidget(self.read)
        self.answers = {answer: Button(text) for answer, text in texts.ANSWERS_BY_EAR.items()}
        for button in self.answers.values():
            button.setMinimumHeight(px(44))
            button.setFont(font(13, QFont.Weight.DemiBold))
            typed.addWidget(button)
        rare = FlowLayout(spacing=6)
        for button in (self.imported, self.down, self.up, self.again):
            rare.addWidget(button)
        self.fault = fault_label()
        self.strip = RimStrip()
        self.unseen = Label()
        self.unseen.setProperty("quiet", True)
        self.unseen.setWordWrap(True)
        self.notes = Label()
        self.notes.setWordWrap(True)
        self.field, self.rounds = FieldPicture(), RoundsPicture()
        below = QHBoxLayout()
        below.setSpacing(12)
        for caption, picture, share in (
            (texts.TENSION_OVER_HEAD_COMPUTED_LIGHTER, self.field, 4),
            (texts.SPREAD_BY_ROUND_CENTS, self.rounds, 5),
        ):
            part = QVBoxLayout()
            label = Elided(caption)
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
        left.addWidget(self.strip, 7)
        left.addWidget(self.unseen)
        left.addWidget(self.notes)
        left.addLayout(below, 4)
        left.addLayout(rare)
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
        others = [wording.side_word(drum, one).lower() for one in drum.sides if one != side]
        self.panel.set_words(self._words, others[0] if others else "")
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

    def show_round(self, at: Standing, sources: ReadingSources) -> None:
        """Show where the round stands, and how rods are read."""
        found, walk, by_ear = at.found, at.walk, sources.name == EAR
        self.title.setText(
            texts.ROUND.format(
                head=at.head,
                count=len(at.clearing.rounds),
                doing=self._doing(at, sources.kind, by_ear),
            )
        )
        typed = sources.name in TYPED
        self.value.setVisible(typed)
        self.value.setPlaceholderText(EXAMPLES.get(sources.name, ""))
        self.read.setVisible(not typed and not by_ear)
        for button in self.answers.values():
            button.setVisible(by_ear and not at.walk.turning)
        self.read.setText(self._read_text(at, sources))
        by_pitch = sources.kind == "lug_pitch"
        computed: tuple[float, ...] = ()
        if found is not None:
            state = found.state
            computed = tuple((state.pitch_cents if by_pitch else state.local_cents).tolist())
        turns = [0.0] * at.rods
        for rod, turn in walk.asked:
            turns[rod - 1] = turn
        unit = texts.CENTS_OF_PITCH if by_pitch else texts.CENTS_OF_TENSION
        asked = tuple(turns) if walk.turning else ()
        self.strip.set_state(at.rods, at.now, at.cents, computed, asked, unit)
        self.field.set_state(found, at.now, at.rods)
        self.rounds.set_state(found.heard if found else ())
        self.unseen.setText(found.unseen if found else texts.READ_EVERY_ROD_ONCE_THEN)
        self.notes.setText("\n".join(found.notes) if found else "")
        self.notes.setVisible(bool(found and found.notes))
        if walk.turning and (walk.turned or at.settled):
            self.panel.set_turns(walk, found.reasons if found else {})
        elif walk.turning:
            self.panel.set_waiting()
        else:
            self.panel.set_reading(at.now, HOW[sources.name], at.missing)
            if at.again and found is not None:
                self.panel.why.setText(found.ask_why)
        self.panel.set_expected(found, bool(at.clearing.target_hz))
        self.panel.ready.setEnabled(at.settled or bool(walk.turned))
        self.panel.back.setEnabled(bool(at.clearing.now.taps) or walk.turned > 0)

    def _doing(self, at: Standing, kind: str, by_ear: bool) -> str:
        place = f"{self._words.place} {at.now}"
        if at.walk.turning:
            return (
                texts.TURN.format(place=place)
                if not self._words.mm_per_turn
                else texts.EVEN.format(place=place)
            )
        if by_ear:
            return texts.HEAR_AGAINST.format(place=place, other=at.against)
        if kind == "lug_pitch":
            return texts.TAP_25_MM_1_IN.format(place=place)
        way = texts.DIAL_BESIDE if kind == "dial" else texts.TORQUE_AT
        return texts.SAME_PLACE_ALL_ROUND.format(way=way, place=place)

    def _read_text(self, at: Standing, sources: ReadingSources) -> str:
        if sources.name == "microphone":
            return texts.STOP_LISTENING if sources.live else texts.LISTEN
        return (
            texts.READ_AGAIN_T.format(place=self._words.place, rod=at.reads)
            if at.walk.turning
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
