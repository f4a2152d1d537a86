"""Lug pitch: what a tap near a rod sounds, under each condition, and back to tension."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from kesselton.core.acoustics.air.cavity import Poles
from kesselton.core.acoustics.air.outside import OutsideAir
from kesselton.core.acoustics.film.film_part import End
from kesselton.core.acoustics.solver.fundamental import first_motion
from kesselton.core.acoustics.solver.modes import all_home, count_below, polish, solve
from kesselton.core.acoustics.solver.partials import air_round, drum_system
from kesselton.core.acoustics.solver.system import DrumSystem, basis_size
from kesselton.core.arrays import kept
from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ
from kesselton.core.errors import ConvergenceError, InputError, check_range
from kesselton.core.instrument.drum import (
    HIGHEST_TENSION_N_PER_M,
    LOWEST_TENSION_N_PER_M,
    Drum,
    HeadSetting,
    LugPitch,
)
from kesselton.core.language import _
from kesselton.core.pitch import cents_between

TOLERANCE_CENTS = 1e-4
MAX_ROUNDS = 30
ONE_DIAMETER = (1,)
TONE_ORDERS = (0, 1, 2, 3, 4, 5)
TONES_TO = 3.0
"""Other tones of a tap are worked out to so many times its lug pitch."""
SWING = 1.8412
"""First zero of J_1', Abramowitz and Stegun, table 9.5: the air swinging across the shell."""
NEAR_SWING = 0.75
"""Of the swing, from which the head's own tone merges with it."""


def _no_poles(size: int) -> Poles:
    """No resonance of the cavity, for so many unknowns."""
    return Poles(np.full((1, 0), np.inf), np.zeros((1, 0, size)), np.zeros((1, 0)))


def _muted_system(
    drum: Drum,
    side: str,
    tension: float,
    outside: OutsideAir | None,
    orders: tuple[int, ...] = ONE_DIAMETER,
) -> DrumSystem:
    """One head over the closed shell: the other head muted stands still."""
    if drum.resonant is None:
        return drum_system(drum, (tension,), orders, outside)
    head = drum.setting(side).head
    return DrumSystem(
        orders,
        (End(head, tension, basis_size(head), drum.shell.edge_loss),),
        drum.shell.radius_m,
        drum.shell.depth_m,
        drum.air,
        outside or air_round(drum),
    )


def lug_tone(
    drum: Drum, side: str, tension_n_per_m: float, outside: OutsideAir | None = None
) -> tuple[float, float]:
    """Lug pitch in hertz, other head muted, and its T60 in seconds."""
    return _lowest_tone(_muted_system(drum, side, tension_n_per_m, outside))


@kept(64)
def tap_tones(
    drum: Drum, side: str, tension_n_per_m: float
) -> tuple[float, float, tuple[float, ...]]:
    """What else a tap near a rod sounds, other head muted, over the lug pitch.

    Returns
    -------
    The (0,1), which a finger in the centre damps, the (2,1), and all up to `TONES_TO`, low to high.
    """
    system = _muted_system(drum, side, tension_n_per_m, None, TONE_ORDERS)
    first = _lowest(_muted_system(drum, side, tension_n_per_m, None))
    highest = min(2.0 * math.pi * TONES_TO * first, 0.95 * system.highest_omega)
    roots = solve(system, np.full(len(TONE_ORDERS), highest))
    ratio = roots.frequency_hz / first
    if not all((roots.row == order).any() for order in (0, 2)):
        raise ConvergenceError(
            _("The partials of a tap were not found."), _("Check head and tension.")
        )
    centre, second = (float(ratio[roots.row == order].min()) for order in (0, 2))
    return centre, second, tuple(np.sort(ratio[ratio > 1.05]).tolist())


def _lowest(system: DrumSystem) -> float:
    """Frequency in hertz of the (1,1) of a system with one head."""
    return _lowest_tone(system)[0]


