"""A head being cleared: which rod comes next, what is noted, what was turned."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.clearing import (
    Cleared,
    cleared,
    combined,
    dial_fit,
    in_cents,
    plain_pitch,
    taught,
)
from kesselton.app.bench.reading_sources import ReadingSources
from kesselton.app.host.jobs import Answer
from kesselton.core.clear.by_ear import ALIKE, heard_by_ear, reference
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.walk import Walk
from kesselton.core.constants import CENTS_PER_HALF_STEP
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _, begin
from kesselton.store.workshop.holdings import Entry, Workshop

if TYPE_CHECKING:
    from kesselton.core.clear.taps.tap import HeardTap
    from kesselton.core.measure.gauges import DialFit

BY_EAR = "ear"
"""The source of readings that hears rods against each other."""


class ClearBench(QObject):
    """The rounds of one head of the drum on the bench.

    Signals
    -------
    changed(str label, tuple clearings) : to be kept with the drum
    answered : what is known or comes next is another
    failed(KesseltonError) : it could not be worked out
    """

    changed = Signal(str, object)
    answered = Signal()
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.entry: Entry | None = None
        self.workshop: Workshop | None = None
        self.side = "batter"
        self.place_word = ""
        """What a rod is called: a drum on ropes has ears."""
        self._picked = 0  # a rod chosen out of turn
        self._checked: tuple[object, set[int]] = (None, set())  # of a round: rods read once more
        self.sources = ReadingSources(self)
        self._answer: Answer[Cleared] = Answer(self.answered.emit, self.failed.emit, self)

    # state

    @property
    def clearing(self) -> Clearing:
        """The rounds on the head chosen."""
        assert self.entry is not None
        return self.entry.clearing(self.side)

    @property
    def walk(self) -> Walk:
        """Where the technician stands; what is to be turned is fixed with the first turn."""
        walk, cleared_now = self.clearing.walk, self.settled
        if walk.turning and not walk.turned and cleared_now is not None:
            return walk.begins_turning(cleared_now.asked, cleared_now.plan.all_turns)
        return walk

    @property
    def cleared(self) -> Cleared | None:
        """Most recent answer for this head; may be of an earlier reading."""
        return self._answer.value

    def half_step_turn(self, rod: int) -> float | None:
        """Turn of a rod that moves the pitch there by a half step: by what was read of this head,
        or, before anything was, by its plan; None where that has none."""
        from kesselton.core.acoustics.solver.lug import tensions  # heavy; the window comes first
        from kesselton.core.clear.rim import rim_of
        from kesselton.core.clear.turning import turn_for

        cleared, entry = self.cleared, self.entry
        if cleared is not None:
            state = cleared.state
            return turn_for(state.rim, state.tension_n_per_m, rod, CENTS_PER_HALF_STEP)
        if entry is None:
            return None
        try:
            tension = tensions(entry.drum)[entry.drum.sides.index(self.side)]
        except KesseltonError:
            return None
        return turn_for(rim_of(entry.drum, self.side), tension, rod, CENTS_PER_HALF_STEP)

    @property
    def settled(self) -> Cleared | None:
        """The answer to all that was read and turned, None while it is worked out."""
        return self._answer.settled

    @property
    def rods(self) -> int:
        """How many rods the drum has."""
        assert self.entry is not None
        return self.entry.drum.shell.rods

    @property
    def by_ear(self) -> bool:
        """Whether rods are heard against each other."""
        return self.sources.name == BY_EAR

    @property
    def missing(self) -> int:
        """Rods that are not read yet in this round."""
        return self.clearing.missing(self.sources.kind, self.rods)

    @property
    def again(self) -> int:
        """The rod that is to be read once more before any is turned; 0 for none."""
        settled, walk = self.settled, self.walk
        if settled is None or not settled.ask_again or walk.turned:
            return 0
        by_pitch = self.sources.kind == "lug_pitch"
        return settled.ask_again if self.missing == 0 and by_pitch else 0

    @property
    def now(self) -> int:
        """The rod that is read, or turned, next."""
        turns = self.walk.turns_now if self.walk.turning and not self.again else 0
        return turns or self.reads

    @property
    def reads(self) -> int:
        """The rod that a reading now would belong to."""
        if self._picked or self.again:
            return self._picked or self.again
        if self.by_ear and self.against == 0:
            return self._first_two()[1]
        return self.base.reads(self.sources.kind, self.rods)

    @property
    def against(self) -> int:
        """The rod the others are heard against in this round; 0 before there is one."""
        first = reference(self.base)
        return first.rod if first is not None else 0

    @property
    def compared_with(self) -> int:
        """By ear, the rod the others are heard against, or will be."""
        return self.against or self._first_two()[0]

    def _first_two(self) -> tuple[int, int]:
        """By ear, the rod the others are heard against, and the first of these."""
        left = [rod for rod in range(1, self.rods + 1) if rod not in self.base.walk.skipped]
        return (left[0], left[1]) if len(left) > 1 else (1, 2)

    @property
    def base(self) -> Clearing:
        """What a reading now is noted in: after the first turn that is the next round, for the drum
        is no longer as it was read."""
        clearing, walk = self.clearing, self.walk
        if walk.turning and walk.turned:
            return clearing.turned(walk.made(self.rods))
        return replace(clearing, walk=walk.back_to_reading())

    @property
    def dial(self) -> DialFit | None:
        """The gauge in hand, as it is calibrated."""
        return dial_fit(self.workshop) if self.workshop else None

    @property
    def thickness_m(self) -> float:
        """Of the film of the head."""
        assert self.entry is not None
        return self.entry.drum.setting(self.side).head.film_thickness_m

    def read_cents(self) -> dict[int, float]:
        """By rod, what was read in this round."""
        kind = self.sources.kind
        dial = self.dial if kind == "dial" else None  # a fit: not for every press of a key
        try:
            return in_cents(self.clearing.now, kind, dial, self.thickness_m)
        except InputError:
            return {}  # a reading this dial never shows: the answer says so

    def pitch_in_hand(self) -> float | None:
        """What the rods are to end at: the final pitch, or what the head is set to."""
        if self.entry is None:
            return None
        return self.clearing.target_hz or plain_pitch(self.entry.drum, self.side)

    # another drum, head or source

    def take(self, entry: Entry | None, workshop: Workshop) -> None:
        """Work on a drum as it is now."""
        self.entry, self.workshop = entry, workshop
        if entry is not None and self.side not in entry.drum.sides:
            self.side = "batter"

    def let_go(self) -> None:
        """Another head comes: nothing that is on its way belongs to it."""
        self._answer.forget()
        self._picked = 0
        self.sources.quiet()
        self.sources.forget_imports()

    def forget_picked(self) -> None:
        """A step was undone: nothing is chosen out of turn, no rod was read once more."""
        self._picked, self._checked = 0, (None, set())

    def ask(self) -> None:
        """Work out what is known, and what to turn."""
        entry, workshop = self.entry, self.workshop
        assert entry is not None
        assert workshop is not None
        clearing = self.clearing.as_read
        if not any(record.taps for record in clearing.rounds):
            self._answer.forget()
            return
        owner = (entry.id, clearing.side, entry.drum.shell.rods)
        checked = frozenset(self._read_again())
        key = (entry.drum, clearing, workshop.dials[:1], checked)
        self._answer.ask(owner, key, lambda: cleared(entry, workshop, clearing, checked))

    def _read_again(self) -> set[int]:
        """Rods that were read once more in this round, for the one opposite was heard off."""
        assert self.entry is not None
        clearing = self.clearing
        round_ = (self.entry.id, clearing.side, len(clearing.rounds), bool(clearing.now.taps))
        if self._checked[0] != round_:
            self._checked = (round_, set())
        return self._checked[1]

    def choose_source(self, source: str) -> None:
        """Read by another means; rods that are half turned are turned on."""
        self.sources.choose(source)
        self._picked = 0
        if self.entry is not None and self.walk.turning and not self.walk.turned:
            self.keep(_("next reading"), self.base)

    # changes

    def keep(self, label: str, changed: Clearing) -> None:
        """Keep the rounds with the drum."""
        assert self.entry is not None
        self.changed.emit(label, self.entry.with_clearing(changed))

    def change(self, label: str, **values: object) -> None:
        """Change how the head is cleared.

        Raises
        ------
        InputError
            If the drum cannot be cleared so.
        """
        changed = replace(self.clearing, **values)  # type: ignore[arg-type]
        changed.check(self.rods)
        self.keep(label, changed)

    def choose_pattern(self, pattern: str) -> None:
        """Clear to another pattern of rods."""
        wanted = (1.0,) * self.rods if pattern == "own" else ()
        self.change(_("target pattern"), pattern=pattern, wanted=wanted)

    def pick(self, rod: int) -> None:
        """Read a rod out of turn; what was turned so far ends the round.

        Raises
        ------
        InputError
            If the others are heard against it.
        """
        if self.by_ear and rod == self.compared_with:
            message = _("{place} {rod} is the reference for the others.").format(
                place=begin(self.place_word), rod=rod
            )
            raise InputError(message, _("Choose another one."))
        self._picked = rod
        if self.clearing.walk.turning:
            self.keep(_("next reading"), self.base)

    def begin(self) -> None:
        """A new clearing; what earlier rounds taught of the rim is kept."""
        learned = taught(self.cleared) if self.cleared is not None else self.clearing.learned
        self._picked = 0
        self.keep(_("restart clearing"), replace(self.clearing.begun_again(), learned=learned))

    def place(self, rod: int) -> str:
        """A rod in words."""
        return f"{self.place_word} {rod}"

    def add(self, base: Clearing, tap: Reading, heard: HeardTap | None = None) -> None:
        """Note a reading in a round; the rod after it comes next."""
        again = tap.rod == self.again
        tap = combined(base.now, tap) if not (again and self.by_ear) else tap
        changed = base
        if heard is not None and heard.second_hz is not None:
            changed = changed.with_tap(at_rod("second_partial", tap.rod, heard.second_hz))
        changed = changed.with_tap(tap)
        self._picked = 0
        if again:
            self._read_again().add(tap.rod)
        label = _("reading at {where}").format(where=self.place(tap.rod))
        self.keep(label, self._all_read(changed))

    def _all_read(self, changed: Clearing) -> Clearing:
        """After the last rod is read, or left out, rods are turned."""
        done = changed.now.taps and changed.missing(self.sources.kind, self.rods) == 0
        return replace(changed, walk=replace(changed.walk, turning=bool(done)))

    def by_ear_now(self, answer: str) -> tuple[Clearing, Reading, int]:
        """What an answer by ear means at the rod that is next: the round it is noted in, the
        reading, and the rod it is heard against.

        Raises
        ------
        KesseltonError
            If it contradicts what was heard.
        """
        assert self.entry is not None
        base, rod = self.base, self.reads
        plain = plain_pitch(self.entry.drum, self.side)
        first = reference(base)
        if first is None:  # no pitch is named: the first stands for itself
            first = heard_by_ear(base, self._first_two()[0], ALIKE, plain)
            base = base.with_tap(first)
        return base, heard_by_ear(base, rod, answer, plain), first.rod

    def take_back(self) -> None:
        """The last reading, or the last turn, was wrong."""
        walk = self.walk
        if walk.turning and walk.turned:
            self.keep(_("undo turn"), replace(self.clearing, walk=walk.steps_back()))
        elif self.clearing.now.taps:
            self._picked = 0
            self.keep(_("undo reading"), self.base.without_last())

    def skip_rod(self) -> None:
        """Leave out the rod that is next."""
        walk = self.walk
        if self.again:
            self._goes_without()
        elif not walk.turning:
            changed = replace(self.clearing, walk=walk.skips(self.now))
            where = _("skip {place} {rod}").format(place=self.place_word, rod=self.now)
            self._picked = 0
            self.keep(where, self._all_read(changed))
        elif self._may_turn(walk):
            self._go_on(walk.leaves(), _("skip {place} {rod}"))

    def turn_all(self, turn: float) -> None:
        """Every rod by the same turn: a round of its own."""
        label = _("tighten all rods") if turn > 0 else _("loosen all rods")
        self.keep(label, self.base.turned((turn,) * self.rods))

    def finish(self) -> None:
        """The rod on show is turned, or reading is over; the last turn ends the round."""
        walk = self.walk
        if self.again:
            self._goes_without()
        elif not walk.turning:
            if self.settled is not None:
                turning = replace(self.clearing, walk=replace(walk, turning=True))
                self._picked = 0
                self.keep(_("start turning"), turning)
        elif self._may_turn(walk):
            self._go_on(walk if walk.over else walk.turns(), _("{place} {rod} turned"))

    def _goes_without(self) -> None:
        """The rod that was to be read once more is not: its readings stand."""
        self._read_again().add(self.again)
        self.ask()
        self.answered.emit()

    def _may_turn(self, walk: Walk) -> bool:
        """Whether what is to be turned is known: from the first turn on it is noted."""
        return bool(walk.turned) or self.settled is not None

    def _go_on(self, walk: Walk, label: str) -> None:
        """To the next rod, or to the end of the round."""
        if walk.over:
            changed = self.clearing.turned(walk.made(self.rods))
            self.keep(_("turns of round {count}").format(count=len(self.clearing.rounds)), changed)
        else:
            message = label.format(place=self.place_word, rod=walk.order[walk.turned - 1])
            self.keep(message, replace(self.clearing, walk=walk))

    def stop(self) -> None:
        """End the thread and the microphone."""
        self.sources.stop()
        self._answer.stop()
