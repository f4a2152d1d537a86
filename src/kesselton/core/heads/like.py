"""A stroke that was heard, as what a drum shall be like."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from kesselton.core.constants import HIGHEST_PITCH_HZ
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import _

MOST_LINES = 24
COUNTS_DB = -30.0
LOWEST_HZ = 15.0


@dataclass(frozen=True, slots=True)
class LikeLine:
    """A line of the stroke: hertz at rest, T60, and how far under the loudest."""

    hz: float
    t60_s: float
    level_db: float


@dataclass(frozen=True)
class Like:
    """A stroke to be like: its note, and its lines, the loudest.

    Attributes
    ----------
    name : what it is of, in words
    fundamental_hz : its note, at rest
    """

    name: str
    fundamental_hz: float
    lines: tuple[LikeLine, ...]

    def __post_init__(self) -> None:
        check_range(self.fundamental_hz, LOWEST_HZ, HIGHEST_PITCH_HZ, _("Note"), "Hz", "like")
        if not self.lines or len(self.lines) > MOST_LINES:
            raise InputError(
                _("The stroke to match has {lines} peaks.").format(lines=len(self.lines)),
                _("Use 1 to {most_lines}.").format(most_lines=MOST_LINES),
                "like.lines",
            )
        for line in self.lines:
            check_range(
                line.hz, LOWEST_HZ, 2.0 * HIGHEST_PITCH_HZ, _("Peak"), "Hz", "like.lines.hz"
            )
            check_range(line.t60_s, 0.005, 60.0, _("T60"), "s", "like.lines.t60_s")
            check_range(line.level_db, -200.0, 0.0, _("Level"), "dB", "like.lines.level_db")

    @property
    def t60_s(self) -> float:
        """How long its note rings."""
        return min(self.lines, key=lambda line: abs(math.log(line.hz / self.fundamental_hz))).t60_s


def like_of(name: str, fundamental_hz: float, lines: Sequence[tuple[float, float, float]]) -> Like:
    """A stroke to be like, from its lines (hertz, T60, level): those that count.

    Raises
    ------
    InputError
        If there is none.
    """
    counted = sorted((line for line in lines if line[2] >= COUNTS_DB), key=lambda line: -line[2])
    top = counted[0][2] if counted else 0.0
    like_lines = [
        LikeLine(hz, t60, min(level - top, 0.0)) for hz, t60, level in counted[:MOST_LINES]
    ]
    return Like(name, fundamental_hz, tuple(sorted(like_lines, key=lambda line: line.hz)))
