"""The stage of readings: what was read, what it says together, and the bare shell."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtGui import QFont, QKeyEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from kesselton.app.bench.measuring import Measured, combine_readings
from kesselton.app.host.jobs import Answer
from kesselton.core.constants import SIDES
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.ui.measure.rim_ring import RimRing
from kesselton.ui.measure.shell_column import ShellColumn
from kesselton.ui.parts.pictures.turn_picture import TurnPicture
from kesselton.ui.parts.widgets.columns import clear, column, fault_label, narrow, scroll
from kesselton.ui.parts.widgets.fields import Choice, number_field
from kesselton.ui.parts.widgets.inputs import AddLine, Button, OwnedLines
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import reading_text, wording
from kesselton.ui.parts.words.entry_text import Said, many_entries, parse_entry, take_each
from kesselton.ui.parts.words.lengths_text import MISSING

if TYPE_CHECKING:
    from kesselton.core.measure.readings import Estimate

FINE_STRESS = 1.5


class MeasurePage(QWidget):
    """Readings left, what they say in the middle, shell and edge right.

    Signals
    -------
    noted(tuple of Reading), inspected(Inspected) : to be kept with the drum
    set_wanted(Drum) : the drum with its heads set as the readings say
    reckoned(Drum) : the drum with its edge as it was found
    typed_dropped(str in words) : something typed could not be taken, and its drum went
    """

    noted = Signal(object)
    inspected = Signal(object)
    set_wanted = Signal(object)
    reckoned = Signal(object)
    typed_dropped = Signal(str)

    def __init__(self, a4: Callable[[], float], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._a4_now = a4
        self._entry: Entry | None = None
        self._workshop: Workshop | None = None
        self._a4, self._flats = 440.0, False
        self._kind, self._side, self._other, self._gauge = "lug_pitch", "batter", "muted", ""
        self._answer: Answer[Measured] = Answer(self._say, self._on_failed, self)
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(20)
        across.addWidget(narrow(scroll(self._make_readings()), 520), 40)
        across.addWidget(scroll(self._make_together()), 32)
        self.shell = ShellColumn()
        self.shell.inspected.connect(self.inspected)
        self.shell.reckoned.connect(self.reckoned)
        self.shell.changed.connect(self._show_ring)
        across.addWidget(narrow(scroll(self.shell), 460), 34)

    # layout

    def _make_readings(self) -> QWidget:
        part, box = column(_("Readings"))
        self.kind = Choice(_("Quantity"))
        self.kind.set_options([*reading_text.KINDS.items(), *reading_text.SHELL_KINDS.items()])
        self.kind.chosen.connect(self._choose_kind)
        self.side = Choice(_("Where"))
        self.side.chosen.connect(self._on_side)
        self.other = Choice(_("Other head"))
        self.other.set_options([("muted", _("muted")), ("free", _("free"))])
        self.other.chosen.connect(lambda key: self._keep("_other", key, self.other))
        self.gauge = Choice(_("Gauge"))
        self.gauge.chosen.connect(lambda key: self._keep("_gauge", key, self.gauge))
        self.rod = number_field(_("Rod (0 = all)"), 0, 24, "", whole=True)
        self.rod.edited.connect(self._on_rod)
        self.rod.set_state(0)
        self.value = AddLine()
        self.value.setAccessibleName(_("Reading"))
        self.value.returnPressed.connect(self.add)
        self.heard = AddLine()
        self.heard.setPlaceholderText(_("Lug pitch there (optional): C4"))
        self.heard.setAccessibleName(_("Lug pitch at these turns"))
        self.heard.returnPressed.connect(self.add)
        self._typed = OwnedLines(self.value, self.heard)
        self.value.pasted.connect(self.take_readings)
        self.fault = fault_label()
        add = Button(_("Add reading (Enter)"))
        add.clicked.connect(self.add)
        grid = QGridLayout()
        for place, widget in enumerate((self.kind, self.side, self.other, self.gauge)):
            grid.addWidget(widget, place // 2, place % 2)
        grid.addWidget(self.rod, 2, 0)
        grid.addWidget(self.value, 3, 0)
        grid.addWidget(add, 3, 1)
        grid.addWidget(self.heard, 4, 0)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        box.addWidget(self.fault)
        self.rows = QGridLayout()
        self.rows.setColumnStretch(0, 1)
        box.addLayout(self.rows)
        box.addStretch(1)
        return part

    def _make_together(self) -> QWidget:
        part, box = column(_("Combined result"))
        self.ring = RimRing()
        self.ring.rod_chosen.connect(self._on_rod)
        box.addWidget(self.ring, 3)
        self.sayings = QGridLayout()
        self.sayings.setVerticalSpacing(4)
        self.contradiction = fault_label()
        box.addWidget(self.contradiction)
        box.addLayout(self.sayings)
        self.left_out = Label()
        self.left_out.setProperty("quiet", True)
        self.left_out.setWordWrap(True)
        self.take = Button(_("Apply to heads"), tip=_("Set the heads of this drum to the readings"))
        self.take.setObjectName("main")
        self.take.clicked.connect(self._on_take)
        self.turn_pictures = {side: TurnPicture() for side in SIDES}
        box.addWidget(self.left_out)
        for picture in self.turn_pictures.values():
            picture.hide()
            box.addWidget(picture)
        box.addWidget(self.take)
        box.addStretch(1)
        return part

    # state

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for picture in (self.ring, *self.turn_pictures.values()):
            picture.set_colours(colours)

    def set_state(self, entry: Entry | None, workshop: Workshop, a4_hz: float, flats: bool) -> None:
        """Show a drum and its notes."""
        waits = self._typed.belong_to(entry.id if entry else None)
        if waits and self._entry is not None:
            name = self._entry.drum.name
            self.typed_dropped.emit(
                _("“{text}” is not entered: it waits at {name}.").format(text=waits, name=name)
            )
        if entry is None or self._entry is None or entry.id != self._entry.id:
            self.fault.hide()
        self._entry, self._workshop = entry, workshop
        self._a4, self._flats = a4_hz, flats
        self.setEnabled(entry is not None)
        if entry is None:
            return
        drum = entry.drum
        self.side.set_options([(s, wording.side_word(drum, s)) for s in drum.sides])
        if self._side not in drum.sides:
            self._side = "batter"
        gauges = [
            ("", _("none")),
            *((dial.name, dial.name) for dial in workshop.dials),
            *((key.name, key.name) for key in workshop.keys),
        ]
        self.gauge.set_options(gauges)
        if self._gauge not in [key for key, _unused in gauges]:
            self._gauge = ""
        for choice, key in (
            (self.kind, self._kind),
            (self.side, self._side),
            (self.other, self._other),
            (self.gauge, self._gauge),
        ):
            choice.set_state(key)
        self._on_kind(self._kind)
        self._fill_rows(entry)
        self._show_ring()
        for name, text in self.shell.set_state(entry):
            self.typed_dropped.emit(
                _("“{text}” in “{name}” was not valid and was discarded with its drum.").format(
                    text=text, name=name
                )
            )
        self.refresh()

    @property
    def measured(self) -> Measured | None:
        """What the readings of this drum say together, None while that is worked out."""
        return self._answer.settled

    def refresh(self) -> None:
        """Work out what the readings and the bare shell say."""
        entry, workshop = self._entry, self._workshop
        if entry is not None and workshop is not None:
            key = (entry.drum, tuple(entry.readings), entry.kept, workshop.dials, workshop.keys)
            self._answer.ask(entry.id, key, lambda: combine_readings(entry, workshop))
            self._say()

    def _fill_rows(self, entry: Entry) -> None:
        clear(self.rows)
        names = reading_text.KINDS
        for row, noted in enumerate(entry.readings):
            where = "" if noted.kind == "fundamental" else wording.side_word(entry.drum, noted.side)
            rod = _(", rod {rod}").format(rod=noted.rod) if noted.rod else ""
            gauge = f", {noted.gauge}" if noted.gauge else ""
            free = _(", other head free") if noted.other_head == "free" else ""
            kind = _("turns, log only") if noted.hz is not None else names[noted.kind]
            text = f"{row + 1}  {where} {kind}{rod}{gauge}{free}".strip()
            label = Label(text)
            label.setWordWrap(True)
            value = Label(reading_text.show_value(noted, self._a4, self._flats))
            value.setFont(font(10, QFont.Weight.DemiBold))
            drop = Button(_("Remove"))
            drop.setAccessibleName(_("Remove reading {number}").format(number=row + 1))
            drop.clicked.connect(lambda _unused=False, place=row: self.remove(place))
            for place, widget in enumerate((label, value, drop)):
                self.rows.addWidget(widget, row, place)

    def _on_failed(self, error: KesseltonError) -> None:
        clear(self.sayings)
        self.contradiction.setText(f"{error.message} {error.remedy}")
        self.contradiction.show()
        self.take.setEnabled(False)

    def _say(self) -> None:
        """Show the answer there is; one of another drum, or of readings before, is none."""
        measurement = self.measured
        if measurement is None:
            if self._answer.value is None:
                clear(self.sayings)
                self.contradiction.hide()
                self.left_out.clear()
                for picture in self.turn_pictures.values():
                    picture.hide()
            self.take.setEnabled(False)
            return
        clear(self.sayings)
        self.contradiction.setText(measurement.contradiction)
        self.contradiction.setVisible(bool(measurement.contradiction))
        self.left_out.setText("\n".join(measurement.left_out))
        self._draw_turns(measurement)
        known = () if measurement.estimate is None else measurement.estimate.known
        self.take.setEnabled(any(known) and not measurement.contradiction)
        self._name_take(known)
        entry = self._entry
        if entry is None or measurement.estimate is None:
            note = Label(_("Enter a reading: lug pitch, gauge, turns…"))
            note.setProperty("quiet", True)
            note.setWordWrap(True)
            self.sayings.addWidget(note, 0, 0)
            return
        row = 0
        for index, side in enumerate(entry.drum.sides):
            title = Label(wording.side_word(entry.drum, side))
            title.setFont(font(11, QFont.Weight.DemiBold))
            self.sayings.addWidget(title, row, 0)
            if not measurement.estimate.known[index]:
                missing = Label(_("No reading for this head"))
                missing.setProperty("quiet", True)
                self.sayings.addWidget(missing, row + 1, 0)
                row += 2
                continue
            row = self._say_head(measurement, measurement.estimate, index, row)
        self._say_off(measurement.numbers, measurement.estimate.residual.tolist(), row)

    def _say_head(self, measurement: Measured, estimate: Estimate, index: int, row: int) -> int:
        """Pitch and tension of a head from a row on; the next row."""
        low, high = estimate.interval(index)
        hz = measurement.lug_pitches_hz[index]
        big = Label(wording.note_words(hz, self._a4, self._flats))
        big.setFont(font(20, QFont.Weight.Bold))
        text = _("{tensions_n_per_m:.0f} N/m ({low:.0f} to {high:.0f}, 90 %) · {hz}").format(
            tensions_n_per_m=estimate.tensions_n_per_m[index],
            low=low,
            high=high,
            hz=wording.hz_words(hz),
        )
        detail = Label(text)
        detail.setProperty("quiet", True)
        detail.setWordWrap(True)
        self.sayings.addWidget(big, row + 1, 0)
        self.sayings.addWidget(detail, row + 2, 0)
        return row + 3

    def _say_off(self, numbers: Sequence[int], residual: Sequence[float], row: int) -> None:
        """Readings that stand apart from the rest."""
        off = [
            (
                _("reading {number}: {deviations:.1f} standard deviations above the estimate")
                if r > 0
                else _("reading {number}: {deviations:.1f} standard deviations below the estimate")
            ).format(number=number, deviations=abs(r))
            for number, r in zip(numbers, residual, strict=True)
            if abs(r) > FINE_STRESS
        ]
        if off:
            label = Label("\n".join(off))
            label.setProperty("quiet", True)
            label.setWordWrap(True)
            self.sayings.addWidget(label, row, 0)

    def _name_take(self, known: Sequence[bool]) -> None:
        """Both heads are set, or the one that readings speak of."""
        entry, text = self._entry, _("Apply to heads")
        if entry is not None and any(known) and not all(known):
            side = entry.drum.sides[list(known).index(True)]
            text = _("Apply to {side}").format(side=wording.side_inside(entry.drum, side))
        self.take.setText(text)

    def _draw_turns(self, measurement: Measured) -> None:
        for side, picture in self.turn_pictures.items():
            fit = measurement.turns.get(side)
            entry = self._entry
            if entry is None or fit is None:
                picture.hide()
                continue
            reading = entry.drum.setting(side).reading
            goal = reading.hz if reading is not None else None
            name = wording.side_word(entry.drum, side)
            title = _("{name}: pitch vs. turns").format(name=name)
            if goal is not None:
                turns = wording.turn_words(fit.turns_to(goal))
                title = _("{name}: pitch vs. turns; target: {turns}").format(name=name, turns=turns)
            picture.set_state(title, fit, goal, self._a4, self._flats)

    # intents

    def _keep(self, name: str, key: str, choice: Choice) -> None:
        setattr(self, name, key)
        choice.set_state(key)

    def _on_side(self, side: str) -> None:
        self._keep("_side", side, self.side)
        self._show_ring()

    def _on_rod(self, rod: int) -> None:
        """Readings are of this rod from now on; 0 for all of them."""
        self.rod.set_state(rod)
        self.value.setFocus()
        self._show_ring()

    def _show_ring(self) -> None:
        entry = self._entry
        if entry is None:
            return
        read: dict[int, list[str]] = {}
        if self._kind in reading_text.SHELL_KINDS:
            read = self._shell_at_rods()
        for noted in () if read else entry.readings:
            if noted.kind == "fundamental" or noted.side == self._side:
                text = reading_text.show_value(noted, self._a4, self._flats).split(" · ")[0]
                unit = _("div") if noted.kind == "dial" else ""
                read.setdefault(noted.rod, []).append(f"{text} {unit}".strip())
        self.ring.set_state(entry.drum.shell.rods, int(self.rod.value or 0), read, entry.inspected)

    def _shell_at_rods(self) -> dict[int, list[str]]:
        """What the bare shell measures at its rods, or that nothing was measured there yet."""
        try:
            parts = self.shell.at_rods(self._kind)
        except InputError as error:
            return {0: [error.message]}
        results = {rod: [part] for rod, part in enumerate(parts, 1) if part != MISSING}
        return results or {0: [reading_text.SHELL_KINDS[self._kind]]}

    def _choose_kind(self, kind: str) -> None:
        """Readings are of this kind from now on; of the bare shell, from the first rod on."""
        self._on_kind(kind)
        if kind in reading_text.SHELL_KINDS:
            self._go_on(0)
        self._show_ring()

    def _go_on(self, rod: int) -> None:
        """To the next rod where the bare shell is to be measured."""
        try:
            self.rod.set_state(self.shell.missing(self._kind, rod))
        except InputError as error:
            self.rod.set_state(0)
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()

    def _note_shell(self, message: Said) -> None:
        """What was measured of the bare shell at a rod."""
        rod = message.rod or int(self.rod.value or 0) or self.shell.missing(self._kind)
        self.shell.note(self._kind, rod, message.value)
        self.value.clear()
        self._go_on(rod)
        self._show_ring()

    def _on_kind(self, kind: str) -> None:
        self._kind = kind
        self.kind.set_state(kind)
        self.value.setPlaceholderText(reading_text.EXAMPLES[kind])
        self.side.setEnabled(kind != "fundamental" and kind not in reading_text.SHELL_KINDS)
        self.other.setEnabled(kind == "lug_pitch")
        self.gauge.setEnabled(kind in ("dial", "torque"))
        self.heard.setVisible(kind == "turns")
        if kind == "dial" and self._workshop is not None and not self._gauge:
            names = [dial.name for dial in self._workshop.dials]
            if names:
                self._keep("_gauge", names[0], self.gauge)

    def add(self) -> None:
        """Note what is typed; a fault keeps it for correction."""
        entry = self._entry
        if entry is None:
            return
        self.fault.hide()
        try:
            message = parse_entry(self.value.text(), self._kind, self._a4_now())
            if message.kind in reading_text.SHELL_KINDS:
                self._note_shell(message)
                return
            if message.kind != self._kind:
                self._on_kind(message.kind)  # what follows will be of this kind too
            hz = None
            if message.kind == "turns" and self.heard.text().strip():
                hz = reading_text.read_value("lug_pitch", self.heard.text(), self._a4_now())
            noted = Reading(
                message.kind,
                message.value,
                self._side,
                self._other if message.kind == "lug_pitch" else "muted",
                0 if message.kind == "fundamental" else message.rod or int(self.rod.value or 0),
                self._gauge if message.kind in ("dial", "torque") else "",
                hz,
                date.today().isoformat(),
            )
            _check(entry.drum, noted)
        except KesseltonError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()
            return
        self.value.clear()
        self.heard.clear()
        self.value.setFocus()
        self.noted.emit((*entry.readings, noted))

    def take_readings(self, text: str) -> None:
        """Note a column or table of readings; the first that cannot be taken stands in the line,
        and what is wrong with it beside it."""
        if self._entry is None:
            return
        numbered = self._entry.drum.shell.rods if not self.rod.value else 0
        entries = many_entries(text, numbered)
        take_each(entries, self.value, self.add, self.fault)

    def remove(self, place: int) -> None:
        """Take a reading out; undo brings it back."""
        if self._entry is not None:
            left = list(self._entry.readings)
            del left[place]
            self.noted.emit(tuple(left))

    def _on_take(self) -> None:
        entry, measurement = self._entry, self.measured
        if entry is None or measurement is None or measurement.estimate is None:
            return
        drum = entry.drum
        for index, side in enumerate(drum.sides):
            if not measurement.estimate.known[index]:
                continue  # it stays as it is
            setting = drum.setting(side)
            plain = replace(setting, reading=None, tension_n_per_m=1.0)
            drum = drum.with_setting(side, plain.at_pitch(measurement.lug_pitches_hz[index]))
        self.set_wanted.emit(drum)

    def take_key(self, event: QKeyEvent) -> bool:
        """A key pressed where nothing is typed: figures and letters are a reading."""
        return self.isEnabled() and self.value.take_key(event)

    def forget_said(self) -> None:
        """What was complained of is no longer so."""
        self.fault.hide()

    def stop(self) -> None:
        """End the thread."""
        self._answer.stop()


def _check(drum: Drum, reading: Reading) -> None:
    """Refuse a rod that is not there, while the reading is still in the field."""
    if reading.rod > drum.shell.rods:
        raise InputError(
            _("This drum has {rods} rods.").format(rods=drum.shell.rods),
            _("Enter a rod from 1 to {rods}.").format(rods=drum.shell.rods),
        )
