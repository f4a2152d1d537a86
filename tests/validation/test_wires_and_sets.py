"""Snare wires, answering drums, roughness and chords against values worked out elsewhere."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.linalg import eigh

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.acoustics.solver.partials import AIR
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.wires import Laid, Wires
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.stroke import sounding_j
from kesselton.core.prediction.wires import leaving_m_per_s2, load, lying, response, strip_of
from kesselton.core.sets.model.chords import chord_error_cents
from kesselton.core.sets.model.roughness import dissonance, roughness
from kesselton.core.sets.together.answering import answer, coupling, driven, ready

SNARE, TOM, *_ = (entry.drum for entry in demo_workshop().entries)
RADIUS, TENSION, DENSITY = 0.1778, 1000.0, 0.106
WIRES = Laid(20, 0.32, 0.036, 0.14 * 0.32, 30.0, 0.0015)


def in_vacuum(orders: int, functions: int) -> np.ndarray:
    """Lowest frequencies of a head in vacuum with the wires on it, Hz, by Ritz's method."""
    order, shape, omega = [], [], []
    for m in range(orders + 1):
        basis = head_basis(m, functions)
        for n in range(functions):
            one = np.zeros(functions)
            one[n] = 1.0 / math.sqrt(DENSITY)  # modal mass 1 kg
            order.append(m)
            shape.append(one)
            omega.append(basis.k[n] / RADIUS * math.sqrt(TENSION / DENSITY))
    more, stiffer = load(strip_of(np.array(order), np.array(shape), RADIUS, WIRES), WIRES)
    square, _ = eigh(np.diag(np.square(omega)) + stiffer, np.eye(len(omega)) + more)
    return np.asarray(np.sqrt(square) / (2.0 * math.pi))


def test_wires_on_a_head_in_vacuum() -> None:
    # check values from an independent Ritz solution (m, n to 4 and to 20) handed to this project
    assert in_vacuum(4, 4)[0] == pytest.approx(65.34, abs=0.01)
    assert in_vacuum(8, 12)[:2] == pytest.approx([64.68, 94.90], rel=0.011)  # not yet converged
    falling = [in_vacuum(m, m)[0] for m in (4, 6, 8)]
    assert falling == sorted(falling, reverse=True)
    assert falling[-1] > 64.70  # Ritz's values lie above
    bare = [head_basis(m, 1).k[0] / RADIUS * math.sqrt(TENSION / DENSITY) for m in (0, 1)]
    assert np.array(bare) / (2.0 * math.pi) == pytest.approx([209.1, 333.2], abs=0.1)


def test_when_wires_leave_the_head() -> None:
    assert leaving_m_per_s2(WIRES) == pytest.approx(15.3, abs=0.05)  # check value, likewise
    assert (
        leaving_m_per_s2(replace(WIRES, pull_n=11.6))
        < 0.0
        < leaving_m_per_s2(replace(WIRES, pull_n=11.8))
    )
    on_edge = leaving_m_per_s2(WIRES, 90.0)  # nothing but the pull holds them
    assert on_edge == pytest.approx(30.0 * 8.0 * 0.0015 / 0.32**2 / 0.14)


def test_a_tighter_strainer_asks_for_a_harder_stroke() -> None:
    found, stroke = predict(SNARE), Stroke(0.3, "wood_tip")
    laid = SNARE.laid_wires
    assert laid is not None
    said = [response(found.partials, replace(laid, pull_n=n), stroke) for n in (11, 30, 60, 160)]
    touches = [one.from_touch for one in said]
    assert touches == sorted(touches)
    assert [one.verdict for one in said] == ["loose", "right", "choked", "dull"]


def test_a_tom_wakes_the_wires_and_the_strainer_helps() -> None:
    """Check values handed to this project: a 12 in tom, 0.09 N s, 0.6 m, wires lying: + 1.3 dB, led
    by 238 Hz; with 20, 45, 60 N + 8.4, - 3.8, - 6.9 dB. The drums there are not ours to the last
    detail: 3 dB."""
    stroke = Stroke(0.3, "wood_tip", 0.09 / 0.072)
    tom = ready(predict(TOM))
    over = {}
    for pull in (20.0, 30.0, 45.0, 60.0):
        snare = ready(predict(replace(SNARE, wires=Wires(pull_n=pull))))
        found = answer(tom, snare, stroke, 0.6, (0, 1))
        over[pull] = found.wires_db
        assert found.wires_hz == pytest.approx(238.0, abs=1.0)
    wanted = {20.0: 8.4, 30.0: 1.3, 45.0: -3.8, 60.0: -6.9}
    assert all(abs(over[pull] - wanted[pull]) < 3.5 for pull in wanted)
    assert over[20.0] - over[60.0] == pytest.approx(15.3, abs=2.0)


def test_tuning_the_snare_side_promises_little() -> None:
    tom, stroke = ready(predict(TOM)), Stroke(0.3, "wood_tip", 0.09 / 0.072)
    assert SNARE.resonant is not None
    over = []
    for cents in (-60.0, 0.0, 60.0):
        moved = SNARE.resonant.at_pitch(349.23 * 2.0 ** (cents / 1200.0))
        snare = ready(predict(SNARE.with_setting("resonant", moved)))
        over.append(answer(tom, snare, stroke, 0.6, (0, 1)).wires_db)
    assert max(over) - min(over) < 4.5  # 0.5 to 4 dB, as handed over


