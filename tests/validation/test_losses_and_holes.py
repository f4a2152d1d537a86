"""Vents, ports and every loss beside radiation, against formulas and what the trade hears."""

from __future__ import annotations

from dataclasses import replace
from unittest import mock

import numpy as np
import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core import constants as const
from kesselton.core.acoustics.air.free_air import free_air
from kesselton.core.acoustics.air.orifice import Orifice, orifices
from kesselton.core.acoustics.film.film_part import LOSSLESS, End
from kesselton.core.acoustics.solver.modes import solve
from kesselton.core.acoustics.solver.partials import AIR, partials
from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.shell import HOOPS
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.uncertainty import error_budget
from tests.conftest import SINGLE, make_drum

RIGID = Head("wall", plies_m=(3e-3,), areal_density_kg_per_m2=5.0)


def resonator(hole: Orifice, radius: float = 0.1, depth: float = 0.2) -> DrumSystem:
    """A closed box: heads so tight that they do not move."""
    ends = (End(RIGID, 1e9, 8), End(RIGID, 1e9, 8))
    return DrumSystem((0,), ends, radius, depth, Air(), free_air(), orifices=(hole,))


@pytest.mark.parametrize("place", [0.5, 1.0])
@pytest.mark.parametrize("radius", [0.004, 0.012, 0.03])
def test_a_hole_in_a_box_is_a_helmholtz_resonator(place: float, radius: float) -> None:
    """f = c / 2 pi sqrt(S / (V l')), l' = l + 2 (8 / 3 pi) r; quality by radiation into free space
    4 pi sqrt(V (l' / S)^3), twice that of a flanged neck (Kinsler et al., Fundamentals of Acoustics,
    section 10.8, from memory). The box is lumped there: good to (kL)^2 / 6, twice that in the mass
    of the air that follows inside."""
    hole = Orifice(place, radius, 0.009)
    length = 0.009 + 2.0 * 8.0 / (3.0 * np.pi) * radius
    area, volume = np.pi * radius**2, np.pi * 0.1**2 * 0.2
    with mock.patch.object(const, "AIR_VISCOSITY_PA_S", 0.0):
        system = resonator(hole)
        expected = system.c / (2.0 * np.pi) * np.sqrt(area / (volume * length))
        roots = solve(system, np.array([4.0 * np.pi * expected]))
    lumped = (2.0 * np.pi * expected / system.c * 0.2) ** 2 / 6.0
    assert len(roots.omega) == 1
    assert roots.frequency_hz[0] == pytest.approx(expected, rel=0.002 + lumped)
    quality = 4.0 * np.pi * np.sqrt(volume * (length / area) ** 3)
    found = roots.omega[0].real / (2.0 * roots.omega[0].imag)
    assert found == pytest.approx(quality, rel=0.002 + 4.0 * lumped)
    # friction in the neck: R = sqrt(2 eta rho w) (l / r + 1) / S (Ingard 1953, from memory)
    damped = solve(resonator(hole), np.array([4.0 * np.pi * expected])).omega[0]
    w, mass = damped.real, system.rho * length / area
    rub = np.sqrt(2.0 * Air().viscosity_pa_s * system.rho * w) * (0.009 / radius + 1.0) / area
    layer = np.sqrt(2.0 * Air().viscosity_pa_s / (system.rho * w * const.PRANDTL_AIR))
    walls = (Air().heat_ratio - 1.0) * layer * (1.0 / 0.1 + 1.0 / 0.2)  # heat into the walls
    if radius > 0.02:
        return  # radiation has drowned the friction
    by_friction = damped.imag - roots.omega[0].imag * (w / roots.omega[0].real) ** 4
    assert by_friction == pytest.approx(0.5 * (rub / mass + w * walls), rel=0.25)


def test_a_port_shows_and_a_vent_hardly() -> None:
    """A bass drum with a port: the air in it sounds below the heads, the lowest pair moves up. A
    vent of 10 mm moves no partial of the heads by more than a few cents (common practice)."""
    pair = (2000.0, 2200.0)
    closed = make_drum(0.56, 0.41, SINGLE, SINGLE, pair)
    plain = partials(closed, pair, lowest=8)
    with_port = make_drum(0.56, 0.41, SINGLE, replace(SINGLE, port_diameter_m=0.13), pair)
    ported = partials(with_port, pair, lowest=8)
    assert ported.branch[0] == AIR
    assert ported.frequency_hz[0] < 0.6 * ported.frequency_hz[ported.fundamental]
    lift = ported.frequency_hz[ported.fundamental] / plain.frequency_hz[plain.fundamental]
    assert 1.005 < lift < 1.1
    budget = error_budget(with_port, ported)
    assert budget.inside[0] > 20.0  # an end correction known to a tenth
    vented = replace(closed, shell=replace(closed.shell, vent_diameter_m=0.01))
    found = partials(vented, pair, lowest=8)
    assert AIR not in found.branch  # it breathes too slowly to be heard
    assert np.abs(1200.0 * np.log2(found.frequency_hz / plain.frequency_hz)).max() < 8.0
    assert len(orifices(vented)) == 1
    assert orifices(closed) == ()


