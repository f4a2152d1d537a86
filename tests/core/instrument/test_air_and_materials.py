from __future__ import annotations

import pytest
from CoolProp.CoolProp import HAPropsSI, PropsSI

from kesselton.core.errors import InputError
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.materials import MATERIALS


@pytest.mark.parametrize("celsius", [-10.0, 0.0, 20.0, 35.0])
@pytest.mark.parametrize("humidity", [0.0, 0.5, 1.0])
def test_density_against_coolprop(celsius: float, humidity: float) -> None:
    """CoolProp's humid air (Herrmann et al.): an ideal mixture stays within 0.15 %."""
    air = Air(celsius, humidity)
    kelvin = celsius + 273.15
    volume = HAPropsSI("Vha", "T", kelvin, "P", 101325.0, "R", humidity)
    ratio = HAPropsSI("W", "T", kelvin, "P", 101325.0, "R", humidity)
    assert air.density_kg_per_m3 == pytest.approx(1.0 / volume, rel=1.5e-3)
    assert air.water_fraction == pytest.approx(ratio / (ratio + 0.621945), abs=4e-4)


@pytest.mark.parametrize("celsius", [0.0, 20.0, 40.0])
def test_speed_of_sound_of_dry_air_against_coolprop(celsius: float) -> None:
    reference = PropsSI("A", "T", celsius + 273.15, "P", 101325.0, "Air")
    assert Air(celsius, 0.0).sound_speed_m_per_s == pytest.approx(reference, rel=1e-3)


def test_speed_of_sound_of_iso_9613() -> None:
    """ISO 9613-1:1993 takes 343.2 m/s at 20 °C (from memory); moist air is a little faster."""
    dry, moist = Air(20.0, 0.0), Air(20.0, 1.0)
    assert dry.sound_speed_m_per_s == pytest.approx(343.2, abs=0.2)
    assert 0.5 < moist.sound_speed_m_per_s - dry.sound_speed_m_per_s < 2.0
    assert moist.density_kg_per_m3 < dry.density_kg_per_m3


@pytest.mark.parametrize(
    "bad", [{"temperature_c": 90.0}, {"relative_humidity": 1.2}, {"pressure_pa": float("nan")}]
)
def test_impossible_air_is_refused(bad: dict[str, float]) -> None:
    with pytest.raises(InputError, match=r"not a number|Temperature|humidity"):
        Air(**bad)


def test_film_mass_from_the_density_table() -> None:
    """10 mil of 1390 kg/m3 polyester weigh 0.353 kg/m2; 1 mil is 25.4 um exactly."""
    assert Head("x", plies_m=(10 * 25.4e-6,)).base_density_kg_per_m2 == pytest.approx(
        0.353, abs=5e-4
    )
    coated = Head("x", plies_m=(177.8e-6, 177.8e-6), coating_kg_per_m2=0.04)
    assert coated.base_density_kg_per_m2 == pytest.approx(2 * 177.8e-6 * 1390 + 0.04)
    weighed = Head("x", plies_m=(254e-6,), areal_density_kg_per_m2=0.4)
    assert weighed.base_density_kg_per_m2 == 0.4
    assert weighed.film_thickness_m == 254e-6


def test_plies_bend_one_by_one() -> None:
    one, two = Head("x", plies_m=(254e-6,)), Head("x", plies_m=(127e-6, 127e-6))
    assert two.bending_stiffness_nm == pytest.approx(one.bending_stiffness_nm / 4)
    assert two.loss_factor > one.loss_factor


def test_every_material_value_has_a_source() -> None:
    for material in MATERIALS.values():
        for value in (material.density_kg_per_m3, material.modulus_pa, material.loss_factor):
            assert value.source
            assert value.value > 0


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Head("x"), "has no mass"),
        (lambda: Head("x", plies_m=(0.0,)), "Ply thickness is out of range: 0 m"),
        (lambda: Head("x", plies_m=(float("nan"),)), "not a number"),
        (lambda: Head("x", material="paper", plies_m=(1e-4,)), "is not a head material"),
        (lambda: Head("x", plies_m=(1e-4,) * 5), "5 plies"),
        (lambda: Addition("dot", 0.05, 0.05, 1e-4), "not larger"),
        (lambda: Addition("star", 0.0, 0.05, 1e-4), "is not a dot or ring"),
    ],
)
def test_impossible_heads_are_refused(make: object, words: str) -> None:
    with pytest.raises(InputError, match=words):
        make()  # type: ignore[operator]
