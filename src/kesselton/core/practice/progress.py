"""Over weeks: where a pupil's thresholds stand, how they went, and what to practise next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from kesselton.core.constants import SIGMAS_90
from kesselton.core.language import _
from kesselton.core.practice.pupil import HELPED, Pupil, Session
from kesselton.core.practice.threshold import Scale

FRESH_DAYS = 14.0
"""After so long without it an exercise is due again; assumed."""
MASTERED_SHARE, SURE_TRIALS = 0.9, 12
DAY_UNIT_S = 300.0
"""Five minutes a day."""


@dataclass(frozen=True)
class Standing:
    """Where somebody stands in an exercise.

    Attributes
    ----------
    threshold, low, high : of the last session that has one; None without
    share, share_low, share_high : of right answers in all, and where it lies nine times in ten
    sessions, trials : so many
    trend : by what factor the threshold changes in a week, None before three sessions
    days : since the last
    """

    exercise: str
    threshold: float | None
    low: float | None
    high: float | None
    share: float
    share_low: float
    share_high: float
    sessions: int
    trials: int
    trend: float | None
    days: float


def standing(pupil: Pupil, exercise: str, now: datetime) -> Standing | None:
    """Where a pupil stands in an exercise; None if it was never done without help."""
    done = [session for session in pupil.of(exercise) if not session.measure(HELPED)]
    if not done:
        return None
    known = [session for session in done if session.threshold is not None]
    last = known[-1] if known else None
    trials = [trial for session in done for trial in session.trials]
    right = sum(trial.outcome == "right" for trial in trials)
    low, high = share_between(right, len(trials))
    gone = now - datetime.fromisoformat(done[-1].on)
    return Standing(
        exercise,
        None if last is None else last.threshold,
        None if last is None else last.low,
        None if last is None else last.high,
        right / len(trials) if trials else math.nan,
        low,
        high,
        len(done),
        len(trials),
        _trend(known),
        max(gone.total_seconds() / 86400.0, 0.0),
    )


def share_between(right: int, count: int) -> tuple[float, float]:
    """Where a share lies nine times in ten (Wilson 1927)."""
    if count == 0:
        return 0.0, 1.0
    z, share = SIGMAS_90, right / count
    middle = (share + z * z / (2.0 * count)) / (1.0 + z * z / count)
    half = z / (1.0 + z * z / count)
    half *= math.sqrt(share * (1.0 - share) / count + z * z / (4.0 * count * count))
    return max(middle - half, 0.0), min(middle + half, 1.0)


def _trend(known: Sequence[Session]) -> float | None:
    """The factor a week by least squares over the logarithm of thresholds."""
    if len(known) < 3:
        return None
    first = datetime.fromisoformat(known[0].on)
    weeks = [
        (datetime.fromisoformat(session.on) - first).total_seconds() / (7.0 * 86400.0)
        for session in known
    ]
    if weeks[-1] - weeks[0] < 1.0 / 7.0:
        return None
    logs = [math.log(session.threshold) for session in known if session.threshold is not None]
    mean_w, mean_l = sum(weeks) / len(weeks), sum(logs) / len(logs)
    top = sum((w - mean_w) * (y - mean_l) for w, y in zip(weeks, logs, strict=True))
    low = sum((w - mean_w) ** 2 for w in weeks)
    return math.exp(top / low)


def next_exercise(
    pupil: Pupil, exercises: Sequence[tuple[str, int, Scale | None]], now: datetime
) -> tuple[str, str]:
    """What to practise next, and why in words.

    Parameters
    ----------
    exercises : key, group and scale, in the order of difficulty

    Notes
    -----
    In the order of the trade: the first that was never done, unless one that was done stands worse
    than where it began, is not yet sure, or was left for two weeks; then the one left longest.
    """
    stands = {key: standing(pupil, key, now) for key, _number, _scale in exercises}
    for key, _number, scale in exercises:
        progress = stands[key]
        if progress is None:
            return key, _("the next in order")
        if progress.trials < SURE_TRIALS:
            return key, _("not enough answers yet")
        if scale is None and progress.share_high < MASTERED_SHARE:
            return key, _("{share:.0f} % correct so far").format(share=100.0 * progress.share)
        if (
            scale is not None
            and progress.threshold is not None
            and progress.threshold > scale.start
        ):
            return key, _("below your first level")
        if progress.days > FRESH_DAYS:
            return key, _("last done {days:.0f} days ago").format(days=progress.days)
    oldest = max(exercises, key=lambda e: _days(stands[e[0]]))
    return oldest[0], _("done longest ago")


def _days(progress: Standing | None) -> float:
    return math.inf if progress is None else progress.days


def today_s(pupil: Pupil, now: datetime) -> float:
    """Seconds practised today."""
    day = now.date().isoformat()
    return sum(session.seconds for session in pupil.sessions if session.on[:10] == day)
