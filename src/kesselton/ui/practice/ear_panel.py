"""Clearing by ear: rods from above, the hand on one of them, the gauge only at the end."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.practice.practice_bench import PracticeBench
from kesselton.core.errors import KesseltonError
from kesselton.core.language import N_, _, each, figures
from kesselton.ui.parts.pictures.ring import Ring
from kesselton.ui.parts.widgets.columns import fault_label
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.widgets.theme import font, px
from kesselton.ui.parts.words import wording

REPLAY_CAPTIONS = (N_("Rod"), N_("Cents now"), N_("Your turns"), N_("Solver’s turns"))

TURN, FINE = 1.0 / 8.0, 1.0 / 32.0
MOST_REPLAYED = 14


class EarPanel(QWidget):
    """Works the head in hand by keys, wheel and buttons."""

    def __init__(self, practice: PracticeBench) -> None:
        super().__init__()
        self.practice = practice
        self.rod = 1
        self.picture = Ring()
        self.keys = Label(_("← → rod, T tap, ↑ ↓ ⅛ turn, Shift 1/32; wheel 1/32. E: show result."))
        self.keys.setProperty("quiet", True)
        self.keys.setWordWrap(True)
        self.now = Label()
        self.now.setFont(font(17, QFont.Weight.Bold))
        self.begin = Button(_("Start (Space)"))
        self.begin.setObjectName("main")
        self.tap, self.up, self.down = (
            Button(_("Tap (T)")),
            Button(_("Tighten ⅛ (↑)")),
            Button(_("Loosen ⅛ (↓)")),
        )
        self.end = Button(_("Show result (E)"))
        self.score, self.more, self.replay = Label(), Label(), Label()
        self.score.setFont(font(15, QFont.Weight.DemiBold))
        for label in (self.score, self.more, self.replay):
            label.setWordWrap(True)
        self.table = Table(
            TableModel(each(REPLAY_CAPTIONS), bold=[0]),
            _(
                "Spread between rods: {begun} cents at first, {left} now. "
                "Solver after three rounds: {solver}."
            ),
        )
        self.table.set_widths((44, 84, 92, 0))
        self.fault = fault_label()
        side = QVBoxLayout()
        for widget in (self.now, self.begin, self.tap, self.up, self.down, self.end, self.fault):
            side.addWidget(widget)
        for button in (self.begin, self.tap, self.up, self.down, self.end):
            button.setMinimumHeight(px(42))
        for widget in (self.score, self.more):
            side.addWidget(widget)
        side.addWidget(self.table, 1)
        side.addWidget(self.replay)
        side.addStretch(1)
        row = QHBoxLayout()
        row.addWidget(self.picture, 3)
        row.addLayout(side, 3)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.keys)
        box.addLayout(row, 1)
        self.begin.clicked.connect(self.start)
        self.tap.clicked.connect(self.hear)
        self.up.clicked.connect(lambda: self.turn(TURN))
        self.down.clicked.connect(lambda: self.turn(-TURN))
        self.end.clicked.connect(self.finish)

    def refresh(self) -> None:
        """Show what holds now."""
        ear, score = self.practice.ear, self.practice.score
        going = ear is not None and score is None
        for widget in (self.tap, self.up, self.down, self.end, self.now):
            widget.setVisible(going)
        self.begin.setVisible(not going)
        for shown in (self.score, self.more, self.table, self.replay):
            shown.setVisible(score is not None)
        if ear is None:
            self.picture.set_state(6, 0, ())
            return
        self.rod = min(self.rod, ear.rods)
        turned = sum(act.turns for act in ear.acts if act.rod == self.rod)
        words = _("Rod {rod}").format(rod=self.rod)
        if turned:
            said = wording.fine_turn_words(turned) + (" tighter" if turned > 0 else " looser")
            words = f"{words}: {_('turned {turn} so far').format(turn=said)}"
        self.now.setText(words)
        cents = {}
        if score is not None:
            cents = dict(enumerate(score.pitches_cents.tolist(), start=1))
            self._show_score()
        self.picture.set_state(ear.rods, self.rod if going else 0, (), cents)

    def _show_score(self) -> None:
        score, ear = self.practice.score, self.practice.ear
        assert score is not None
        assert ear is not None
        self.score.setText(
            _(
                "Spread between rods: {begun} cents at first, {left} now. "
                "Solver after three rounds: {solver}."
            ).format(
                begun=figures(score.begun_cents, ".0f"),
                left=figures(score.left_cents, ".0f"),
                solver=figures(score.solver_cents, ".0f"),
            )
        )
        self.more.setText(
            _(
                "Turns {turns}, taps {taps}, minutes {minutes}; tension spread {tension} cents."
            ).format(
                turns=score.turns,
                taps=score.taps,
                minutes=figures(score.seconds / 60.0, ".1f"),
                tension=figures(score.tension_cents, ".0f"),
            )
        )
        rows = []
        for rod in range(ear.rods):
            rows.append(
                (
                    str(rod + 1), figures(score.pitches_cents[rod], "+.0f"),
                    _turn(float(score.turned[rod])), _turn(float(score.wanted[rod])),
                )
            )  # fmt: skip
        self.table.rows.set_rows(rows)
        steps = [
            f"{act.rod} {_turn(act.turns)}: {figures(spread, '.0f')}"
            for act, spread in score.replay
            if act.what == "turn"
        ]
        shown = steps[-MOST_REPLAYED:]
        lead = "… " if len(steps) > len(shown) else ""
        self.replay.setText(
            _("Turn by turn: {steps}").format(steps=lead + ";  ".join(shown)) if steps else ""
        )

    # what is done

    def start(self) -> None:
        """A head with hidden faults."""
        self.rod = 1
        self.fault.hide()
        if self.practice.pupil is not None:
            self.practice.begin()

    def hear(self) -> None:
        """Tap the rod in hand."""
        self.practice.tap(self.rod)

    def turn(self, turns: float) -> None:
        """Turn the rod in hand."""
        self.practice.turn(self.rod, turns)

    def turn_by_wheel(self, delta: int) -> None:
        """A notch of the wheel is a 32nd of a turn."""
        if delta:
            self.turn(FINE if delta > 0 else -FINE)

    def finish(self) -> None:
        """The gauge at last."""
        try:
            self.practice.end_by_ear()
        except KesseltonError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()

    def _move(self, by: int) -> None:
        ear = self.practice.ear
        if ear is not None:
            self.rod = (self.rod - 1 + by) % ear.rods + 1
            self.refresh()

    def took(self, event: QKeyEvent) -> bool:
        """Whether a key was one of its own."""
        key, going = (
            Qt.Key(event.key()),
            self.practice.ear is not None and self.practice.score is None,
        )
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if not going:
            if key in (Qt.Key.Key_Space, Qt.Key.Key_Return) and not event.isAutoRepeat():
                self.start()
                return True
            return False
        step = FINE if fine else TURN
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._move(-1 if key == Qt.Key.Key_Left else 1)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.turn(step if key == Qt.Key.Key_Up else -step)
        elif event.isAutoRepeat():
            return True
        elif key in (Qt.Key.Key_T, Qt.Key.Key_Space):
            self.hear()
        elif key == Qt.Key.Key_E:
            self.finish()
        elif event.text().isdecimal() and int(event.text()) >= 1:
            self.rod = int(event.text())
            self.refresh()
            self.hear()
        else:
            return False
        return True


def _turn(turns: float) -> str:
    if abs(turns) < 1.0 / 128.0:
        return "–"
    return ("+" if turns > 0 else "−") + wording.fine_turn_words(turns)
