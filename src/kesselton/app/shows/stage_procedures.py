"""The steps of a stage repair, and the drum it makes."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from kesselton.app.bench.fitting import numbers, stage_file
from kesselton.app.shows.after_show import OTHER_DRUM
from kesselton.core.errors import InputError
from kesselton.core.fit.procedure import Choices, Procedure, build, is_roped
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.language import _

if TYPE_CHECKING:
    pass


def stage_procedure(
    drum: Drum, side: str, halves: bool, a4_hz: float = 440.0, flats: bool = False
) -> Procedure:
    """The steps of changing a head against the clock.

    Raises
    ------
    KesseltonError
        If it is a skin or a rope drum, no stage job, or the head cannot be worked out.
    """
    if is_roped(drum):
        raise InputError(
            _("A rope drum cannot be quick-fitted: the rope settles between passes."),
            _("Swap the drum, or choose a stopgap."),
            "quick",
        )
    choices = Choices(quick=True, halves=halves)
    plan = numbers(drum, side, choices, None, a4_hz, flats)
    return build(drum, side, stage_file(), plan, choices)


def timed(drum: Drum, side: str, halves: bool) -> Procedure:
    """The same steps without their numbers: what they are timed by."""
    from kesselton.core.fit.procedure import Numbers

    return build(drum, side, stage_file(), Numbers(1.0, ""), Choices(quick=True, halves=halves))


@lru_cache(maxsize=16)
def refitted(drum: Drum, side: str, head: Head) -> Drum:
    """The drum with a head on at the lug pitch the old one has; the drum itself where it is on."""
    from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
    from kesselton.core.shows.ways import with_head

    if drum.setting(side).head == head:
        return drum
    return with_head(drum, side, head, lug_pitch(drum, side, tensions(drum)))


WAY_STEPS = {"drum": "swap", "without": "without"}
"""What the steps of a way are called, where the cause does not decide."""


def short_procedure(drum: Drum, side: str, way: str, cause: str, other: Drum | None) -> Procedure:
    """The steps of changing the drum, or of nursing its head."""
    from kesselton.core.fit.procedure import Numbers

    form = WAY_STEPS.get(way) or {"hole": "tape", "rod": "rod"}.get(cause, "tune")
    more = {"other": _(OTHER_DRUM) if other is None else other.name}
    return build(drum, side, stage_file(), Numbers(0.0, ""), Choices(way=form), more)
