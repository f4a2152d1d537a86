"""Whether strokes stay apart at a tempo: what is left of one when the next comes."""

from __future__ import annotations

from typing import NamedTuple

from kesselton.core.errors import check_range
from kesselton.core.language import N_, _

SLOWEST_BPM, FASTEST_BPM = 30.0, 300.0
USUAL_BPM = 120.0
APART_DB, RUNS_TOGETHER_DB = 10.0, 5.0
"""A stroke that stands 10 dB over what is left is about twice as loud (S. S. Stevens, J. Acoust.
Soc. Am. 28, 807 (1956), from memory); where it runs together is assumed."""
NOTES = ((N_("eighths"), 2.0), (N_("sixteenths"), 4.0))
"""Of the beat."""


class Falls(NamedTuple):
    """How far a stroke has fallen when the next one comes.

    Attributes
    ----------
    note : "eighths", "sixteenths", in the language in use
    seconds : from stroke to stroke
    db : the fall
    """

    note: str
    seconds: float
    db: float

    @property
    def words(self) -> str:
        """How that is heard, in the language in use."""
        if self.db >= APART_DB:
            return _("clear")
        return _("muddy") if self.db < RUNS_TOGETHER_DB else _("dense")


def falls(t60_s: float, tempo_bpm: float) -> tuple[Falls, ...]:
    """What is left of a stroke at a tempo, in quarters a minute.

    Raises
    ------
    InputError
        If the tempo is none.

    Examples
    --------
    >>> [(one.note, round(one.db)) for one in falls(1.2, 120.0)]
    [('eighths', 12), ('sixteenths', 6)]
    """
    check_range(tempo_bpm, SLOWEST_BPM, FASTEST_BPM, _("Tempo"), _("beats/min"), "tempo")
    quarter = 60.0 / tempo_bpm
    return tuple(
        Falls(_(note), quarter / parts, 60.0 * quarter / parts / t60_s) for note, parts in NOTES
    )
