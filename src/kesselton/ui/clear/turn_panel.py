"""Right of the rim: what to turn now in large words, what comes after, what was heard."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Signal
from PySide6.QtGui import QColor, QFont, QPainter
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.core.language import _, begin
from kesselton.ui.parts.widgets.columns import clear, fault_label
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import LIGHT, Colours, font, px
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.app.bench.clearing import Cleared
    from kesselton.core.clear.taps.tap import HeardTap
    from kesselton.core.clear.walk import Walk

SHOWN_AFTER = 4
FLOOR_DB = -40.0


class LinesPicture(Picture):
    """What was heard: a stroke per partial, low left to high right, as high as it is loud."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(52)
        self.setAccessibleName(_("Partials measured"))
        self._heard: HeardTap | None = None
        self._level = 0.0

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(240, 52)

    def set_state(self, heard: HeardTap | None) -> None:
        """Show the partials of a tap."""
        self._heard = heard
        self.update()

    def set_level(self, level: float) -> None:
        """Level at the microphone, 0 to 1."""
        self._level = level
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        bottom = self.height() - 8.0
        p.fillRect(QRectF(0, bottom, self.width(), 5), QColor(c.line))
        p.fillRect(QRectF(0, bottom, self.width() * min(self._level, 1.0), 5), QColor(c.ink))
        if self._heard is None:
            return
        high = max(line.hz for line in self._heard.lines) * 1.05
        for line in self._heard.lines:
            height = max(0.0, 1.0 - line.level_db / FLOOR_DB) * (bottom - 4.0)
            own = abs(line.hz / self._heard.lug_pitch_hz - 1.0) < 0.03
            x = (self.width() - 4.0) * line.hz / high
            p.fillRect(QRectF(x, bottom - height, 3, height), QColor(c.accent if own else c.metal))


