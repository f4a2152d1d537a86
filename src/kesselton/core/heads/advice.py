"""What the last head says about the next one, and the part about the pitch (common practice, no
published source)."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.heads.brief import Brief
from kesselton.core.language import N_, _, worded


@worded("label", "advice")
@dataclass(frozen=True)
class Sign:
    """Something that was noticed: what it means for the next head, and how the brief changes."""

    label: str
    advice: str
    values: dict[str, str] = field(default_factory=dict)
    weights: dict[str, float] = field(default_factory=dict)


SIGNS: dict[str, Sign] = {
    "pits": Sign(
        N_("pits early"),
        N_("A tougher head: two plies, a dot, or a thicker ply."),
        {"durability": "long"},
    ),
    "taped": Sign(
        N_("always taped"),
        N_("A head with built-in control: it can be made drier later, never more open."),
        weights={"open": 0.0, "ring": 3.0},
    ),
    "dead": Sign(
        N_("dead at soft strokes"),
        N_("A thinner head: a single undamped ply."),
        {"touch": "light"},
        {"response": 3.0, "open": 2.0},
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
    found = SIGNS[sign]
    weights = {**brief.weights, **found.weights}
    return replace(brief, **found.values, weights=weights)  # type: ignore[arg-type]


def advice(brief: Brief, sign: str = "") -> str:
    """What to mind, in words; "" for nothing."""
    said = [SIGNS[sign].advice] if sign in SIGNS else []
    if brief.density == "busy":
        said.append(_(DENSE))
    return " ".join(said)
