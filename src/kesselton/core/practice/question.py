"""A question of an exercise: what is heard or seen, what may be answered, what is right."""

from __future__ import annotations

from dataclasses import dataclass, field

from kesselton.core.arrays import FloatArray
from kesselton.core.prediction.render import Sound

UNSURE_KEY = "unsure"


@dataclass(frozen=True, eq=False)
class Lines:
    """What sounded, for the picture afterwards: hertz and dB under the loudest, (L,)."""

    label: str
    hz: FloatArray
    level_db: FloatArray


@dataclass(frozen=True)
class Seen:
    """What is seen instead of heard: a drum drawn in true proportion.

    Attributes
    ----------
    kind : "hoop", "head", "collar", "wrinkles", "rope" or "hide"
    diameter_m, depth_m, rods : of the drum
    where : direction of the fault, radians from rod 1, clockwise; nan where there is none
    size_m : how large it is: hoop lower there than opposite, head out of its middle, height of the
        collar, height of a wrinkle, sag of a run of rope; of a hide, how strong its grain is
    """

    kind: str
    diameter_m: float
    depth_m: float
    rods: int
    where: float
    size_m: float


@dataclass(frozen=True, eq=False)
class Question:
    """One question.

    Attributes
    ----------
    exercise, seed, level : the same again gives the same question
    asks : in words
    sounds : one after the other
    answers : (key, label); "cannot tell" stands beside them always
    right : key of the right one
    truth : said after the answer: what it was, in figures
    lines : seen after the answer; `seen` is the question itself
    """

    exercise: str
    seed: int
    level: float
    asks: str
    answers: tuple[tuple[str, str], ...]
    right: str
    truth: str
    sounds: tuple[Sound, ...] = ()
    lines: tuple[Lines, ...] = field(default=())
    seen: Seen | None = None
