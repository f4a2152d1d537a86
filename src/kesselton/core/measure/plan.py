"""The plan of a drum in readings: what dial, torque key and turns must say."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import Thread
from kesselton.core.language import N_, _
from kesselton.core.measure.gauges import DialFit, TurnFit
from kesselton.core.measure.rods import (
    TORQUE_SCATTER,
    give_of,
    rod_force_n,
    torque_nm,
    turns_past_finger_tight,
)
from kesselton.core.measure.turn_line import ROD_GIVE, TurnLine
from kesselton.core.pitch import cents_between, ratio_of
from kesselton.core.prediction.prediction import Prediction

HELD_CENTS = 0.05
MAX_ROUNDS = 12
TYPICAL_SLOPE = 430.0
"""Cents of the whole drum for a neper of one head's tension: half of it hangs on each head."""
BED_SHARE = 0.12
"""How much lower, in tension, that school sets the four rods beside the snare beds; assumed."""
OWN_LOG = N_("from this drum’s log")


@dataclass(frozen=True)
class Need:
    """What one gauge must read for one head: value and half-width nine times in ten.

    `why_not` says why there is no value; `mind` what to be careful about.
    """

    value: float = math.nan
    half: float = math.nan
    why_not: str = ""
    mind: str = ""


@dataclass(frozen=True)
class HeadPlan:
    """One head: tension, what its gauges must read, and the pull in a rope if it has one."""

    side: str
    tension_n_per_m: float
    lug_pitch_hz: float
    dial: Need
    torque: Need
    turns: Need
    rod_force_n: float
    rope_n: float


def head_plans(
    drum: Drum,
    prediction: Prediction,
    dial: DialFit | str,
    friction: str,
    of: Thread,
    turn_fits: Mapping[str, TurnFit | TurnLine],
) -> list[HeadPlan]:
    """What to read on every head.

    Parameters
    ----------
    dial : the calibration, or in words why there is none
    turn_fits : per side, the line learned from notes or from the log
    """
    out = []
    for index, side in enumerate(drum.sides):
        head = drum.setting(side).head
        tension, hz = prediction.tensions_n_per_m[index], prediction.lug_pitches_hz[index]
        torque = torque_nm(drum, tension, of, friction)
        out.append(
            HeadPlan(
                side,
                tension,
                hz,
                _dial_need(dial, tension, head.film_thickness_m),
                Need(
                    torque,
                    SIGMAS_90 * TORQUE_SCATTER * torque,
                    mind=_("the least reliable reading"),
                ),
                _turn_need(drum, side, tension, hz, of, turn_fits.get(side)),
                rod_force_n(drum, tension),
                rope_force_n(drum, tension, drum.shell.rods),
            )
        )
    return out


def _dial_need(dial: DialFit | str, tension: float, thickness_m: float) -> Need:
    if isinstance(dial, str):
        return Need(why_not=dial)
    mind = "" if dial.holds(tension) else _("outside the gauge’s calibration")
    half = SIGMAS_90 * dial.spread(tension, thickness_m)
    return Need(dial.reading(tension, thickness_m), half, mind=mind)


def _turn_need(
    drum: Drum, side: str, tension: float, hz: float, of: Thread, fit: TurnFit | TurnLine | None
) -> Need:
    if isinstance(fit, TurnLine):
        half = SIGMAS_90 * fit.spread(tension)
        mind = _(OWN_LOG) if fit.of_this_head else _("from earlier heads on this drum")
        return Need(fit.turns_to(tension), half, mind=mind)
    if fit is not None:
        return Need(fit.turns_to(hz), SIGMAS_90 * fit.spread(hz), mind=_(OWN_LOG))
    give = give_of(drum)
    turns = turns_past_finger_tight(drum, drum.setting(side).head, tension, of)
    share = math.hypot(give.sd, ROD_GIVE)
    half = SIGMAS_90 * math.hypot(share * (turns - give.take_up), give.take_up_sd)
    return Need(turns, half, mind=_("estimate, no log yet"))


