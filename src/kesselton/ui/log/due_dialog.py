"""What is left of the heads of all drums: what is due before a date, and what lies in store."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.host.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.schedule import Date
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Played
from kesselton.core.instrument.library import head_size_in
from kesselton.core.language import N_, _, each
from kesselton.core.log.life import Outlook, outlooks, shows_a_day
from kesselton.store.exports.calendar_file import write_calendar
from kesselton.store.io.atomic_file import with_suffix
from kesselton.store.workshop.holdings import Workshop
from kesselton.ui.parts.widgets.columns import fault_label
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Button, Day
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.words import wording

DUE_COLUMNS = (
    N_("Drum"),
    N_("Side"),
    N_("Head"),
    N_("Shows left"),
    N_("Check from"),
    N_("Half worn by"),
    N_("In stock"),
)

AHEAD_DAYS = 60


@dataclass(frozen=True)
class DueHead:
    """A head in use, when it may be over, and how many like it lie in store."""

    drum: Drum
    outlook: Outlook
    half: datetime | None
    first: datetime | None
    stock: int


def due_heads(workshop: Workshop, played: Mapping[int, Sequence[Played]]) -> list[DueHead]:
    """All heads in use whose playing was noted, the first to go first.

    Parameters
    ----------
    played : by drum, what its newest entries say of playing
    """
    out = []
    for entry in workshop.entries:
        log = played.get(entry.id, ())
        if not any(played.shows or played.hours for played in log):
            continue
        rate = shows_a_day(log)
        for outlook in outlooks(entry.drum, log):
            half, first = outlook.due(rate) or (None, None)
            size = head_size_in(entry.drum)
            stock = workshop.shelved(outlook.life.head.name, size).stock
            out.append(DueHead(entry.drum, outlook, half, first, stock))
    return sorted(out, key=lambda due: (due.first or datetime.max, due.drum.name))


class DueDialog(Dialog):
    """The list is of heads that one in twenty would be over before the date."""

    def __init__(
        self,
        workshop: Workshop,
        read: Callable[[], Mapping[int, Sequence[Played]]],
        ask: Callable[[str, str, str], Path | None],
        now: datetime,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Heads due"))
        self._ask, self._now = ask, now
        self._all: list[DueHead] | None = None
        self.shown: list[DueHead] = []
        self._jobs = Latest(self._on_found, self._on_failed, self)
        self._jobs.request(None, lambda: due_heads(workshop, read()))
        self.finished.connect(lambda result: self._jobs.stop())
        hint = Label(
            _(
                "Estimated from the shows in the logs and a prior: 40 shows "
                "for a single-ply batter, more for two plies, the resonant "
                "side and skins; within a factor of 3 (90 %). Check a head "
                "when 1 in 20 like it would be worn out."
            )
        )
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        self.before = Day(_("Due before"))
        later = now + timedelta(days=AHEAD_DAYS)
        self.before.setDate(QDate(later.year, later.month, later.day))
        self.before.dateChanged.connect(lambda date: self._fill())
        self.list = Table(TableModel(each(DUE_COLUMNS), bold=[0]), _("Heads due"))
        self.list.set_widths((108, 84, 0, 108, 84, 84, 70))
        self.list.wrap()
        self.fault = fault_label()
        self.calendar, close = Button(_("Calendar dates…")), Button(_("Close"))
        self.calendar.clicked.connect(self.save_calendar)
        close.clicked.connect(self.accept)
        top = QHBoxLayout()
        top.addWidget(Label(_("Due before")))
        top.addWidget(self.before)
        top.addStretch(1)
        foot = QHBoxLayout()
        foot.addWidget(self.fault, 3)
        foot.addStretch(1)
        foot.addWidget(self.calendar)
        foot.addWidget(close)
        layout = QVBoxLayout(self)
        layout.addWidget(hint)
        layout.addLayout(top)
        layout.addWidget(self.list, 1)
        layout.addLayout(foot)
        size_dialog(self, 940, 520)
        self._fill()

    def _on_found(self, asked: None, dues: list[DueHead]) -> None:
        self._all = dues
        self._fill()

    def _on_failed(self, asked: None, error: KesseltonError) -> None:
        self._all = []
        self._fill()
        self.fault.setText(error.one_line())
        self.fault.show()

    def _fill(self) -> None:
        if self._all is None:
            self.list.rows.set_rows([("", "", _("Reading the logs…"), "", "", "", "")])
            self.calendar.setEnabled(False)
            return
        day = self.before.date()
        end = datetime(day.year(), day.month(), day.day())
        self.shown = [due for due in self._all if due.first is not None and due.first <= end]
        rows = [_cells(due, self._now) for due in self.shown]
        self.list.rows.set_rows(rows or [_nothing(bool(self._all))])
        self.calendar.setEnabled(bool(self.shown))

    def save_calendar(self) -> None:
        """Write the dates that are shown."""
        path = self._ask(_("Calendar dates…"), _("heads due.ics"), _("Calendar (*.ics)"))
        if path is None:
            return
        dates = []
        for due in self.shown:
            assert due.first is not None
            words = _cells(due, self._now)
            dates.append(
                Date(
                    f"due-{due.outlook.life.side}",
                    _("{drum}, {side}: check the head").format(drum=due.drum.name, side=words[1]),
                    max(due.first, self._now),
                    _("{head}: {left} left. {stock}.").format(
                        head=words[2], left=words[3], stock=words[6]
                    ),
                )
            )
        try:
            write_calendar(with_suffix(path, ".ics"), dates, _("Heads due"), self._now)
            self.fault.setText("")
        except KesseltonError as error:
            self.fault.setText(error.one_line())


def _cells(due: DueHead, now: datetime) -> tuple[str, ...]:
    outlook = due.outlook
    left = _("{left:.0f} ({low:.0f} to {high:.0f})").format(
        left=outlook.left, low=outlook.low, high=outlook.high
    )
    dates = (
        "" if at is None else _("now") if at <= now else f"{at:%Y-%m-%d}"
        for at in (due.first, due.half)
    )
    stock = str(due.stock) if due.stock else _("none: buy")
    side = wording.side_inside(due.drum, outlook.life.side)
    return (due.drum.name, side, outlook.life.head.name, left, *dates, stock)


def _nothing(known: bool) -> tuple[str, ...]:
    words = (
        _("No heads are due before that date.")
        if known
        else _("No shows in any log yet: add them with each entry (K).")
    )
    return ("", "", words, "", "", "", "")
