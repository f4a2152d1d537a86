"""What the log of the drum on the bench has taught of it, kept beside what is computed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Answer
from kesselton.app.workshop.log_entries import lately
from kesselton.core.errors import KesseltonError

if TYPE_CHECKING:
    from kesselton.app.bench.bench import Bench
    from kesselton.core.instrument.drum import Drum
    from kesselton.core.instrument.kept import Kept
    from kesselton.core.log.conclusions import Conclusion
    from kesselton.core.log.life import Outlook
    from kesselton.core.log.own_note import Computed, Own
    from kesselton.core.measure.turn_line import TurnLine
    from kesselton.core.prediction.prediction import Prediction

MOST_SOLVED = 2000


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
        own_drum, settled = self._answer.settled, self._bench.settled
        if own_drum is None or settled is None or self._bench.previewing:
            return None
        return own_drum if own_drum.drum == settled.drum else None

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
        log, prediction = self._tail[1], settled.prediction
        self._answer.ask(entry.id, (log, settled.drum, settled.stroke),
                         lambda: self._learn(log, prediction))  # fmt: skip

    def _learn(self, log: tuple[Kept, ...], prediction: Prediction) -> OwnDrum:
        """In the worker; what was solved of an entry once is kept."""
        from kesselton.core.log import own_note as on
        from kesselton.core.log.conclusions import conclusions
        from kesselton.core.log.life import outlooks, shows_a_day
        from kesselton.core.log.turns import turn_lines

        if len(self._solved) > MOST_SOLVED:
            self._solved.clear()
        points, unsolved = [], []
        for entry, heads in on.of_this_drum(log, prediction.drum):
            try:
                if entry not in self._solved:
                    self._solved[entry] = on.computed_then(entry)
                points.append(on.point(entry, heads, self._solved[entry]))
            except KesseltonError as error:
                unsolved.append((entry.on, error.one_line()))
        note = on.own_note(points, on.computed_of(prediction), on.heads_now(log, prediction.drum))
        lines = turn_lines(prediction.drum, log)
        return OwnDrum(
            prediction.drum, note, lines, tuple(unsolved), tuple(conclusions(log, prediction.drum)),
            tuple(outlooks(prediction.drum, log)), shows_a_day(log),
        )  # fmt: skip

    def _on_failed(self, error: KesseltonError) -> None:
        self._bench.failed.emit(error, "own")
