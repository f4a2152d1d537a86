"""Stroke, glide and decay held against other makers' figures and the trade."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.instrument.beater import BEATERS, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.stroke import contact_s, levels_db, pulse_of
from tests.conftest import SINGLE, make_drum

DRUMS = {entry.drum.name: entry.drum for entry in demo_workshop().entries}
# A stick of 16 g at 3 m/s on a head, simulated in the time domain by another program: ms on the
# head, figures as handed over; literature, from memory: 5 to 8 ms.
STAYS = {"Pit snare": 5.8, "Rack tom": 9.0, "Floor tom": 10.2}


@pytest.mark.parametrize("name", STAYS)
def test_the_head_decides_how_long_a_stick_stays(name: str) -> None:
    drum = DRUMS[name]
    found = float(contact_s(tensions(drum)[0], drum.shell.radius_m, BEATERS["wood_tip"]))
    assert 1e3 * found == pytest.approx(STAYS[name], rel=0.12)


def test_contact_follows_from_a_mass_on_the_stretched_head() -> None:
    """Second maker: a stick as a mass on the modes of a head in vacuum, stepped in time. The head
    alone, without air, loads the stick a little more: within a quarter."""
    drum, tension, sigma = DRUMS["Rack tom"], 1250.0, 0.353
    a, r, m = drum.shell.radius_m, BEATERS["wood_tip"].radius_m, 0.016
    from scipy.special import j0, j1, jn_zeros

    k = jn_zeros(0, 60)
    modal = sigma * np.pi * a**2 * j1(k) ** 2
    soft = np.where(k * r / a > 1e-9, 2.0 * j1(k * r / a) / (k * r / a), 1.0)  # mean over the tip
    omega2 = tension / sigma * (k / a) ** 2
    q, v, x, u, step = np.zeros(60), np.zeros(60), 0.0, 3.0, 2e-7
    tip = 4e5  # N/m of the tip itself
    time = 0.0
    while time < 0.03:
        force = tip * max(x - float(q @ soft), 0.0)
        if force == 0.0 and x < 0.0:  # back where it came from
            break
        v += step * (force * soft / modal - omega2 * q)
        q += step * v
        u -= step * force / m
        x += step * u
        time += step
    assert float(j0(0.0)) == 1.0
    assert time == pytest.approx(float(contact_s(tension, a, BEATERS["wood_tip"])), rel=0.25)


def test_strokes_in_the_center_are_dark_and_at_the_edge_bright() -> None:
    """Recordings with near microphones, as handed over: the band of (0,2) lies 17 to 23 dB under the
    fundamental for strokes in the center, edge strokes keep 20 to 40 dB more than a half-sine at
    1.6 kHz. Far off, as computed here, a higher partial gives more of itself away."""
    drum = DRUMS["Rack tom"]
    found = predict(drum, Stroke(0.05)).partials
    level = levels_db(found, Stroke(0.05))
    second = level[found.find(0, 2)]
    assert -25.0 < second < -5.0
    assert level.argmax() == found.fundamental
    pulse = pulse_of(Stroke(0.85), tensions(drum)[0], drum.shell.radius_m)
    omega = 2.0 * np.pi * np.linspace(1300.0, 1900.0, 50)
    alone = replace(pulse, front=0.0)
    gain = 10.0 * np.log10(
        np.mean(pulse.spectrum(omega) ** 2) / np.mean(alone.spectrum(omega) ** 2)
    )
    assert 12.0 < gain < 40.0


@pytest.mark.parametrize("name", DRUMS)
def test_levels_are_those_of_drums(name: str) -> None:
    """A medium stroke at 1 m: 80 to 110 dB (common practice, no published source)."""
    drum = DRUMS[name]
    beater = {"bass": "pedal_felt", "concert_bass": "felt_general"}.get(drum.kind, "wood_tip")
    soft, hard = (predict(drum, Stroke(0.2, beater, touch)).level_spl_db for touch in (0.5, 2.0))
    assert 75.0 < soft < hard < 115.0
    assert hard - soft == pytest.approx(12.0, abs=0.7)


def test_glide_follows_the_square_of_the_swing_and_falls_with_it() -> None:
    """f - f_inf goes with A^2 along one decay (recordings, as handed over: slope 1.9 to 2.4), 11 to
    120 cents for the softest strokes on toms, 100 to 340 for hard ones."""
    for name, soft_to in (("Rack tom", 60.0), ("Floor tom", 120.0)):
        drum = DRUMS[name]
        found = predict(drum).partials
        index = found.fundamental
        soft = glide_cents(found, Stroke(0.1, touch=0.5), 0.04)[index]
        hard = glide_cents(found, Stroke(0.1, touch=2.0), 0.04)[index]
        assert 2.0 < soft < soft_to
        assert 50.0 < hard < 400.0
        light = Stroke(0.1, touch=0.1)
        first, later = (glide_cents(found, light, t)[index] for t in (0.3, 0.8))
        fall = np.log(1000.0) / found.t60_s[index] * 0.5
        assert np.log(first / later) / fall == pytest.approx(2.0, abs=0.1)


def test_glide_against_a_head_that_is_really_stretched() -> None:
    """Second maker: one head in vacuum swinging in its first mode under Berger's law, stepped in
    time; the pitch of its first swings against the formula for one head."""
    from scipy.special import j1, jn_zeros

    drum = replace(make_drum(0.3048, 0.2032), resonant=None)
    tension, head = 1000.0, drum.batter.head
    a, k = drum.shell.radius_m, float(jn_zeros(0, 1)[0])
    sigma = head.base_density_kg_per_m2
    stiff = head.substance.biaxial_stiffness(head.film_thickness_m)
    omega2 = tension / sigma * (k / a) ** 2
    swing = 0.003
    beta = stiff * (k / a) ** 2 * float(j1(k)) ** 2 / 2.0 / tension  # of stretch over tension
    q, v, step, turns, time = swing, 0.0, 1e-6, 0, 0.0
    while turns < 20:
        v -= step * omega2 * q * (1.0 + beta * q * q)
        before, q = q, q + step * v
        time += step
        turns += (before > 0.0) != (q > 0.0)
    real = CENTS_PER_NEPER * np.log(9.75 / time * 2.0 * np.pi / np.sqrt(omega2))
    formula = 0.5 * CENTS_PER_NEPER * np.log1p(0.75 * beta * swing**2)
    assert formula == pytest.approx(real, rel=0.05)


PRESSED = {
    "two plies": Head("two", plies_m=(177.8e-6, 177.8e-6)),
    "fluid": Head("fluid", plies_m=(177.8e-6, 177.8e-6), interlayer="fluid"),
    "coating": replace(SINGLE, name="coated", coating_kg_per_m2=0.04),
    "dot": None,
    "ring": None,
    "floating": None,
}


def _dressed(name: str) -> Head:
    from kesselton.core.instrument.head import Addition

    made = PRESSED[name]
    if made is not None:
        return made
    inner, outer = {"dot": (0.0, 0.05)}.get(name, (0.12, 0.148))
    return replace(SINGLE, name=name, additions=(Addition(name, inner, outer, 254e-6),))


def _ring_s(drum: Drum) -> float:
    """Of the partials a stroke off the center gives, by their sound."""
    found = predict(drum, Stroke(0.35), 800.0)
    weight = 10.0 ** (found.levels_db / 10.0)
    return float(np.sum(weight * found.partials.t60_s) / np.sum(weight))


@pytest.mark.parametrize("name", PRESSED)
def test_what_the_trade_puts_into_heads_shortens(name: str) -> None:
    """Common practice, no published source: at the same lug pitches."""
    plain = make_drum().with_setting("batter", make_drum().batter.at_pitch(190.0))
    plain = plain.with_setting("resonant", plain.resonant.at_pitch(210.0))  # type: ignore[union-attr]
    other = plain.with_setting("batter", replace(plain.batter, head=_dressed(name)))
    assert _ring_s(other) < 0.985 * _ring_s(plain)


@pytest.mark.parametrize("kind", ["tape", "gel", "cloth", "ring", "pillow"])
def test_what_is_laid_on_shortens(kind: str) -> None:
    """Common practice, no published source."""
    plain = make_drum(tensions=(1200.0, 1300.0))
    assert _ring_s(replace(plain, mufflers=(Muffler(kind),))) < 0.9 * _ring_s(plain)


def test_a_port_shortens_a_bass_drum() -> None:
    """Common practice, no published source."""
    plain = make_drum(0.5588, 0.4064, SINGLE, SINGLE, (800.0, 900.0), "bass")
    ported = plain.with_setting(
        "resonant",
        replace(plain.resonant, head=replace(SINGLE, port_diameter_m=0.12)),  # type: ignore[type-var]
    )
    one, other = (predict(d, Stroke(0.1, "pedal_felt")) for d in (plain, ported))
    assert other.decay.early_s < one.decay.early_s


def test_decay_has_the_slope_and_ceiling_of_recordings() -> None:
    """Toms, heads unknown, as handed over: pooled slope of log T60 on log f -0.42 ± 0.10, f T60 of
    the longest lines 550 to 630 Hz s, medians 257 to 540, fundamentals 0.7 to 4 s."""
    two = PRESSED["two plies"]
    assert two is not None
    x, y, longest = [], [], []
    sizes = ((0.3048, 0.2032, 1250.0), (0.3302, 0.2286, 1100.0), (0.4064, 0.4064, 900.0))
    for diameter, depth, pull in sizes:
        for batter in (SINGLE, two):
            pair = (pull, 1.2 * pull)
            found = partials(make_drum(diameter, depth, batter, SINGLE, pair), pair, 1000.0)
            rings = (found.t60_s > 0.1) & (found.branch != "air")
            hz, t60 = found.frequency_hz[rings], found.t60_s[rings]
            x += list(np.log(hz) - np.log(hz).mean())
            y += list(np.log(t60) - np.log(t60).mean())
            longest.append(float((hz * t60).max()))
            assert 257.0 < np.median(hz * t60) < 540.0
            assert 0.7 < found.t60_s[found.fundamental] < 4.0
    assert np.polyfit(x, y, 1)[0] == pytest.approx(-0.42, abs=0.10)
    assert 500.0 < max(longest) < 650.0


def test_early_and_late_decay_are_told_apart() -> None:
    found = predict(DRUMS["Rack tom"], Stroke(0.3))
    assert found.decay.early_s < found.decay.late_s
    assert found.decay.late_s <= float(found.partials.t60_s.max()) * 1.01
