"""Heads so near each other that one may speak for the others, where there are too many to try."""

from __future__ import annotations

from collections.abc import Sequence

from kesselton.core.instrument.head import Head

STEPS = (0.005, 0.01, 0.02, 0.04, 0.08, 0.16, 0.32, 0.64)
"""How far apart the areal densities of heads that are alike may be; the first that is enough."""
STIFF = 0.15
"""And the thickness of the film under it, by which its stiffness and loss go: so much further."""


def groups(heads: Sequence[Head], apart: float) -> list[list[Head]]:
    """Heads of one construction whose areal density is within `apart` of the lightest of a group.

    The head in the middle of a group comes first: it speaks for the others.
    """
    kinds: dict[tuple[object, ...], list[Head]] = {}
    for head in heads:
        kinds.setdefault(_construction(head), []).append(head)
    results = []
    for members in kinds.values():
        members.sort(key=lambda head: head.base_density_kg_per_m2)
        group = [members[0]]
        for head in members[1:]:
            first = group[0]
            near = head.base_density_kg_per_m2 <= first.base_density_kg_per_m2 * (1.0 + apart)
            thick = max(first.film_thickness_m, 1e-6)
            if near and abs(head.film_thickness_m - thick) <= (apart + STIFF) * thick:
                group.append(head)
            else:
                results.append(_middle_first(group))
                group = [head]
        results.append(_middle_first(group))
    return results


def few_groups(
    batters: Sequence[Head], resonants: Sequence[Head], most: int
) -> tuple[list[list[Head]], list[list[Head]], float]:
    """Groups of both sides, no more than `most` pairs, and how far apart heads in them are.

    Where even the widest groups are too many, every construction is one.
    """
    for apart in STEPS:
        upper, lower = groups(batters, apart), groups(resonants, apart) if resonants else []
        if len(upper) * max(len(lower), 1) <= most:
            break
    return upper, lower, apart


def _middle_first(group: list[Head]) -> list[Head]:
    middle = group[len(group) // 2]
    return [middle, *(head for head in group if head is not middle)]


def _construction(head: Head) -> tuple[object, ...]:
    """What must be the same of heads that are alike; sizes of dots and rings to a tenth."""
    additions = tuple(
        (
            addition.kind,
            round(20.0 * addition.inner_radius_m),
            round(20.0 * addition.outer_radius_m),
        )
        for addition in head.additions
    )
    return (
        head.material, len(head.plies_m), bool(head.coating_kg_per_m2), head.interlayer,
        head.edge_vents, round(50.0 * head.port_diameter_m), additions,
    )  # fmt: skip
