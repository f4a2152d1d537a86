"""What can be done about a drum in the minutes there are: another head or drum, or nursing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.clear.simulated import Hidden, SimulatedHead
from kesselton.core.constants import CENTS_PER_NEPER, METRE_PER_INCH
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.procedure import is_roped
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import head_size_in, is_snare_side
from kesselton.core.instrument.muffler import MAX_MUFFLERS, Muffler
from kesselton.core.language import N_, _
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.shows.pace import Pace
from kesselton.core.shows.repair import WAYS

SWAP_S = {"tom": 60.0, "snare": 75.0, "bass": 240.0, "concert_bass": 420.0, "rope": 60.0}
"""Another drum set in the place of one; assumed."""
TAPE_S, LOWER_S, EASE_S, TUNE_S = 40.0, 25.0, 50.0, 120.0
"""Tape on a clean dry head, a head let down, the neighbors of a lost rod drawn up, a head tuned by
its worst rods; assumed."""
WITHOUT_S = 70.0
"""Asking for a loan, and telling conductor and player what will be heard; assumed."""
HOLE_LOWER_CENTS = 200.0
"""How far a head with a small hole is let down: a tear runs with tension (common practice, no
published source)."""
NEAR_SIZE_M = 2.1 * METRE_PER_INCH
"""Another drum takes the place of one whose diameter is within two inches; assumed."""
OFF_CENTS, OFF_RING, LATE, WORK = 100.0, 0.35, 6.0, 0.15
"""What costs one in the order of the ways: so many cents off the note, such a logarithm of the
ring; being late for sure; a piece of work left. All assumed."""
NO_SKIN = N_("skin takes days to dry: not a stage repair")
NO_ROPE = N_("rope tensioning needs settling time: not a stage repair")


@dataclass(frozen=True)
class Way:
    """One way out.

    Attributes
    ----------
    way : key of WAYS
    title : in words; `head` the name of the head that goes on, `other_id` the other drum's number
    seconds, low_s, high_s : it takes, in the middle and nine times in ten
    in_time : probability that it is done before the curtain
    note_hz, off_cents : of the whole drum, and against what it was set to
    ring_s, ring_ratio : T60 of its note, and over what it was
    sounds : what will be heard otherwise, in words
    after : work left for after the show
    refused : why it cannot be, "" where it can; the figures are nan then
    stock : how many of the head lie in the store
    cost : the order of the ways; small is good
    """

    way: str
    title: str
    head: str = ""
    other_id: int = 0
    seconds: float = math.nan
    low_s: float = math.nan
    high_s: float = math.nan
    in_time: float = 0.0
    note_hz: float = math.nan
    off_cents: float = math.nan
    ring_s: float = math.nan
    ring_ratio: float = math.nan
    sounds: str = ""
    after: tuple[str, ...] = ()
    refused: str = ""
    stock: int = 0
    cost: float = math.inf


@dataclass(frozen=True)
class Spare:
    """A head in the store, and how many."""

    head: Head
    size_in: float
    stock: int


def ways(
    drum: Drum,
    side: str,
    cause: str,
    left_s: float,
    change_s: float,
    pace: Pace,
    spares: Sequence[Spare],
    others: Sequence[tuple[int, Drum]],
) -> list[Way]:
    """Every way out, the best first; those that cannot be come last, with the reason.

    Parameters
    ----------
    cause : key of repair.CAUSES
    left_s : until the curtain
    change_s : the steps of changing this head take, as assumed
    spares : heads of the store
    others : drums of the workshop that do not play, with their numbers

    Raises
    ------
    KesseltonError
        If the drum itself cannot be computed.

    Notes
    -----
    Order: theory eq. 102; what it weighs is assumed. A head that goes on is set to the lug pitch
    the old one had.
    """
    now = predict(drum)
    out: list[Way] = []
    skin, roped = drum.setting(side).head.is_skin, is_roped(drum)
    size = head_size_in(drum)
    fitting = [spare for spare in spares if abs(spare.size_in - size) < 0.01 and spare.stock > 0]
    fitting = [spare for spare in fitting if suits(drum, side, spare.head)]
    if cause == "rod":
        out.append(
            Way("head", WAYS["head"], refused=_("a new head needs every rod: repair the rod first"))
        )
    elif roped:
        out.append(Way("head", WAYS["head"], refused=_(NO_SKIN) if skin else _(NO_ROPE)))
    elif not fitting:
        snare_side = drum.kind == "snare" and side == "resonant"
        what = _("snare-side head") if snare_side else _("film head")
        why = _("no {size:g} in {what} in stock").format(size=size, what=what)
        if skin:
            why = f"{_(NO_SKIN)}; {why}"
        out.append(Way("head", WAYS["head"], refused=why))
    else:
        for candidate in fitting:
            out.append(_changed(drum, side, candidate, now, left_s, change_s, pace))
    out += _swapped(drum, now, left_s, pace, others)
    out.append(_nursed(drum, side, cause, now, left_s, pace))
    if all(way.refused for way in out):
        out.append(_without(now, left_s, pace))
    return sorted(out, key=lambda item: (bool(item.refused), item.cost))


def _without(now: Prediction, left_s: float, pace: Pace) -> Way:
    """What is left where nothing can be done to the drum: somebody has to be asked or told."""
    way = Way("without", WAYS["without"], after=("broken_left",))
    judged = _judged(way, now, now, WITHOUT_S, left_s, pace)
    return replace(judged, sounds=_("to be taken over"))


def suits(drum: Drum, side: str, head: Head) -> bool:
    """Whether a head may go on a side on a stage: film, and a snare side where one belongs."""
    if head.is_skin:
        return False
    wanted = drum.kind == "snare" and side == "resonant"
    return is_snare_side(head.film_thickness_m, head.material) == wanted


def with_head(drum: Drum, side: str, head: Head, lug_pitch_hz: float) -> Drum:
    """The drum with a new head at the lug pitch the old one had; what lay on it is off."""
    setting = replace(drum.setting(side).at_pitch(lug_pitch_hz), head=head)
    bare = replace(drum, mufflers=tuple(m for m in drum.mufflers if m.side != side))
    return bare.with_setting(side, setting)


def _changed(
    drum: Drum, side: str, spare: Spare, now: Prediction, left_s: float, change_s: float, pace: Pace
) -> Way:
    title = f"{spare.head.name}"
    try:
        hz = now.lug_pitches_hz[drum.sides.index(side)]
        prediction = predict(with_head(drum, side, spare.head, hz))
    except KesseltonError as error:
        return Way("head", title, spare.head.name, refused=f"{error.message}", stock=spare.stock)
    way = Way(
        "head", title, spare.head.name, stock=spare.stock,
        after=("settle",),
    )  # fmt: skip
    return _judged(way, now, prediction, change_s, left_s, pace)


def _swapped(
    drum: Drum, now: Prediction, left_s: float, pace: Pace, others: Sequence[tuple[int, Drum]]
) -> list[Way]:
    out = []
    for number, other in others:
        gap = abs(other.shell.head_diameter_m - drum.shell.head_diameter_m)
        if other.kind != drum.kind or gap > NEAR_SIZE_M:
            continue
        try:
            prediction = predict(other)
        except KesseltonError as error:
            out.append(Way("drum", other.name, other_id=number, refused=error.message))
            continue
        way = Way(
            "drum", other.name, other_id=number,
            after=("return",),
        )  # fmt: skip
        out.append(_judged(way, now, prediction, SWAP_S[drum.kind], left_s, pace))
    if not out:
        out.append(
            Way(
                "drum",
                WAYS["drum"],
                refused=(_("no other drum of this kind and size is available")),
            )
        )
    return out


def _nursed(drum: Drum, side: str, cause: str, now: Prediction, left_s: float, pace: Pace) -> Way:
    """What can be done with the head that is on."""
    if cause == "gone":
        return Way("nurse", WAYS["nurse"], refused=_("a broken head cannot be patched"))
    hz = now.lug_pitches_hz[drum.sides.index(side)]
    if cause == "hole":
        if len(drum.mufflers) >= MAX_MUFFLERS:
            return Way("nurse", WAYS["nurse"], refused=_("too much muffling to fit tape"))
        lower = hz * ratio_of(-HOLE_LOWER_CENTS)
        taped = replace(drum, mufflers=(*drum.mufflers, Muffler("tape", side, 0.4)))
        taped = taped.with_setting(side, taped.setting(side).at_pitch(lower))
        way = Way(
            "nurse", _("tape on both sides, tuned a whole step down"),
            after=("tape_lower",),
        )  # fmt: skip
        try:
            prediction = predict(taped)
        except KesseltonError as error:
            return replace(way, refused=error.message)
        return _judged(way, now, prediction, TAPE_S + LOWER_S, left_s, pace)
    if cause == "rod":
        return _without_rod(drum, side, now, left_s, pace)
    way = Way(
        "nurse", _("retune, worst rods first"),
        after=("clear",),
    )  # fmt: skip
    return _judged(way, now, now, TUNE_S, left_s, pace)


def _without_rod(drum: Drum, side: str, now: Prediction, left_s: float, pace: Pace) -> Way:
    """One rod pulls nothing: how uneven the head is left, and once its neighbors are drawn up."""
    if is_roped(drum):
        return Way("nurse", WAYS["nurse"], refused=_("a failed rope has no stopgap"))
    try:
        bare, eased, turn = lost_rod(drum, side)
    except KesseltonError as error:
        return Way("nurse", WAYS["nurse"], refused=error.message)
    way = Way(
        "nurse",
        _("tighten rods beside the lost one by {turn:.2g} turn").format(turn=turn),
        sounds=_("rods {eased:.0f} cents apart, {bare:.0f} if left alone").format(
            eased=eased, bare=bare
        ),
        after=("rod_lost",),
    )
    judged = _judged(way, now, now, EASE_S, left_s, pace)
    return replace(judged, sounds=way.sounds, cost=judged.cost + eased / OFF_CENTS)


def lost_rod(drum: Drum, side: str) -> tuple[float, float, float]:
    """Cents between the extremes of lug pitch with rod 1 gone, the same with its neighbors drawn up
    as much as helps, and by how many turns.

    Notes
    -----
    By the modes on the whole field of the simulated head (theory 20), without any other fault.
    """
    head = SimulatedHead(drum, side, Hidden((0.0,) * drum.shell.rods, hand=0.0, stick=0.0), 0)
    head.turns = head.turns.copy()
    head.turns[0] = 0.0
    start = head.turns.copy()

    def spread(up: float) -> float:
        head.turns = start.copy()
        head.turns[[1, -1]] += up
        return float(np.ptp(CENTS_PER_NEPER * np.log(head.pitches())))

    tries = [(spread(eighths / 8.0), eighths / 8.0) for eighths in range(9)]
    best, turn = min(tries)
    return tries[0][0], best, turn


def _judged(
    way: Way, now: Prediction, prediction: Prediction, seconds: float, left_s: float, pace: Pace
) -> Way:
    """The way with its times, its sound and its place in the order."""
    off = cents_between(now.fundamental_hz, prediction.fundamental_hz)
    ring, was = prediction.fundamental_t60_s, now.fundamental_t60_s
    middle = pace.factor * seconds
    chance = pace.chance(seconds, left_s)
    cost = (
        abs(off) / OFF_CENTS
        + abs(math.log(ring / was)) / OFF_RING
        + LATE * (1.0 - chance)
        + WORK * len(way.after)
    )
    return replace(
        way,
        seconds=middle,
        low_s=pace.low * seconds,
        high_s=pace.high * seconds,
        in_time=chance,
        note_hz=prediction.fundamental_hz,
        off_cents=off,
        ring_s=ring,
        ring_ratio=ring / was,
        sounds=_sounds(off, ring / was),
        cost=cost,
    )


def _sounds(off: float, ring: float) -> str:
    parts = []
    if abs(off) >= 10.0:
        parts.append(
            (_("{off:.0f} cents higher") if off > 0 else _("{off:.0f} cents lower")).format(
                off=abs(off)
            )
        )
    if ring <= 0.85:
        parts.append(_("shorter, {ring:.0f} % of its decay").format(ring=100.0 * ring))
    elif ring >= 1.18:
        parts.append(_("longer, {ring:.0f} % of its decay").format(ring=100.0 * ring))
    return ", ".join(parts) or _("same as before")
