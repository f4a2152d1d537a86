"""What the last head says about the next one, and the part about the pitch (common practice, no
published source)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from kesselton.core.heads.brief import Brief
from kesselton.core.heads.custom import controlled, quick, tough
from kesselton.core.instrument.head import Head
from kesselton.core.language import N_, _, worded


@worded("label", "advice", "instead")
@dataclass(frozen=True)
class Sign:
    """Something that was noticed: what it means for the next head, how the brief changes, and
    which heads follow the advice."""

    label: str
    advice: str
    values: dict[str, str] = field(default_factory=dict)
    weights: dict[str, float] = field(default_factory=dict)
    follows: Callable[[Head], bool] = lambda head: True
    instead: str = ""
    """What to do where no head for the drum does."""


SIGNS: dict[str, Sign] = {
    "pits": Sign(
        N_("pits early"),
        N_("A tougher head: two plies, a dot, or a thicker ply."),
        {"durability": "long"},
        {"wear": 3.0},
        tough,
        N_("No head for this drum is tougher: an impact patch where it is struck."),
    ),
    "taped": Sign(
        N_("always taped"),
        N_("A head with built-in control: it can be made drier later, never more open."),
        weights={"open": 0.0, "ring": 3.0, "control": 5.0},
        follows=controlled,
        instead=N_("No head for this drum has built-in control: muffle it, in Tuning."),
    ),
    "dead": Sign(
        N_("dead at soft strokes"),
        N_("A thinner head: a single undamped ply."),
        {"touch": "light"},
        {"response": 3.0, "open": 2.0},
        quick,
        N_("No thinner head for this drum: loosen it, or use a harder beater."),
    ),
    "low_lost": Sign(
        N_("weak low end, pitch wanders from rod to rod"),
        (
            N_(
                "Check edge and size first: inspect the bare shell in Measure. If the bearing "
                "diameter is too large, part of the collar lies inside it with any head."
            )
        ),
    ),
}
DENSE = N_("A busy part needs a higher, shorter note: try that before a drier head.")


def next_brief(brief: Brief, sign: str) -> Brief:
    """The brief as the next head must be chosen after what was noticed."""
    result = SIGNS[sign]
    weights = {**brief.weights, **result.weights}
    return replace(brief, **result.values, weights=weights)  # type: ignore[arg-type]


def advice(brief: Brief, sign: str = "", heads: Sequence[Head] = ()) -> str:
    """What to mind, in words; "" for nothing.

    Parameters
    ----------
    heads : batter heads on offer for the drum; none: not known
    """
    results = []
    if sign in SIGNS:
        result = SIGNS[sign]
        can = not heads or any(result.follows(head) for head in heads)
        results.append(result.advice if can else result.instead)
    if brief.density == "busy":
        results.append(_(DENSE))
    return " ".join(results)
