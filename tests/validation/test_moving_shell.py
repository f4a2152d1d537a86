"""The shell recoils and the hoops stand in the air: held against other makers' figures."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.air.free_air import free_air
from kesselton.core.acoustics.air.hoop_rim import Rimmed
from kesselton.core.acoustics.solver.lug import lug_pitch, tensions
from kesselton.core.acoustics.solver.partials import fundamental_hz, partials
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.instrument import shell as shells
from kesselton.core.instrument.drum import Drum
from tests.conftest import SINGLE, make_drum

# Independent axisymmetric finite elements (heads, air inside and outside, complex scaling), figures
# as handed over: shell mass in kg, cents by recoil when hung free, cents by rim and hardware at
# held lug pitch. The bass is another drum than the demo's (22 in against 20 in), so left out here.
FIGURES = {
    "Pit snare": (4.0, 14.7, -9.2),
    "Rack tom": (3.2, 17.7, -5.3),
    "Floor tom": (5.5, 18.4, -3.2),
    "Concert bass": (16.0, 37.6, -5.8),
}


def _ideal(name: str) -> Drum:
    drum = next(entry.drum for entry in demo_workshop().entries if entry.drum.name == name)
    half = 0.5 * drum.shell.head_diameter_m
    return replace(drum, shell=replace(drum.shell, contact_radius_m=half, mount="held"))


def _hung(drum: Drum, mass_kg: float) -> Drum:
    """Its shell alone recoils, nothing of a mount with it."""
    whole = 1.0 + (shells.MOUNTS["hung"].added or 0.0)
    return replace(drum, shell=replace(drum.shell, mount="hung", mass_kg=mass_kg / whole))


def _cents(one: float, other: float) -> float:
    return CENTS_PER_NEPER * float(np.log(other / one))


@pytest.mark.parametrize("name", FIGURES)
def test_recoil_and_rims_against_finite_elements(name: str) -> None:
    mass, recoil, rim = FIGURES[name]
    drum = _ideal(name)
    plain = tensions(drum, free_air())
    held = fundamental_hz(drum, plain, free_air())
    free = fundamental_hz(_hung(drum, mass), plain, free_air())
    assert _cents(held, free) == pytest.approx(recoil, abs=2.05)
    air = Rimmed(free_air(), drum.shell.rim_m / drum.shell.radius_m)
    rimmed = fundamental_hz(drum, tensions(drum, air), air)
    assert _cents(held, rimmed) == pytest.approx(rim, abs=2.0)
    # "lug pitches move by -3 to -8 cents only", at the same tension
    low = lug_pitch(drum, "batter", plain, outside=free_air())
    assert -8.0 < _cents(low, lug_pitch(drum, "batter", plain, outside=air)) < -2.0


def test_recoil_of_a_large_pedal_drum() -> None:
    """22 x 16 in without floor, 9 kg: 29.6 cents on heads unknown to us; of a mode with
    P^2 = .3154 kg, as handed over, first order says 30.3. Two single 10 mil heads here."""
    drum = make_drum(0.5588, 0.4064, SINGLE, SINGLE, (700.0, 700.0))
    held = replace(drum, shell=replace(drum.shell, mount="held"))
    one = fundamental_hz(held, (700.0, 700.0), free_air())
    other = fundamental_hz(_hung(held, 9.0), (700.0, 700.0), free_air())
    assert 22.0 < _cents(one, other) < 36.0


@pytest.mark.parametrize("tension", [400.0, 1500.0])
def test_the_shell_takes_up_what_films_and_air_carry(tension: float) -> None:
    """Momentum is conserved: the shift is 865.6 P^2 / M cents, P of the mode with the shell held
    (first order; films, air inside by tan(kL/2), outside by the uniform motion)."""
    held = replace(make_drum(), shell=replace(make_drum().shell, mount="held"))
    mass = 8.0
    found = partials(held, (tension, 1.3 * tension), lowest=3, outside=free_air())
    index = found.fundamental
    system, omega = found.system, 2.0 * np.pi * found.frequency_hz[index]
    area = np.sqrt(2.0 * np.pi * held.shell.radius_m**2)  # modal mass 1 kg
    x = found.shape[index].real / area
    from kesselton.core.acoustics.air.outside import HEAD, volumes

    swept = 2.0 * np.pi * held.shell.radius_m**2 * volumes(HEAD, 8)
    v = [swept @ x[part] for part in system.slices]
    k = omega / system.c
    impulse = sum(SINGLE.base_density_kg_per_m2 * one for one in v)
    impulse += system.rho * np.tan(0.5 * k * system.depth_m) / k * sum(v)
    felt = free_air().uniform(
        ((HEAD, 8), (HEAD, 8)), (True, True), system.depth_m / system.radius_m,
        np.array([k * system.radius_m + 0j]),
    )[0, 0, :-1].real  # fmt: skip
    # the uniform motion of one metre is sqrt(1/2) of the first cavity function
    a = system.radius_m
    impulse += 2.0 * np.pi * a**2 * system.rho * a * np.sqrt(0.5) * float(felt @ x)
    first_order = 865.6 * impulse**2 / mass
    free = fundamental_hz(_hung(held, mass), (tension, 1.3 * tension), free_air())
    moved = _cents(float(found.frequency_hz[index]), free)
    assert moved == pytest.approx(first_order, rel=0.05, abs=0.2)


def test_a_light_drum_on_a_strap_and_one_that_is_clamped() -> None:
    """Every mode stays counted whatever the shell weighs; a heavy shell is a clamped one."""
    drum = make_drum()
    clamped = replace(drum, shell=replace(drum.shell, mount="held"))
    reference = partials(clamped, (1200.0, 1600.0), 600.0)
    heavy = replace(drum, shell=replace(drum.shell, mass_kg=100.0, mount="stand"))
    found = partials(heavy, (1200.0, 1600.0), 600.0)
    assert len(found) == len(reference)
    assert found.frequency_hz == pytest.approx(reference.frequency_hz, rel=6e-4)
    light = replace(drum, shell=replace(drum.shell, mass_kg=0.3, mount="hung"))
    lighter = partials(light, (1200.0, 1600.0), 600.0)
    assert lighter.frequency_hz[lighter.fundamental] > 1.03 * reference.frequency_hz[0]
    assert lighter.recoil_share[lighter.fundamental] > 0.05
    assert np.all(lighter.recoil_share[lighter.order > 0] == 0.0)
