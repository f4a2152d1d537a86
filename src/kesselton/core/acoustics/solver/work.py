"""How much may be worked out for one answer: said beforehand, counted, and no more.

What is counted are evaluations of D(w), some milliseconds each on an ordinary machine; a drum that
somebody could own takes up to 250 for its range, and fewer for its partials.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from kesselton.core.errors import TooMuchWorkError
from kesselton.core.language import _

FOR_ONE_DRUM = 700
_stopped: ContextVar[Callable[[], bool] | None] = ContextVar("kesselton_stopped", default=None)
_left: ContextVar[list[int] | None] = ContextVar("kesselton_work", default=None)


@contextmanager
def at_most(evaluations: int = FOR_ONE_DRUM) -> Iterator[None]:
    """Within this no more than so many evaluations are made.

    Raises
    ------
    TooMuchWorkError
        Where they do not suffice.
    """
    before = _left.set([evaluations])
    try:
        yield
    finally:
        _left.reset(before)


class StoppedError(Exception):
    """Nobody waits for the answer any more: no fault, and nothing to go on after."""


@contextmanager
def unless(stopped: Callable[[], bool]) -> Iterator[None]:
    """Within this, work ends soon after `stopped` says so.

    Raises
    ------
    StoppedError
        Then.
    """
    before = _stopped.set(stopped)
    try:
        yield
    finally:
        _stopped.reset(before)


def spend() -> None:
    """One evaluation.

    Raises
    ------
    TooMuchWorkError
        If there is none left.
    StoppedError
        If nobody waits any more.
    """
    stopped = _stopped.get()
    if stopped is not None and stopped():
        raise StoppedError(_("Stopped."))
    left = _left.get()
    if left is None:
        return
    left[0] -= 1
    if left[0] < 0:
        raise TooMuchWorkError(
            _("This drum is so unlike any other that it takes too long to work out."),
            _("Check mass and tension of its heads, its sizes and holes."),
        )