def rounds(turns: float, step: float) -> list[float]:
    """Turns past finger tight in equal small rounds, the last one what is left.

    Raises
    ------
    InputError
        If the step is not positive.
    """
    if not 0.01 <= step <= 2.0:
        raise InputError(
            _("A round of {step:g} turns is out of range.").format(step=step),
            _("Use 0.01 to 2 turns."),
            "step",
        )
    count = int(max(turns, 0.0) // step)
    left = turns - count * step
    return [step] * count + ([left] if left > 1e-9 else [])


def hold_fundamental(drum: Drum, side: str, hz: float, note_hz: float) -> Drum:
    """The drum with one head at a lug pitch and the other moved so that the whole drum keeps its
    note.

    Raises
    ------
    InputError
        If there is no other head, or no tension of it keeps the note.
    """
    if drum.resonant is None:
        raise InputError(
            _("{name!r} has no resonant head to keep the drum pitch.").format(name=drum.name)
        )
    if drum.one_pull is not None:
        raise InputError(
            _(
                "One pull moves both heads of {name!r}: with drum pitch kept, nothing can move."
            ).format(name=drum.name),
            _("Turn off “Keep drum pitch”."),
        )
    other = "resonant" if side == "batter" else "batter"
    own = tension_from_pitch(drum, side, hz)
    x = math.log(tensions(drum)[drum.sides.index(other)])

    def off(log_tension: float) -> float:
        pair = (own, math.exp(log_tension))
        sounded = fundamental_hz(drum, pair if side == "batter" else pair[::-1])
        return cents_between(note_hz, sounded)

    try:
        x = _root(off, x)
    except ConvergenceError:
        raise InputError(
            _("No tension of the other head keeps the drum pitch."),
            _("Move back a little, or turn off “Keep drum pitch”."),
        ) from None
    pair = (own, math.exp(x)) if side == "batter" else (math.exp(x), own)
    held = drum.with_setting(side, drum.setting(side).at_pitch(hz))
    pitch = lug_pitch(drum, other, pair)
    plain = replace(drum.setting(other), tension_n_per_m=math.exp(x), reading=None)
    return held.with_setting(other, plain.at_pitch(pitch))


def _root(off: Callable[[float], float], x: float) -> float:
    """ln T at which `off`, in cents, is nought, by secants.

    Raises
    ------
    ConvergenceError
        If it runs away.
    """
    before, e0 = x, off(x)
    x = x + max(-1.0, min(1.0, -e0 / TYPICAL_SLOPE))
    for _unused in range(MAX_ROUNDS):
        if not 0.0 < x < 15.0:
            break
        e1 = off(x)
        if abs(e1) < HELD_CENTS:
            return x
        slope = (e1 - e0) / (x - before) if x != before else TYPICAL_SLOPE
        if not 20.0 < slope < 3000.0:
            slope = TYPICAL_SLOPE
        before, e0 = x, e1
        x = x - max(-1.0, min(1.0, e1 / slope))
    raise ConvergenceError(_("The drum pitch could not be kept there."))


def bed_pattern(rods: int, beds_at: tuple[float, float] | None = None) -> list[float]:
    """Wanted tension at every rod of a snare side over their mean: the two rods beside each bed
    lower, the others higher so that the mean stays (school, by trial; common practice).

    Parameters
    ----------
    beds_at : where the beds lie, in rods; between rods 1 and 2, and opposite, if not given
    """
    if rods < 6:
        raise InputError(
            _("With {rods} rods, no four rods are beside the beds.").format(rods=rods),
            (_("Set this head even all round.")),
            "rods",
        )
    beds = beds_at or (1.5, 1.5 + rods / 2.0)
    low = set()
    for bed in beds:
        near = sorted(range(rods), key=lambda r: min(abs(r + 1 - bed), rods - abs(r + 1 - bed)))
        low.update(near[:2])
    lower, raised = 1.0 - BED_SHARE, 1.0 + BED_SHARE * len(low) / (rods - len(low))
    return [lower if rod in low else raised for rod in range(rods)]


def rope_force_n(drum: Drum, tension_n_per_m: float, ears: int, slope_deg: float = 20.0) -> float:
    """Pull in the rope of a rope drum, N: two runs at each ear share the hoop's force.

    `slope_deg` is the angle of a run to the shell's axis.
    """
    force = rod_force_n(drum, tension_n_per_m) * drum.shell.rods / max(ears, 1)
    return force / (2.0 * math.cos(math.radians(slope_deg)))


def at_note(drum: Drum, note_hz: float) -> Drum:
    """A drum open below, its head so that it sounds a note.

    Raises
    ------
    InputError
        If no tension does.
    """

    def off(log_tension: float) -> float:
        return cents_between(note_hz, fundamental_hz(drum, (math.exp(log_tension),)))

    try:
        x = _root(off, math.log(tensions(drum)[0]))
    except ConvergenceError:
        raise InputError(_("No tension gives that drum pitch."), _("Choose another.")) from None
    hz = lug_pitch(drum, "batter", (math.exp(x),))
    return drum.with_setting("batter", drum.batter.at_pitch(hz))


def at_interval(drum: Drum, cents: float, note_hz: float | None) -> Drum:
    """The drum with its resonant head so many cents over the batter head.

    With `note_hz` both heads move so that the whole drum sounds that note; without, the batter head
    stays.

    Raises
    ------
    InputError
        If there is no other head, or the heads cannot be set so.
    """

    def other_hz(drum: Drum, batter_hz: float) -> float:
        return batter_hz * ratio_of(cents)

    return _both_at(drum, other_hz, note_hz)


def at_ratio(drum: Drum, share: float, note_hz: float | None) -> Drum:
    """The same with the tension of the resonant head exp(share) times that of the batter."""

    def other_hz(drum: Drum, batter_hz: float) -> float:
        tension = tension_from_pitch(drum, "batter", batter_hz) * math.exp(share)
        return lug_pitch(drum, "resonant", (tension, tension))

    return _both_at(drum, other_hz, note_hz)


def _both_at(drum: Drum, other_hz: Callable[[Drum, float], float], note_hz: float | None) -> Drum:
    """Both heads set, the resonant where the batter's pitch puts it."""
    if drum.resonant is None:
        raise InputError(_("{name!r} has no resonant head, so no interval.").format(name=drum.name))
    start = lug_pitch(drum, "batter", tensions(drum))

    def fitted(batter_hz: float) -> tuple[float, float]:
        return (
            tension_from_pitch(drum, "batter", batter_hz),
            tension_from_pitch(drum, "resonant", other_hz(drum, batter_hz)),
        )

    hz = start
    if note_hz is not None:

        def off(log_squared: float) -> float:
            sounded = fundamental_hz(drum, fitted(math.exp(0.5 * log_squared)))
            return cents_between(note_hz, sounded)

        try:
            hz = math.exp(0.5 * _root(off, 2.0 * math.log(start)))
        except ConvergenceError:
            raise InputError(
                _("The drum cannot keep its pitch at that interval."),
                _("Turn off “Keep drum pitch”, or choose a smaller interval."),
            ) from None
    fitted(hz)  # raises where no tension gives these pitches
    moved = drum.with_setting("batter", drum.setting("batter").at_pitch(hz))
    return moved.with_setting("resonant", drum.setting("resonant").at_pitch(other_hz(drum, hz)))
