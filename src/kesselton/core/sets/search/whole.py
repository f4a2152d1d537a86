"""A whole set: its drums solved as they stand, planned, and set to what is wanted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from kesselton.core.heads.brief import TOUCHES
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.measure.head_to_head import drawn_along
from kesselton.core.measure.plan import at_interval, at_note
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.sets.model.chords import hz_of
from kesselton.core.sets.model.curve import drum_curves, present_interval
from kesselton.core.sets.model.kit import PLACES, Member, Wish, distance_m, naming
from kesselton.core.sets.search.choice import note_now, offers
from kesselton.core.sets.search.field import Field, Spot
from kesselton.core.sets.search.plan import Plan
from kesselton.core.sets.search.planner import Planner
from kesselton.core.sets.search.reasons import Helping, helping_head, stretched
from kesselton.core.sets.together.answering import Answer, Ready, matrix, ready
from kesselton.core.sets.together.balance import Heard, balance


@dataclass(frozen=True, eq=False)
class SolvedSet:
    """A set as it is set now; everything by the number of the drum in `members`.

    Attributes
    ----------
    fields : where each drum can be dragged to; spots : where it stands
    answers : rows the struck, columns the answering
    rough : roughness of each pair
    heard : by place, how loud each drum is there
    """

    members: tuple[Member, ...]
    predictions: tuple[Prediction, ...]
    ready: tuple[Ready, ...]
    fields: tuple[Field, ...]
    spots: tuple[Spot, ...]
    answers: list[list[Answer | None]]
    heard: Mapping[str, list[Heard]]


@dataclass(frozen=True, eq=False)
class Planned:
    """What a set can be tuned to: the best plans, and the few changes that help most.

    Attributes
    ----------
    few : the set as it is, and after one, two … changes
    helping : for each plan the head that would help its stretched drum, None where none is
        stretched or none helps
    """

    members: tuple[Member, ...]
    wish: Wish
    plans: tuple[Plan, ...]
    few: tuple[Plan, ...]
    helping: tuple[Helping | None, ...]


def solve(members: tuple[Member, ...], wish: Wish, a4_hz: float) -> SolvedSet:
    """A set worked out as it is set now.

    Raises
    ------
    KesseltonError
        Naming the drum that cannot be worked out.
    """
    touch = TOUCHES[wish.touch].value
    predictions, results, fields, spots = [], [], [], []
    for member in members:
        with naming(member):
            stroke = Stroke(beater=TYPICAL_BEATER[member.drum.kind], touch=touch)
            predictions.append(predict(member.drum, stroke))
            results.append(ready(predictions[-1]))
            curves = drum_curves(member.drum, offers(member, wish), touch, a4_hz)
            fields.append(Field.of(curves))
            interval = present_interval(member.drum)
            spots.append(Spot(note_now(member.drum, fields[-1].near(interval)), interval))
    away = np.array([[distance_m(a.seat, b.seat) for b in members] for a in members])
    return SolvedSet(
        members,
        tuple(predictions),
        tuple(results),
        tuple(fields),
        tuple(spots),
        matrix(results, [prediction.stroke for prediction in predictions], away),
        {place: balance(members, predictions, place) for place in PLACES},
    )


def plan(members: tuple[Member, ...], wish: Wish, heads: Sequence[Head], a4_hz: float) -> Planned:
    """The best plans of a set, and the few changes that help most."""
    planner = Planner(members, wish, a4_hz)
    plans = planner.best()
    few = planner.few_changes()
    helping: list[Helping | None] = []
    for candidate in plans:
        worst = stretched(candidate)
        if worst is None:
            helping.append(None)
        else:
            helping.append(helping_head(candidate.drums[worst], members[worst], wish, heads, a4_hz))
    return Planned(members, wish, tuple(plans), tuple(few), tuple(helping))


def as_planned(solved_set: SolvedSet, wanted: Plan, a4_hz: float) -> list[Prediction]:
    """The drums of a set as a plan has them.

    Raises
    ------
    KesseltonError
        If one of them cannot be set so.
    """
    out = []
    for member, now, tuning in zip(
        solved_set.members, solved_set.predictions, wanted.drums, strict=True
    ):
        if tuning.as_is or member.seat.locked:
            out.append(now)
            continue
        spot = Spot(tuning.note_cents, tuning.interval_cents)
        drum = set_to(member.drum, spot, a4_hz, tuning.pitches_hz)
        out.append(predict(drum, now.stroke))
    return out


def set_to(drum: Drum, spot: Spot, a4_hz: float, near_hz: Sequence[float] = ()) -> Drum:
    """A drum at a note and an interval between its heads, solved in full; `near_hz` are the lug
    pitches that come near to it, from which the solution is looked for.

    Raises
    ------
    KesseltonError
        If it cannot be set so.
    """
    hz = hz_of(spot.note, a4_hz)
    for side, pitch in zip(drum.sides, near_hz, strict=False):
        drum = drum.with_setting(side, drum.setting(side).at_pitch(float(pitch)))
    if drum.resonant is None:
        return at_note(drum, hz)
    if drum.one_pull is not None:
        held = at_interval(drum, spot.interval, hz)
        reading = held.batter.reading
        assert reading is not None
        return drawn_along(drum, "batter", reading.hz)
    return at_interval(drum, spot.interval, hz)
