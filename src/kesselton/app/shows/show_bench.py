"""Shows of the workshop: what must lie ready, and what each head must read."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.after_answer import HOURS
from kesselton.app.bench.bench import Bench
from kesselton.app.host.jobs import Answer
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.heads.buying import BuyLine
from kesselton.core.instrument.air import Air
from kesselton.core.language import N_, _
from kesselton.core.shows.show import MOST_SHOWS, KitItem, Show, kit_list
from kesselton.store.workshop.holdings import Entry, Workshop, next_number
from kesselton.store.workshop.lazy_rows import last_of

if TYPE_CHECKING:
    pass

LOOKED_BACK = 200
"""Log entries searched for broken heads."""
SHOW_ADDED, SHOW_CHANGED, SHOW_REMOVED = (
    N_("show {name}"),
    N_("kit of {name}"),
    N_("remove the show {name}"),
)
SPARE = N_("spare for a show")


@dataclass(frozen=True)
class Target:
    """What a head must read, prepared before the show: it works without a microphone.

    Attributes
    ----------
    lug_hz, note_hz : pitch of the lugs, and of the whole drum
    turns : past finger tight
    dial : divisions at every rod; None where no dial is calibrated
    fault : why there is nothing, "" where there is
    """

    drum_id: int
    name: str
    side: str
    lug_hz: float = 0.0
    note_hz: float = 0.0
    turns: float = 0.0
    dial: float | None = None
    fault: str = ""


class ShowBench(QObject):
    """The show that is looked at.

    Signals
    -------
    changed : another show, or it is another; answered : targets are worked out
    failed(KesseltonError) : they could not be
    """

    changed = Signal()
    answered = Signal()
    failed = Signal(object)

    def __init__(
        self,
        bench: Bench,
        now: Callable[[], datetime] = datetime.now,
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._bench, self.now = bench, now
        self._show_id = 0
        self._prepared: Answer[tuple[Target, ...]] = Answer(
            self.answered.emit, self.failed.emit, self
        )
        bench.changed.connect(self.changed.emit)

    @property
    def workshop(self) -> Workshop:
        """What the shows are of."""
        return self._bench.document.workshop

    @property
    def show(self) -> Show | None:
        """The show that is looked at; the last where none was chosen."""
        shows = self.workshop.shows
        return self.workshop.show(self._show_id) or (shows[-1] if shows else None)

    def choose_show(self, number: int) -> None:
        """Look at another show."""
        self._show_id = number
        self.changed.emit()

    @property
    def items(self) -> list[KitItem]:
        """What must lie ready for it."""
        return [] if self.show is None else self.items_of(self.show)

    def items_of(self, show: Show) -> list[KitItem]:
        """What must lie ready for a show."""
        workshop = self.workshop
        playing = [entry for entry in workshop.entries if entry.id in show.drum_ids]
        return kit_list(
            show,
            {entry.id: entry.drum for entry in playing},
            lambda name, size: workshop.shelved(name, size).stock,
            {entry.id: last_of(entry.kept, LOOKED_BACK) for entry in playing},
        )

    def missing(self) -> list[BuyLine]:
        """Spares that shows to come want and the store does not have."""
        workshop, today = self.workshop, self.now().date().isoformat()
        lines: dict[tuple[str, float], BuyLine] = {}
        for show in workshop.shows:
            if show.on and show.on < today:
                continue
            for item in self.items_of(show):
                if item.missing:
                    place = (item.head, item.size_in)
                    before = lines.get(place)
                    names = (show.name,) if before is None else (*before.places, show.name)
                    need = item.needed if before is None else max(before.needed, item.needed)
                    lines[place] = BuyLine(
                        item.head, f"{item.size_in:g} in", need, item.stock, need - item.stock,
                        names, _(SPARE),
                    )  # fmt: skip
        return list(lines.values())

    @property
    def targets(self) -> tuple[Target, ...] | None:
        """What each head of the show must read; None while it is worked out."""
        return self._prepared.settled

    def prepare(self) -> None:
        """Work out the targets of the show."""
        show, workshop = self.show, self.workshop
        if show is None:
            self._prepared.forget()
            return
        entries = tuple(workshop.entry(number) for number in show.drum_ids)
        known = tuple(entry for entry in entries if entry is not None)
        settings = self._bench.settings
        air = Air(settings.stage_c, settings.stage_rh)

        def work() -> tuple[Target, ...]:
            return tuple(target for entry in known for target in targets_of(entry, workshop, air))

        drums = tuple(entry.drum for entry in known)
        key = (drums, workshop.dials, tuple(len(entry.readings) for entry in known))
        self._prepared.ask(show.id, key, work)

    def new_show(self, name: str, drum_ids: Sequence[int], on: str = "") -> None:
        """Add a show and look at it.

        Raises
        ------
        InputError
            If there are too many.
        """
        if len(self.workshop.shows) >= MOST_SHOWS:
            raise InputError(
                _("There are {most_shows} shows.").format(most_shows=MOST_SHOWS),
                _("Remove one first."),
            )
        show = Show(next_number(self.workshop.shows), name, on, tuple(drum_ids))
        self._show_id = show.id
        self._commit(_(SHOW_ADDED).format(name=name), self.workshop.with_show(show))

    def change_show(self, changed: Show) -> None:
        """Make the show another, as one step of undo."""
        if changed != self.show:
            self._commit(
                _(SHOW_CHANGED).format(name=changed.name), self.workshop.with_show(changed)
            )

    def remove_show(self) -> None:
        """The show goes; its drums stay."""
        show = self.show
        if show is not None:
            rest = tuple(candidate for candidate in self.workshop.shows if candidate.id != show.id)
            text = _(SHOW_REMOVED).format(name=show.name)
            self._commit(text, replace(self.workshop, shows=rest))

    def _commit(self, label: str, workshop: Workshop) -> None:
        self._bench.document.commit(label, workshop)

    def stop(self) -> None:
        """End the thread."""
        self._prepared.stop()


def targets_of(entry: Entry, workshop: Workshop, air: Air) -> list[Target]:
    """What each head of a drum must read; a head that cannot be worked out says why."""
    from kesselton.app.bench.measuring import plan
    from kesselton.core.prediction.prediction import predict

    drum = entry.drum
    try:
        prediction = predict(drum)
        planned = plan(entry, workshop, prediction, air, HOURS)
    except KesseltonError as error:
        return [Target(entry.id, drum.name, side, fault=error.message) for side in drum.sides]
    out = []
    for head in planned.heads:
        dial = None if head.dial.why_not else head.dial.value
        out.append(
            Target(
                entry.id, drum.name, head.side, head.lug_pitch_hz, prediction.fundamental_hz,
                head.turns.value, dial,
            )
        )  # fmt: skip
    return out
