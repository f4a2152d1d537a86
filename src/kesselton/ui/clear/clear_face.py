"""What the clear stage looks like: rim, field and rounds left, what to turn right."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.bench.clear_bench import BY_EAR
from kesselton.app.bench.clearing import Cleared
from kesselton.app.bench.reading_sources import ReadingSources
from kesselton.core.clear.clearing_records import PATTERNS, Clearing
from kesselton.core.clear.walk import Walk
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _, choices
from kesselton.ui.clear.rim_picture import FieldPicture, RimStrip, RoundsPicture
from kesselton.ui.clear.turn_panel import TurnPanel
from kesselton.ui.parts.widgets.columns import fault_label, scroll
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.fields import Choice, Field, pitch_field
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import AddLine, Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import Colours, font, px
from kesselton.ui.parts.words import wording

ANSWERS_BY_EAR = {
    "higher": N_("Higher (H)"),
    "lower": N_("Lower (L)"),
    "alike": N_("Alike (A)"),
    "unsure": N_("Cannot tell (U)"),
}


SOURCES = (
    ("pitch", N_("pitch, entered")),
    (BY_EAR, N_("by ear")),
    ("dial", N_("gauge, entered")),
    ("microphone", N_("microphone")),
    ("bench_tap", N_("simulated tap")),
    ("bench_dial", N_("simulated gauge")),
    ("torque", N_("torque, entered")),
    ("bench_torque", N_("simulated torque key")),
)
STEPS = (
    (1.0 / 64.0, N_("1/64 turn")),
    (1.0 / 72.0, N_("5 degrees")),
    (1.0 / 32.0, N_("1/32 turn")),
)
HOW = {
    "pitch": N_("tap, enter the pitch"),
    BY_EAR: N_("Tap both in turn"),
    "dial": N_("set the gauge down"),
    "microphone": N_("tap once, microphone above the rod"),
    "bench_tap": N_("press T to tap"),
    "bench_dial": N_("press T for the gauge"),
    "torque": N_("put the torque key on"),
    "bench_torque": N_("press T for the torque key"),
}
TYPED = ("pitch", "dial", "torque")
EXAMPLES = {
    "pitch": N_("pitch: 261.6 or C4 −12"),
    "dial": N_("gauge divisions"),
    "torque": N_("newton-meters: 0.45"),
}

TAPPED = N_(
    "A finger on the center, the other head on a towel. Tap 25 mm (1 in) in from the rim: "
    "fingertip in a quiet room, mallet or its shaft in another, a snap of the drum key in noise."
)
LAID = N_("The same distance from the rim at each rod, square to the rim; read it twice.")


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
    cleared : the last answer, which stays while the next is worked out; `settled` if it is the last
    """

    head: str
    clearing: Clearing
    rods: int
    walk: Walk
    now: int
    reads: int
    missing: int
    cents: dict[int, float]
    cleared: Cleared | None
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
        self.side, self.source = Choice(_("Head")), Choice(_("Reading method"))
        self.pattern, self.step = Choice(_("Target pattern")), Choice(_("Finest turn"))
        self.target: Field = pitch_field(_("Final pitch"), 20.0, 1500.0, a4_hz, note)
        self._set_choices()
        row = QHBoxLayout()
        row.setSpacing(10)
        for widget in (self.side, self.source, self.pattern, self.target, self.step):
            row.addWidget(widget, 1)
        self._make_reading()
        typed = FlowLayout(spacing=6)
        typed.addWidget(self.value)
        typed.addWidget(self.read)
        self.answers = {answer: Button(_(text)) for answer, text in ANSWERS_BY_EAR.items()}
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
            (_("Computed tension: lighter is tighter"), self.field, 4),
            (_("Spread by round, cents"), self.rounds, 5),
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

    def _set_choices(self) -> None:
        self.target.line.setPlaceholderText(_("unchanged"))
        self.own = Field(_("Tension at each rod, relative to mean 1"), _read_shares, _write_shares)
        self.source.set_options(list(choices(SOURCES)))
        self.pattern.set_options(list(PATTERNS.items()))
        self.step.set_options(list(choices(STEPS)))

    def _make_reading(self) -> None:
        self.title = Label()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.value = AddLine()
        self.value.setAccessibleName(_("Reading"))
        self.read = Button()
        self.imported = Button(
            _("From recording…"), tip=_("Taps of a sound file, one rod after another")
        )
        self.down, self.up = (
            Button(_("All rods − ⅛"), tip=_("Loosen every rod ⅛ turn and start a round")),
            Button(_("All rods + ⅛"), tip=_("Tighten every rod ⅛ turn and start a round")),
        )
        self.again = Button(
            _("Start over"), tip=_("Drop the rounds so far and start over; Undo restores them")
        )

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
        others = [wording.side_inside(drum, text) for text in drum.sides if text != side]
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
        cleared, walk, by_ear = at.cleared, at.walk, sources.name == BY_EAR
        self.title.setText(
            _("{head}, round {count}: {doing}").format(
                head=at.head,
                count=len(at.clearing.rounds),
                doing=self._doing(at, sources.kind, by_ear),
            )
        )
        typed = sources.name in TYPED
        self.value.setVisible(typed)
        self.value.setPlaceholderText(_(EXAMPLES.get(sources.name, "")))
        self.read.setVisible(not typed and not by_ear)
        for button in self.answers.values():
            button.setVisible(by_ear and not at.walk.turning)
        self.read.setText(self._read_text(at, sources))
        by_pitch = sources.kind == "lug_pitch"
        computed: tuple[float, ...] = ()
        if cleared is not None:
            state = cleared.state
            computed = tuple((state.pitch_cents if by_pitch else state.local_cents).tolist())
        turns = [0.0] * at.rods
        for rod, turn in walk.asked:
            turns[rod - 1] = turn
        unit = (
            _("lug pitch, cents; dashes: model") if by_pitch else _("tension, cents; dashes: model")
        )
        asked = tuple(turns) if walk.turning else ()
        self.strip.set_state(at.rods, at.now, at.cents, computed, asked, unit)
        self.field.set_state(cleared, at.now, at.rods)
        self.rounds.set_state(cleared.heard if cleared else ())
        self.unseen.setText(cleared.unseen if cleared else _("Read every rod once, then turn."))
        self.notes.setText("\n".join(cleared.notes) if cleared else "")
        self.notes.setVisible(bool(cleared and cleared.notes))
        if walk.turning and (walk.turned or at.settled):
            self.panel.set_turns(walk, cleared.reasons if cleared else {})
        elif walk.turning:
            self.panel.set_waiting()
        else:
            self.panel.set_reading(at.now, _(HOW[sources.name]), at.missing)
            again = cleared.ask_why if at.again and cleared is not None else ""
            how = _(TAPPED) if sources.kind == "lug_pitch" else _(LAID)
            self.panel.why.setText(f"{again} {how}".strip())
        self.panel.set_expected(cleared, bool(at.clearing.target_hz))
        self.panel.ready.setEnabled(at.settled or bool(walk.turned))
        self.panel.back.setEnabled(bool(at.clearing.now.taps) or walk.turned > 0)

    def _doing(self, at: Standing, kind: str, by_ear: bool) -> str:
        place = f"{self._words.place} {at.now}"
        if at.walk.turning:
            return (
                _("turn {place}").format(place=place)
                if not self._words.mm_per_turn
                else _("even {place}").format(place=place)
            )
        if by_ear:
            return _("is {place} higher or lower than {other}?").format(
                place=place, other=at.against
            )
        if kind == "lug_pitch":
            return _("tap {place}").format(place=place)
        if kind == "dial":
            return _("gauge at {place}").format(place=place)
        return _("torque at {place}").format(place=place)

    def _read_text(self, at: Standing, sources: ReadingSources) -> str:
        if sources.name == "microphone":
            return _("Stop mic") if sources.live else _("Start mic")
        return (
            _("Read {place} {rod} again (T)").format(place=self._words.place, rod=at.reads)
            if at.walk.turning
            else _("Read (T)")
        )


def _read_shares(text: str) -> tuple[float, ...]:
    try:
        return tuple(float(part.replace(",", ".")) for part in text.split())
    except ValueError:
        raise InputError(
            _("{text!r} is not a pattern.").format(text=text),
            _("Enter one number per rod, separated by spaces: 1 1 0.9 1."),
        ) from None


def _write_shares(shares: tuple[float, ...] | None) -> str:
    return " ".join(f"{share:g}" for share in shares or ())
