"""A head: plies, coating and what is added on some radii."""

from __future__ import annotations

from dataclasses import dataclass, fields

from kesselton.core.errors import InputError, check_hole, check_range
from kesselton.core.instrument.materials import SKINS, Material, material
from kesselton.core.language import _

ADDITION_LOSS = {"dot": 0.04, "ring": 0.5, "floating": 1.0}
"""Share of its own inertia an addition takes as friction: the adhesive under a dot is sheared, a
ring under the edge is held by the rim and slips, one that floats on top lifts and falls; all
assumed."""
TURNING_LOSS = {"dot": 0.0, "ring": 0.15, "floating": 0.25}
"""Share of the head's own energy under a ring that it takes as the head turns there and slides
along it: near the edge every mode is steep; assumed, so that a controlled bass drum head rings well
under half as long as an open one (common practice)."""
COATING_FRICTION = 0.02
"""Loss of a coating by its share of the mass: it cracks and rubs; assumed."""
VENT_FRICTION = 0.004
"""Loss by holes at the edge: drier than a plain head, as two plies are (common practice, no
published source; the figure is assumed: what the air through them takes is next to nothing)."""
INTERLAYERS = {"": (0.0, 0.0), "film": (0.010, 0.002), "fluid": (0.025, 0.012)}
"""What lies between two plies: kg/m^2, and loss added to the plies' own friction; assumed (7 um of
film glued at spots, 25 um of oil)."""
LARGEST_EDGE_VENT_M, MAX_EDGE_VENTS = 0.02, 24
ADDITION_KINDS = tuple(ADDITION_LOSS)
THINNEST_PLY_M, THICKEST_PLY_M = 1e-5, 3e-3
LARGEST_PORT_M = 0.4
LARGEST_PORT_SHARE = 0.5
"""Of the contact circle; a larger hole leaves no head to speak of."""


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
                _("{kind!r} is not a dot or ring.").format(kind=self.kind),
                _("Options: {addition_kinds}.").format(addition_kinds=", ".join(ADDITION_KINDS)),
                "additions.kind",
            )
        path = f"additions.{self.kind}"
        check_range(self.inner_radius_m, 0.0, 1.0, _("Inner radius"), "m", f"{path}.inner_radius_m")
        check_range(self.outer_radius_m, 0.0, 1.0, _("Outer radius"), "m", f"{path}.outer_radius_m")
        check_range(
            self.thickness_m,
            THINNEST_PLY_M,
            THICKEST_PLY_M,
            _("Thickness"),
            "m",
            f"{path}.thickness_m",
        )
        if self.outer_radius_m <= self.inner_radius_m:
            raise InputError(
                _(
                    "The outer radius {outer_radius_m:g} m is not larger than the "
                    "inner {inner_radius_m:g} m."
                ).format(outer_radius_m=self.outer_radius_m, inner_radius_m=self.inner_radius_m),
                _("Swap them, or remove the dot or ring."),
                f"{path}.outer_radius_m",
            )


