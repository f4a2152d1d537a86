"""The stage Stage by day: what must lie ready, what each head must read, and what is left after."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QGridLayout, QStackedWidget, QVBoxLayout, QWidget

from kesselton.app.shows.house_drums import HouseDrums
from kesselton.app.shows.repair_bench import RepairBench
from kesselton.app.shows.show_bench import ShowBench, Target
from kesselton.core.clear.clearing_records import MIN_DIAL
from kesselton.core.dates import moment_words
from kesselton.core.errors import InputError, KesseltonError, check_day
from kesselton.core.language import N_, _, choices, each, figures
from kesselton.core.shows.pace import minutes_words
from kesselton.core.shows.repair import LEAST_MINUTES, MOST_MINUTES, WAYS, Repair
from kesselton.core.shows.show import KitItem, Show, ready
from kesselton.ui.parts.widgets.columns import as_page, fault_label
from kesselton.ui.parts.widgets.fields import Choice, Field, number_field
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import AddLine, Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.switch import Switch
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.widgets.theme import Colours, px
from kesselton.ui.parts.words import wording
from kesselton.ui.shows.house_panel import HousePanel

PANELS = (
    ("before", N_("Before the show")),
    ("house", N_("House drums")),
    ("after", N_("After the show")),
)
TARGET_CAPTIONS = (N_("Drum"), N_("Head"), N_("Lug pitch"), N_("Turns"), N_("Gauge"))


class ShowsPage(QWidget):
    """Shows, house drums, and work that repairs have left.

    Signals
    -------
    night_wanted, new_wanted, buy_wanted, keep_house_wanted
    said(str) : something was done that can be taken back
    """

    night_wanted = Signal()
    new_wanted = Signal()
    buy_wanted = Signal()
    keep_house_wanted = Signal()
    notice = Signal(str)

    def __init__(
        self,
        shows: ShowBench,
        repairs: RepairBench,
        house: HouseDrums,
        a4: Callable[[], float],
        flats: Callable[[], bool],
        ask_sound: Callable[[], Path | None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        as_page(self, _(PANELS[0][1]))
        self.shows, self.repairs, self._a4, self._flats = shows, repairs, a4, flats
        self._items: list[KitItem] = []
        self._work: list[tuple[Repair, str]] = []
        self.house = HousePanel(house, a4, flats, ask_sound)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.choice = Choice(_("Shows"))
        self.choice.setMinimumWidth(px(240))
        self.name = Field(_("Name"), _named, lambda value: value or "")
        self.on = Field(_("Date"), _dated, lambda value: value or "")
        self.minutes = number_field(_("Repair minutes"), LEAST_MINUTES, MOST_MINUTES, "min", 1)
        for field, wide in ((self.name, 236), (self.on, 110), (self.minutes, 130)):
            field.setFixedWidth(px(wide))
        self.new, self.remove = (
            Button(_("New show…"), tip=_("A show with its own list and targets")),
            Button(_("Remove show"), tip=_("Remove this show; Undo restores it")),
        )
        self.night = Button(
            _("Repair now (Insert)"), tip=_("The dark screen: what broke, and the quickest way")
        )
        self.night.setObjectName("main")
        top = FlowLayout(spacing=8)
        for widget in (
            self.choice, self.name, self.on, self.minutes, self.new, self.remove, self.night,
        ):  # fmt: skip
            top.addWidget(widget)
        self.pages = QStackedWidget()
        self.switch = Switch(list(choices(PANELS)))
        self.pages.addWidget(self._make_before())
        self.pages.addWidget(self.house)
        self.pages.addWidget(self._make_after())
        self.caution = Label(
            _(
                "Electrical and rigging work on stage is for qualified people; "
                "local rules come first. Never work under moving scenery. Stay "
                "away from lamps and dimmers, keep walkways clear, and protect "
                "your hearing near a band."
            )
        )
        self.caution.setObjectName("caution")
        self.caution.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 8, 8, 8)
        layout.addLayout(top)
        layout.addWidget(self.switch)
        layout.addWidget(self.pages, 1)
        layout.addWidget(self.caution)

    def _make_before(self) -> QWidget:
        page = QWidget()
        self.first = Label(
            _(
                "A show lists what must be ready: spare heads, keys, tape, and "
                "the target readings of each head. Make one for tonight."
            )
        )
        self.first.setWordWrap(True)
        self.ready, self.missing = Label(), Label()
        self.missing.setProperty("fault", True)
        self.missing.setWordWrap(True)
        self.kit = Table(
            TableModel(("", _("Item"), _("Why")), ticks=[0], changed=self._on_ready),
            _(PANELS[0][1]),
        )
        self.kit.set_widths((36, 190, 0))
        self.own = AddLine()
        self.own.setPlaceholderText(_("Add item, Enter"))
        self.own.setAccessibleName(_("Add item, Enter"))
        self.buy = Button(
            _("Add missing heads to buy list"), tip=_("Add what is missing to the buy list")
        )
        self.targets = Table(
            TableModel(("", *each(TARGET_CAPTIONS)), ticks=[0], changed=self._on_plays, bold=[1]),
            _("Targets per head: turns from finger-tight, gauge at every rod"),
        )
        self.targets.set_widths((36, 0, 84, 100, 52, 84))
        self.targets_said = Label(
            _("Targets per head: turns from finger-tight, gauge at every rod")
        )
        self.fault = fault_label()
        left, right = QVBoxLayout(), QVBoxLayout()
        for widget in (self.ready, self.kit, self.own, self.missing, self.buy):
            left.addWidget(widget, 1 if widget is self.kit else 0)
        right.addWidget(self.targets_said)
        right.addWidget(self.targets, 1)
        right.addWidget(self.fault)
        grid = QGridLayout(page)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.addWidget(self.first, 0, 0, 1, 2)
        grid.addLayout(left, 1, 0)
        grid.addLayout(right, 1, 1)
        grid.setColumnStretch(0, 5)
        grid.setColumnStretch(1, 6)
        grid.setRowStretch(1, 1)
        return page

    def _make_after(self) -> QWidget:
        page = QWidget()
        self.work_said = Label()
        self.work = Table(
            TableModel(("", "work", "from"), ticks=[0], changed=self._on_worked),
            _("Work left from repairs: check off what is done"),
        )
        self.work.set_widths((36, 0, 220))
        self.past_said, self.pace = Label(_("Repairs")), Label()
        self.pace.setProperty("quiet", True)
        self.past = Label()
        self.past.setWordWrap(True)
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 4, 0, 0)
        for widget in (self.work_said, self.work, self.past_said, self.past, self.pace):
            box.addWidget(widget, 1 if widget is self.work else 0)
        return page

    def _connect(self) -> None:
        shows = self.shows
        shows.answered.connect(self._show_targets)
        shows.failed.connect(self._on_failed)
        self.switch.chosen.connect(self._on_panel)
        self.choice.chosen.connect(shows.choose_show)
        shows.changed.connect(self._on_changed)
        self.name.edited.connect(lambda name: self._change(name=name))
        self.on.edited.connect(lambda on: self._change(on=on))
        self.minutes.edited.connect(lambda minutes: self._change(minutes=minutes))
        self.new.clicked.connect(self.new_wanted)
        self.remove.clicked.connect(self._on_remove)
        self.night.clicked.connect(self.night_wanted)
        self.buy.clicked.connect(self.buy_wanted)
        self.own.returnPressed.connect(self._on_own)
        self.house.keep_wanted.connect(self.keep_house_wanted)

    # state

    def set_state(self) -> None:
        """Bring everything up to date."""
        self.refresh()

    def set_colours(self, colours: Colours) -> None:
        """Everything here follows the palette."""

    def stop(self) -> None:
        """End the threads of the house drums."""
        self.house.house.stop()

    def refresh(self) -> None:
        """Show what holds now."""
        shows, show = self.shows, self.shows.show
        self.choice.set_options([(show.id, show.name) for show in shows.workshop.shows])
        self.choice.set_state(0 if show is None else show.id)
        for widget in (self.choice, self.name, self.on, self.minutes, self.remove):
            widget.setVisible(show is not None)
        none = show is None
        self.first.setVisible(none)
        for part in (self.ready, self.kit, self.own, self.targets_said, self.targets):
            part.setVisible(not none)
        self._show_after()
        if show is None:
            self.missing.hide()
            self.buy.hide()
            return
        self.name.set_state(show.name)
        self.on.set_state(show.on)
        self.minutes.set_state(show.minutes)
        self._show_kit(show)
        shows.prepare()
        self._show_targets()

    def _show_kit(self, show: Show) -> None:
        self._items = self.shows.items
        there, all_of = ready(self._items, show)
        self.ready.setText(_("{there} of {all} ready").format(there=there, all=all_of))
        self.kit.rows.set_rows(
            [
                (
                    item.key in show.ticked,
                    item.what,
                    _why(item),
                )
                for item in self._items
            ]
        )
        lacking = sum(1 for item in self._items if item.missing)
        self.missing.setText(_("{count} spare heads not in stock").format(count=lacking))
        self.missing.setVisible(lacking > 0)
        self.buy.setVisible(lacking > 0)

    def _show_targets(self) -> None:
        show = self.shows.show
        if show is None:
            return
        targets = self.shows.targets
        self.targets_said.setText(
            _("Targets per head: turns from finger-tight, gauge at every rod")
            if targets is not None
            else _("Computing targets…")
        )
        of: dict[int, list[Target]] = {}
        for target in targets or ():
            of.setdefault(target.drum_id, []).append(target)
        self._target_rows: list[int] = []
        rows = []
        for entry in self.shows.workshop.entries:
            known = of.get(entry.id, []) if entry.id in show.drum_ids else []
            shown: list[Target | None] = [*known] or [None]
            for shown_one in shown:
                self._target_rows.append(entry.id)
                first = shown_one is None or shown_one is known[0]
                name = entry.drum.name if first else ""
                rows.append((entry.id in show.drum_ids, name, *self._cells(shown_one)))
        self.targets.rows.set_rows(rows)

    def _cells(self, target: Target | None) -> tuple[str, ...]:
        if target is None:
            return ("", "", "", "")
        entry = self.shows.workshop.entry(target.drum_id)
        side = target.side if entry is None else wording.side_word(entry.drum, target.side)
        if target.fault:
            return (side, target.fault, "", "")
        note = wording.note_words(target.lug_hz, self._a4(), self._flats())
        lug = f"{note}, {figures(target.lug_hz, '.0f')} Hz"
        return (side, lug, wording.turn_words(target.turns), _dial_words(target.dial))

    def _show_after(self) -> None:
        shows = self.shows
        left = self.repairs.work_left
        self._work = left
        self.work_said.setText(
            _("Work left from repairs: check off what is done")
            if left
            else _("No work left from stage repairs.")
        )
        self.work.rows.set_rows(
            [
                (
                    False,
                    self.repairs.work_words(repair, work),
                    _("{drum}, {when}").format(drum=repair.drum_name, when=_day(repair.started)),
                )
                for repair, work in left
            ]
        )
        lines = [
            _("{when}  {drum}, {side}: {way}, {time} of {minutes}").format(
                when=_day(repair.started), drum=repair.drum_name, side=repair.side,
                way=WAYS.get(repair.way, "–") + (f", {repair.head}" if repair.head else ""),
                time=minutes_words(repair.elapsed_s(shows.now())),
                minutes=minutes_words(60.0 * repair.minutes),
            )
            for repair in shows.workshop.repairs[::-1][:6]
        ]  # fmt: skip
        self.past.setText("\n".join(lines))
        self.past_said.setVisible(bool(lines))
        pace = self.repairs.pace
        message = _("Times are estimates until this workshop has logged a repair.")
        if pace.repairs:
            message = _("From {count} repairs: {factor:.2g} × the estimated times.").format(
                count=pace.repairs, factor=pace.factor
            )
        self.pace.setText(message)

    def _on_changed(self) -> None:
        if self.isVisible():
            self.refresh()

    # what the technician does

    def _change(self, **values: object) -> None:
        show = self.shows.show
        if show is not None:
            try:
                self.shows.change_show(replace(show, **values))  # type: ignore[arg-type]
            except KesseltonError as error:
                self._on_failed(error)

    def _on_panel(self, key: str) -> None:
        self.pages.setCurrentIndex([text for text, _unused in PANELS].index(key))

    def _on_remove(self) -> None:
        show = self.shows.show
        if show is not None:
            self.shows.remove_show()
            self.notice.emit(_("Show {name} removed.").format(name=show.name))

    def _on_ready(self, row: int, column: int, on: bool) -> None:
        show = self.shows.show
        if show is not None and row < len(self._items):
            self.shows.change_show(show.tick(self._items[row].key, on))

    def _on_plays(self, row: int, column: int, on: bool) -> None:
        show = self.shows.show
        if show is None or row >= len(self._target_rows):
            return
        number = self._target_rows[row]
        rest = tuple(drum_id for drum_id in show.drum_ids if drum_id != number)
        chosen = {*rest, number} if on else set(rest)
        order = tuple(entry.id for entry in self.shows.workshop.entries if entry.id in chosen)
        self._change(drum_ids=order)

    def _on_own(self) -> None:
        text, show = self.own.text().strip(), self.shows.show
        if text and show is not None:
            try:
                self.shows.change_show(replace(show, own=(*show.own, text)))
            except KesseltonError as error:
                self._on_failed(error)
                return
            self.own.show_text("")

    def _on_worked(self, row: int, column: int, on: bool) -> None:
        if row < len(self._work):
            repair, work = self._work[row]
            self.repairs.tick_work(repair, work, on)

    def _on_failed(self, error: KesseltonError) -> None:
        self.fault.setText(f"{error.message} {error.remedy}")
        self.fault.setVisible(self.isVisible())

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """T strikes the next house drum."""
        if event.key() == Qt.Key.Key_T and self.pages.currentWidget() is self.house:
            if not event.isAutoRepeat():
                self.house.strike_next()
        else:
            super().keyPressEvent(event)


def _why(item: KitItem) -> str:
    if not item.head:
        return item.why
    stock = _("none in stock") if not item.stock else _("{stock} in stock").format(stock=item.stock)
    more = _(", {needed} needed").format(needed=item.needed) if item.needed > 1 else ""
    return f"{stock}{more}; {item.why}"


def _day(iso: str) -> str:
    try:
        return moment_words(datetime.fromisoformat(iso))
    except ValueError:
        return ""


def _named(text: str) -> str:
    bare = text.strip()
    if not bare or len(bare) > 80:
        raise InputError(_("A show needs a name of up to 80 characters."), _("Enter one."))
    return bare


def _dated(text: str) -> str:
    bare = text.strip()
    if bare:
        check_day(bare)
    return bare


def _dial_words(dial: float | None) -> str:
    if dial is None:
        return _("–")
    return _("below scale") if dial < MIN_DIAL else figures(dial, ".0f")
