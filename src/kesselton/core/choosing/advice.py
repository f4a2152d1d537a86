"""What the last head says about the next one, and the part about the pitch (common practice, no
published source)."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.choosing.brief import Brief


@dataclass(frozen=True)
class Sign:
    """Something that was noticed: what it means for the next head, and how the brief changes."""

    label: str
    advice: str
    values: dict[str, str] = field(default_factory=dict)
    weights: dict[str, float] = field(default_factory=dict)


SIGNS: dict[str, Sign] = {
    "pits": Sign(
        "pitted early",
        "A tougher head: two plies, a dot, or a thicker ply.",
        {"durability": "long"},
    ),
    "taped": Sign(
        "always taped",
        "Control built in: it can be made deader, never more open again.",
        weights={"open": 0.0, "ring": 3.0},
    ),
    "dead": Sign(
        "dead when played softly",
        "A thinner head: one open ply.",
        {"touch": "light"},
        {"response": 3.0, "open": 2.0},
    ),
    "low_lost": Sign(
        "low end lost, pitch rolls from rod to rod",
        "Edge or size before the head: judge the bare shell in Measure. A contact circle too large "
        "leaves part of the collar inside, whatever head is bought.",
    ),
}
DENSE = "A dense part asks for a higher, shorter note: consider that before a deader head."


def next_brief(brief: Brief, sign: str) -> Brief:
    """The brief as the next head must be chosen after what was noticed."""
    found = SIGNS[sign]
    weights = {**brief.weights, **found.weights}
    return replace(brief, **found.values, weights=weights)  # type: ignore[arg-type]


def advice(brief: Brief, sign: str = "") -> str:
    """What to mind, in words; "" for nothing."""
    said = [SIGNS[sign].advice] if sign in SIGNS else []
    if brief.density == "busy":
        said.append(DENSE)
    return " ".join(said)
