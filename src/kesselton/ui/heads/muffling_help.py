"""What muffling would do for a pair and for the heads that are on the drum, worked out aside."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from kesselton.app.host.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.muffler import MUFFLERS, Muffler
from kesselton.core.language import _, figures
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.heads.choose import Candidates
    from kesselton.core.heads.muffled import Gain, Muffled

MOST_TOLD = 3
RESTS_MS = 200
"""A choice that rests so long is worked on: keys run down the list."""


class Help(NamedTuple):
    """What was asked, and the answer: for the chosen pair, and for the pair that is on the drum (-1
    where it is not among those that were searched)."""

    candidates: Candidates
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
        self._worker = Latest(lambda key, help_: self._keep(help_), self._on_failed, self)
        self._rest = QTimer(self, singleShot=True, interval=RESTS_MS)
        self._rest.timeout.connect(self._request)
        self._asked: tuple[Candidates, int, int] | None = None
        self._known: Candidates | None = None  # of which search the answers are
        self._answers: dict[int, tuple[Muffled, ...]] = {}

    def ask(self, candidates: Candidates, number: int, present: int) -> None:
        """For a pair, and for the pair that is on the drum: at once where it is known, else once
        the choice rests."""
        if candidates is not self._known:
            self._known, self._answers = candidates, {}
        self._asked = (candidates, number, present)
        if self._missing():
            self._rest.start()
        else:
            self._rest.stop()
            self._tell()

    def _missing(self) -> list[int]:
        """Pairs asked about whose answer is not there."""
        assert self._asked is not None
        wanted = dict.fromkeys(self._asked[1:])
        return [number for number in wanted if number >= 0 and number not in self._answers]

    def _request(self) -> None:
        assert self._asked is not None
        candidates, missing = self._asked[0], self._missing()

        def work() -> tuple[Candidates, dict[int, tuple[Muffled, ...]]]:
            from kesselton.core.heads.muffled import muffled

            return candidates, {number: muffled(candidates, number) for number in missing}

        self._worker.request((id(candidates), *missing), work)

    def _keep(self, answer: tuple[Candidates, dict[int, tuple[Muffled, ...]]]) -> None:
        if answer[0] is self._known:
            self._answers |= answer[1]
            if not self._missing():
                self._tell()

    def _tell(self) -> None:
        assert self._asked is not None
        candidates, number, present = self._asked
        on_it = self._answers[present] if present >= 0 else ()
        self.answered.emit(Help(candidates, number, present, self._answers[number], on_it))

    def _on_failed(self, key: object, error: KesseltonError) -> None:
        self.failed.emit(error)

    def stop(self) -> None:
        """End the thread."""
        self._worker.stop()


def present_pair(candidates: Candidates, drum: Drum, order: list[int]) -> int:
    """The pair that is on a drum, at the best of the settings searched; -1 if it is not there."""
    names = [drum.setting(side).head.name for side in drum.sides]
    return next((n for n in order if [head.name for head in candidates.heads[n]] == names), -1)


def pieces_words(mufflers: tuple[Muffler, ...]) -> str:
    """What is laid on a head: "2 × folded tape flap"."""
    out = []
    for kind, count in Counter(muffler.kind for muffler in mufflers).items():
        label = MUFFLERS[kind].label
        out.append(label if count == 1 else _("{count} × {label}").format(count=count, label=label))
    return ", ".join(out)


def gain_words(gain: Gain) -> str:
    """What it would bring: "+1.7  folded tape flap: decay 1.1 s, 2 cents flat"."""
    muffled = gain.muffled
    return _("{points}  {pieces}: decay {ring}, {cents}").format(
        points=figures(gain.points, "+.1f"),
        pieces=pieces_words(muffled.mufflers),
        ring=wording.seconds_words(muffled.ring_s),
        cents=wording.cents_words(muffled.cents),
    )
