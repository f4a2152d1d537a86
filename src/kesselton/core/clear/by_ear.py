"""Rods compared by ear: "higher, lower, alike, cannot tell" as readings with a doubt of their own.

Nobody names a pitch: every rod is heard against one, the first of the round, and how far a "higher"
is follows from how uneven the head still is in this round.
"""

from __future__ import annotations

from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.errors import InputError
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.pitch import ratio_of

HIGHER, LOWER, ALIKE, UNSURE = "higher", "lower", "alike", "unsure"
ANSWERS = (HIGHER, LOWER, ALIKE, UNSURE)
FIRST_ROUND_CENTS, LEAST_CENTS = 60.0, 8.0
"""How far rods lie apart before clearing, one standard deviation: up to a half step is usual
(common practice, no published source); and the least an ear parts at a rod (assumed)."""
EACH_ROUND = 0.55
"""What a round leaves of it; from trials on the simulated head."""
MEAN, SPREAD = 0.80, 0.60
"""Mean and standard deviation of the positive half of a normal distribution (handbooks)."""
ALIKE_CENTS = 6.0
"""Two taps one after the other that are called alike, one standard deviation; assumed."""


def expected_cents(clearing: Clearing) -> float:
    """How far a rod may be from another in the round that is being read, one standard deviation."""
    turned = sum(1 for record in clearing.rounds if any(record.turns))
    return max(FIRST_ROUND_CENTS * EACH_ROUND**turned, LEAST_CENTS)


def reference(clearing: Clearing) -> Reading | None:
    """The reading of this round that the others are compared with; None before the first."""
    return next((tap for tap in clearing.now.taps if tap.kind == "lug_pitch"), None)


def heard_by_ear(clearing: Clearing, rod: int, answer: str, plain_hz: float) -> Reading:
    """What an answer about a rod means as a reading.

    Parameters
    ----------
    plain_hz : the lug pitch the head is near; it stands for the first rod, whatever is answered

    Raises
    ------
    InputError
        If there is no such answer.
    """
    if answer not in ANSWERS:
        raise InputError(
            _("{answer!r} is not an answer.").format(answer=answer),
            _("Options: {answers}.").format(answers=", ".join(ANSWERS)),
        )
    against = reference(clearing)
    if against is None or against.rod == rod:
        return at_rod("lug_pitch", rod, plain_hz, ALIKE_CENTS)
    apart = expected_cents(clearing)
    if answer == ALIKE:
        return at_rod("lug_pitch", rod, against.value, ALIKE_CENTS)
    if answer == UNSURE:
        return at_rod("lug_pitch", rod, against.value, 0.5 * apart)
    sign = 1.0 if answer == HIGHER else -1.0
    value = against.value * ratio_of(sign * MEAN * apart)
    return at_rod("lug_pitch", rod, value, SPREAD * apart)
