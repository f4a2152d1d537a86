"""Joins a drum, its rounds and its gauges to what must be turned now."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from kesselton.app.bench.measuring import calibration, dial_in_hand
from kesselton.core.clear.clearing_records import Clearing, Round
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _, begin
from kesselton.core.pitch import cents_between
from kesselton.store.workshop.holdings import Entry, Workshop

if TYPE_CHECKING:
    from kesselton.core.clear.clearing import RimState
    from kesselton.core.clear.one_sided import Heard
    from kesselton.core.clear.taps.tap_naming import Expected
    from kesselton.core.clear.turning import TurnPlan
    from kesselton.core.measure.gauges import DialFit

CLEAR_CENTS = 10.0
"""All lug pitches within so many cents: clear (common practice, no published source)."""
FINE_CENTS = 2.0
"""Tension so near the wanted one is as wanted."""
NO_MORE = 0.5
"""A head that surely went less than so much of the way is held by friction."""
ROUGH_CENTS = 200.0
"""What stands off while tension differs by more than this is the unevenness itself."""
EXPECT_FROM = 8
"""The next lug pitch is expected near the mean of so many before it."""
DIVISIONS = 100.0
"""Divisions for a neper of tension, as the core takes it before a dial is calibrated."""
MOST_TENSION_CENTS, MOST_PITCH_CENTS = 2400.0, 700.0
"""No head that is being cleared has a quarter of its tension at a rod, or four times as much; or a
lug pitch a fifth from the others. Readings that say so contradict each other, or are of another
dial."""
CORRECTS = 4.0
"""Standard deviations from which a second reading at a rod is a correction of the first."""


@dataclass(frozen=True, eq=False)
class Cleared:
    """What stands on the screen.

    Attributes
    ----------
    clearing : what it belongs to
    state, plan : of the core
    order : rods to turn, the largest turn first
    heard : per round (spread of the pitches read in cents or None, unevenness of tension in cents)
    reasons : per rod that is to be turned, why, in words
    unseen : in words, what these readings cannot show and what would
    notes : in words, what to mind
    ask_again : the rod to be read once more before any is turned, for the one opposite was heard
        off and it was not; 0 for none. `ask_why` says so in words
    """

    clearing: Clearing
    state: RimState
    plan: TurnPlan
    order: tuple[int, ...]
    heard: tuple[tuple[float | None, float], ...]
    reasons: dict[int, str]
    unseen: str
    notes: tuple[str, ...]
    ask_again: int = 0
    ask_why: str = ""

    @property
    def asked(self) -> tuple[tuple[int, float], ...]:
        """What is to be turned: rod and turns, the largest first."""
        return tuple((rod, float(self.plan.turns[rod - 1])) for rod in self.order)


def cleared(
    entry: Entry, workshop: Workshop, clearing: Clearing, checked: Collection[int] = ()
) -> Cleared:
    """What the rounds say and what to turn.

    Parameters
    ----------
    checked : rods that were read once more in this round because the one opposite was heard off

    Raises
    ------
    KesseltonError
        If nothing was read, or it cannot be.
    """
    from kesselton.core.clear import one_sided
    from kesselton.core.clear.clearing import Learned, assess
    from kesselton.core.clear.turning import plan_turns

    drum, rods = entry.drum, entry.drum.shell.rods
    fit = dial_fit(workshop)
    known = Learned(clearing.learned[:3], clearing.learned[3:]) if clearing.learned else None  # type: ignore[arg-type]
    alone = one_sided.one_sided(clearing, rods)
    believed = one_sided.without(clearing, {rod.rod for rod in alone})
    state = assess(drum, believed, fit, known)
    plan = plan_turns(state, clearing.step)
    _check_believable(state, plan)
    own = list(alone)
    if not own and not plan.turns.any() and not plan.all_turns:
        own = one_sided.heard_off(clearing)[:1]  # a head is not clear against an answer
    plan = one_sided.with_own_turns(plan, state, own, clearing.step)
    doubtful = [
        (rod, again)
        for rod in alone
        if (again := one_sided.to_read_again(clearing, rod, rods)) not in checked
    ]
    turned = [i for i in range(drum.shell.rods) if plan.turns[i] != 0.0]
    order = tuple(i + 1 for i in sorted(turned, key=lambda i: -abs(plan.turns[i])))
    heard = []
    for number in range(1, len(clearing.rounds) + 1):
        if not clearing.rounds[number - 1].taps:
            continue
        past = replace(believed, rounds=_until(believed.rounds, number))
        then = state if number == len(clearing.rounds) else assess(drum, past, fit, known)
        heard.append((pitch_spread(clearing.rounds[number - 1]), _range(then.local_cents)))
    return Cleared(
        clearing.as_read,
        state,
        plan,
        order,
        tuple(heard),
        _reasons(state, plan, order) | {rod.rod: _heard_words(rod, drum) for rod in own},
        _unseen(drum, clearing, state),
        _notes(drum, state, plan, [] if doubtful else [rod.rod for rod in alone]),
        doubtful[0][1] if doubtful else 0,
        _ask_words(drum, *doubtful[0]) if doubtful else "",
    )


def _check_believable(state: RimState, plan: TurnPlan) -> None:
    """Raise InputError if readings ask for a head that there cannot be."""
    import numpy as np

    tension = np.maximum(np.abs(state.local_cents), np.abs(plan.local_cents)) / MOST_TENSION_CENTS
    out = np.maximum(tension, np.abs(plan.pitch_cents) / MOST_PITCH_CENTS)
    if not np.all(out <= 1.0):  # nor what is no number
        rod = int(np.argmax(out)) + 1
        raise InputError(
            _(
                "These readings cannot come from one head: tension at rod "
                "{rod} would have to be zero or many times too high."
            ).format(rod=rod),
            _(
                "Read that rod again. If you mixed gauges, remove one gauge’s "
                "readings or calibrate it first."
            ),
        )


def dial_fit(workshop: Workshop) -> DialFit | None:
    """The dial in hand, None before it is calibrated."""
    result = calibration(dial_in_hand(workshop))
    return None if isinstance(result, str) else result


def _reasons(state: RimState, plan: TurnPlan, order: tuple[int, ...]) -> dict[int, str]:
    """Why each rod is turned: what is off beside it, and what its turn does there and next door."""
    rods = len(plan.turns)
    out = {}
    for rod in order:
        i = rod - 1
        cents = float(state.local_cents[i])
        step = state.local_rows_cents[:, i] * float(plan.turns[i])
        beside = 0.5 * float(step[(i + 1) % rods] + step[i - 1])
        message = (
            _(
                "{cents:.0f} cents too tight; turn gives {here} cents here, "
                "{beside} at the neighbors."
            )
            if cents > 0
            else _(
                "{cents:.0f} cents too slack; turn gives {here} cents here, "
                "{beside} at the neighbors."
            )
        )
        if plan.turns[i] * cents > 0.0:
            message = (
                _(
                    "{cents:.0f} cents too tight, but this turn evens the others: "
                    "{here} cents here, {beside} at the neighbors."
                )
                if cents > 0
                else _(
                    "{cents:.0f} cents too slack, but this turn evens the others: "
                    "{here} cents here, {beside} at the neighbors."
                )
            )
        if abs(cents) < FINE_CENTS:
            message = _(
                "Tension on target; this turn evens the others: {here} cents "
                "here, {beside} at the neighbors."
            )
        out[rod] = message.format(
            cents=abs(cents), here=_signed(float(step[i])), beside=_signed(beside)
        )
    return out


def _way(rod: Heard) -> str:
    return _("higher") if rod.cents > 0.0 else _("lower")


def _heard_words(rod: Heard, drum: Drum) -> str:
    """Why a rod is turned that was heard off by itself."""
    return (
        _("Heard higher here than at the other {places}.")
        if rod.cents > 0.0
        else _("Heard lower here than at the other {places}.")
    ).format(places=drum.rods_word)


def _ask_words(drum: Drum, rod: Heard, again: int) -> str:
    from kesselton.core.clear.one_sided import opposite

    place, across = drum.rod_word, opposite(rod.rod, drum.shell.rods)
    return _(
        "{Place} {rod} is {way}, {place} {across} opposite is not: read {place} {again} once more."
    ).format(
        place=place,
        Place=begin(place),
        rod=rod.rod,
        way=_way(rod),
        across=across,
        again=again,
    )


def _signed(cents: float) -> str:
    whole = round(cents)
    return f"{'+' if whole > 0 else '−' if whole < 0 else ''}{abs(whole)}"


def _until(rounds: tuple[Round, ...], number: int) -> tuple[Round, ...]:
    return (*rounds[: number - 1], replace(rounds[number - 1], turns=()))


def _range(values: object) -> float:
    import numpy as np

    return float(np.ptp(np.asarray(values)))


def plain_pitch(drum: Drum, side: str) -> float:
    """The lug pitch a head is set to, other head muted, hertz."""
    reading = drum.setting(side).reading
    if reading is not None and reading.other_head == "muted":
        return reading.hz
    from kesselton.core.acoustics.solver.lug import lug_pitch, tensions

    return lug_pitch(drum, side, tensions(drum))


def pitch_spread(record: Round) -> float | None:
    """Highest over lowest lug pitch of a round in cents; None with fewer than two."""
    pitches = [tap.value for tap in record.taps if tap.kind == "lug_pitch"]
    if len(pitches) < 2:
        return None
    return cents_between(min(pitches), max(pitches))


def _unseen(drum: Drum, clearing: Clearing, state: RimState) -> str:
    from kesselton.core.clear.turning import suggest

    place, rods, hidden = drum.rod_word, drum.shell.rods, 2.0 * state.unseen_cents
    if state.unseen_cents < CLEAR_CENTS:
        return _("These readings show the tension at every rod.")
    dialled = {t.rod for r in clearing.rounds for t in r.taps if t.kind == "dial"}
    if len(dialled) == rods:
        return _(
            "The gauge was read at every {place}, but not finely enough: "
            "tension may still differ by about {hidden:.0f} cents from "
            "{place} to {place}. Read once more all round; readings at the "
            "same {place} are averaged."
        ).format(place=place, hidden=hidden)
    rod = suggest(state)[1]
    if dialled or rods % 2:
        return _(
            "Not known yet: how some {places} share the tension. One gauge "
            "reading at {place} {rod} answers most of it; one at every "
            "{place} answers the rest."
        ).format(place=place, places=drum.rods_word, rod=rod)
    first, second = sorted((rod, (rod - 1 + rods // 2) % rods + 1))
    return _(
        "Not known yet: a tap sounds opposite {places} together, such "
        "as {first} and {second}, so pitch alone cannot show how they "
        "share the tension. They may well be even. One gauge reading "
        "at {place} {rod} answers most of it."
    ).format(place=place, places=drum.rods_word, rod=rod, first=first, second=second)


def _notes(drum: Drum, state: RimState, plan: TurnPlan, alone: list[int]) -> tuple[str, ...]:
    out, place = [], drum.rod_word
    outliers = state.outliers if _range(state.local_cents) < ROUGH_CENTS else ()
    for rod in sorted({*outliers, *alone}):
        out.append(
            _(
                "Tension cannot explain {place} {rod}: check for a bent hoop, "
                "a dented edge or a badly seated head before you go on."
            ).format(place=begin(place), rod=rod)
        )
    ratio = state.response_ratio
    if ratio is not None and ratio + SIGMAS_90 * state.response_doubt < NO_MORE:
        message = (
            _(
                "The head moved only {share:.0f} % of the way: the rope binds. "
                "Tap the hoop all round and work the slack along."
            )
            if drum.kind == "rope"
            else _(
                "The head moved only {share:.0f} % of the way: the rods bind. "
                "Clean and lubricate the threads, turn past the mark and back."
            )
        )
        out.append(message.format(share=max(100.0 * ratio, 0.0)))
    if plan.held_back:
        rods = ", ".join(str(rod) for rod in plan.held_back)
        out.append(
            _("{place} {rods} is nearly slack: bring all {places} up a little first.").format(
                place=begin(place), rods=rods, places=drum.rods_word
            )
        )
    return tuple(out)


def expectation(drum: Drum, clearing: Clearing) -> Expected | None:
    """What a tap should sound: the lug pitch of these rounds, else of the drum as it is set, and
    where its other tones lie; nothing where the drum cannot be worked out."""
    from kesselton.core.acoustics.solver.lug import (
        lug_pitch,
        tap_tones,
        tension_from_pitch,
        tensions,
    )
    from kesselton.core.clear.taps.tap_naming import Expected, Tones, said_by_others

    taps = [t.value for r in clearing.rounds for t in r.taps if t.kind == "lug_pitch"]
    side = clearing.side
    expected = Expected(*said_by_others(taps[-EXPECT_FROM:])) if taps else None
    try:
        if expected is None:
            expected = Expected(lug_pitch(drum, side, tensions(drum)))
        tension = tension_from_pitch(drum, side, expected.hz)
        return replace(expected, tones=Tones.of(*tap_tones(drum, side, tension)))
    except KesseltonError:
        return expected  # it is listened to all the same, without the model's help


def taught(clearing: Cleared) -> tuple[float, ...]:
    """What is to be kept with the drum for the next time."""
    learned = clearing.state.learned
    return (*learned.values, *learned.doubt)


def combined(now: Round, tap: Reading) -> Reading:
    """A reading at a rod that was read before in this round: both, by how sure each is.

    One that stands far off the first is taken for a correction and replaces it.
    """
    usual = _usual_spread(tap)
    before = next((t for t in now.taps if (t.kind, t.rod) == (tap.kind, tap.rod)), None)
    if before is None or not usual:
        return tap
    first, second = before.spread or usual, tap.spread or usual
    away = before.value - tap.value
    if tap.kind != "dial":
        away = cents_between(tap.value, before.value)
    if abs(away) > CORRECTS * math.hypot(first, second):
        return tap
    share = first**-2 / (first**-2 + second**-2)
    spread = (first**-2 + second**-2) ** -0.5
    if tap.kind == "dial":
        return replace(tap, value=tap.value + share * away, spread=spread)
    return replace(tap, value=tap.value * math.exp(share * away / CENTS), spread=spread)


def _usual_spread(tap: Reading) -> float:
    """Of one reading; 0 for kinds of which the last one counts."""
    from kesselton.core.measure.gauges import DIAL_NOISE

    return DIAL_NOISE if tap.kind == "dial" else tap.spread if tap.kind == "lug_pitch" else 0.0


def in_cents(now: Round, kind: str, dial: DialFit | None, thickness_m: float) -> dict[int, float]:
    """Readings of a kind against their mean, as cents of pitch, per rod.

    Tension counts half. A dial that is not calibrated is taken to show a per cent of tension by a
    division.
    """
    taps = [t for t in now.taps if t.kind == kind]
    if not taps:
        return {}
    if kind == "dial" and dial is None:
        values = [t.value / DIVISIONS for t in taps]
    elif kind == "dial":
        assert dial is not None
        values = [math.log(dial.tension(t.value, thickness_m)) for t in taps]
    else:
        values = [math.log(t.value) for t in taps]
    mean = sum(values) / len(values)
    scale = CENTS if kind == "lug_pitch" else 0.5 * CENTS
    return {t.rod: scale * (value - mean) for t, value in zip(taps, values, strict=True)}