@dataclass(frozen=True)
class Head:
    """A head as bought. `areal_density_kg_per_m2`, when given, replaces plies and coating.

    A port is a round hole cut in the head; the film it takes away is not counted. Edge vents are a
    ring of small holes near the rim; `interlayer` is what lies between two plies.
    """

    name: str
    material: str = "polyester_film"
    plies_m: tuple[float, ...] = ()
    areal_density_kg_per_m2: float | None = None
    coating_kg_per_m2: float = 0.0
    additions: tuple[Addition, ...] = ()
    port_diameter_m: float = 0.0
    interlayer: str = ""
    edge_vents: int = 0
    edge_vent_diameter_m: float = 0.0

    def __post_init__(self) -> None:
        material(self.material)
        if not self.plies_m and self.areal_density_kg_per_m2 is None:
            raise InputError(
                _("The head {name!r} has no mass.").format(name=self.name),
                _("Enter the thickness of its plies, or its mass per area."),
                "plies_m",
            )
        if len(self.plies_m) > 4:
            raise InputError(
                _("The head {name!r} has {plies_m} plies.").format(
                    name=self.name, plies_m=len(self.plies_m)
                ),
                _("Use 1 to 4."),
                "plies_m",
            )
        for index, ply in enumerate(self.plies_m):
            check_range(
                ply, THINNEST_PLY_M, THICKEST_PLY_M, _("Ply thickness"), "m", f"plies_m[{index}]"
            )
        if self.areal_density_kg_per_m2 is not None:
            check_range(
                self.areal_density_kg_per_m2,
                0.01,
                5.0,
                _("Mass per area"),
                "kg/m²",
                "areal_density_kg_per_m2",
            )
        check_range(self.coating_kg_per_m2, 0.0, 0.5, _("Coating"), "kg/m²", "coating_kg_per_m2")
        check_hole(self.port_diameter_m, LARGEST_PORT_M, _("Port"), "port_diameter_m")
        self._check_extras()

    def _check_extras(self) -> None:
        if self.interlayer not in INTERLAYERS:
            raise InputError(
                _("{interlayer!r} is not a layer between plies.").format(
                    interlayer=self.interlayer
                ),
                _("Options: {value}.").format(
                    value=", ".join(name or "nothing" for name in INTERLAYERS)
                ),
                "interlayer",
            )
        if self.interlayer and len(self.plies_m) < 2:
            raise InputError(
                _("The head {name!r} has {interlayer} between plies, but only one ply.").format(
                    name=self.name, interlayer=self.interlayer
                ),
                _("Enter two plies, or no layer between."),
                "interlayer",
            )
        check_range(self.edge_vents, 0, MAX_EDGE_VENTS, _("Number of edge vents"), "", "edge_vents")
        check_hole(
            self.edge_vent_diameter_m, LARGEST_EDGE_VENT_M, _("Edge vent"), "edge_vent_diameter_m"
        )
        if (self.edge_vents > 0) != (self.edge_vent_diameter_m > 0.0):
            raise InputError(
                _(
                    "The head {name!r} has {edge_vents} edge vents of {edge_vent_diameter_m:g} mm."
                ).format(
                    name=self.name,
                    edge_vents=self.edge_vents,
                    edge_vent_diameter_m=self.edge_vent_diameter_m * 1000,
                ),
                _("Enter both number and diameter, or neither."),
                "edge_vents",
            )

    def __hash__(self) -> int:
        """Worked out once: a store of thousands is looked through at every gesture."""
        number: int | None = self.__dict__.get("_hash")
        if number is None:
            number = hash(tuple(getattr(self, field.name) for field in fields(self)))
            object.__setattr__(self, "_hash", number)
        return number

    @property
    def substance(self) -> Material:
        """The material the plies are made of."""
        return material(self.material)

    @property
    def is_skin(self) -> bool:
        """True for a hide, which adapts to its edge and moves with the weather."""
        return self.material in SKINS

    @property
    def base_density_kg_per_m2(self) -> float:
        """Areal density away from dots and rings."""
        if self.areal_density_kg_per_m2 is not None:
            return self.areal_density_kg_per_m2
        film = sum(self.plies_m) * self.substance.density_kg_per_m3.value
        return film + self.coating_kg_per_m2 + INTERLAYERS[self.interlayer][0]

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
    def rubs(self) -> bool:
        """True if something lies loose on the head."""
        return any(ADDITION_LOSS[add.kind] > 0.0 for add in self.additions)

    @property
    def loss_factor(self) -> float:
        """Imaginary share of the restoring force (assumed, see materials)."""
        extra = max(len(self.plies_m) - 1, 0)
        between = INTERLAYERS[self.interlayer][1]
        coat = COATING_FRICTION * self.coating_kg_per_m2 / self.base_density_kg_per_m2
        return (
            self.substance.loss_factor.value
            + extra * self.substance.ply_friction.value
            + between
            + coat
            + (VENT_FRICTION if self.edge_vents else 0.0)
        )

    def check_fits(self, radius_m: float) -> None:
        """Raise InputError when a dot, ring or port does not fit the contact circle `radius_m`."""
        for addition in self.additions:
            if addition.outer_radius_m > radius_m:
                raise InputError(
                    _(
                        "The {kind} reaches {outer_radius_m:.0f} mm from the center, "
                        "past the bearing edge at {radius_m:.0f} mm."
                    ).format(
                        kind=addition.kind,
                        outer_radius_m=addition.outer_radius_m * 1000,
                        radius_m=radius_m * 1000,
                    ),
                    _("Make it smaller, or choose a larger drum."),
                    "additions",
                )
        if self.port_diameter_m > 2.0 * radius_m * LARGEST_PORT_SHARE:
            raise InputError(
                _(
                    "A port of {port_diameter_m:.0f} mm is more than half of a "
                    "head of {radius_m:.0f} mm."
                ).format(port_diameter_m=self.port_diameter_m * 1000, radius_m=2000.0 * radius_m),
                _("Make it smaller."),
                "port_diameter_m",
            )
