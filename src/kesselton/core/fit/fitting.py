"""How far a head is fitted: what is done, skipped, noted and timed; kept with the drum."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from kesselton.core.dates import moment_words
from kesselton.core.errors import InputError
from kesselton.core.fit.procedure import Choices, Procedure
from kesselton.core.language import _

CLOCK_PLAY = timedelta(minutes=2)
FINISHED, STOPPED = "finished", "stopped"


@dataclass(frozen=True)
class Fitting:
    """One head being fitted.

    Attributes
    ----------
    current : key of the step on show
    done : keys of steps done
    skipped, notes, timers : pairs (key of the step, reason / note / ISO time it was started)
    started, ended : ISO times; `outcome` is "" while it goes on, else FINISHED or STOPPED
    turns : past finger tight to the pitch, as its log had it when fitting began: the steps stay
        those that were begun
    """

    side: str
    choices: Choices = field(default_factory=Choices)
    current: str = ""
    done: tuple[str, ...] = ()
    skipped: tuple[tuple[str, str], ...] = ()
    notes: tuple[tuple[str, str], ...] = ()
    timers: tuple[tuple[str, str], ...] = ()
    started: str = ""
    ended: str = ""
    outcome: str = ""
    turns: float | None = None

    def finish_step(self, procedure: Procedure, now: datetime) -> Fitting:
        """The step on show is done; the next one comes, or the end."""
        index = procedure.index(self.current)
        key = procedure.steps[index].key
        done = self.done if key in self.done else (*self.done, key)
        return replace(self, done=done)._forward(procedure, index, now)

    def skip_step(self, procedure: Procedure, reason: str, now: datetime) -> Fitting:
        """The step on show is left out, and why.

        Raises
        ------
        InputError
            If there is no reason.
        """
        if not reason.strip():
            raise InputError(_("The reason for skipping is empty."), _("Enter a few words."))
        index = procedure.index(self.current)
        key = procedure.steps[index].key
        rest = tuple(pair for pair in self.skipped if pair[0] != key)
        return replace(self, skipped=(*rest, (key, reason.strip())))._forward(procedure, index, now)

    def _forward(self, procedure: Procedure, index: int, now: datetime) -> Fitting:
        if index + 1 < len(procedure.steps):
            return replace(self, current=procedure.steps[index + 1].key)
        return replace(self, ended=_iso(now), outcome=FINISHED)

    def go_back(self, procedure: Procedure) -> Fitting:
        """The step before; what was done stays noted."""
        index = max(0, procedure.index(self.current) - 1)
        return replace(self, current=procedure.steps[index].key, ended="", outcome="")

    def go_to(self, key: str) -> Fitting:
        """Another step."""
        return replace(self, current=key, ended="", outcome="")

    def stop(self, now: datetime) -> Fitting:
        """Ended by an answer that ends it."""
        return replace(self, ended=_iso(now), outcome=STOPPED)

    def noted(self, key: str, text: str) -> Fitting:
        """A note or reading at a step; an empty one takes it back."""
        rest = tuple(pair for pair in self.notes if pair[0] != key)
        return replace(self, notes=(*rest, (key, text)) if text.strip() else rest)

    def with_timer(self, key: str, now: datetime) -> Fitting:
        """The timer of a step begins now."""
        rest = tuple(pair for pair in self.timers if pair[0] != key)
        return replace(self, timers=(*rest, (key, _iso(now))))

    def note(self, key: str) -> str:
        """What was noted at a step."""
        return dict(self.notes).get(key, "")


@dataclass(frozen=True)
class TimerState:
    """A timer: whether it runs, minutes left (negative: over since), and what is odd about it."""

    running: bool
    left_minutes: float
    odd: str = ""


def timer_state(fitting: Fitting, key: str, minutes: float, now: datetime) -> TimerState:
    """State of a step's timer; it runs on while the program is closed."""
    started = dict(fitting.timers).get(key)
    if started is None:
        return TimerState(False, minutes)
    try:
        begun = datetime.fromisoformat(started)
    except ValueError:
        return TimerState(False, minutes, _("start time unreadable: start it again"))
    gone = now - begun
    if gone < -CLOCK_PLAY:
        return TimerState(
            True,
            minutes,
            _("system clock changed: started {begun}. If wrong, start it again").format(
                begun=moment_words(begun)
            ),
        )
    return TimerState(True, minutes - gone.total_seconds() / 60.0)


def next_key(procedure: Procedure, done: Sequence[str]) -> str:
    """The first step that is not done."""
    for step in procedure.steps:
        if step.key not in done:
            return step.key
    return procedure.steps[-1].key


def _iso(now: datetime) -> str:
    return now.isoformat(timespec="seconds")
