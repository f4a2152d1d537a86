"""Who practises, and what was practised: each answer with how hard its question was."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from kesselton.core.errors import InputError, check_moment
from kesselton.core.language import _

RIGHT, WRONG, UNSURE = "right", "wrong", "unsure"
HELPED = "helps"
OUTCOMES = (RIGHT, WRONG, UNSURE)
MOST_PUPILS, MOST_SESSIONS, MOST_TRIALS, LONGEST_NAME = 100, 5000, 400, 80


@dataclass(frozen=True, slots=True)
class Trial:
    """One answer: how hard the question was, in the unit of its exercise, and what came of it."""

    level: float
    outcome: str

    def __post_init__(self) -> None:
        if self.outcome not in OUTCOMES:
            raise InputError(
                _("{outcome!r} is not an outcome.").format(outcome=self.outcome),
                _("Options: {outcomes}.").format(outcomes=", ".join(OUTCOMES)),
            )
        if not math.isfinite(self.level):
            raise InputError(_("A question has no difficulty."), _("Leave it out."))


@dataclass(frozen=True, slots=True)
class Session:
    """One exercise at one time.

    Attributes
    ----------
    exercise : its key; one that is not known any more is kept and not shown
    on : ISO date and time; `seconds` it took
    seed : of its questions: the same again, if wanted
    trials : in order
    threshold, low, high : where three in four answers are right, and where it lies nine times in
        ten; None where the exercise has none
    measures : what else was measured: (name, value); HELPED: with so many helps
    """

    exercise: str
    on: str
    seed: int = 0
    seconds: float = 0.0
    trials: tuple[Trial, ...] = ()
    threshold: float | None = None
    low: float | None = None
    high: float | None = None
    measures: tuple[tuple[str, float], ...] = ()

    def __post_init__(self) -> None:
        check_moment(self.on)

    @property
    def right_share(self) -> float:
        """Answers that were right among all, nan without any."""
        if not self.trials:
            return math.nan
        return sum(trial.outcome == RIGHT for trial in self.trials) / len(self.trials)

    def measure(self, name: str) -> float | None:
        """One of the things measured."""
        return dict(self.measures).get(name)


@dataclass(frozen=True)
class Pupil:
    """Somebody who practises; what one does is shown to nobody else."""

    id: int
    name: str
    sessions: tuple[Session, ...] = ()

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError(_("The name is empty."), _("Enter one."), "name")
        if len(self.name) > LONGEST_NAME:
            raise InputError(
                _("The name is longer than {longest_name} characters.").format(
                    longest_name=LONGEST_NAME
                ),
                _("Shorten it."),
                "name",
            )

    def with_session(self, done: Session) -> Pupil:
        """With one more; the oldest goes where there are too many."""
        return replace(self, sessions=(*self.sessions, done)[-MOST_SESSIONS:])

    def of(self, exercise: str) -> tuple[Session, ...]:
        """The sessions of one exercise, oldest first."""
        return tuple(session for session in self.sessions if session.exercise == exercise)
