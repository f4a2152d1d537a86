"""Threads of tension rods."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.language import _


@dataclass(frozen=True)
class Thread:
    """A rod's thread. Sizes by ASME B1.1 and ISO 261 (from memory)."""

    name: str
    label: str
    pitch_m: float
    diameter_m: float


THREADS: dict[str, Thread] = {
    t.name: t
    for t in (
        Thread("no12_24", "No. 12-24", const.METRE_PER_INCH / 24.0, 0.2160 * const.METRE_PER_INCH),
        Thread("no10_32", "No. 10-32", const.METRE_PER_INCH / 32.0, 0.1900 * const.METRE_PER_INCH),
        Thread("quarter_20", "1/4-20", const.METRE_PER_INCH / 20.0, 0.25 * const.METRE_PER_INCH),
        Thread("quarter_28", "1/4-28", const.METRE_PER_INCH / 28.0, 0.25 * const.METRE_PER_INCH),
        Thread("m5", "M5", 0.8e-3, 5e-3),
        Thread("m6", "M6", 1.0e-3, 6e-3),
        Thread("m6_fine", "M6 × 0.75", 0.75e-3, 6e-3),
        Thread("m8", "M8", 1.25e-3, 8e-3),
    )
}


def thread(name: str) -> Thread:
    """The thread called `name`.

    Raises
    ------
    InputError
        If there is none.
    """
    if name not in THREADS:
        raise InputError(
            _("{name!r} is not a rod thread.").format(name=name),
            _("Options: {threads}.").format(threads=", ".join(THREADS)),
            "thread",
        )
    return THREADS[name]
