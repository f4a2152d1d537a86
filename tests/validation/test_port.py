"""What a port does, and what a microphone inside hears."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.usual_drums import usual_drum
from kesselton.core.acoustics.solver.partials import AIR, decay_rate, partials
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum, LugPitch
from kesselton.core.prediction.inside import falls_s, pressure_inside
from kesselton.core.prediction.port import PortView, port_view, without_port
from kesselton.core.prediction.prediction import predict


def bass(batter_hz: float, front_hz: float, port_m: float = 0.127) -> Drum:
    drum = usual_drum("bass")
    assert drum.resonant is not None
    front = replace(drum.resonant.head, port_diameter_m=port_m)
    return replace(
        drum,
        batter=replace(drum.batter, reading=LugPitch(batter_hz, "muted", "damped")),
        resonant=replace(drum.resonant, head=front, reading=LugPitch(front_hz, "muted", "damped")),
    )


def view(drum: Drum) -> PortView:
    found = port_view(predict(drum))
    assert found is not None
    return found


@pytest.mark.parametrize("port_m", [0.0, 0.127])
def test_slow_motions_press_the_air_as_a_spring_does(port_m: float) -> None:
    """rho c^2 dV / V far below the first resonance of the air (Kinsler et al., section 10.8, from
    memory), the volume that leaves by the port counted; second way: volumes of the heads by their
    own shapes, not by duct functions."""
    drum = bass(73.0, 82.0, port_m)
    shallow = replace(drum, shell=replace(drum.shell, depth_m=0.1))
    found = partials(shallow, (900.0, 1100.0), lowest=4)
    system = found.system
    at = found.fundamental
    shape = found.shape[at]
    shell = float(system.moves) and shape[-1]
    volume = 0.0
    s = (np.arange(4000) + 0.5) / 4000
    from kesselton.core.acoustics.bessel import head_basis

    for sign, part in zip((1.0, -1.0), system.slices, strict=True):
        count = part.stop - part.start
        mean = (head_basis(0, count).values(s) * (2.0 * s / 4000)[:, None]).sum(axis=0)
        volume = volume + sign * (mean @ shape[part] + math.sqrt(2.0) * shell)
    for unknown in range(system.holes.start, system.holes.stop):
        volume = volume - math.sqrt(2.0) * shape[unknown]
    spring = system.rho * system.c**2 * volume / 0.1 / math.sqrt(2.0 * math.pi * system.radius_m**2)
    heard = pressure_inside(found, 0.05, 0.5)[at]
    assert abs(heard) == pytest.approx(abs(spring), rel=0.06)


def test_the_pressure_under_a_head_is_what_moves_it() -> None:
    """Just behind a head the gradient of the pressure is the head's own acceleration (Euler)."""
    drum = bass(73.0, 82.0)
    found = partials(drum, (900.0, 1100.0), lowest=12)
    omega = 2.0 * np.pi * found.frequency_hz + 1j * decay_rate(found.t60_s)
    step = 0.002
    near = pressure_inside(found, 0.020, 0.4)
    far = pressure_inside(found, 0.020 + step, 0.4)
    middle = (far - near) / step / (found.system.rho * omega**2)
    from kesselton.core.acoustics.bessel import head_basis, square_area

    heads = found.branch != AIR
    for index in np.flatnonzero(heads & (found.order == 2)):
        count = found.system.ends[0].functions
        here = head_basis(2, count).values(np.array([0.4]))[0]
        part = found.shape[index, found.system.slices[0]]
        own = (here @ part) / math.sqrt(square_area(np.array([2]), found.system.radius_m)[0])
        # 2 cm behind it a motion with nodal lines has faded by about e^(-j' z / a)
        assert 0.5 < abs(middle[index]) / abs(own) < 1.1
    with pytest.raises(InputError, match="Microphone position is out of range:"):
        pressure_inside(found, 2.0, 0.4)


def test_a_port_shortens_and_lifts_the_more_the_higher_the_front_head() -> None:
    """Players: a port makes a bass drum shorter and drier (common practice, no published source).
    Computed: plainly so where the front head is the higher one, hardly at unison."""
    level, third, octave = view(bass(60.0, 60.0)), view(bass(60.0, 90.0)), view(bass(50.0, 110.0))
    assert 0.95 < level.ring < 1.0
    assert level.ring > third.ring > octave.ring
    assert third.early < 0.9
    assert octave.early < 0.65
    assert 0 < level.note_cents < third.note_cents < octave.note_cents
    assert level.level_db > third.level_db > octave.level_db
    assert all(one.far_share[1] > one.far_share[0] for one in (level, third, octave))


def test_without_a_port_there_is_nothing_to_say() -> None:
    drum = bass(73.0, 82.0, 0.0)
    assert without_port(drum) is None
    assert port_view(predict(drum)) is None
    cut = bass(73.0, 82.0)
    plain = without_port(cut)
    assert plain is not None
    assert plain.resonant == replace(drum.resonant, head=plain.resonant.head)  # type: ignore


def test_lines_together_fall_as_their_sum_does() -> None:
    power, decay = np.array([9.0, 1.0]), np.array([20.0, 2.0])
    at = falls_s(power, decay, 20.0)
    left = (power * np.exp(-2.0 * decay * at)).sum() / power.sum()
    assert 10.0 * math.log10(left) == pytest.approx(-20.0, abs=0.1)
    alone = falls_s(np.array([1.0]), np.array([6.907755]), 60.0)
    assert alone == pytest.approx(1.0, rel=1e-3)
