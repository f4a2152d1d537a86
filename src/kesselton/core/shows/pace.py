"""How long a repair takes: times that are assumed, drawn to what this workshop's repairs took."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from statistics import NormalDist

from kesselton.core.constants import SIGMAS_90
from kesselton.core.fit.procedure import Procedure
from kesselton.core.shows.repair import BROKEN_OFF, DONE, Repair, shown

PRIOR_LN, REPAIR_LN = 0.40, 0.25
"""Of a workshop's pace over the assumed times, and of one repair to the next, ln; assumed."""
SURE = SIGMAS_90
"""Standard deviations that hold nine times in ten."""
LEAST_SHARE = 0.15
"""A step that took less of its time was clicked through, and says nothing of the pace; assumed."""
LEAST_TIMED = 0.4
"""Steps that must have been timed, as a share of all by their times; assumed."""


@dataclass(frozen=True)
class Pace:
    """Times over those assumed.

    Attributes
    ----------
    factor : of the next repair, in the middle; `low`, `high` where it lies nine times in ten
    repairs : it was learned from so many; none: assumed
    """

    factor: float
    low: float
    high: float
    repairs: int

    def chance(self, seconds: float, left_s: float) -> float:
        """Probability that what is assumed to take so long is done in the time left."""
        spread = math.log(self.high / self.factor) / SURE
        ahead = math.log(max(left_s, 1.0) / (self.factor * seconds))
        return NormalDist().cdf(ahead / spread)


def learned(repairs: Sequence[Repair], procedure_of: dict[int, Procedure]) -> Pace:
    """The pace of a workshop, from its repairs: those that were broken off count for the steps that
    were done, for the slow ones are broken off.

    Parameters
    ----------
    procedure_of : the steps of each repair, by its number; those without are left out

    Notes
    -----
    Theory eq. 101: the logarithm of a repair's time over the assumed one is normal about the
    workshop's own, which is normal about zero; conjugate, so closed.
    """
    seen = []
    for repair in repairs:
        procedure = procedure_of.get(repair.id)
        if procedure is not None and repair.outcome in (DONE, BROKEN_OFF):
            ratio = ratio_of_times(repair, procedure)
            if ratio is not None:
                seen.append(math.log(ratio))
    weight = len(seen) / REPAIR_LN**2
    doubt = 1.0 / (1.0 / PRIOR_LN**2 + weight)
    mean = doubt * sum(seen) / REPAIR_LN**2
    away = SURE * math.sqrt(doubt + REPAIR_LN**2)
    return Pace(math.exp(mean), math.exp(mean - away), math.exp(mean + away), len(seen))


def ratio_of_times(repair: Repair, procedure: Procedure) -> float | None:
    """What the steps that were done took over what is assumed; None where that cannot be said.

    A step is timed from the one before, so what was skipped counts for nothing.
    """
    if not repair.started:
        return None
    seconds = {step.key: step.seconds for step in shown(procedure)}
    before = datetime.fromisoformat(repair.started)
    took = assumed = 0.0
    for key, at in sorted(repair.done, key=lambda pair: pair[1]):
        now = datetime.fromisoformat(at)
        gone = (now - before).total_seconds()
        before = now
        if seconds.get(key, 0.0) > 0.0 and gone >= LEAST_SHARE * seconds[key]:
            took += gone
            assumed += seconds[key]
    whole = sum(seconds.values())
    return took / assumed if assumed > LEAST_TIMED * whole and took > 0.0 else None


def needed_s(repair: Repair, procedure: Procedure, pace: Pace) -> float:
    """Seconds that the steps from the one on show to the end still need, skipped ones apart."""
    steps, place = repair.place_in(procedure)
    done = {key for key, _ in repair.done} | set(repair.skipped)
    rest = sum(step.seconds for step in steps[place:] if step.key not in done)
    return pace.factor * rest


def saved_by_skipping(repair: Repair, procedure: Procedure, pace: Pace) -> list[tuple[str, float]]:
    """Steps still to come that may be skipped, by title, and the seconds each would save."""
    steps, place = repair.place_in(procedure)
    return [
        (step.title, pace.factor * step.seconds)
        for step in steps[place:]
        if not step.never_skipped and step.seconds > 0.0 and step.key not in repair.skipped
    ]


def minutes_words(seconds: float) -> str:
    """Minutes and seconds: "3:20", below zero "−0:15".

    Examples
    --------
    >>> minutes_words(200.0)
    '3:20'
    """
    whole = round(abs(seconds))
    sign = "−" if seconds < 0.0 and whole else ""
    return f"{sign}{whole // 60}:{whole % 60:02d}"
