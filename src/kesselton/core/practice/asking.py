"""What every exercise needs to ask: the choices, the random draw, the equal loudness."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import N_
from kesselton.core.pitch import cents_between
from kesselton.core.practice.question import Lines, Question, Seen
from kesselton.core.prediction.render import Sound, match_all

FIRST, SECOND = "first", "second"


HIGHER, LOWER, SAME, OTHER = "higher", "lower", "same", "other"


TWO = ((FIRST, N_("the first")), (SECOND, N_("the second")))


UP_DOWN = ((HIGHER, N_("higher")), (LOWER, N_("lower")))


AIDS = {"damped": Muffler("hand", "batter", 0.0), "muted": Muffler("pillow", "resonant", 0.3)}
"""What lies on the drum as a help."""


@dataclass(frozen=True, eq=False)
class Ask:
    """What a question is made for."""

    exercise: str
    seed: int
    level: float
    helps: frozenset[str]
    rng: np.random.Generator

    def question(
        self,
        asks: str,
        answers: tuple[tuple[str, str], ...],
        right: str,
        truth: str,
        sounds: tuple[Sound, ...] = (),
        lines: tuple[Lines, ...] = (),
        seen: Seen | None = None,
    ) -> Question:
        """The question, its sounds equally loud."""
        level = tuple(match_all(list(sounds))) if len(sounds) > 1 else sounds
        return Question(
            self.exercise, self.seed, self.level, asks, answers, right, truth, level,
            lines, seen,
        )  # fmt: skip

    @property
    def coin(self) -> bool:
        """Either, by chance."""
        return bool(self.rng.random() < 0.5)


def interval_between_heads(drum: Drum) -> float:
    lug_pitch, other = drum.batter.reading, drum.setting("resonant").reading
    assert lug_pitch is not None
    assert other is not None
    return cents_between(lug_pitch.hz, other.hz)
