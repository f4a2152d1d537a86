"""What is done about shows and repairs: the night is opened, shows are made, house drums kept."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING

from kesselton.app.shows.repair_bench import RepairBench
from kesselton.app.shows.show_bench import ShowBench
from kesselton.app.workshop.usual_drums import unused_name
from kesselton.core.language import _
from kesselton.ui.commands.group import CommandGroup, Hands, guarded

if TYPE_CHECKING:
    from kesselton.app.shows.house_drums import HouseDrums
    from kesselton.ui.shows.night import Night


class ShowCommands(CommandGroup):
    """Shows and repairs."""

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.show_bench = ShowBench(hands.bench, parent=self)
        self.repair_bench = RepairBench(hands.bench, self.show_bench, self)
        self.first_source: Callable[[], str] = lambda: ""
        self._night: Night | None = None

    @property
    def night(self) -> Night:
        """The dark screen; made when it is first asked for."""
        if self._night is None:
            from kesselton.ui.shows.night import Night

            bench = self._bench
            self._night = Night(
                self.repair_bench,
                lambda: bench.settings.flats,
                lambda: bench.settings.a4_hz,
                self._parent,
            )
            self._night.closed.connect(self._on_closed)
        return self._night

    def repair(self) -> None:
        """A repair on stage, from anywhere: the dark screen comes up."""
        self.night.open(self.first_source() or self._bench.settings.read_by or "dial")

    def _on_closed(self) -> None:
        """The keys go back to where they were; what is left is said."""
        self.page_wanted.emit("")
        repair = self.repair_bench.repair
        if repair is not None and not repair.outcome:
            self.notice.emit(_("The repair is still running. Press Insert to return."), False)
        elif repair is not None and repair.open_work:
            self.notice.emit(
                _("{count} tasks left for after the show: see Shows, After the show.").format(
                    count=len(repair.open_work)
                ),
                False,
            )

    def new_show(self) -> None:
        """A show tonight under a name, with all drums of the drum list; those that do not play are
        ticked off."""
        workshop = self._bench.document.workshop
        taken = {show.name for show in workshop.shows}
        name = unused_name(_("Show"), taken)
        asked = self._asking.text(_("New show"), _("Name of the show"), name)
        if asked is None:
            return
        name = unused_name(asked.strip()[:80] or name, taken)
        drums = [entry.id for entry in workshop.entries]
        with guarded(self.told):
            self.show_bench.new_show(name, drums, date.today().isoformat())
            self.page_wanted.emit("shows")

    def keep_house(self, house: HouseDrums) -> None:
        """House drums go into the drum list, as they were heard, and are a set."""
        from dataclasses import replace

        from kesselton.core.sets.model.kit import Kit, Seat, usual_seat
        from kesselton.store.workshop.holdings import Entry

        document = self._bench.document
        workshop, seats = document.workshop, tuple[Seat, ...]()
        for drum in house.drums:
            if drum.heard is not None:
                number = workshop.next_id()
                entry = Entry(number, drum.heard.drum)
                workshop = replace(workshop, entries=(*workshop.entries, entry))
                seats = (*seats, usual_seat(number, drum.heard.drum, seats))
        taken = {kit.name for kit in workshop.kits}
        name = unused_name(_("House kit"), taken)
        with guarded(self.told):
            kit = Kit(workshop.next_kit_id(), name, seats)
            document.commit(_("house drums"), workshop.with_kit(kit))
            self.notice.emit(
                _("{count} house drums and the set “{name}” added.").format(
                    count=len(seats), name=name
                ),
                True,
            )

    def stop(self) -> None:
        """End every thread."""
        self.repair_bench.stop()
        self.show_bench.stop()
        if self._night is not None:
            self._night.stop()
