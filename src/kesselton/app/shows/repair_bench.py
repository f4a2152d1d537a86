"""Stage repairs: what can be done, step by step, and what is left for after the show."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.clearing import dial_fit
from kesselton.app.host.jobs import Answer
from kesselton.app.shows.after_show import work_words
from kesselton.app.shows.show_bench import ShowBench
from kesselton.app.shows.stage_procedures import (
    refitted,
    short_procedure,
    stage_procedure,
    timed,
)
from kesselton.app.workshop.log_entries import counted_down
from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.fit.procedure import Procedure, is_roped
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.library import head_size_in
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, _
from kesselton.core.shows.pace import Pace, learned, needed_s
from kesselton.core.shows.repair import Repair, shown
from kesselton.core.shows.show import Show
from kesselton.store.workshop.holdings import Entry, Workshop, next_number

if TYPE_CHECKING:
    from kesselton.core.shows.race import Advice
    from kesselton.core.shows.ways import Way

MOST_REPAIRS = 500
"""Repairs kept."""
MOST_ROUNDS = 55
"""Rounds per clearing; older readings are dropped."""
BEGUN, DECIDED, STEP, SKIPPED, BACK = (
    N_("repair of {name}"),
    N_("repair chosen"),
    N_("done"),
    N_("skipped"),
    (N_("previous step")),
)
READ, TURNED, OVER, TICKED = (
    N_("reading on stage"),
    N_("turn on stage"),
    N_("repair over"),
    N_("work after the show"),
)
ON_STAGE, BROKE = N_("repair on stage"), ("gone", "hole")
"""What the log says a head was fitted for, and the causes that are its end."""
CLEAR_KEY = "clear"
"""The step at which rods are read and turned one by one."""


class RepairBench(QObject):
    """The repair in hand, for the show that is looked at.

    Signals
    -------
    changed : another repair, or it is another; answered : something asked is worked out
    failed(KesseltonError) : it could not be
    """

    changed = Signal()
    answered = Signal()
    failed = Signal(object)

    def __init__(self, bench: Bench, shows: ShowBench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench, self._shows, self.now = bench, shows, shows.now
        self._repair_id = 0
        self._ways: Answer[list[Way]] = Answer(self.answered.emit, self.failed.emit, self)
        self._steps: Answer[Procedure] = Answer(self.answered.emit, self.failed.emit, self)
        self._advice: Answer[Advice] = Answer(self.answered.emit, self.failed.emit, self)
        self._pace: tuple[object, Pace] | None = None
        bench.changed.connect(self.changed.emit)

    @property
    def workshop(self) -> Workshop:
        """What the repairs are of."""
        return self._bench.document.workshop

    @property
    def show(self) -> Show | None:
        """The show that is looked at."""
        return self._shows.show

    @property
    def repair(self) -> Repair | None:
        """The one in hand: chosen, or one that was not ended."""
        chosen = self.workshop.repair(self._repair_id)
        if chosen is not None:
            return chosen
        return next((repair for repair in self.workshop.repairs[::-1] if not repair.outcome), None)

    @property
    def entry(self) -> Entry | None:
        """The drum it is of."""
        repair = self.repair
        return None if repair is None else self.workshop.entry(repair.drum_id)

    @property
    def playing(self) -> list[Entry]:
        """Drums that may need it: those of the show, all where there is none."""
        show, entries = self.show, self.workshop.entries
        if show is None or not any(entry.id in show.drum_ids for entry in entries):
            return list(entries)
        return [entry for entry in entries if entry.id in show.drum_ids]

    def let_go(self) -> None:
        """Nothing is in hand any more."""
        self._repair_id = -1
        for answer in (self._ways, self._steps, self._advice):
            answer.forget()

    def begin(self, drum_id: int, side: str, cause: str, minutes: float) -> None:
        """A repair begins, and its clock.

        Raises
        ------
        InputError
            If the drum has no such head, or the time cannot be.
        """
        entry = self.workshop.entry(drum_id)
        if entry is None:
            raise InputError(_("This drum is no longer in the workshop."), _("Choose another."))
        entry.drum.setting(side)  # or it has none there
        repair = Repair(
            next_number(self.workshop.repairs), drum_id, entry.drum.name, side, cause,
            minutes=minutes, started=self.now().isoformat(timespec="seconds"),
            clearing=Clearing(side),
        )  # fmt: skip
        self._repair_id = repair.id
        kept = self.workshop.repairs[-(MOST_REPAIRS - 1) :]
        workshop = replace(self.workshop, repairs=(*kept, repair))
        self._commit(_(BEGUN).format(name=entry.drum.name), workshop)

    @property
    def ways(self) -> list[Way] | None:
        """What can be done, the best first; None while it is worked out."""
        return self._ways.settled

    def ask_ways(self) -> None:
        """Work out what can be done."""
        repair, entry, workshop = self.repair, self.entry, self.workshop
        if repair is None or entry is None:
            return
        heads = self._heads
        shelf = tuple((heads[s.head_name], s) for s in workshop.shelf if s.head_name in heads)
        show = self.show
        busy = set() if show is None else set(show.drum_ids)
        others = tuple(
            (candidate.id, candidate.drum)
            for candidate in workshop.entries
            if candidate.id not in busy and candidate.id != entry.id
        )
        drum, side, cause, pace = entry.drum, repair.side, repair.cause, self.pace
        left = repair.left_s(self.now())

        def work() -> list[Way]:
            from kesselton.core.shows.ways import Spare, suits, ways

            on = drum.setting(side)
            film = next((head for head, _unused in shelf if suits(drum, side, head)), on.head)
            if on.head.is_skin:  # a film head goes on in its place
                on = replace(on, head=film)
            try:
                procedure = timed(drum.with_setting(side, on), side, False)
                needed = sum(step.seconds for step in shown(procedure))
            except KesseltonError:
                needed = 0.0  # no film for a skin: the way itself is refused with the reason
            spares = [Spare(head, s.size_in, s.stock) for head, s in shelf]
            return ways(drum, side, cause, left, needed, pace, spares, others)

        self._ways.ask(repair.id, (drum, side, cause, shelf, others), work)

    def decide(self, way: Way) -> None:
        """One way out is taken."""
        repair = self.repair
        if repair is not None and not way.refused:
            self._keep(_(DECIDED), repair.decided(way.way, way.head, way.other_id))

    def undecide(self) -> None:
        """Back to which way; the clock goes on."""
        repair = self.repair
        if repair is not None and not repair.outcome:
            self._keep(_(DECIDED), repair.decided(""))

    @property
    def new_head(self) -> Head | None:
        """The head that goes on; None if none does."""
        repair = self.repair
        return None if repair is None or not repair.head else self._heads.get(repair.head)

    @property
    def _heads(self) -> dict[str, Head]:
        """Every head there is, by name."""
        from kesselton.app.workshop.head_stock import shipped_heads

        return {head.name: head for head in (*shipped_heads(), *self.workshop.own_heads)}

    @property
    def drum(self) -> Drum | None:
        """The drum with the head that goes on."""
        repair, entry, head = self.repair, self.entry, self.new_head
        if repair is None or entry is None or head is None:
            return None if entry is None else entry.drum
        return refitted(entry.drum, repair.side, head)

    @property
    def procedure(self) -> Procedure | None:
        """The steps of the way that was taken; None while they are made."""
        return self._steps.settled

    def ask_steps(self) -> None:
        """Make the steps of the way that was taken."""
        repair, entry = self.repair, self.entry
        if repair is None or entry is None or not repair.way:
            self._steps.forget()
            return
        drum, side, way, head = entry.drum, repair.side, repair.way, self.new_head
        cause, halves, other = repair.cause, repair.halves, self.workshop.entry(repair.other_id)
        settings = self._bench.settings

        def work() -> Procedure:
            if way != "head":
                return short_procedure(
                    drum, side, way, cause, None if other is None else other.drum
                )
            result = drum if head is None else refitted(drum, side, head)
            return stage_procedure(result, side, halves, settings.a4_hz, settings.flats)

        self._steps.ask(repair.id, (drum, side, way, cause, halves, head, other), work)

    def finish_step(self) -> None:
        """The step on show is done."""
        repair, procedure = self.repair, self.procedure
        if repair is not None and procedure is not None and not repair.outcome:
            self._keep_or_end(_(STEP), repair.finish_step(procedure, self.now()))

    def skip_step(self) -> None:
        """The step on show is left out.

        Raises
        ------
        InputError
            If it is one that is never skipped.
        """
        repair, procedure = self.repair, self.procedure
        if repair is not None and procedure is not None and not repair.outcome:
            self._keep_or_end(_(SKIPPED), repair.skip_step(procedure, self.now()))

    def go_back(self) -> None:
        """The step before."""
        repair, procedure = self.repair, self.procedure
        if repair is not None and procedure is not None and not repair.outcome:
            self._keep(_(BACK), repair.go_back(procedure))

    def choose_halves(self, on: bool) -> None:
        """Seat it by three half turns each, or by half to one turn."""
        repair = self.repair
        if repair is not None:
            other = {"turns": "halves", "halves": "turns"}.get(repair.current, repair.current)
            self._keep(_(DECIDED), replace(repair, halves=on, current=other))

    def break_off(self) -> None:
        """Give the repair up; what is not done comes up after the show."""
        repair = self.repair
        if repair is not None and not repair.outcome:
            self._keep(_(OVER), repair.broken_off(self.procedure, self.now()))

    def _keep_or_end(self, label: str, changed: Repair) -> None:
        """Keep it; where it is over, the drum and the store are as they are now, in one step."""
        if not changed.outcome:
            self._keep(label, changed)
            return
        way = next(
            (w for w in self.ways or () if w.head == changed.head and w.way == changed.way), None
        )
        more = () if way is None else way.after
        changed = replace(changed, after=tuple(dict.fromkeys((*changed.after, *more))))
        workshop = self.workshop.with_repair(changed)
        entry, drum = self.entry, self.drum if changed.way == "head" else None
        if entry is not None and drum is not None:
            when = self.now().isoformat(timespec="minutes")
            show = "" if self.show is None else self.show.name
            fitted = Kept(when, drum, "fitted", changed.side, _(ON_STAGE), music=show)
            kept = [fitted]
            if changed.cause in BROKE:
                kept = [replace(fitted, drum=entry.drum, event="broken"), fitted]
            refit = replace(entry.with_drum(drum), kept=(*entry.kept, *kept))
            entries = tuple(
                refit if candidate.id == entry.id else candidate for candidate in workshop.entries
            )
            workshop = counted_down(replace(workshop, entries=entries), kept[-1], head_size_in)
        self._commit(_(OVER), workshop)

    @property
    def advice(self) -> Advice | None:
        """What to read or turn next; None while it is worked out."""
        return self._advice.settled

    @property
    def last_advice(self) -> Advice | None:
        """The same, or as it was a moment ago."""
        return self._advice.value

    def ask_advice(self, kinds: tuple[str, ...]) -> None:
        """Work out what to read or turn next; `kinds` of readings are at hand."""
        repair, drum = self.repair, self.drum
        if repair is None or drum is None or is_roped(drum):
            return
        clearing, dial = repair.clearing, dial_fit(self.workshop) if "dial" in kinds else None
        left = max(repair.left_s(self.now()), 0.0)

        def work() -> Advice:
            from kesselton.core.shows.race import advise

            return advise(drum, clearing, left, kinds, dial)

        self._advice.ask(repair.id, (drum, clearing, kinds, self.workshop.dials), work)

    def read(self, reading: Reading) -> None:
        """A reading was taken."""
        from kesselton.core.shows.race import read

        repair, advice = self.repair, self.last_advice
        if repair is not None:
            state = None if advice is None else advice.state
            self._keep(_(READ), replace(repair, clearing=read(repair.clearing, reading, state)))

    def turned(self, rod: int, turns: float) -> None:
        """A rod was turned, by as much as was asked."""
        from kesselton.core.shows.race import done

        repair, drum = self.repair, self.drum
        if repair is not None and drum is not None:
            clearing = repair.clearing
            if len(clearing.rounds) >= MOST_ROUNDS:
                clearing = clearing.begun_again()
            changed = done(clearing, drum.shell.rods, rod, turns)
            self._keep(_(TURNED), replace(repair, clearing=changed))

    @property
    def pace(self) -> Pace:
        """How fast this workshop works, from its finished repairs."""
        workshop = self.workshop
        repairs = [repair for repair in workshop.repairs if repair.outcome and repair.way == "head"]
        drums = {entry.id: entry.drum for entry in workshop.entries}
        known = [(repair.id, repair.ended, drums.get(repair.drum_id)) for repair in repairs]
        if self._pace is None or self._pace[0] != known:  # a step of an open one changes nothing
            results: dict[int, Procedure] = {}
            for candidate in repairs:
                drum = drums.get(candidate.drum_id)
                if drum is not None:
                    try:
                        results[candidate.id] = timed(drum, candidate.side, candidate.halves)
                    except KesseltonError:
                        continue  # the drum is another now: its times say nothing
            self._pace = (known, learned(repairs, results))
        return self._pace[1]

    @property
    def needed_s(self) -> float | None:
        """Seconds the steps still need; None while they are made."""
        repair, procedure = self.repair, self.procedure
        return (
            None if repair is None or procedure is None else needed_s(repair, procedure, self.pace)
        )

    @property
    def work_left(self) -> list[tuple[Repair, str]]:
        """Work of all repairs that is still to be done, by key."""
        return [(repair, work) for repair in self.workshop.repairs for work in repair.open_work]

    def work_words(self, repair: Repair, work: str) -> str:
        """What is to be done, in words."""
        entry, other = (self.workshop.entry(n) for n in (repair.drum_id, repair.other_id))
        return work_words(
            repair,
            work,
            None if entry is None else entry.drum,
            None if other is None else other.drum,
        )

    def tick_work(self, repair: Repair, work: str, on: bool) -> None:
        """Work is done, or (False) not yet."""
        now = self.workshop.repair(repair.id)
        if now is not None:
            self._commit(_(TICKED), self.workshop.with_repair(now.tick(work, on)))

    def _keep(self, label: str, changed: Repair) -> None:
        self._repair_id = changed.id
        self._commit(label, self.workshop.with_repair(changed))

    def _commit(self, label: str, workshop: Workshop) -> None:
        self._bench.document.commit(label, workshop)

    def stop(self) -> None:
        """End every thread."""
        for answer in (self._ways, self._steps, self._advice):
            answer.stop()
