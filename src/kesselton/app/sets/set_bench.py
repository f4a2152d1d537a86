"""A set of the workshop on the bench: its drums solved together, planned, and heard."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.bench import Bench
from kesselton.app.host.jobs import Answer, Latest
from kesselton.app.host.settings import Settings
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import MOST_SETS
from kesselton.core.language import N_, _
from kesselton.core.sets.model.kit import Kit, Member, members, naming
from kesselton.store.workshop.holdings import Workshop

if TYPE_CHECKING:
    from kesselton.core.sets.search.field import Spot
    from kesselton.core.sets.search.plan import Plan
    from kesselton.core.sets.search.whole import Planned, SolvedSet
    from kesselton.core.sets.together.cures import Cure

    Goal = tuple[Spot, tuple[float, ...]]
    """Where a drum is to be set, and lug pitches that come near."""

CHANGED_MEANWHILE = N_("A drum in the set changed meanwhile: no targets were set.")


@dataclass(frozen=True, eq=False)
class Cures:
    """Ways to quiet one answer."""

    pair: tuple[int, int]
    cures: tuple[Cure, ...]


class SetBench(QObject):
    """The set that is looked at. Nothing is worked out while nobody looks.

    Signals
    -------
    changed : another set, or it is another; solved, planned, cured : an answer is there
    failed(KesseltonError) : it could not be worked out
    moved(str) : what was asked is set; what to say of it
    refused(KesseltonError) : what was asked cannot be
    """

    changed = Signal()
    solved = Signal()
    planned = Signal()
    cured = Signal()
    failed = Signal(object)
    refused = Signal(object)
    moved = Signal(str)

    def __init__(self, bench: Bench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self._current = 0
        self._watched = False
        self.pair: tuple[int, int] | None = None
        self._solver: Answer[SolvedSet] = Answer(self.solved.emit, self.failed.emit, self)
        self._planner: Answer[Planned] = Answer(self.planned.emit, self.failed.emit, self)
        self._curer: Answer[Cures] = Answer(self.cured.emit, self.failed.emit, self)
        self._setter = Latest(self._on_set, self._on_not_set, self)
        self._queue: list[tuple[str, str, dict[int, Goal]]] = []
        self._setting = False
        bench.changed.connect(self._on_changed)
        self.solved.connect(self._ask_cures)

    # what holds

    @property
    def workshop(self) -> Workshop:
        """What the sets are of."""
        return self._bench.document.workshop

    @property
    def settings(self) -> Settings:
        """How things are shown, and the tempo."""
        return self._bench.settings

    def set_tempo(self, bpm: float) -> None:
        """Of the fastest part, for every drum."""
        self._bench.settings_store.change(tempo_bpm=bpm)

    @property
    def a4_hz(self) -> float:
        """Of the notes."""
        return self._bench.settings.a4_hz

    @property
    def kit(self) -> Kit | None:
        """The set that is looked at; the first where none was chosen."""
        kits = self.workshop.kits
        return self.workshop.kit(self._current) or (kits[0] if kits else None)

    @property
    def members(self) -> tuple[Member, ...]:
        """Its drums, low to high."""
        kit = self.kit
        if kit is None:
            return ()
        return members(kit, {entry.id: entry.drum for entry in self.workshop.entries})

    @property
    def solved_set(self) -> SolvedSet | None:
        """The set as it is set now; None while it is worked out."""
        solved_set = self._solver.settled
        return solved_set if solved_set is not None and solved_set.members == self.members else None

    @property
    def last(self) -> SolvedSet | None:
        """The same, or as it was a moment ago with the same drums."""
        value = self._solver.value
        now = tuple(member.seat.drum_id for member in self.members)
        if value is None or tuple(member.seat.drum_id for member in value.members) != now:
            return None
        return value

    @property
    def plans(self) -> Planned | None:
        """Its plans; None while they are worked out."""
        plan, kit = self._planner.settled, self.kit
        if plan is None or kit is None or plan.members != self.members:
            return None
        return plan if plan.wish == kit.wish else None

    @property
    def cures(self) -> Cures | None:
        """Ways to quiet the answer that is looked at; None while they are worked out."""
        cures = self._curer.settled
        return cures if cures is not None and cures.pair == self.pair else None

    @property
    def setting(self) -> bool:
        """Whether something that was asked is still to be set."""
        return self._setting or bool(self._queue)

    # looking

    @property
    def watched(self) -> bool:
        """Whether somebody looks."""
        return self._watched

    def watch(self, on: bool) -> None:
        """Work it out from now on, or (False) no longer."""
        if on != self._watched:
            self._watched = on
            if on:
                self._ask()

    def choose(self, number: int) -> None:
        """Look at another set."""
        self._current, self.pair = number, None
        self._on_changed()

    def look_at(self, pair: tuple[int, int] | None) -> None:
        """Look at how one drum answers another: ways to quiet it are worked out."""
        self.pair = pair
        self._ask_cures()
        self.changed.emit()

    def _on_changed(self) -> None:
        if self._watched:
            self._ask()
            self.changed.emit()

    def _ask(self) -> None:
        kit, result, a4 = self.kit, self.members, self.a4_hz
        if kit is None or not result:
            for answer in (self._solver, self._planner, self._curer):
                answer.forget()
            return
        wish = kit.wish
        heads = self.workshop.library

        def work() -> SolvedSet:
            from kesselton.core.sets.search.whole import solve

            return solve(result, wish, a4)

        def search() -> Planned:
            from kesselton.core.sets.search.whole import plan

            return plan(result, wish, heads, a4)

        self._solver.ask(kit.id, (result, wish.touch, wish.school, a4), work)
        self._planner.ask(kit.id, (result, wish, a4, heads), search)
        self._ask_cures()

    def _ask_cures(self) -> None:
        from kesselton.core.sets.model.kit import distance_m

        whole, kit, pair = self.solved_set, self.kit, self.pair
        if whole is None or kit is None or pair is None or max(pair) >= len(whole.members):
            return
        i, j = pair

        def work() -> Cures:
            from kesselton.core.sets.together.cures import cures

            away = distance_m(whole.members[i].seat, whole.members[j].seat)
            results = cures(whole.ready[i], whole.ready[j], whole.predictions[i].stroke, away, pair)
            return Cures(pair, tuple(results))

        self._curer.ask(kit.id, (whole.members, pair, kit.wish.touch), work)

    # changing

    def put(self, label: str, kit: Kit) -> None:
        """A set that was made or whose drums were chosen; it is looked at from now on."""
        if kit.id != self._current:
            self._current, self.pair = kit.id, None
        if self.workshop.kit(kit.id) is None and len(self.workshop.kits) >= MOST_SETS:
            self.refused.emit(
                InputError(
                    _("There are {most_sets} sets.").format(most_sets=MOST_SETS),
                    _("Remove one first."),
                )
            )
            return
        self.change(label, kit)

    def remove_kit(self) -> None:
        """The set that is looked at goes; its drums stay."""
        kit = self.kit
        if kit is not None:
            kits = tuple(candidate for candidate in self.workshop.kits if candidate.id != kit.id)
            self.pair = None
            self._bench.document.commit(
                _("remove the set {name}").format(name=kit.name), replace(self.workshop, kits=kits)
            )

    def change(self, label: str, kit: Kit) -> None:
        """Make the set another, as one step of undo."""
        if [s.drum_id for s in kit.seats] != [s.drum_id for s in (self.kit or kit).seats]:
            self.pair = None
        self._bench.document.commit(label, self.workshop.with_kit(kit))

    def change_wish(self, label: str, **values: object) -> None:
        """Make the wish another.

        Raises
        ------
        InputError
            If it cannot be.
        """
        kit = self.kit
        if kit is not None:
            wish = replace(kit.wish, **values)  # type: ignore[arg-type]
            self.change(label, replace(kit, wish=wish))

    def move_to(self, spots: Mapping[int, Spot], label: str) -> None:
        """Set drums, by number, to notes and intervals, exactly, as one step of undo."""
        whole = self.solved_set or self.last
        if whole is not None:
            goals = {}
            for number, spot in spots.items():
                near = whole.fields[number].at(spot).pitches_hz[0].tolist()
                goals[whole.members[number].seat.drum_id] = (spot, tuple(near))
            self._set(goals, label, "")

    def use(self, wanted: Plan, result: tuple[Member, ...], label: str, message: str) -> None:
        """Set the drums as a plan has them; locked drums and those as they are stay. `message` is
        shown when that is done."""
        from kesselton.core.sets.search.field import Spot

        goals = {
            member.seat.drum_id: (Spot(drum.note_cents, drum.interval_cents), drum.pitches_hz)
            for member, drum in zip(result, wanted.drums, strict=True)
            if not (drum.as_is or member.seat.locked)
        }
        self._set(goals, label, message)

    def _set(self, goals: dict[int, Goal], label: str, message: str) -> None:
        """One after the other, none is left out: each is solved beside the screen, then set."""
        if goals:
            self._queue.append((label, message, goals))
            self._set_next()

    def _set_next(self) -> None:
        if self._setting or not self._queue:
            return
        label, message, goals = self._queue.pop(0)
        members = {member.seat.drum_id: member for member in self.members}
        before = {number: members[number] for number in goals if number in members}
        a4 = self.a4_hz

        def work() -> dict[int, Drum]:
            from kesselton.core.sets.search.whole import set_to

            results = {}
            for number, member in before.items():
                with naming(member):
                    spot, near = goals[number]
                    results[number] = set_to(member.drum, spot, a4, near)
            return results

        self._setting = True
        self._setter.request((label, message, before), work)

    def _on_set(self, asked: tuple[str, str, dict[int, Member]], results: dict[int, Drum]) -> None:
        label, message, before = asked
        self._setting = False
        now = {entry.id: entry.drum for entry in self.workshop.entries}
        if any(now.get(number) != member.drum for number, member in before.items()):
            self.refused.emit(KesseltonError(_(CHANGED_MEANWHILE), _("Try again.")))
        else:
            self._put(results, label)
            self.moved.emit(message)
        self._set_next()

    def _on_not_set(self, asked: object, error: KesseltonError) -> None:
        self._setting = False
        self._queue.clear()
        self.refused.emit(error)

    def use_cure(self, cure: Cure, label: str) -> None:
        """Change the drum a cure is about."""
        if cure.changed is not None and self.solved_set is not None:
            member = self.solved_set.members[cure.drum]
            self._put({member.seat.drum_id: cure.changed}, label)

    def _put(self, drums: Mapping[int, Drum], label: str) -> None:
        workshop = self.workshop
        entries = tuple(
            entry.with_drum(drums[entry.id]) if entry.id in drums else entry
            for entry in workshop.entries
        )
        self._bench.document.commit(label, replace(workshop, entries=entries))

    def stop(self) -> None:
        """End every thread."""
        for answer in (self._solver, self._planner, self._curer, self._setter):
            answer.stop()