def _lowest_tone(system: DrumSystem) -> tuple[float, float]:
    """Frequency in hertz and T60 in seconds of the (1,1) of a system with one head."""
    part = system.slices[0]
    film = np.diagonal(system.film_mass[0])[part]
    # one head in air sounds below itself in vacuum
    limit = np.sqrt(system.stiffness[0, part] / film)[1]
    roots = solve(system, np.array([min(limit, 0.95 * system.highest_omega)]), 2)
    weight = np.abs(roots.shape[:, part.start]) ** 2
    if not len(weight):
        raise ConvergenceError(
            _("The lug pitch was not found."), _("Check diameter, head and tension.")
        )
    # near the swing of the air across the shell two motions share the head: the lower is followed
    best = int(first_motion(roots.frequency_hz, weight, weight > 0.0))
    return float(roots.frequency_hz[best]), float(roots.t60_s[best])


def lug_pitch(
    drum: Drum,
    side: str,
    tensions_n_per_m: tuple[float, ...],
    other_head: str = "muted",
    centre: str = "damped",
    outside: OutsideAir | None = None,
) -> float:
    """Pitch in hertz of a tap 25 mm from the edge of one head: the (1,1) mode.

    Parameters
    ----------
    side : "batter" or "resonant"
    other_head : "muted" (it stands still) or "free" (the two (1,1) of the pair sound; the energy
        mean, weighted by how much each moves the tapped head, is what the ear takes as one pitch)
    centre : "damped" or "free". A finger in the centre stops the modes without nodal diameter and
        leaves the (1,1) as it is, so the pitch is the same; it is only easier to hear.

    Notes
    -----
    Theory, section 5.

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> tom = usual_drum("tom")
    >>> round(lug_pitch(tom, "batter", tensions(tom)), 1)
    196.0
    """
    condition = LugPitch(440.0, other_head, centre)
    index = drum.sides.index(side) if side in drum.sides else -1
    if index < 0:
        drum.setting(side)  # raises, naming what is missing
    if condition.other_head == "muted" or drum.resonant is None:
        system = _muted_system(drum, side, tensions_n_per_m[index], outside)
        return _lowest(system)
    system = drum_system(drum, tensions_n_per_m, ONE_DIAMETER, outside)
    mass = np.array([system.film_mass[0, part.start, part.start] for part in system.slices])
    stiff = np.array([system.stiffness[0, part.start] for part in system.slices])
    limit = min(float(np.sqrt(stiff / mass).max()), 0.95 * system.highest_omega)
    roots = solve(system, np.array([limit]), 3)
    first = (
        np.stack([np.abs(roots.shape[:, part.start]) ** 2 for part in system.slices])
        * (mass[:, None])
    )
    pair = np.argsort(-first.sum(axis=0))[:2]
    share = first[index, pair] / first[:, pair].sum(axis=0)
    return float(np.sum(share**2 * roots.frequency_hz[pair]) / np.sum(share**2))


def tension_from_pitch(
    drum: Drum,
    side: str,
    hz: float,
    other_head: str = "muted",
    centre: str = "damped",
    other_tension_n_per_m: float | None = None,
    outside: OutsideAir | None = None,
) -> float:
    """Tension in N/m at which `lug_pitch` is `hz` under the same condition.

    Parameters
    ----------
    other_tension_n_per_m : needed when the other head is free

    Raises
    ------
    InputError
        If no tension the program admits gives that pitch.
    ConvergenceError
        If the search does not settle.

    Notes
    -----
    At a given frequency D is linear in the tension, so the muted inverse is one symmetric
    eigenvalue problem (theory eq. 15) and a step for the decay; the free one follows by secants.

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> round(tension_from_pitch(usual_drum("tom"), "batter", 220.0))
    1583
    """
    check_range(hz, LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, _("Lug pitch"), "Hz")
    drum.setting(side)
    free = other_head == "free" and drum.resonant is not None
    tension = _muted_inverse(drum, side, hz, outside)
    if not free:
        return _admitted(tension, hz)
    if other_tension_n_per_m is None:
        raise InputError(_("The other head is free, but its tension is not known."))

    def error(log_tension: float) -> float:
        own = math.exp(log_tension)
        pair = (own, other_tension_n_per_m) if side == "batter" else (other_tension_n_per_m, own)
        return cents_between(hz, lug_pitch(drum, side, pair, "free", centre, outside))

    x0 = math.log(_admitted(tension, hz))
    e0 = error(x0)
    x1 = x0 - e0 * math.log(2.0) / 600.0
    for _unused in range(MAX_ROUNDS):
        e1 = error(x1)
        if abs(e1) < TOLERANCE_CENTS:
            return _admitted(math.exp(x1), hz)
        slope = (e1 - e0) / (x1 - x0) if x1 != x0 else 600.0 / math.log(2.0)
        if not 60.0 < slope < 6000.0:
            slope = 600.0 / math.log(2.0)
        x0, e0 = x1, e1
        x1 = x1 - e1 / slope
    raise ConvergenceError(
        _("No tension of the {side} head gives {hz:.1f} Hz with the other head free.").format(
            side=side, hz=hz
        ),
        _("Mute the other head and read again."),
    )


