"""The shell and what is screwed to it: size, material, mass, edge, hoops, how it is held."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from kesselton.core import constants as const
from kesselton.core.errors import InputError, check_hole, check_range
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import N_, Worded, _, worded

SMALLEST_HEAD_M, LARGEST_HEAD_M = 0.10, 1.20
SHALLOWEST_M, DEEPEST_M = 0.03, 1.50
LOWEST_SHELL_NOTE_HZ, HIGHEST_SHELL_NOTE_HZ = 20.0, 2000.0
WIDEST_VENT_M = 0.4
BED_DEPTHS_M, BED_WIDTHS_M = (0.0002, 0.006), (0.01, 0.25)
"""Of snare beds; common practice in order."""
LIGHTEST_KG, HEAVIEST_KG = 0.2, 100.0
WEIGHED_DOUBT = 0.03
"""What a kitchen or luggage scale leaves (90 %); assumed."""
GUESSED_DOUBT, GUESSED_MATERIAL_DOUBT = 0.40, 0.55
"""How far a mass worked out from size is off (90 %), with and without the material; assumed: shells
are 4 to 10 mm thick, hardware weighs half to twice as much."""
FLANGE_M = 0.011
"""How far a flanged hoop stands out from the head; assumed."""
STEEL_KG_PER_M3, WOOD_KG_PER_M3 = 7850.0, 700.0


@worded("label")
@dataclass(frozen=True)
class ShellMaterial:
    """What shells are made of; every value of the order of handbook tables, from memory.

    Attributes
    ----------
    wall_m : usual thickness, assumed
    expansion_per_k, expansion_doubt : across the diameter, and its half-width (90 %)
    swelling, swelling_doubt : strain for a relative humidity that rises from 0 to 1
    """

    name: str
    label: str
    density_kg_per_m3: float
    wall_m: float
    expansion_per_k: float
    expansion_doubt: float
    swelling: float = 0.0
    swelling_doubt: float = 0.0

    @property
    def is_wood(self) -> bool:
        """True if damp moves it."""
        return self.swelling > 0.0


# Wood: 4 to 6e-6 /K along the grain and 30e-6 across, cross plies between (Wood Handbook, chapter
# 4, from memory); along the grain it swells by a tenth of a per cent between dry and wet, and a
# lacquered shell takes weeks to do it (both assumed).
_WOOD = (8e-6, 3e-6, 0.5e-3, 0.6e-3)
SHELL_MATERIALS: dict[str, ShellMaterial] = {
    m.name: m
    for m in (
        ShellMaterial("maple", N_("maple"), 700.0, 0.007, *_WOOD),
        ShellMaterial("birch", N_("birch"), 670.0, 0.007, *_WOOD),
        ShellMaterial("mahogany", N_("mahogany"), 560.0, 0.007, *_WOOD),
        ShellMaterial("beech", N_("beech"), 720.0, 0.007, *_WOOD),
        ShellMaterial("plywood", N_("plywood"), 650.0, 0.007, *_WOOD),
        ShellMaterial("steel", N_("steel"), 7850.0, 0.0012, 12e-6, 1e-6),
        ShellMaterial("brass", N_("brass"), 8500.0, 0.0012, 19e-6, 1.5e-6),
        ShellMaterial("copper", N_("copper"), 8900.0, 0.0012, 17e-6, 1e-6),
        ShellMaterial("aluminum", N_("aluminum"), 2700.0, 0.0025, 23e-6, 1.5e-6),
        ShellMaterial("acrylic", N_("acrylic"), 1190.0, 0.006, 70e-6, 10e-6, 0.4e-3, 0.4e-3),
        ShellMaterial("fiberglass", N_("fiberglass"), 1800.0, 0.004, 20e-6, 8e-6, 0.2e-3, 0.2e-3),
    )
}
GUESSED_MATERIAL = "plywood"
"""What a shell is taken for until somebody says; marked as assumed wherever it counts."""


@worded("label")
@dataclass(frozen=True)
class Mount:
    """How a drum is held while it is played.

    Attributes
    ----------
    added, added_doubt : what moves with the shell beside its own mass, as a share of it, and the
        half-width of that share (90 %); None where the shell cannot move
    """

    name: str
    label: str
    added: float | None
    added_doubt: float = 0.0


MOUNTS: dict[str, Mount] = {
    m.name: m
    for m in (
        # Stands and legs take part with an unknown share of a mass, 0 to 100 % (assumed).
        Mount("hung", N_("suspended"), 0.03, 0.03),
        Mount("strap", N_("on a strap"), 0.1, 0.1),
        Mount("stand", N_("on a stand"), 0.5, 0.5),
        Mount("legs", N_("on legs"), 0.5, 0.5),
        Mount("spurs", N_("on the floor on spurs"), 0.5, 0.5),
        Mount("held", N_("clamped"), None),
    )
}


@worded("label")
@dataclass(frozen=True)
class Drawn:
    """What draws the hoops of a drum.

    Attributes
    ----------
    friction : None where each head has its own; else one pull draws both, and this share may lie
        between their tensions (bound; theory eq. 77): exp(beta (mu - mu')) of two edges whose
        friction differs by 0.06, and what sticks at the ears; assumed
    """

    name: str
    label: str
    friction: float | None


DRAWN: dict[str, Drawn] = {
    d.name: d
    for d in (
        Drawn("own", N_("separate rods"), None),
        Drawn("through", N_("full-length rods"), 0.09),
        Drawn("rope", N_("one rope"), 0.12),
    )
}


LUGS = Worded({"separate": N_("separate"), "tube": N_("tube lugs, both heads")})


@worded("label")
@dataclass(frozen=True)
class Edge:
    """A bearing edge: how far inside the shell's nominal radius the head bears, and its doubt
    (90 %), both assumed (1.5 to 3 mm on real edges, from memory)."""

    name: str
    label: str
    inset_m: float
    doubt_m: float


EDGES: dict[str, Edge] = {
    e.name: e
    for e in (
        Edge("sharp", N_("sharp"), 0.0015, 0.0010),
        Edge("rounded", N_("rounded"), 0.0030, 0.0013),
        Edge("flat", N_("flat"), 0.0040, 0.0020),
    )
}


@worded("label")
@dataclass(frozen=True)
class Wear:
    """How an edge is found: what it takes from a head more than a sound one, how much further off
    the contact circle may be (90 %), how much more tension it wants to bear; all assumed."""

    name: str
    label: str
    loss: float
    doubt_m: float
    bears: float


WEARS: dict[str, Wear] = {
    w.name: w
    for w in (
        Wear("sound", N_("sound"), 1.0, 0.0, 1.0),
        Wear("worn", N_("worn, small dents"), 1.5, 0.0008, 1.2),
        Wear("damaged", N_("damaged"), 2.5, 0.0020, 1.6),
    )
}


@dataclass(frozen=True)
class Beds:
    """Snare beds: two shallow places opposite each other, made for the wires to lie.

    Attributes
    ----------
    rod : where one of them is, 1 for rod 1
    depth_m, width_m : deepest, and along the edge
    """

    rod: float = 1.5
    depth_m: float = 0.0015
    width_m: float = 0.07

    def __post_init__(self) -> None:
        check_range(self.rod, 1.0, const.MAX_RODS + 0.999, _("Snare bed position"), "", "beds.rod")
        check_range(self.depth_m, *BED_DEPTHS_M, _("Snare bed depth"), _("m"), "beds.depth_m")
        check_range(self.width_m, *BED_WIDTHS_M, _("Snare bed width"), _("m"), "beds.width_m")


GUESSED_EDGE_DOUBT_M = 0.0015
MEASURED_EDGE_DOUBT_M = 0.0005
HARDWARE_KG = {"tom": (0.08, 0.5), "snare": (0.07, 0.5), "bass": (0.17, 0.8),
               "concert_bass": (0.22, 1.0), "rope": (0.04, 0.3)}  # fmt: skip
"""Per rod and head: lug, rod and what draws the hoop; and what there is besides, kg; assumed."""


class EdgeLoss(NamedTuple):
    """What the rim takes from a head (theory eq. 55).

    Attributes
    ----------
    share : of the restoring force, by friction where the head bends over the edge
    mobility_m2_per_n_s : how fast the rim gives way to a line force of 1 N/m: what hoop, lugs and
        shell carry off
    """

    share: float
    mobility_m2_per_n_s: float


@worded("label")
@dataclass(frozen=True)
class Hoop:
    """A counterhoop by construction, with the load one rod may put on it and its lug.

    `rim_m` is how far it stands above the head (assumed); `edge` what hoop and bearing edge
    take from the head.
    """

    name: str
    label: str
    rod_load_n: float
    height_m: float
    thickness_m: float
    rim_m: float
    edge: EdgeLoss

    def mass_kg(self, radius_m: float) -> float:
        """Mass of one hoop round a head of that radius."""
        wood = self.name in ("wood", "rope")
        section = self.height_m * self.thickness_m + (0.0 if wood else FLANGE_M * self.thickness_m)
        density = WOOD_KG_PER_M3 if wood else STEEL_KG_PER_M3
        return 2.0 * math.pi * (radius_m + 0.005) * section * density


HOOPS: dict[str, Hoop] = {
    h.name: h
    for h in (
        # Loads are assumed: orders a careful technician stays under, no published source. So are
        # the losses: a heavy hoop holds the rim stiller, a wooden one works in its joint.
        Hoop(
            "flanged_1_6mm",
            N_("flanged 1.6 mm"),
            1200.0,
            0.028,
            0.0016,
            0.010,
            EdgeLoss(0.0012, 2.2e-4),
        ),
        Hoop(
            "flanged_2_3mm",
            N_("flanged 2.3 mm"),
            1800.0,
            0.030,
            0.0023,
            0.013,
            EdgeLoss(0.0012, 2.0e-4),
        ),
        Hoop("die_cast", N_("die-cast"), 2000.0, 0.030, 0.0040, 0.012, EdgeLoss(0.0010, 1.6e-4)),
        Hoop("wood", N_("wood"), 900.0, 0.040, 0.0120, 0.022, EdgeLoss(0.0020, 2.6e-4)),
        Hoop("rope", N_("wood, rope"), 500.0, 0.042, 0.0120, 0.022, EdgeLoss(0.0025, 3.4e-4)),
    )
}


@dataclass(frozen=True)
class Shell:
    """The shell and its hardware; what is None was not said and the usual value stands in.

    `contact_radius_m` None: by the edge, inside half the head diameter. `mass_kg` is the whole drum
    without heads: shell, hoops, hardware; None: worked out from material and size.
    """

    head_diameter_m: float
    depth_m: float
    rods: int
    hoop: str = "flanged_1_6mm"
    contact_radius_m: float | None = None
    shell_note_hz: float | None = None
    vent_diameter_m: float = 0.0
    rod_thread: str = "no12_24"
    material: str | None = None
    mass_kg: float | None = None
    mount: str | None = None
    edge: str | None = None
    drawn: str | None = None
    lugs: str | None = None
    wear: str | None = None
    beds: Beds | None = None

    def __post_init__(self) -> None:
        check_range(
            self.head_diameter_m,
            SMALLEST_HEAD_M,
            LARGEST_HEAD_M,
            _("Head diameter"),
            "m",
            "shell.head_diameter_m",
        )
        check_range(self.depth_m, SHALLOWEST_M, DEEPEST_M, _("Shell depth"), "m", "shell.depth_m")
        check_range(
            self.rods, const.MIN_RODS, const.MAX_RODS, _("Number of rods"), "", "shell.rods"
        )
        if not isinstance(self.rods, int):
            raise InputError(
                _("Number of rods is {rods!r}.").format(rods=self.rods),
                _("Enter a whole number."),
                "shell.rods",
            )
        for value, known, word, name in (
            (self.rod_thread, THREADS, "thread", "rod_thread"),
            (self.hoop, HOOPS, "hoop", "hoop"),
            (self.material, SHELL_MATERIALS, _("shell material"), "material"),
            (self.mount, MOUNTS, "support", "mount"),
            (self.edge, EDGES, _("bearing edge"), "edge"),
            (self.drawn, DRAWN, "tensioning", "drawn"),
            (self.lugs, LUGS, _("kind of lug"), "lugs"),
            (self.wear, WEARS, _("edge condition"), "wear"),
        ):
            if value is not None and value not in known:
                raise InputError(
                    _("{value!r} is not a known {word}.").format(value=value, word=word),
                    _("Options: {known}.").format(known=", ".join(known)),
                    f"shell.{name}",
                )
        if self.beds is not None and self.beds.rod >= self.rods + 1:
            raise InputError(
                _("There is a snare bed at rod {rod:g} of {rods}.").format(
                    rod=self.beds.rod, rods=self.rods
                ),
                _("Use 1 to just under {rods}.").format(rods=self.rods + 1),
                "shell.beds",
            )
        self._check_measured()
        check_hole(self.vent_diameter_m, WIDEST_VENT_M, _("Vent diameter"), "shell.vent_diameter_m")

    def _check_measured(self) -> None:
        if self.mass_kg is not None:
            check_range(
                self.mass_kg, LIGHTEST_KG, HEAVIEST_KG, _("Shell mass"), "kg", "shell.mass_kg"
            )
        if self.contact_radius_m is not None:
            half = self.head_diameter_m / 2.0
            check_range(
                self.contact_radius_m,
                0.9 * half,
                1.02 * half,
                _("Bearing radius"),
                "m",
                "shell.contact_radius_m",
            )
        if self.shell_note_hz is not None:
            check_range(
                self.shell_note_hz,
                LOWEST_SHELL_NOTE_HZ,
                HIGHEST_SHELL_NOTE_HZ,
                _("Shell note"),
                "Hz",
                "shell.shell_note_hz",
            )

    @property
    def radius_m(self) -> float:
        """Radius of the circle on which the heads bear."""
        if self.contact_radius_m is not None:
            return self.contact_radius_m
        return self.head_diameter_m / 2.0 - self.usual_edge.inset_m

    @property
    def rim_m(self) -> float:
        """How far the hoops stand above the heads."""
        return HOOPS[self.hoop].rim_m

    @property
    def radius_doubt_m(self) -> float:
        """How far that may be off (90 %)."""
        worn = self.worn.doubt_m
        if self.contact_radius_m is not None:
            return math.hypot(MEASURED_EDGE_DOUBT_M, worn)
        own = GUESSED_EDGE_DOUBT_M if self.edge is None else self.usual_edge.doubt_m
        return math.hypot(own, worn)

    @property
    def worn(self) -> Wear:
        """How its edges are; sound unless said."""
        return WEARS[self.wear or "sound"]

    @property
    def edge_loss(self) -> EdgeLoss:
        """What hoop and edge take from a head."""
        share, mobility = HOOPS[self.hoop].edge
        return EdgeLoss(self.worn.loss * share, mobility)

    @property
    def beds_at(self) -> tuple[float, float] | None:
        """Where the snare beds lie, in rods; None if nobody said."""
        if self.beds is None:
            return None
        other = self.beds.rod + 0.5 * self.rods
        return self.beds.rod, other - self.rods if other >= self.rods + 1 else other

    @property
    def usual_edge(self) -> Edge:
        """The edge, or the usual one: roped drums have rounded edges (common practice)."""
        return EDGES[self.edge or ("rounded" if self.hoop == "rope" else "sharp")]

    @property
    def made_of(self) -> ShellMaterial:
        """The material, or what it is taken for."""
        return SHELL_MATERIALS[self.material or GUESSED_MATERIAL]

    def moving_mass(self, kind: str) -> tuple[float, float] | None:
        """Mass in kg that recoils when the heads move, and the share it may be off (90 %).

        None where the shell is held still.
        """
        mount = self.usual_mount(kind)
        if mount.added is None:
            return None
        mass, doubt = self.own_mass(kind)
        whole = 1.0 + mount.added
        return mass * whole, math.hypot(doubt, mount.added_doubt / whole)

    def own_mass(self, kind: str) -> tuple[float, float]:
        """Mass in kg of shell, hoops and hardware, and the share it may be off (90 %)."""
        if self.mass_kg is not None:
            return self.mass_kg, WEIGHED_DOUBT
        shell_material = self.made_of
        radius = 0.5 * self.head_diameter_m
        wall = shell_material.wall_m * (1.25 if shell_material.is_wood and radius > 0.25 else 1.0)
        shell = 2.0 * math.pi * radius * self.depth_m * wall * shell_material.density_kg_per_m3
        per_rod, besides = HARDWARE_KG[kind]
        hardware = 2 * self.rods * per_rod + besides
        mass = shell + 2 * HOOPS[self.hoop].mass_kg(radius) + hardware
        return mass, GUESSED_DOUBT if self.material else GUESSED_MATERIAL_DOUBT

    def usual_mount(self, kind: str) -> Mount:
        """How the drum is held, or how its kind usually is (common practice)."""
        if self.mount:
            return MOUNTS[self.mount]
        if kind == "tom" and self.depth_m > 0.8 * self.head_diameter_m:
            return MOUNTS["legs"]
        return MOUNTS[
            {"tom": "stand", "snare": "stand", "bass": "spurs", "rope": "strap"}.get(kind, "stand")
        ]

    @property
    def usual_lugs(self) -> str:
        """Which lugs it has, or which are usual (common practice)."""
        return self.lugs or "separate"

    @property
    def usual_drawn(self) -> Drawn:
        """How it is drawn, or how its hoops usually are (common practice)."""
        return DRAWN[self.drawn or ("rope" if self.hoop == "rope" else "own")]

    @property
    def assumed(self) -> tuple[str, ...]:
        """Names of what was not said and is taken for the usual."""
        names = [name for name in ("material", "mass_kg", "mount") if getattr(self, name) is None]
        if self.contact_radius_m is None and self.edge is None:
            names.append("edge")
        return tuple(f"shell.{name}" for name in names)
