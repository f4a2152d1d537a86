"""What muffling would do for a pair and for the heads that are on the drum, worked out aside."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.muffler import MUFFLERS, Muffler
from kesselton.core.language import _, figures
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.heads.choose import Candidates
    from kesselton.core.heads.muffled import Muffled

MOST_TOLD = 3


class Help(NamedTuple):
    """What was asked, and the answer: for the chosen pair, and for the pair that is on the drum (-1
    where it is not among those that were searched)."""

    found: Candidates
    number: int
    present: int
    chosen: tuple[Muffled, ...]
    on_it: tuple[Muffled, ...]


class MufflingHelp(QObject):
    """Asks for what muffling would do.

    Signals
    -------
    answered(Help), failed(KesseltonError)
    """

    answered = Signal(object)
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._worker = Latest(lambda key, help_: self.answered.emit(help_), self._on_failed, self)

    def ask(self, found: Candidates, number: int, present: int, weight: np.ndarray) -> None:
        """For a pair, and for the pair that is on the drum."""

        def work() -> Help:
            from kesselton.core.heads.muffled import muffled

            chosen = muffled(found, number, weight)
            if present < 0:
                return Help(found, number, present, chosen, ())
            on_it = chosen if present == number else muffled(found, present, weight)
            return Help(found, number, present, chosen, on_it)

        self._worker.request((id(found), number), work)

    def _on_failed(self, key: object, error: KesseltonError) -> None:
        self.failed.emit(error)

    def stop(self) -> None:
        """End the thread."""
        self._worker.stop()


def present_pair(found: Candidates, drum: Drum, order: list[int]) -> int:
    """The pair that is on a drum, at the best of the settings searched; -1 if it is not there."""
    names = [drum.setting(side).head.name for side in drum.sides]
    return next((n for n in order if [head.name for head in found.heads[n]] == names), -1)


def pieces_words(mufflers: tuple[Muffler, ...]) -> str:
    """What is laid on a head: "2 × folded tape flap"."""
    out = []
    for kind, count in Counter(one.kind for one in mufflers).items():
        label = MUFFLERS[kind].label
        out.append(label if count == 1 else _("{count} × {label}").format(count=count, label=label))
    return ", ".join(out)


def muffled_words(one: Muffled) -> str:
    """What it would bring: "folded tape flap: decay 1.1 s, 2 cents flat"."""
    return _("{points}  {pieces}: decay {ring}, {cents}").format(
        points=figures(one.points, "+.1f"),
        pieces=pieces_words(one.mufflers),
        ring=wording.seconds_words(one.ring_s),
        cents=wording.cents_words(one.cents),
    )
