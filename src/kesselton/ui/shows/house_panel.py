"""House drums: what they are, one stroke each, and the few changes that help most."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.shows.house_drums import HouseDrums
from kesselton.app.workshop.usual_drums import USUAL
from kesselton.core.errors import KesseltonError
from kesselton.core.language import N_, _, choices, figures
from kesselton.core.sets.model.kit import Wish
from kesselton.ui.parts.widgets.columns import fault_label, selectable
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

STRIKE_SOURCES = (
    ("bench", N_("simulated drums")),
    ("microphone", N_("microphone")),
    ("file", N_("recording…")),
)


class HousePanel(QWidget):
    """Left the drums, right what helps.

    Signals
    -------
    keep_wanted : the drums are to go into the drum list, as a set
    """

    keep_wanted = Signal()

    def __init__(
        self,
        house: HouseDrums,
        a4: Callable[[], float],
        flats: Callable[[], bool],
        ask_sound: Callable[[], Path | None],
    ) -> None:
        super().__init__()
        self.house, self._a4, self._flats, self._ask_sound = house, a4, flats, ask_sound
        about = Label(
            _(
                "For unfamiliar drums: enter kind and size of each and strike "
                "each once in the center. The most useful changes are listed, "
                "best first."
            )
        )
        about.setWordWrap(True)
        self._make_parts()
        adding = QHBoxLayout()
        adding.addWidget(self.what, 1)
        adding.addWidget(self.add)
        adding.addWidget(self.remove)
        left = QVBoxLayout()
        left.addLayout(adding)
        left.addWidget(self.table, 1)
        right = QVBoxLayout()
        for widget in (self.next, self.source, self.strike, self.fault, self.advice):
            right.addWidget(widget)
        right.addStretch(1)
        right.addWidget(self.keep)
        layout = QGridLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.addWidget(about, 0, 0, 1, 2)
        layout.addLayout(left, 1, 0)
        layout.addLayout(right, 1, 1)
        layout.setColumnStretch(0, 1)
        layout.setColumnStretch(1, 1)
        layout.setRowStretch(1, 1)
        self._chosen_size = 0
        self.what.chosen.connect(self._on_size)
        self.add.clicked.connect(self.add_drum)
        self.remove.clicked.connect(self._on_remove)
        self.strike.clicked.connect(self.strike_next)
        self.keep.clicked.connect(self.keep_wanted)
        self._source = "bench"
        self.source.chosen.connect(self._on_source)
        house.changed.connect(self._on_changed)
        house.advised.connect(self.refresh)
        house.refused.connect(self._on_refused)
        self.refresh()

    def _make_parts(self) -> None:
        self.sizes = [(kind, size) for kind in USUAL for size in USUAL[kind].sizes]
        self.what = Choice(_("Kind and size"))
        self.what.set_options([(n, _name(*item)) for n, item in enumerate(self.sizes)])
        self.what.set_state(0)
        self.add, self.remove = (
            Button(_("Add"), tip=_("A house drum")),
            Button(_("Remove")),
        )
        self.table = Table(TableModel((_("drum"), _("heard")), bold=[0]), _("House drums"))
        self.table.set_widths((0, 230))
        self.source = Choice(_("Source"))
        self.source.set_options(list(choices(STRIKE_SOURCES)))
        self.source.set_state("bench")
        self.next = Label()
        self.next.setFont(font(16, QFont.Weight.Bold))
        self.strike = Button(_("Strike (T)"), tip=_("Analyze one stroke on this drum"))
        self.strike.setObjectName("main")
        self.fault = fault_label()
        self.advice = selectable(Label())
        self.advice.setWordWrap(True)
        self.advice.setFont(font(12))
        self.keep = Button(
            _("Add as drums and a set"),
            tip=_("The house drums become drums and a set of this workshop"),
        )

    def _on_size(self, number: int) -> None:
        self._chosen_size = number

    def _on_source(self, name: str) -> None:
        self._source = name
        self.house.stop_listening()

    def add_drum(self) -> None:
        """One more, as it is chosen."""
        kind, size = self.sizes[self._chosen_size]
        self.fault.hide()
        try:
            self.house.add(kind, size, _name(kind, size))
        except KesseltonError as error:
            self._on_refused(error)

    def _on_remove(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < len(self.house.drums):
            self.house.remove(self.house.drums[row].number)

    def strike_next(self) -> None:
        """The next drum is struck, or one that is chosen once more."""
        house = self.house.unheard
        if house is None:
            row = self.table.currentIndex().row()
            house = self.house.drums[row] if 0 <= row < len(self.house.drums) else None
        if house is None:
            return
        self.fault.hide()
        if self._source == "bench":
            self.house.strike_simulated(house)
        elif self._source == "microphone":
            self.house.listen(house)
        else:
            path = self._ask_sound()
            if path is not None:
                self.house.hear_file(house, path)

    def _on_changed(self) -> None:
        self.house.ask(Wish(), self._a4())
        self.refresh()

    def _on_refused(self, error: KesseltonError) -> None:
        self.fault.setText(f"{error.message} {error.remedy}")
        self.fault.show()

    def refresh(self) -> None:
        """Show what holds now."""
        house = self.house
        self.table.rows.set_rows(
            [(drum.usual.name, self._heard(drum.heard)) for drum in house.drums]
        )
        candidate = house.unheard
        self.remove.setEnabled(bool(house.drums))
        self.strike.setEnabled(bool(house.drums))
        self.keep.setEnabled(house.advice is not None)
        if candidate is not None:
            self.next.setText(_("Strike: {name}").format(name=candidate.usual.name))
        elif house.drums:
            self.next.setText(
                _("All analyzed in {seconds} s").format(seconds=figures(house.seconds, ".0f"))
            )
        else:
            self.next.setText("")
        self.advice.setText(self._advice())

    def _heard(self, heard: object) -> str:
        from kesselton.core.shows.strangers import Stranger

        if not isinstance(heard, Stranger):
            return _("not struck yet")
        note = wording.note_words(heard.note_hz, self._a4(), self._flats())
        return _("{note}, {hz:.0f} Hz ± {cents:.0f} cents").format(
            note=note, hz=heard.note_hz, cents=heard.half_cents
        )

    def _advice(self) -> str:
        house = self.house
        advice = house.advice
        if advice is None:
            ready = len(house.drums) >= 2 and house.unheard is None
            return _("Computing the best changes…") if ready else ""
        if len(advice.plans) < 2:
            return _("No single change is worth the time.")
        from kesselton.core.acoustics.solver.lug import tensions
        from kesselton.core.sets.model.chords import hz_of
        from kesselton.core.sets.search.plan import changed_between
        from kesselton.core.sets.search.reasons import turns_between

        lines = []
        pairs = zip(advice.plans, advice.plans[1:], strict=False)
        for number, (before, after) in enumerate(pairs, start=1):
            drum = changed_between(before, after)
            member, item = advice.members[drum], after.drums[drum]
            hz = hz_of(item.note_cents, self._a4())
            note = wording.note_words(hz, self._a4(), self._flats())
            lines.append(
                _("{number}. {name}: {note}").format(number=number, name=member.name, note=note)
            )
            turns = turns_between(member.drum, tensions(member.drum), item.tensions_n_per_m)
            results = wording.head_turns(member.drum, turns)
            lines.append("    " + ", ".join(f"{side}: {turn}" for side, turn in results))
        return "\n".join(lines)


def _name(kind: str, size: object) -> str:
    from kesselton.app.workshop.usual_drums import UsualSize

    assert isinstance(size, UsualSize)
    return _("{name} {diameter_in:g} × {depth_in:g} in").format(
        name=USUAL[kind].name, diameter_in=size.diameter_in, depth_in=size.depth_in
    )
