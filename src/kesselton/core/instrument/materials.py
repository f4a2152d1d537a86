"""What heads are made of. Every value carries its source; "assumed" is said where there is none."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core.errors import InputError
from kesselton.core.language import N_, _, worded

ASSUMED = "assumed"
DATA_SHEET = "order of film data sheets, from memory"
FILM_SWELLING = "0.6e-5 for a per cent of relative humidity, from memory"


@dataclass(frozen=True)
class Sourced:
    """A value together with where it comes from."""

    value: float
    source: str


@worded("label")
@dataclass(frozen=True)
class Material:
    """A head material.

    `loss_factor` is the imaginary part of the restoring force per ply; `ply_friction` is added
    for each further ply, which rubs on the one before. `swelling` is its strain when relative
    humidity rises from 0 to 1.
    """

    name: str
    label: str
    density_kg_per_m3: Sourced
    modulus_pa: Sourced
    poisson_ratio: Sourced
    yield_pa: Sourced
    expansion_per_k: Sourced
    loss_factor: Sourced
    ply_friction: Sourced
    swelling: Sourced

    def bending_stiffness_nm(self, thickness_m: float) -> float:
        """E h^3 / 12 (1 - nu^2) of one ply, N m."""
        return self.biaxial_stiffness(thickness_m) * thickness_m**2 / 12.0

    def biaxial_stiffness(self, thickness_m: float) -> float:
        """E h / (1 - nu^2), N/m."""
        return self.modulus_pa.value * thickness_m / (1.0 - self.poisson_ratio.value**2)


def _material(name: str, label: str, *values: tuple[float, str]) -> Material:
    return Material(name, label, *(Sourced(*v) for v in values))


MATERIALS: dict[str, Material] = {
    m.name: m
    for m in (
        _material(
            "polyester_film",
            N_("polyester film"),
            (1390.0, DATA_SHEET),
            (4.5e9, DATA_SHEET),
            (0.38, DATA_SHEET),
            (100e6, DATA_SHEET),
            (17e-6, DATA_SHEET),
            (0.0020, ASSUMED),
            (0.0040, ASSUMED),
            (6e-4, FILM_SWELLING),
        ),
        _material(
            "calf_skin",
            N_("calfskin"),
            (1100.0, ASSUMED),
            (1.5e9, ASSUMED),
            (0.40, ASSUMED),
            (30e6, ASSUMED),
            (30e-6, ASSUMED),
            (0.020, ASSUMED),
            (0.010, ASSUMED),
            (10e-3, ASSUMED),
        ),
        _material(
            "goat_skin",
            N_("goatskin"),
            (1050.0, ASSUMED),
            (1.2e9, ASSUMED),
            (0.40, ASSUMED),
            (25e6, ASSUMED),
            (30e-6, ASSUMED),
            (0.022, ASSUMED),
            (0.010, ASSUMED),
            (12e-3, ASSUMED),
        ),
        _material(
            "textured_fibre",
            N_("textured fiber"),
            (1150.0, ASSUMED),
            (3.0e9, ASSUMED),
            (0.38, ASSUMED),
            (70e6, ASSUMED),
            (20e-6, ASSUMED),
            (0.012, ASSUMED),
            (0.006, ASSUMED),
            (1.2e-3, ASSUMED),
        ),
        _material(
            "aramid_weave",
            N_("woven aramid"),
            (1150.0, ASSUMED),
            (15e9, ASSUMED),
            (0.35, ASSUMED),
            (300e6, ASSUMED),
            (-2e-6, ASSUMED),
            (0.010, ASSUMED),
            (0.006, ASSUMED),
            (1.5e-3, ASSUMED),
        ),
    )
}


SKINS = ("calf_skin", "goat_skin")


def material(name: str, path: str = "material") -> Material:
    """The material called `name`.

    Raises
    ------
    InputError
        If there is none; the message lists those there are.
    """
    try:
        return MATERIALS[name]
    except KeyError:
        raise InputError(
            _("{name!r} is not a head material.").format(name=name),
            _("Options: {materials}.").format(materials=", ".join(MATERIALS)),
            path,
        ) from None
