"""A repair on a stage: what was decided, done, skipped and timed, and what is left for after."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import datetime

from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.constants import SIDES
from kesselton.core.errors import InputError, check_known, check_range
from kesselton.core.fit.procedure import Procedure, Step
from kesselton.core.language import N_, Worded, _

CAUSES: dict[str, str] = Worded(
    {
        "gone": N_("head broken"),
        "hole": N_("a small hole or tear"),
        "rod": N_("rod or lug failed"),
        "tuning": N_("out of tune, nothing broken"),
    }
)
"""What happened."""
WAYS: dict[str, str] = Worded(
    {
        "head": N_("change the head"),
        "drum": N_("swap the drum"),
        "nurse": N_("stopgap"),
        "without": N_("borrow one, retune another, or play without"),
    }
)
"""Ways out."""
DONE, BROKEN_OFF = "done", "broken off"
LEAST_MINUTES, MOST_MINUTES = 0.5, 90.0
UNDONE = "undone."
"""Before the key of a step that was not come to."""
NEVER = N_("“{title}” cannot be skipped.")


@dataclass(frozen=True)
class Repair:
    """One repair, as the workshop keeps it.

    Attributes
    ----------
    id : its number in the workshop
    drum_id, side : of which head of which drum; `drum_name` as it was called then
    cause, way : keys of CAUSES and WAYS; `way` "" until it is decided
    head : name of the head that goes on, "" if none does; `other_id` the drum that takes its place
    minutes : until the curtain
    started, ended : ISO times; `outcome` "" while it goes on, else DONE or BROKEN_OFF
    halves : seated by three half turns each
    current : key of the step on show
    done : (key, ISO time) of steps done; skipped : keys of steps skipped
    clearing : rod by rod, each turn a round
    after : work left for after the show, by key: that of a step that was skipped or left out,
        UNDONE and that of one that was not come to, or what the way out leaves (`ways`);
        `ticked` those that were done since
    """

    id: int
    drum_id: int
    drum_name: str
    side: str = "batter"
    cause: str = "gone"
    way: str = ""
    head: str = ""
    other_id: int = 0
    minutes: float = 7.0
    started: str = ""
    ended: str = ""
    outcome: str = ""
    halves: bool = False
    current: str = ""
    done: tuple[tuple[str, str], ...] = ()
    skipped: tuple[str, ...] = ()
    clearing: Clearing = field(default_factory=Clearing)
    after: tuple[str, ...] = ()
    ticked: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        check_known(self.side, SIDES, _("side"))
        check_known(self.cause, CAUSES, _("cause"))
        check_known(self.way, ("", *WAYS), _("way"))
        check_known(self.outcome, ("", DONE, BROKEN_OFF), _("outcome"))
        check_range(self.minutes, LEAST_MINUTES, MOST_MINUTES, _("Time to the curtain"), "min")

    @property
    def name(self) -> str:
        """By which the workshop lists it: the drum, as it was called then."""
        return self.drum_name

    @property
    def open_work(self) -> tuple[str, ...]:
        """What is still to be done after the show."""
        return tuple(text for text in self.after if text not in self.ticked)

    def elapsed_s(self, now: datetime) -> float:
        """Seconds since it began, none before; where the clock was set back, none either."""
        if not self.started:
            return 0.0
        until = datetime.fromisoformat(self.ended) if self.ended else now
        return max((until - datetime.fromisoformat(self.started)).total_seconds(), 0.0)

    def left_s(self, now: datetime) -> float:
        """Seconds to the curtain, below zero once it is up."""
        return 60.0 * self.minutes - self.elapsed_s(now)

    def decided(self, way: str, head: str = "", other_id: int = 0) -> Repair:
        """One way out is taken, from its beginning."""
        return replace(
            self, way=way, head=head, other_id=other_id, current="", done=(), skipped=(), after=()
        )

    # step by step

    def finish_step(self, procedure: Procedure, now: datetime) -> Repair:
        """The step on show is done; the next one comes, or the end."""
        key = procedure.steps[procedure.index(self.current)].key
        rest = tuple(pair for pair in self.done if pair[0] != key)
        skipped = tuple(text for text in self.skipped if text != key)
        changed = replace(self, done=(*rest, (key, _iso(now))), skipped=skipped)
        return changed._forward(procedure, now)

    def skip_step(self, procedure: Procedure, now: datetime) -> Repair:
        """The step on show is left out, and comes up after the show.

        Raises
        ------
        InputError
            If it is one that is never skipped.
        """
        step = procedure.steps[procedure.index(self.current)]
        if step.never_skipped:
            raise InputError(_(NEVER).format(title=step.title), _("Do it, or abandon the repair."))
        done = tuple(pair for pair in self.done if pair[0] != step.key)
        skipped = (*(text for text in self.skipped if text != step.key), step.key)
        return replace(self, skipped=skipped, done=done)._forward(procedure, now)

    def place_in(self, procedure: Procedure) -> tuple[tuple[Step, ...], int]:
        """The steps that are gone through, and which of them is on show."""
        steps = shown(procedure)
        place = next((i for i, step in enumerate(steps) if step.key == self.current), 0)
        return steps, place

    def _forward(self, procedure: Procedure, now: datetime) -> Repair:
        steps, place = self.place_in(procedure)
        if place + 1 < len(steps):
            return replace(self, current=steps[place + 1].key)
        work = after_show(self, procedure)
        return replace(self, ended=_iso(now), outcome=DONE, after=tuple(dict.fromkeys(work)))

    def go_back(self, procedure: Procedure) -> Repair:
        """The step before; what was done stays noted."""
        steps, place = self.place_in(procedure)
        return replace(self, current=steps[max(place - 1, 0)].key, ended="", outcome="")

    def broken_off(self, procedure: Procedure | None, now: datetime) -> Repair:
        """It was given up; what is not done is work for after the show."""
        work = [] if procedure is None else unfinished(self, procedure)
        return replace(self, ended=_iso(now), outcome=BROKEN_OFF, after=tuple(dict.fromkeys(work)))

    def tick(self, work: str, on: bool) -> Repair:
        """Work for after the show is done, or (False) not yet."""
        rest = tuple(text for text in self.ticked if text != work)
        return replace(self, ticked=(*rest, work) if on else rest)


def shown(procedure: Procedure) -> tuple[Step, ...]:
    """Steps that are gone through; the others are left out from the start."""
    return tuple(step for step in procedure.steps if not step.left_out)


def after_show(repair: Repair, procedure: Procedure) -> list[str]:
    """Work that follows from what was skipped, and from what a quick form leaves out; keys."""
    return [
        step.key
        for step in procedure.steps
        if step.after and (step.left_out or step.key in repair.skipped)
    ]


def unfinished(repair: Repair, procedure: Procedure) -> list[str]:
    """The same for a repair that was given up: the steps that were not done."""
    done = {key for key, _unused in repair.done}
    undone = [UNDONE + step.key for step in shown(procedure) if step.key not in done]
    return [*undone, *(step.key for step in procedure.steps if step.left_out and step.after)]


def _iso(now: datetime) -> str:
    return now.isoformat(timespec="seconds")