class TurnPanel(QWidget):
    """Signals
    -------
    done(), wrong(), skipped() : the rod was turned; the last reading was wrong; leave this rod
    tuning_wanted(), hear_wanted(), other_wanted() : the head is clear: on to tuning, to hear the
        whole drum, or to the other head
    """

    tuning_wanted = Signal()
    hear_wanted = Signal()
    other_wanted = Signal()
    done = Signal()
    wrong = Signal()
    skipped = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._colours, self._words, self._other = LIGHT, wording.TurnWords(), ""
        self.caption, self.rod, self.turn, self.degrees = (Label() for _unused in range(4))
        self.caption.setProperty("quiet", True)
        self.rod.setFont(font(26, QFont.Weight.Bold))
        self.turn.setFont(font(20, QFont.Weight.Bold))
        self.turn.setWordWrap(True)
        self.degrees.setFont(font(11))
        self.degrees.setProperty("quiet", True)
        self.why = Label()
        self.why.setProperty("quiet", True)
        self.why.setWordWrap(True)
        self.after = QGridLayout()
        self.after.setColumnStretch(1, 1)
        self.expected = Label()
        self.expected.setWordWrap(True)
        self.fault = fault_label()
        self.ready = Button()
        self.ready.setObjectName("main")
        self.ready.setMinimumHeight(px(44))
        self.ready.clicked.connect(self.done)
        self.back = Button(_("Undo reading (⌫)"), tip=_("Take the last reading or turn back"))
        self.back.clicked.connect(self.wrong)
        self.skip = Button(_("Skip rod (S)"), tip=_("Leave this rod out of the round"))
        self.skip.clicked.connect(self.skipped)
        self.state = Label()
        self.state.setProperty("quiet", True)
        self.state.setWordWrap(True)
        self.heard = Label()
        self.heard.setFont(font(14, QFont.Weight.DemiBold))
        self.heard_more = Label()
        self.heard_more.setProperty("quiet", True)
        self.heard_more.setWordWrap(True)
        self.lines = LinesPicture()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 10, 8, 10)
        layout.setSpacing(4)
        for widget in (self.caption, self.rod, self.turn, self.degrees, self.why):
            layout.addWidget(widget)
        layout.addLayout(self.after)
        layout.addWidget(self.expected)
        layout.addWidget(self.fault)
        layout.addSpacing(4)
        layout.addWidget(self.ready)
        row = FlowLayout(spacing=6)
        row.addWidget(self.back)
        row.addWidget(self.skip)
        layout.addLayout(row)
        layout.addStretch(1)
        for label in (self.state, self.heard, self.heard_more):
            layout.addWidget(label)
        layout.addWidget(self.lines)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.lines.set_colours(colours)

    def set_words(self, spoken: wording.TurnWords, other: str) -> None:
        """Speak of rods, or of ears, and call the other head by its name ("" for none)."""
        self._words, self._other = spoken, other
        self.skip.setText(_("Skip {place} (S)").format(place=spoken.place))

    def _place(self, rod: int) -> str:
        return f"{self._words.place} {rod}"

    def set_reading(self, rod: int, how: str, missing: int) -> None:
        """Show which rod is read next, and how."""
        self.caption.setText(_("Read next"))
        self.rod.setText(begin(self._place(rod)))
        self.turn.setText(how)
        self.turn.setStyleSheet("")
        self.degrees.setText(
            _("{missing} to go").format(missing=missing) if missing > 1 else _("last one")
        )
        self.ready.setText(_("Start turning (Space)"))
        self.why.clear()
        clear(self.after)

    def set_waiting(self) -> None:
        """What is to be turned is being worked out."""
        self.caption.setText(_("Turn next"))
        self.rod.setText("…")
        self.turn.setText(_("computing turns"))
        self.turn.setStyleSheet("")
        for label in (self.degrees, self.why):
            label.clear()
        clear(self.after)

    def set_turns(self, walk: Walk, reasons: dict[int, str]) -> None:
        """Show the turn to make, and those after it."""
        left = walk.asked[walk.turned :]
        clear(self.after)
        self.caption.setText(_("Turn next"))
        if not left:
            self._set_common(walk.common)
            return
        now, turn = left[0]
        self.rod.setText(begin(self._place(now)))
        self._set_turn(turn)
        self.why.setText(reasons.get(now, ""))
        for row, (rod, turn) in enumerate(left[1 : 1 + SHOWN_AFTER]):
            name = Label(self._place(rod))
            name.setFont(font(10, QFont.Weight.DemiBold))
            text = Label(f"{self._words.way(turn)} {self._words.amount(turn)}")
            text.setStyleSheet(f"color: {self._colours.flat if turn > 0 else self._colours.sharp}")
            self.after.addWidget(name, row, 0)
            self.after.addWidget(text, row, 1)
        more = len(left) - 1 - SHOWN_AFTER
        if more > 0:
            self.after.addWidget(Label(_("and {more} more").format(more=more)), SHOWN_AFTER, 1)
        last = len(left) == 1
        following = _("read again") if last else _("next {place}").format(place=self._words.place)
        self.ready.setText(_("Turned: {following} (Space)").format(following=following))

    def _set_common(self, common: float) -> None:
        self.why.clear()
        if common:
            self.rod.setText(_("All {places}").format(places=self._words.places))
            self._set_turn(common)
            self.degrees.setText(
                _("by equal small turns, opposite pairs; at most a quarter turn at a time")
            )
            self.ready.setText(_("Turned: read again (Space)"))
            return
        self.caption.setText(_("Done"))
        self.rod.setText(_("Clear"))
        self.turn.setText(_("no more turns"))
        self.turn.setStyleSheet("")
        self.degrees.setText(_("the rest is smaller than the finest turn"))
        self.ready.setText(_("Read again (Space)"))
        ways = [
            (_("Go to Tuning"), self.tuning_wanted),
            (_("Analyze the drum (J)"), self.hear_wanted),
        ]
        if self._other:
            ways.insert(0, (_("Clear the {head}").format(head=self._other), self.other_wanted))
        for row, (words, signal) in enumerate(ways):
            button = Button(words)
            button.clicked.connect(signal)
            self.after.addWidget(button, row, 0, 1, 2)

    def _set_turn(self, turn: float) -> None:
        self.turn.setText(f"{self._words.way(turn)} {self._words.amount(turn)}")
        colour = self._colours.flat if turn > 0 else self._colours.sharp
        self.turn.setStyleSheet(f"color: {colour}")
        self.degrees.setText(self._words.more(turn))

    def set_expected(self, cleared: Cleared | None, moved: bool) -> None:
        """Show what comes of the turns; `moved` where another pitch is wanted."""
        if cleared is None:
            self.expected.setText("")
            return
        kept = "" if moved else _(", overall pitch unchanged")
        within = max(cleared.plan.spread_cents, 1.0)
        self.expected.setText(
            _("Expected: lug pitches within {within:.0f} cents{kept}.").format(
                within=within, kept=kept
            )
        )

    def set_heard(self, title: str, more: str, heard: HeardTap | None) -> None:
        """Show the last reading."""
        self.heard.setText(title)
        self.heard_more.setText(more)
        self.lines.set_state(heard)