def test_a_driven_motion_against_a_solver_of_differential_equations() -> None:
    """One motion driven by one decaying line, integrated step by step: its energy, not its formula."""
    snare = ready(predict(SNARE))
    found = snare.prediction
    p = found.partials
    at = p.fundamental
    omega, rate = 2.0 * math.pi * float(p.frequency_hz[at]), float(snare.rate[at])
    force = float(coupling(found, np.array([omega]), np.array([rate * p.radiated_share[at]]))[0])
    drive, fall, pascal = 0.97 * omega, 6.0, 0.3

    def moving(t: float, state: np.ndarray) -> list[float]:
        push = force * pascal * math.exp(-fall * t) * math.cos(drive * t)
        return [state[1], push - 2.0 * rate * state[1] - omega**2 * state[0]]

    times = np.linspace(0.0, 0.2, 6000)
    made = solve_ivp(moving, (0.0, 0.2), [0.0, 0.0], t_eval=times, rtol=1e-8, atol=1e-14)
    speed2 = made.y[1] ** 2
    air = found.drum.air
    watt = 2.0 * rate * float(p.radiated_share[at]) * speed2  # of a motion of modal mass 1 kg
    rho_c = air.density_kg_per_m3 * air.sound_speed_m_per_s
    square = float(np.mean(rho_c * watt / (4.0 * math.pi)))
    only = replace_partials(snare, at)
    level = driven(only, np.array([drive + 1j * fall]), np.array([pascal]), (0, 1), 1.0).level_db
    assert level == pytest.approx(10.0 * math.log10(square), abs=0.5)


def replace_partials(one: object, at: int) -> object:
    """The drum with one motion only."""
    from kesselton.core.acoustics.solver.partials import select
    from kesselton.core.sets.together.answering import Ready

    assert isinstance(one, Ready)
    found = replace(one.prediction, partials=select(one.prediction.partials, np.array([at])))
    return Ready(one.drum, found, None)


def test_lying_wires_lower_every_line_they_touch() -> None:
    found = predict(SNARE)
    laid = SNARE.laid_wires
    assert laid is not None
    on = lying(found.partials, laid)
    bare = found.partials.frequency_hz[found.partials.branch != AIR]
    assert on.frequency_hz[0] < bare[0] - 30.0
    assert np.all(on.t60_s > 0.0)
    light = lying(found.partials, replace(laid, mass_kg=1e-6, pull_n=1e-3))
    assert light.frequency_hz == pytest.approx(bare, rel=1e-3)  # as if there were none


def test_roughness_peaks_where_it_was_published() -> None:
    """Sethares 1993, eqs. 2 and 3, from memory."""
    for low, apart in ((150.0, 20.3), (440.0, 25.8)):
        gaps = np.linspace(0.1, 120.0, 4000)
        rough = dissonance(np.array(low), low + gaps)
        assert float(rough.max()) == pytest.approx(0.1808, abs=1e-4)
        assert float(gaps[rough.argmax()]) == pytest.approx(apart, abs=0.1)


def test_six_harmonics_are_smooth_at_simple_ratios() -> None:
    """Sethares 1993, figure 3: dips at simple ratios, from memory."""
    harmonics = 440.0 * np.arange(1, 7)
    loud = 0.88 ** np.arange(6)
    ratios = np.linspace(1.05, 2.05, 1001)
    rough = roughness(harmonics[None], loud[None], harmonics * ratios[:, None], loud[None])
    dips = ratios[1:-1][(rough[1:-1] < rough[:-2]) & (rough[1:-1] < rough[2:])]
    for ratio in (1.2, 1.25, 4.0 / 3.0, 1.5, 5.0 / 3.0, 2.0):
        assert np.abs(dips - ratio).min() < 0.006, ratio


def test_how_far_from_a_chord() -> None:
    notes, wanted = np.array([0.0, -480.0, -1010.0]), np.array([0.0, -500.0, -1000.0])
    assert chord_error_cents(notes, wanted) == pytest.approx(12.5, abs=0.05)  # check value
    assert chord_error_cents(notes + 137.0, wanted) == pytest.approx(12.5, abs=0.05)
    assert chord_error_cents(wanted - 900.0, wanted) == pytest.approx(0.0, abs=1e-9)


def test_a_fifth_below_cracks_and_a_third_is_fatter() -> None:
    """Common practice, no published source: brighter and shorter the one, lower and longer the
    other, the batter head left by feel."""
    bright, early, notes = [], [], []
    for cents in (400.0, 700.0):
        assert SNARE.resonant is not None
        side = SNARE.resonant.at_pitch(261.63 * 2.0 ** (cents / 1200.0))
        found = predict(SNARE.with_setting("resonant", side))
        sound = sounding_j(found.partials, found.stroke)
        bright.append(float(sound @ found.partials.frequency_hz / sound.sum()))
        early.append(found.decay.early_s)
        notes.append(found.fundamental_hz)
    assert bright[1] > 1.05 * bright[0]
    assert early[1] < 0.9 * early[0]
    assert notes[1] > notes[0]
