"""What the log of the drum on the bench has taught of it, kept beside what is computed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.jobs import Answer
from kesselton.core.errors import KesseltonError
from kesselton.store.holdings import Entry
from kesselton.store.stored import last_of

if TYPE_CHECKING:
    from kesselton.app.bench import Bench
    from kesselton.core.instrument.drum import Drum
    from kesselton.core.instrument.kept import Kept, Played
    from kesselton.core.learning.conclusions import Conclusion
    from kesselton.core.learning.life import Outlook
    from kesselton.core.learning.own_note import Computed, Own
    from kesselton.core.measuring.turn_line import TurnLine
    from kesselton.core.prediction.prediction import Prediction

LEARNS_FROM = 100
"""The newest entries of a drum: what it was before says less of it."""
MOST_SOLVED = 2000


def lately(entry: Entry) -> tuple[Kept, ...]:
    """The entries that are learned from."""
    return last_of(entry.kept, LEARNS_FROM)


def turn_lines(drum: Drum, log: tuple[Kept, ...]) -> dict[str, TurnLine]:
    """Per side, what the log says of turns, where it does: notes taken on the same lugs and hoops,
    those of the head that lies there now apart from those of others before it.

    A note of turns counts with the pitch noted beside it, or with the tension the head had then.
    """
    from kesselton.core.learning.own_note import specimens, specimens_now
    from kesselton.core.measuring.turn_line import learn_turns

    found, told, now = {}, specimens(log), specimens_now(log, drum)
    for index, side in enumerate(drum.sides):
        fittings: dict[int, list[tuple[float, float]]] = {}
        known = set[tuple[float, float]]()
        for one, numbers in told:
            if one.left_out or not _turns_alike(one.drum, drum, side):
                continue
            for note in _turn_notes(one, side, index):
                if note not in known:  # a reading stands in every entry until it is taken out
                    known.add(note)
                    fittings.setdefault(numbers[side], []).append(note)
        if known:
            last = fittings.pop(now[side], [])
            found[side] = learn_turns(drum, side, [*fittings.values(), last])
    return found


def _turns_alike(then: Drum, now: Drum, side: str) -> bool:
    """Whether a turn of the rods did then what it does now; a thicker film stretches less."""
    if side not in then.sides:
        return False
    of_shell = [
        (s.hoop, s.lugs, s.rods, s.rod_thread, s.head_diameter_m) for s in (then.shell, now.shell)
    ]
    films = [one.setting(side).head.film_thickness_m for one in (then, now)]
    return of_shell[0] == of_shell[1] and films[0] == films[1]


def _turn_notes(one: Kept, side: str, index: int) -> list[tuple[float, float]]:
    """Turns and tensions in N/m that an entry notes of a head."""
    from kesselton.core.acoustics.lug import tension_from_pitch

    read = [r for r in one.readings if r.kind == "turns" and r.side == side]
    notes = [(r.value, tension_from_pitch(one.drum, side, r.hz)) for r in read if r.hz is not None]
    now = [r.value for r in read if r.hz is None]
    if now and index < len(one.tensions_n_per_m):
        notes.append((sum(now) / len(now), one.tensions_n_per_m[index]))
    return notes


def outlooks(drum: Drum, log: Sequence[Kept] | Sequence[Played]) -> list[Outlook]:
    """What is left of each head that lies on a drum, where playing was noted."""
    from kesselton.core.learning.life import lives, outlook

    all_lives = lives(log, drum)
    found = (outlook(drum, side, all_lives) for side in drum.sides)
    return [one for one in found if one is not None]


@dataclass(frozen=True, eq=False)
class OwnDrum:
    """What is a drum's own, as its log says.

    Attributes
    ----------
    note : its fundamental and ring; None where no stroke was kept
    turns : per side, its own line of turns, where any were noted
    unsolved : entries that cannot be worked out today, and why
    follows : conclusions, each with its entries
    outlooks : what is left of the heads in use; shows_a_day at the rate of the log
    """

    drum: Drum
    note: Own | None
    turns: dict[str, TurnLine]
    unsolved: tuple[tuple[str, str], ...]
    follows: tuple[Conclusion, ...] = ()
    outlooks: tuple[Outlook, ...] = ()
    shows_a_day: float = 0.0


class Learner(QObject):
    """Asks what the log teaches whenever the drum on the bench has its answer or its log grew.

    Signals
    -------
    learned : `own` is another
    """

    learned = Signal()

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self._bench = bench
        self._solved: dict[Kept, Computed] = {}
        self._tail: tuple[Sequence[Kept], tuple[Kept, ...]] = ((), ())
        self._answer: Answer[OwnDrum] = Answer(self.learned.emit, self._on_failed, self)
        bench.answered.connect(self._ask)
        bench.changed.connect(self._ask)

    @property
    def own(self) -> OwnDrum | None:
        """Of the drum on the bench as it is set; None while that is worked out."""
        found, settled = self._answer.settled, self._bench.settled
        if found is None or settled is None or self._bench.previewing:
            return None
        return found if found.drum == settled.drum else None

    def stop(self) -> None:
        """End the thread."""
        self._answer.stop()

    def _ask(self, *_: object) -> None:
        bench, settled = self._bench, self._bench.settled
        entry = bench.entry
        if settled is None or entry is None or bench.previewing:
            return
        if self._tail[0] is not entry.kept:
            self._tail = (entry.kept, lately(entry))
        log, found = self._tail[1], settled.prediction
        self._answer.ask(entry.id, (log, settled.drum, settled.stroke),
                         lambda: self._learn(log, found))  # fmt: skip

    def _learn(self, log: tuple[Kept, ...], found: Prediction) -> OwnDrum:
        """In the worker; what was solved of an entry once is kept."""
        from kesselton.core.learning import own_note as on
        from kesselton.core.learning.conclusions import conclusions
        from kesselton.core.learning.life import shows_a_day

        if len(self._solved) > MOST_SOLVED:
            self._solved.clear()
        points, unsolved = [], []
        for one, heads in on.of_this_drum(log, found.drum):
            try:
                if one not in self._solved:
                    self._solved[one] = on.computed_then(one)
                points.append(on.point(one, heads, self._solved[one]))
            except KesseltonError as error:
                unsolved.append((one.on, error.one_line()))
        note = on.own_note(points, on.computed_of(found), on.heads_now(log, found.drum))
        lines = turn_lines(found.drum, log)
        return OwnDrum(
            found.drum, note, lines, tuple(unsolved), tuple(conclusions(log, found.drum)),
            tuple(outlooks(found.drum, log)), shows_a_day(log),
        )  # fmt: skip

    def _on_failed(self, error: KesseltonError) -> None:
        self._bench.failed.emit(error, "own")
