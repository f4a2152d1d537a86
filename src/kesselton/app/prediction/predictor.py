"""Asks the core for what the screens show, off the thread of the screen."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.core.acoustics.solver.work import FOR_ONE_DRUM, at_most
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum

if TYPE_CHECKING:
    from kesselton.core.prediction.prediction import Prediction
    from kesselton.core.prediction.usable import HeadRange


HIGHEST_HZ = 2000.0
PATIENCE = 3
"""Beside the screen there may be more work than in the shell: partials, ranges and a held note."""


@dataclass(frozen=True)
class Hold:
    """While one grip is moved, the other head follows so that the whole drum keeps a note; None
    where it follows because one pull draws both."""

    side: str
    hz: float
    note_hz: float | None


@dataclass(frozen=True, eq=False)
class BenchResult:
    """What the ladder shows: the prediction and the usable range of each head."""

    drum_id: int
    drum: Drum
    prediction: Prediction
    ranges: tuple[HeadRange, ...]
    stroke: Stroke
    """What it was worked out for."""
    hold: Hold | None = None
    """What was held, where a grip was moved."""


@dataclass(frozen=True)
class Question:
    """What is to be worked out: a drum, how it is struck, how far up, and what is held."""

    drum_id: int
    drum: Drum
    stroke: Stroke
    highest_hz: float = HIGHEST_HZ
    hold: Hold | None = None


def answer(asked: Question) -> BenchResult:
    """Solve a drum and the ranges of its heads. Imports the heavy packages on first use.

    Raises
    ------
    KesseltonError
        If it cannot be, or would take longer than anybody waits.
    """
    with at_most(PATIENCE * FOR_ONE_DRUM):
        return _answered(asked)


def _answered(asked: Question) -> BenchResult:
    drum, hold = asked.drum, asked.hold
    note = hold.note_hz if hold is not None else None
    if hold is not None and note is None:
        from kesselton.core.measure.head_to_head import drawn_along

        drum = drawn_along(drum, hold.side, hold.hz)
    elif hold is not None and note is not None:
        from kesselton.core.measure.plan import hold_fundamental

        drum = hold_fundamental(drum, hold.side, hold.hz, note)
    from kesselton.core.prediction.prediction import predict

    prediction = predict(drum, asked.stroke, asked.highest_hz)
    ranges = usable_ranges(_range_key(drum), asked.stroke)
    return BenchResult(asked.drum_id, drum, prediction, ranges, asked.stroke, hold)


def _range_key(drum: Drum) -> Drum:
    """The drum at a fixed tension: its ranges do not depend on how it is set now."""
    for side in drum.sides:
        drum = drum.with_setting(side, drum.setting(side).at_tension(1.0))
    return drum


@lru_cache(maxsize=128)
def usable_ranges(drum: Drum, stroke: Stroke | None = None) -> tuple[HeadRange, ...]:
    """Usable range of every head under such strokes (kept for the drums asked last)."""
    from kesselton.core.prediction.usable import head_range, under_stroke

    if stroke is None:
        return tuple(head_range(drum, side) for side in drum.sides)
    # what takes long is the same for every stroke
    return tuple(under_stroke(head_range, drum, stroke) for head_range in usable_ranges(drum))


class Predictor(QObject):
    """Latest-wins predictions of the drum on the bench, and the pitches of the other drums.

    Signals
    -------
    answered(BenchResult), failed(Question, KesseltonError)
    rack_pitch(int drum id, float hertz)
    """

    answered = Signal(object)
    failed = Signal(object, object)
    listed_pitch = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench = Latest(self._on_done, self.failed.emit, self)
        self._rack = Latest(self._on_drum_list, self._on_list_failed, self)
        self._queue: list[tuple[int, Drum]] = []
        self._asked: tuple[int, Drum] | None = None  # what the drum list's worker is at
        self._known: dict[Drum, float] = {}
        self._on_bench: tuple[Drum, float] | None = None  # the last answer's pitch
        self._held = False
        self._put_off: list[Callable[[], object]] = []

    def hold(self) -> None:
        """Put requests off until `go`: the window is painted before anything heavy is imported."""
        self._held = True

    def go(self) -> None:
        """Do what was put off."""
        self._held = False
        waiting, self._put_off = self._put_off, []
        for request in waiting:
            request()

    def ask(self, question: Question) -> None:
        """Request an answer; while a grip moves, only up to where the ladder ends."""
        if self._held:
            self._put_off.append(lambda: self.ask(question))
            return
        self._bench.request(question, lambda: answer(question))

    def ask_rack(self, drums: list[tuple[int, Drum]]) -> None:
        """Work out the fundamental of every drum of the drum list, one after another."""
        if self._held:
            self._put_off.append(lambda: self.ask_rack(drums))
            return
        self._queue = []
        for drum_id, drum in drums:
            if self._on_bench is not None and drum == self._on_bench[0]:
                self._known[drum] = self._on_bench[1]
            if drum in self._known:
                self.listed_pitch.emit(drum_id, self._known[drum])
            else:
                self._queue.append((drum_id, drum))
        self._next()

    def stop(self) -> None:
        """End both threads."""
        self._bench.stop()
        self._rack.stop()

    def _next(self) -> None:
        self._asked = self._queue.pop(0) if self._queue else None
        if self._asked is not None:
            drum = self._asked[1]
            self._rack.request(self._asked, lambda: _fundamental(drum))

    def _on_done(self, key: object, result: BenchResult) -> None:
        self._on_bench = (result.drum, result.prediction.fundamental_hz)
        self.answered.emit(result)

    def _on_drum_list(self, key: tuple[int, Drum], hz: float) -> None:
        if len(self._known) > 500:
            self._known.clear()
        self._known[key[1]] = hz
        if key is not self._asked:
            return  # of an earlier list: going on from it would push out what waits
        self.listed_pitch.emit(key[0], hz)
        self._next()

    def _on_list_failed(self, key: tuple[int, Drum], error: object) -> None:
        self.listed_pitch.emit(key[0], None)
        self._next()


def _fundamental(drum: Drum) -> float:
    from kesselton.core.acoustics.solver.lug import tensions
    from kesselton.core.acoustics.solver.partials import partials
    from kesselton.core.prediction.prediction import heard

    modes, _ = heard(drum, partials(drum, tensions(drum), lowest=4), Stroke())
    return float(modes.frequency_hz[modes.fundamental])


def check(drum: Drum) -> None:
    """Raise KesseltonError if a drum, as it is set, is impossible; called before it is kept."""
    from kesselton.core.acoustics.solver.lug import tensions

    with at_most():
        tensions(drum)
        usable_ranges(_range_key(drum))
