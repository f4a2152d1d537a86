"""Why a plan is as it is: what each drum gains and pays, and which heads would help."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from kesselton.core.errors import KesseltonError
from kesselton.core.heads.brief import TOUCHES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import N_, Worded, _, both
from kesselton.core.measure.rods import tension_per_turn
from kesselton.core.sets.model.curve import drum_curves
from kesselton.core.sets.model.kit import Member, Wish, interval_words
from kesselton.core.sets.search.choice import SHELL_CENTS
from kesselton.core.sets.search.plan import CLEAR_OF_CENTS, Plan, Tuned

HEADS_LOOKED_AT = 8
OFF_BY = 3.0
"""Cents that are not worth a word."""


@dataclass(frozen=True)
class Helping:
    """A batter head under which a stretched drum speaks at the note that is wanted."""

    drum: str
    head: str
    outside_cents: float


@dataclass(frozen=True)
class Reason:
    """What a plan means for one drum: a code that stays, and the figure that goes with it.

    Attributes
    ----------
    code : "as_is"; "batter_moved", "snare_side_moved", "resonant_moved", "off_sweet_spot",
        "off_chord" (cents, up is positive); "interval" (cents, of the heads); "no_sweet_spot",
        "in_sweet_spot"; "off_shell" (cents from the shell's note)
    value : nan where there is none
    """

    code: str
    value: float = math.nan


def reasons(tuning: Tuned, member: Member) -> tuple[Reason, ...]:
    """What a plan means for one drum."""
    out = [Reason("as_is")] if tuning.as_is else _moved(tuning, member)
    if not math.isnan(tuning.interval_cents):
        out.append(Reason("interval", tuning.interval_cents))
    if math.isnan(tuning.outside_cents):
        out.append(Reason("no_sweet_spot"))
    elif abs(tuning.outside_cents) > OFF_BY:
        out.append(Reason("off_sweet_spot", tuning.outside_cents))
    else:
        out.append(Reason("in_sweet_spot"))
    if abs(tuning.off_chord_cents) >= CLEAR_OF_CENTS:
        out.append(Reason("off_chord", tuning.off_chord_cents))
    if abs(tuning.shell_cents) > SHELL_CENTS:
        out.append(Reason("off_shell", tuning.shell_cents))
    return tuple(out)


def _moved(tuning: Tuned, member: Member) -> list[Reason]:
    below = "snare_side_moved" if member.drum.kind == "snare" else "resonant_moved"
    return [
        Reason(code, cents)
        for code, cents in zip(("batter_moved", below), tuning.moved_cents, strict=False)
        if abs(cents) > 1.0
    ]


MOVES = Worded(
    {
        ("batter_moved", True): N_("batter {cents:.0f} cents up"),
        ("batter_moved", False): N_("batter {cents:.0f} cents down"),
        ("snare_side_moved", True): N_("snare side {cents:.0f} cents up"),
        ("snare_side_moved", False): N_("snare side {cents:.0f} cents down"),
        ("resonant_moved", True): N_("resonant {cents:.0f} cents up"),
        ("resonant_moved", False): N_("resonant {cents:.0f} cents down"),
        ("off_sweet_spot", True): N_("{cents:.0f} cents above its sweet spot"),
        ("off_sweet_spot", False): N_("{cents:.0f} cents below its sweet spot"),
        ("off_chord", True): N_("{cents:.0f} cents above the chord"),
        ("off_chord", False): N_("{cents:.0f} cents below the chord"),
    }
)
STATES = Worded(
    {
        "as_is": N_("no change"),
        "no_sweet_spot": N_("no sweet spot with these heads at this interval"),
        "in_sweet_spot": N_("in sweet spot"),
    }
)


def reason_words(reason: Reason) -> str:
    """A reason in the language in use."""
    code, value = reason.code, reason.value
    if code == "interval":
        return interval_words(value)
    if code == "off_shell":
        return _("{steps:.1f} whole steps from its shell note").format(steps=abs(value) / 200.0)
    if code in STATES:
        return STATES[code]
    return MOVES[code, value > 0.0].format(cents=abs(value))


def reasons_words(results: Sequence[Reason]) -> list[str]:
    """Reasons in the language in use; what is done to the heads is one of them."""
    moved = [reason_words(reason) for reason in results if reason.code.endswith("_moved")]
    others = [reason_words(reason) for reason in results if not reason.code.endswith("_moved")]
    return [both(moved), *others] if moved else others


def stretched(plan: Plan) -> int | None:
    """Number of the drum of a plan that is furthest from where it speaks, or from the chord; None
    if all are well."""

    def strain(tuning: Tuned) -> float:
        outside = 200.0 if math.isnan(tuning.outside_cents) else abs(tuning.outside_cents)
        off = abs(tuning.off_chord_cents)
        return outside + (off if off >= CLEAR_OF_CENTS else 0.0)

    strains = [strain(drum) for drum in plan.drums]
    worst = max(strains)
    return strains.index(worst) if worst > OFF_BY else None


def helping_head(
    tuning: Tuned, member: Member, wish: Wish, heads: Sequence[Head], a4_hz: float
) -> Helping | None:
    """The batter head with which a drum comes nearest to speaking at the note it is given.

    Parameters
    ----------
    heads : of the library; those nearest to the present one in mass, on both sides, are looked at
    """
    drum = member.drum
    now = drum.batter.head
    mass = now.base_density_kg_per_m2
    others = [h for h in heads if h.substance == now.substance and h != now and not h.additions]
    others.sort(key=lambda h: abs(math.log(h.base_density_kg_per_m2 / mass)))
    best: Helping | None = None
    for head in others[:HEADS_LOOKED_AT]:
        try:
            fitted = drum.with_setting("batter", replace(drum.batter, head=head))
            touch = TOUCHES[wish.touch].value
            (curve, *_unused) = drum_curves(fitted, (tuning.interval_cents,), touch, a4_hz) or (
                None,
            )
        except KesseltonError:
            continue  # it does not fit this drum, so it cannot help
        if curve is None or curve.band is None:
            continue
        low, high = curve.band
        off = max(low - tuning.note_cents, tuning.note_cents - high, 0.0)
        if best is None or off < best.outside_cents:
            best = Helping(tuning.name, head.name, off)
    now_off = math.inf if math.isnan(tuning.outside_cents) else abs(tuning.outside_cents)
    return best if best is not None and best.outside_cents < now_off - OFF_BY else None


def turns_between(drum: Drum, before: Sequence[float], after: Sequence[float]) -> list[float]:
    """Turns of every rod from one tension of each head to another, before anything is learned."""
    thread = THREADS[drum.shell.rod_thread]
    return [
        (new - old) / tension_per_turn(drum, drum.setting(side).head, thread)
        for side, old, new in zip(drum.sides, before, after, strict=True)
    ]
