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
from kesselton.core.language import _, both
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


def reasons(one: Tuned, member: Member) -> tuple[str, ...]:
    """What a plan means for one drum, in words."""
    out = []
    if one.as_is:
        out.append(_("no change"))
    else:
        out.append(both(_moved(one, member)))
    if not math.isnan(one.interval_cents):
        out.append(interval_words(one.interval_cents))
    if math.isnan(one.outside_cents):
        out.append(_("no sweet spot with these heads at this interval"))
    elif one.outside_cents > OFF_BY:
        out.append(
            _("{outside_cents:.0f} cents above its sweet spot").format(
                outside_cents=one.outside_cents
            )
        )
    elif one.outside_cents < -OFF_BY:
        out.append(_("{value:.0f} cents below its sweet spot").format(value=-one.outside_cents))
    else:
        out.append(_("in sweet spot"))
    if abs(one.off_chord_cents) >= CLEAR_OF_CENTS:
        words = (
            _("{cents:.0f} cents above the chord")
            if one.off_chord_cents > 0
            else _("{cents:.0f} cents below the chord")
        )
        out.append(words.format(cents=abs(one.off_chord_cents)))
    if abs(one.shell_cents) > SHELL_CENTS:
        out.append(
            _("{shell_cents:.1f} whole steps from its shell note").format(
                shell_cents=abs(one.shell_cents) / 200.0
            )
        )
    return tuple(out)


def _moved(one: Tuned, member: Member) -> list[str]:
    ways = (
        (_("batter {cents:.0f} cents up"), _("batter {cents:.0f} cents down")),
        (_("snare side {cents:.0f} cents up"), _("snare side {cents:.0f} cents down"))
        if member.drum.kind == "snare"
        else (_("resonant {cents:.0f} cents up"), _("resonant {cents:.0f} cents down")),
    )
    return [
        (up if cents > 0 else down).format(cents=abs(cents))
        for (up, down), cents in zip(ways, one.moved_cents, strict=False)
        if abs(cents) > 1.0
    ]


def stretched(plan: Plan) -> int | None:
    """Number of the drum of a plan that is furthest from where it speaks, or from the chord; None
    if all are well."""

    def strain(one: Tuned) -> float:
        outside = 200.0 if math.isnan(one.outside_cents) else abs(one.outside_cents)
        off = abs(one.off_chord_cents)
        return outside + (off if off >= CLEAR_OF_CENTS else 0.0)

    strains = [strain(drum) for drum in plan.drums]
    worst = max(strains)
    return strains.index(worst) if worst > OFF_BY else None


def helping_head(
    one: Tuned, member: Member, wish: Wish, heads: Sequence[Head], a4_hz: float
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
            (curve, *_unused) = drum_curves(fitted, (one.interval_cents,), touch, a4_hz) or (None,)
        except KesseltonError:
            continue  # it does not fit this drum, so it cannot help
        if curve is None or curve.band is None:
            continue
        low, high = curve.band
        off = max(low - one.note_cents, one.note_cents - high, 0.0)
        if best is None or off < best.outside_cents:
            best = Helping(one.name, head.name, off)
    now_off = math.inf if math.isnan(one.outside_cents) else abs(one.outside_cents)
    return best if best is not None and best.outside_cents < now_off - OFF_BY else None


def turns_between(drum: Drum, before: Sequence[float], after: Sequence[float]) -> list[float]:
    """Turns of every rod from one tension of each head to another, before anything is learned."""
    thread = THREADS[drum.shell.rod_thread]
    return [
        (new - old) / tension_per_turn(drum, drum.setting(side).head, thread)
        for side, old, new in zip(drum.sides, before, after, strict=True)
    ]
