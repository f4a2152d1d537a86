"""A head: plies, coating and what is added on some radii."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core.errors import InputError, check_range
from kesselton.core.materials import Material, material

ADDITION_KINDS = ("dot", "ring")
THINNEST_PLY_M, THICKEST_PLY_M = 1e-5, 3e-3


@dataclass(frozen=True)
class Addition:
    """Film laid over the head between two radii: a centre dot or a damping ring."""

    kind: str
    inner_radius_m: float
    outer_radius_m: float
    thickness_m: float

    def __post_init__(self) -> None:
        if self.kind not in ADDITION_KINDS:
            raise InputError(
                f"There is no addition {self.kind!r}.",
                f"Known: {', '.join(ADDITION_KINDS)}.",
                "additions.kind",
            )
        path = f"additions.{self.kind}"
        check_range(self.inner_radius_m, 0.0, 1.0, "Inner radius", "m", f"{path}.inner_radius_m")
        check_range(self.outer_radius_m, 0.0, 1.0, "Outer radius", "m", f"{path}.outer_radius_m")
        check_range(
            self.thickness_m,
            THINNEST_PLY_M,
            THICKEST_PLY_M,
            "Thickness",
            "m",
            f"{path}.thickness_m",
        )
        if self.outer_radius_m <= self.inner_radius_m:
            raise InputError(
                f"The outer radius {self.outer_radius_m:g} m is not larger than the inner "
                f"{self.inner_radius_m:g} m.",
                "Exchange them, or leave the addition out.",
                f"{path}.outer_radius_m",
            )


@dataclass(frozen=True)
class Head:
    """A head as bought. `areal_density_kg_per_m2`, when given, replaces plies and coating."""

    name: str
    material: str = "polyester_film"
    plies_m: tuple[float, ...] = ()
    areal_density_kg_per_m2: float | None = None
    coating_kg_per_m2: float = 0.0
    additions: tuple[Addition, ...] = ()

    def __post_init__(self) -> None:
        material(self.material)
        if not self.plies_m and self.areal_density_kg_per_m2 is None:
            raise InputError(
                f"The head {self.name!r} has no mass.",
                "Give the thickness of its plies, or its areal density.",
                "plies_m",
            )
        if len(self.plies_m) > 4:
            raise InputError(
                f"The head {self.name!r} has {len(self.plies_m)} plies.",
                "Permitted: 1 to 4.",
                "plies_m",
            )
        for index, ply in enumerate(self.plies_m):
            check_range(
                ply, THINNEST_PLY_M, THICKEST_PLY_M, "Ply thickness", "m", f"plies_m[{index}]"
            )
        if self.areal_density_kg_per_m2 is not None:
            check_range(
                self.areal_density_kg_per_m2,
                0.01,
                5.0,
                "Areal density",
                "kg/m²",
                "areal_density_kg_per_m2",
            )
        check_range(self.coating_kg_per_m2, 0.0, 0.5, "Coating", "kg/m²", "coating_kg_per_m2")

    @property
    def substance(self) -> Material:
        """The material the plies are made of."""
        return material(self.material)

    @property
    def base_density_kg_per_m2(self) -> float:
        """Areal density away from dots and rings."""
        if self.areal_density_kg_per_m2 is not None:
            return self.areal_density_kg_per_m2
        return sum(self.plies_m) * self.substance.density_kg_per_m3.value + self.coating_kg_per_m2

    @property
    def film_thickness_m(self) -> float:
        """Thickness that carries tension: the plies, or what the areal density amounts to."""
        if self.plies_m:
            return sum(self.plies_m)
        return self.base_density_kg_per_m2 / self.substance.density_kg_per_m3.value

    @property
    def bending_stiffness_nm(self) -> float:
        """Sum over plies, which slide on each other; dots and rings do not count (theory 2)."""
        plies = self.plies_m or (self.film_thickness_m,)
        return sum(self.substance.bending_stiffness_nm(h) for h in plies)

    @property
    def loss_factor(self) -> float:
        """Imaginary share of the restoring force (assumed, see materials)."""
        extra = max(len(self.plies_m) - 1, 0)
        return self.substance.loss_factor.value + extra * self.substance.ply_friction.value

    def check_fits(self, radius_m: float, path: str = "") -> None:
        """Raise InputError when a dot or ring reaches beyond the contact circle `radius_m`."""
        for addition in self.additions:
            if addition.outer_radius_m > radius_m:
                raise InputError(
                    f"The {addition.kind} reaches {addition.outer_radius_m * 1000:.0f} mm from the "
                    f"centre, beyond the contact circle at {radius_m * 1000:.0f} mm.",
                    "Make it smaller, or choose a larger drum.",
                    f"{path}.head.additions" if path else "additions",
                )