def _muted_inverse(drum: Drum, side: str, hz: float, outside: OutsideAir | None) -> float:
    """Tension for a lug pitch with the other head muted (or the shell open).

    Only this head, the shell and the air matter: the same question about a head that stays as it
    is, while the other one is dragged, is answered from memory.
    """
    head = drum.setting(side).head
    alone = replace(
        drum,
        batter=HeadSetting(head, LOWEST_TENSION_N_PER_M),
        resonant=None if drum.resonant is None else HeadSetting(head, LOWEST_TENSION_N_PER_M),
    )
    return _inverse_alone(alone, side, hz, outside)


@kept(256)
def _inverse_alone(drum: Drum, side: str, hz: float, outside: OutsideAir | None) -> float:
    system = _muted_system(drum, side, 0.0, outside)
    omega = 2.0 * math.pi * hz
    if omega > 0.95 * system.highest_omega:
        raise InputError(
            _("{hz:.0f} Hz is too high for a drum of this size.").format(hz=hz),
            _("Check the pitch."),
        )
    part = system.slices[0]
    value = system.matrices(np.array([0]), np.array([omega], dtype=complex))[0]
    rest = value[0].real
    n = system.size
    head_only = rest[part, part]
    follow = np.zeros((0, part.stop))
    if n > part.stop:  # the open end follows the head
        far = slice(part.stop, n)
        follow = -np.linalg.solve(rest[far, far], rest[far, part])
        head_only = head_only + rest[part, far] @ follow
    root = 1.0 / np.sqrt(system.unit_stiffness[0, 0, part])
    candidates, vectors = np.linalg.eigh(-head_only * np.outer(root, root))
    tension = float(candidates[-1])
    shape = root * vectors[:, -1]
    start: np.ndarray = np.concatenate((shape, follow @ shape))[None]
    guess = np.array([omega + 0j])
    try:
        for _unused in range(MAX_ROUNDS):
            trial = _muted_system(drum, side, _admitted(tension, hz), outside)
            near = all_home(*polish(trial, np.array([0]), guess, start, _no_poles(n)))
            guess, start = near.omega, near.shape
            off = cents_between(hz, float(near.frequency_hz[0]))
            if abs(off) < TOLERANCE_CENTS:
                return _confirmed(trial, tension, hz)
            tension *= math.exp2(-off / 600.0)
        raise ConvergenceError(
            _("No tension of the {side} head gives a lug pitch of {hz:.1f} Hz.").format(
                side=side, hz=hz
            ),
            _("Check the pitch."),
        )
    except ConvergenceError:
        swing = SWING * system.c / (2.0 * math.pi * system.radius_m)
        if hz < NEAR_SWING * swing:
            raise
        raise InputError(
            _(
                "{hz:.0f} Hz is close to the air resonance across this shell "
                "(about {swing:.0f} Hz): no tension of the {side} head gives "
                "that lug pitch."
            ).format(hz=hz, swing=swing, side=side),
            _("Check the pitch."),
        ) from None


