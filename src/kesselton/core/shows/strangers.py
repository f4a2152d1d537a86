"""House drums nobody knows: one stroke each, then the few changes that help most, in order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from kesselton.core.arrays import FloatArray
from kesselton.core.errors import InputError
from kesselton.core.hearing.stroke_lines import pooled
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.measure.plan import at_interval, at_note
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.prediction.prediction import predict
from kesselton.core.sets.model.curve import present_interval
from kesselton.core.sets.model.kit import Member, Wish, ordered, usual_seat
from kesselton.core.sets.search.plan import Plan
from kesselton.core.sets.search.planner import Planner

LOWEST_CENTS, HIGHEST_CENTS = 1000.0, 900.0
"""How far under and over the usual note of its size a stranger's may lie; assumed."""
NEAR_LOUDEST_DB = 22.0
"""The note is the lowest line that is so near to the loudest; assumed."""
LEAST_RING_S = 0.08


@dataclass(frozen=True)
class Stranger:
    """A drum nobody knows, taken for a usual one of its size.

    Attributes
    ----------
    drum : the usual drum, its heads at the interval usual for it, set to the note that was heard
    note_hz, half_cents : as it was heard
    """

    drum: Drum
    note_hz: float
    half_cents: float


def heard_note(samples: FloatArray, rate_hz: float, usual: Drum) -> tuple[float, float]:
    """The note of one stroke on a drum of a known kind and size, and its half-width in cents.

    Raises
    ------
    InputError
        In words, why there is none.

    Notes
    -----
    Theory 103: the lowest line within 22 dB of the loudest that lies where drums of this size can
    sound; nothing else is known of the drum.
    """
    heard = pooled(hear_strokes(samples, rate_hz))
    about = predict(usual).fundamental_hz
    low, high = about * ratio_of(-LOWEST_CENTS), about * ratio_of(HIGHEST_CENTS)
    lines = [x for x in heard if low <= x.hz <= high and x.t60_s > LEAST_RING_S]
    if not lines:
        raise InputError(
            _("No peak from {low:.0f} to {high:.0f} Hz, where this size sounds.").format(
                low=low, high=high
            ),
            _("Check kind and size, strike the center and let it ring."),
        )
    loudest = max(x.level_db for x in lines)
    near = [x for x in lines if x.level_db >= loudest - NEAR_LOUDEST_DB]
    note = min(near, key=lambda x: x.hz)
    return float(note.hz), float(note.half_cents)


def taken_for(usual: Drum, note_hz: float, half_cents: float) -> Stranger:
    """A usual drum of its size, set to the note that was heard.

    Raises
    ------
    KesseltonError
        If no tension gives it that note.
    """
    if usual.resonant is None:
        return Stranger(at_note(usual, note_hz), note_hz, half_cents)
    near = ratio_of(cents_between(predict(usual).fundamental_hz, note_hz))
    start = usual
    for side in usual.sides:
        setting = usual.setting(side)
        hz = setting.reading.hz if setting.reading is not None else None
        if hz is not None:
            start = start.with_setting(side, setting.at_pitch(hz * near))
    return Stranger(at_interval(start, present_interval(usual), note_hz), note_hz, half_cents)


@dataclass(frozen=True, eq=False)
class Advice:
    """What helps strangers most.

    Attributes
    ----------
    members : low to high
    plans : the drums as they are, and after one, two … changes
    """

    members: tuple[Member, ...]
    plans: tuple[Plan, ...]


def few_changes(strangers: Sequence[Stranger], wish: Wish, a4_hz: float, most: int = 3) -> Advice:
    """The changes that help most, each a single drum, in order.

    Raises
    ------
    KesseltonError
        If there are less than two drums, or one cannot be worked out.
    """
    if len(strangers) < 2:
        raise InputError(_("There is nothing to compare yet."), _("Strike at least two drums."))
    members: list[Member] = []
    for number, stranger in enumerate(strangers, start=1):
        seats = tuple(member.seat for member in members)
        members.append(Member(stranger.drum, usual_seat(number, stranger.drum, seats)))
    rising = ordered(members)
    planner = Planner(rising, wish, a4_hz)
    return Advice(rising, tuple(planner.few_changes(most)))
