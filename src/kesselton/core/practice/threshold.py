"""A threshold by few questions, each as hard as tells most (theory 104 to 106)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import check_range
from kesselton.core.language import _
from kesselton.core.practice.pupil import RIGHT, UNSURE, WRONG, Trial

SLOPE = 3.5
"""Of the psychometric function over the decimal logarithm of the level (Watson and Pelli 1983, from
memory; theirs is for contrast)."""
SLIP = 0.02
"""Answers that are wrong however easy the question is; assumed."""
PRIOR_LOG10 = 0.5
"""Doubt about a threshold before the first answer, decimal logarithm; assumed."""
GRID = 241
SIDE_QUANTILE = 0.05
FIRST_EASY = 3
"""So many questions at first are made easier than the best guess: a pupil hears what is asked."""
EASIER = (4.0, 2.5, 1.6)


@dataclass(frozen=True)
class Scale:
    """Levels of an exercise: the larger, the easier.

    Attributes
    ----------
    hardest, easiest : between which it is asked
    start : where a beginner's threshold is taken to be
    guess : share of right answers by chance
    """

    hardest: float
    easiest: float
    start: float
    guess: float = 0.5

    def __post_init__(self) -> None:
        check_range(self.hardest, 1e-6, self.easiest, _("The hardest level"), "")
        check_range(self.start, self.hardest, self.easiest, _("The first level"), "")
        check_range(self.guess, 0.0, 0.9, _("The share by chance"), "")


@dataclass(frozen=True)
class Estimate:
    """Where four in five answers are right: middle, and where it lies nine times in ten."""

    threshold: float
    low: float
    high: float
    sd_log10: float


class Quest:
    """What a threshold may be, after some answers; and what to ask next.

    Notes
    -----
    Watson and Pelli, "QUEST: a Bayesian adaptive psychometric method", Perception & Psychophysics
    33 (1983) 113 to 120: a prior over the logarithm of the threshold, a Weibull function for the
    answers; asked next at the mean of what is left (King-Smith and others, Vision Research 34
    (1994) 885 to 912). "Cannot tell" is an answer of those who do not hear it: it is as likely at
    every level they do not, so it tells as a wrong one does, and whoever says it guesses less.
    """

    def __init__(self, scale: Scale, trials: Sequence[Trial] = ()) -> None:
        self.scale = scale
        low, high = math.log10(scale.hardest), math.log10(scale.easiest)
        self.grid: FloatArray = np.linspace(low - 0.5, high + 0.5, GRID)
        self._prior = -0.5 * ((self.grid - math.log10(scale.start)) / PRIOR_LOG10) ** 2
        self.trials: list[Trial] = list(trials)
        self._log = self._reckoned()

    def add(self, trial: Trial) -> None:
        """An answer more."""
        self.trials.append(trial)
        self._log = self._reckoned()

    def _reckoned(self) -> FloatArray:
        """(GRID,) logarithm of how likely each threshold is, after all answers: how often somebody
        says "cannot tell" is told by all of them."""
        unsure = sum(trial.outcome == UNSURE for trial in self.trials)
        wrong = sum(trial.outcome == WRONG for trial in self.trials)
        guess = self.scale.guess
        missed = wrong / max(1.0 - guess, 0.1)
        says = (unsure + 1.0) / (unsure + missed + 2.0) if unsure else 0.0
        out: FloatArray = self._prior.copy()
        for attempt in self.trials:
            heard = self._heard(math.log10(attempt.level))
            if attempt.outcome == RIGHT:
                chance = heard * (1.0 - SLIP) + (1.0 - heard) * (1.0 - says) * guess
            elif attempt.outcome == UNSURE:
                chance = 1.0 - heard + SLIP * heard
            else:
                chance = heard * SLIP + (1.0 - heard) * (1.0 - guess)
            out += np.log(np.maximum(chance, 1e-12))
        return out

    def _heard(self, log_level: float) -> FloatArray:
        """(GRID,) that it is heard at a level, for every threshold."""
        away = np.clip(SLOPE * (log_level - self.grid), -6.0, 3.0)
        out: FloatArray = 1.0 - np.exp(-(10.0**away))
        return out

    @property
    def weights(self) -> FloatArray:
        """(GRID,) how likely each threshold is."""
        weight = np.exp(self._log - self._log.max())
        out: FloatArray = weight / weight.sum()
        return out

    def next_level(self) -> float:
        """How hard the next question is: the mean of what is left, the first ones easier."""
        mean = float(self.weights @ self.grid)
        level = 10.0**mean
        if len(self.trials) < FIRST_EASY:
            level *= EASIER[len(self.trials)]
        return float(np.clip(level, self.scale.hardest, self.scale.easiest))

    def estimate(self) -> Estimate:
        """Where the threshold is."""
        weight = self.weights
        mean = float(weight @ self.grid)
        sd = math.sqrt(float(weight @ (self.grid - mean) ** 2))
        summed = np.cumsum(weight)
        low, high = np.interp((SIDE_QUANTILE, 1.0 - SIDE_QUANTILE), summed, self.grid)
        return Estimate(10.0**mean, 10.0 ** float(low), 10.0 ** float(high), sd)


def right_share(level: float, threshold: float, guess: float) -> float:
    """How often a listener is right at a level: the Weibull function of theory 104."""
    heard = 1.0 - math.exp(-((level / threshold) ** SLOPE))
    return heard * (1.0 - SLIP) + (1.0 - heard) * guess


def least_sd_log10(trials: int, guess: float = 0.5) -> float:
    """The least standard deviation any method can have after so many answers (Cramér and Rao):
    theory 106, every question at the level that tells most."""
    levels = np.linspace(-0.5, 0.5, 401)
    u = 10.0 ** (SLOPE * levels)
    share = (1.0 - np.exp(-u)) * (1.0 - SLIP) + np.exp(-u) * guess
    steep = (1.0 - SLIP - guess) * SLOPE * math.log(10.0) * u * np.exp(-u)
    value = float(np.max(steep**2 / (share * (1.0 - share))))
    return 1.0 / math.sqrt(trials * value)
