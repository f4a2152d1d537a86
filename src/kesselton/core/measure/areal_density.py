"""What a head weighs, from a kitchen scale or from two pitches."""

from __future__ import annotations

import math
from dataclasses import replace

from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch
from kesselton.core.errors import ConvergenceError, InputError, check_range
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.language import _
from kesselton.core.pitch import cents_between

LIGHTEST, HEAVIEST = 0.03, 1.5
"""Areal densities a head can have, kg/m^2."""
MAX_ROUNDS = 40


def density_from_weight(mass_kg: float, diameter_m: float, hoop_kg: float = 0.0) -> float:
    """Areal density in kg/m^2 of a head on the scale.

    Parameters
    ----------
    mass_kg : head with whatever hoop it has
    diameter_m : of the film, hoop to hoop
    hoop_kg : its flesh hoop, from an old head of the same make cut out of its film

    Raises
    ------
    InputError
        If nothing is left for the film, or more than a head can weigh.
    """
    check_range(mass_kg, 0.005, 5.0, _("Weight"), "kg", "mass_kg")
    check_range(diameter_m, 0.1, 1.5, _("Diameter"), "m", "diameter_m")
    check_range(hoop_kg, 0.0, 4.0, _("Hoop weight"), "kg", "hoop_kg")
    film = mass_kg - hoop_kg
    density = film / (0.25 * math.pi * diameter_m**2)
    if film <= 0.0 or not LIGHTEST <= density <= HEAVIEST:
        raise InputError(
            _(
                "That leaves {film:.0f} g of film, {density:.3f} kg/m²: not possible for a head."
            ).format(film=1000.0 * film, density=density),
            _("Check both weights and the diameter; use a scale that reads to 1 g."),
            "mass_kg",
        )
    return density


def density_from_pitches(drum: Drum, known: Head, known_hz: float, head: Head, hz: float) -> float:
    """Areal density in kg/m^2 of a head that sounds `hz` at the tension at which a known one
    sounds `known_hz`: both on this drum, one after the other, at the same reading of a dial.

    Raises
    ------
    InputError
        If no weight gives those pitches.
    ConvergenceError
        If the search does not settle.

    Notes
    -----
    Lug pitches (1,1), other head muted. Without air the densities would go as the squares of the
    pitches; the air that moves along is in both.
    """
    on = drum.with_setting("batter", HeadSetting(known, 1.0))
    tension = tension_from_pitch(on, "batter", known_hz)
    other = 1000.0

    def off(density: float) -> float:
        trial = replace(head, areal_density_kg_per_m2=density)
        pair = (tension, other) if drum.resonant is not None else (tension,)
        fitted = drum.with_setting("batter", HeadSetting(trial, 1.0))
        return cents_between(hz, lug_pitch(fitted, "batter", pair))

    low, high = LIGHTEST, HEAVIEST
    if off(low) < 0.0 or off(high) > 0.0:
        raise InputError(
            _("No head gives {hz:.1f} Hz where {name!r} gives {known_hz:.1f} Hz.").format(
                hz=hz, name=known.name, known_hz=known_hz
            ),
            _("Read both again: same drum, same gauge reading, other head muted."),
            "hz",
        )
    for _unused in range(MAX_ROUNDS):
        middle = math.sqrt(low * high)
        away = off(middle)
        if abs(away) < 0.01:
            return middle
        low, high = (middle, high) if away > 0.0 else (low, middle)
    raise ConvergenceError(_("No weight fits these pitches."), _("Read both pitches again."))