def test_a_hole_in_an_open_shell_and_two_holes() -> None:
    """Nothing is lost or invented: the count of modes is checked inside."""
    opened = make_drum(0.3, 0.3, SINGLE, None)
    vented = replace(opened, shell=replace(opened.shell, vent_diameter_m=0.02))
    one, other = partials(opened, (1200.0,)), partials(vented, (1200.0,))
    assert len(one) == len(other)
    front = replace(SINGLE, port_diameter_m=0.08)
    both = make_drum(0.4, 0.3, front, front)
    both = replace(both, shell=replace(both.shell, vent_diameter_m=0.01))
    assert len(orifices(both)) == 3
    found = partials(both, (1200.0, 1600.0), lowest=10)
    assert np.all(found.t60_s > 0.0)


def test_plane_waves_in_the_shell_fade_as_in_a_wide_tube() -> None:
    """Kirchhoff's attenuation sqrt(eta w / 2 rho) (1 + (g - 1) / sqrt(Pr)) / (a c) (Kinsler et al.,
    section 8.9, from memory); a very deep shell leaves the ends out."""
    air, omega, radius = Air(), 2.0 * np.pi * 180.0, 0.15
    system = DrumSystem((0,), (End(RIGID, 1e9, 8),) * 2, radius, 1e6, air, free_air())
    per_radian = system._wall_loss[0, 0] / np.sqrt(omega)
    sound, density = air.sound_speed_m_per_s, air.density_kg_per_m3
    alpha = np.sqrt(air.viscosity_pa_s * omega / (2.0 * density))
    alpha *= (1.0 + (air.heat_ratio - 1.0) / np.sqrt(const.PRANDTL_AIR)) / (radius * sound)
    assert per_radian == pytest.approx(2.0 * alpha * sound / omega, rel=1e-4)


def test_viscosity_of_air() -> None:
    """1.813e-5 Pa s at 20 degrees (any handbook table, from memory)."""
    assert Air(20.0).viscosity_pa_s == pytest.approx(1.813e-5, rel=0.005)
    assert Air(20.0, 0.0).heat_ratio == pytest.approx(1.4)


def fundamental_t60(drum: Drum) -> float:
    found = predict(drum).partials
    return float(found.t60_s[found.fundamental])


def test_decay_of_ordinary_drums_is_what_the_trade_hears() -> None:
    """Fundamentals: toms 0.3 to 3 s; a bass drum 0.3 to 2 s once rings damp both heads, well under
    half of what it rings freely (common practice, no published source; what a ring takes as the
    head turns under it was fitted to that, no other loss)."""
    drums = {entry.drum.name: entry.drum for entry in demo_workshop().entries}
    for name in ("Rack tom", "Floor tom", "Pit snare", "Field drum"):
        assert 0.3 < fundamental_t60(drums[name]) < 3.0, name
    bass = drums["Bass"]
    assert bass.resonant is not None
    ring = Head("x", plies_m=(254e-6,), additions=(Addition("ring", 0.19, 0.25, 254e-6),))
    damped = replace(
        bass, batter=replace(bass.batter, head=ring), resonant=replace(bass.resonant, head=ring)
    )
    plain = Head("x", plies_m=(254e-6,))
    freely = replace(
        bass, batter=replace(bass.batter, head=plain), resonant=replace(bass.resonant, head=plain)
    )
    assert 2.0 < fundamental_t60(freely) < 5.0
    assert 0.3 < fundamental_t60(damped) < 0.45 * fundamental_t60(freely) < 2.0
    assert fundamental_t60(damped) < fundamental_t60(bass) < 0.7 * fundamental_t60(freely)


def test_every_loss_shortens() -> None:
    base = make_drum(0.4, 0.3)
    longest = fundamental_t60(base)
    two = Head("x", plies_m=(127e-6, 127e-6))
    ring = replace(SINGLE, additions=(Addition("ring", 0.15, 0.19, 254e-6),))
    wood = replace(base, shell=replace(base.shell, hoop="wood"))
    assert fundamental_t60(make_drum(0.4, 0.3, two, two)) < longest
    assert fundamental_t60(make_drum(0.4, 0.3, ring)) < longest
    assert fundamental_t60(wood) < longest
    still = {name: replace(hoop, edge=LOSSLESS) for name, hoop in HOOPS.items()}
    with mock.patch.dict(HOOPS, still):
        assert fundamental_t60(wood) > longest
    with mock.patch.object(const, "AIR_VISCOSITY_PA_S", 0.0):
        assert fundamental_t60(base) > longest