def _confirmed(system: DrumSystem, tension: float, hz: float) -> float:
    """`tension`, if the mode found at `hz` is the (1,1) and not another that came by."""
    if count_below(system, np.array([0]), np.array([0.97 * 2.0 * math.pi * hz]))[0] == 0:
        return tension  # nothing of this order sounds lower
    value = _lowest(system)
    if abs(cents_between(hz, value)) > 100.0 * TOLERANCE_CENTS:
        raise InputError(
            _("{hz:.1f} Hz is the air resonance across this shell, not the head.").format(hz=hz),
            _("Check the pitch."),
        )
    return tension


def _admitted(tension: float, hz: float) -> float:
    if not LOWEST_TENSION_N_PER_M <= tension <= HIGHEST_TENSION_N_PER_M:
        raise InputError(
            _("A lug pitch of {hz:.1f} Hz needs a tension of {tension:.0f} N/m.").format(
                hz=hz, tension=tension
            ),
            _("Use {lowest_tension_n_per_m:g} to {highest_tension_n_per_m:g} N/m.").format(
                lowest_tension_n_per_m=LOWEST_TENSION_N_PER_M,
                highest_tension_n_per_m=HIGHEST_TENSION_N_PER_M,
            ),
        )
    return tension


def tensions(drum: Drum, outside: OutsideAir | None = None) -> tuple[float, ...]:
    """Tension of every head, from tension or reading as each is set.

    Raises
    ------
    InputError, ConvergenceError
        If a reading asks for what no tension gives, or a film would yield.

    Examples
    --------
    >>> from kesselton.app.workshop.usual_drums import usual_drum
    >>> [round(tension) for tension in tensions(usual_drum("tom"))]
    [1252, 1647]
    """
    known: dict[str, float] = {}
    for side in drum.sides:
        setting = drum.setting(side)
        if setting.tension_n_per_m is not None:
            known[side] = setting.tension_n_per_m
        elif setting.reading is not None:
            known[side] = _inverse(drum, side, setting.reading, None, outside)
    free = [side for side in drum.sides if _needs_other(drum, side)]
    for _unused in range(MAX_ROUNDS):
        moved = 0.0
        for side in free:
            reading = drum.setting(side).reading
            assert reading is not None
            other = known["resonant" if side == "batter" else "batter"]
            new = _inverse(drum, side, reading, other, outside)
            moved = max(moved, abs(math.log(new / known[side])))
            known[side] = new
        if moved < 1e-7 or len(free) < 2:
            break
    else:
        raise ConvergenceError(
            _("The two free lug pitches do not fit one pair of tensions."),
            _("Read each head again with the other muted."),
        )
    for side, tension in known.items():
        _check_yield(drum, side, tension)
    return tuple(known[side] for side in drum.sides)


def _needs_other(drum: Drum, side: str) -> bool:
    reading = drum.setting(side).reading
    return reading is not None and reading.other_head == "free" and drum.resonant is not None


def _inverse(
    drum: Drum, side: str, reading: LugPitch, other: float | None, outside: OutsideAir | None
) -> float:
    """Tension from a reading; without the other head's tension, as if it were muted."""
    condition = "muted" if other is None else reading.other_head
    try:
        return tension_from_pitch(drum, side, reading.hz, condition, reading.centre, other, outside)
    except InputError as error:
        error.path = error.path or f"{side}.lug_pitch_hz"
        raise


def _check_yield(drum: Drum, side: str, tension: float) -> None:
    head = drum.setting(side).head
    bearable = head.substance.yield_pa.value * head.film_thickness_m
    if tension > bearable:
        raise InputError(
            _("A tension of {tension:.0f} N/m is too high for the {side} head {name!r}.").format(
                tension=tension, side=side, name=head.name
            ),
            _("Its film yields near {bearable:.0f} N/m: tune lower or use a thicker head.").format(
                bearable=bearable
            ),
            f"{side}.tension_n_per_m",
        )
