"""Rods round the rim: the hoop as a ring on the head's edge, the tension it leaves (theory 18)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import ComplexArray, FloatArray, kept_property
from kesselton.core.constants import MAX_RODS, MIN_RODS
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import _
from kesselton.core.measure.rods import EDGE_FACTOR, GIVES, give_of

HARMONICS = 32
"""Patterns round the rim that are kept; the hoop's stiffness grows with their fourth power."""
DIAL_PLACE = 0.8
"""Where a dial's plunger stands, as a part of the radius."""
PITCH_SEES = 0.25
"""ln f of the (1,1) at a rod for T_2 / T_0: split of the pair at first order (theory eq. 42)."""
SECOND_SEES = 0.115
"""The same of the (2,1) for T_4 / T_0."""

HOOP_STIFFNESS: dict[str, tuple[float, float, float]] = {
    "flanged_1_6mm": (1800.0, 5.2, 0.020),
    "flanged_2_3mm": (2700.0, 15.0, 0.030),
    "die_cast": (1350.0, 140.0, 0.0),
    "wood": (770.0, 18.0, 0.0),
    "rope": (800.0, 19.0, 0.0),
}
"""E I upright in N m^2, G J in N m^2, E Gamma in N m^4: from sections of the usual size (web 28 by
1.6 mm with two 10 mm flanges; 30 by 8 mm cast; 40 by 12 mm ply), handbook formulas; assumed."""


@dataclass(frozen=True)
class Rim:
    """Hoop, edge and rods of one head.

    Attributes
    ----------
    rods : number of rods, at equal angles from rod 1
    radius_m, film_n_per_m : contact radius; E h of the film
    poisson : of the film
    bend_nm2, twist_nm2, warp_nm4 : E I, G J and E Gamma of the hoop
    collar_m2_per_n, lug_n_per_m : compliance of collar and edge; stiffness of one lug with its rod
    thread_m : way of one turn
    """

    rods: int
    radius_m: float
    film_n_per_m: float
    poisson: float
    bend_nm2: float
    twist_nm2: float
    warp_nm4: float
    collar_m2_per_n: float = GIVES["flanged_1_6mm"].collar_m2_per_n
    lug_n_per_m: float = GIVES["flanged_1_6mm"].lug_n_per_m
    thread_m: float = 0.0254 / 24.0

    def __post_init__(self) -> None:
        if not MIN_RODS <= self.rods <= MAX_RODS:
            raise InputError(
                _("A rim with {rods} rods cannot be computed.").format(rods=self.rods),
                _("Use {min_rods} to {max_rods} rods.").format(
                    min_rods=MIN_RODS, max_rods=MAX_RODS
                ),
                "shell.rods",
            )

    def stiffer(self, hoop: float) -> Rim:
        """The same with a hoop so many times as stiff."""
        return replace(
            self,
            bend_nm2=self.bend_nm2 * hoop,
            twist_nm2=self.twist_nm2 * hoop,
            warp_nm4=self.warp_nm4 * hoop,
        )

    @property
    def angles(self) -> FloatArray:
        """(rods,) angle of every rod."""
        return 2.0 * np.pi * np.arange(self.rods) / self.rods

    @kept_property
    def edge_stiffness(self) -> FloatArray:
        """(H + 1,) tension at the edge for a metre of hoop, N/m^2, per pattern: film and collar."""
        film = edge_film_stiffness(self.film_n_per_m, self.poisson, self.radius_m)
        out: FloatArray = 1.0 / (1.0 / film + self.collar_m2_per_n)
        return out

    @kept_property
    def hoop_stiffness(self) -> FloatArray:
        """(H + 1,) load per length for a metre of hoop, N/m^2, per pattern."""
        return ring_stiffness(self.bend_nm2, self.twist_nm2, self.warp_nm4, self.radius_m)

    @kept_property
    def compliance(self) -> FloatArray:
        """(rods, rods) way of the hoop at a rod for a newton at another."""
        n = np.arange(HARMONICS + 1)
        apart = self.angles[:, None] - self.angles[None]
        many = np.where(n == 0, 1.0, 2.0) / (2.0 * np.pi * self.radius_m)
        stiff = self.hoop_stiffness + EDGE_FACTOR * self.edge_stiffness
        out: FloatArray = np.cos(apart[..., None] * n) @ (many / stiff)
        return out

    @kept_property
    def force_per_turn(self) -> FloatArray:
        """(rods, rods) newton in a rod for a turn of another, every rod pulling."""
        return self.forces_of(np.full(self.rods, self.lug_n_per_m))

    def forces_of(self, lugs_n_per_m: FloatArray) -> FloatArray:
        """(rods, rods) the same with a stiffness for every lug; nought for a rod that is slack."""
        inner = np.eye(self.rods) + lugs_n_per_m[:, None] * self.compliance
        return np.asarray(np.linalg.solve(inner, np.diag(lugs_n_per_m * self.thread_m)), float)

    @kept_property
    def edge_per_newton(self) -> ComplexArray:
        """(H + 1, rods) patterns c_n of the tension, T = Re sum c_n e^(i n theta), for a newton."""
        n = np.arange(HARMONICS + 1)
        many = np.where(n == 0, 1.0, 2.0) / (2.0 * np.pi * self.radius_m)
        share = self.edge_stiffness / (self.hoop_stiffness + EDGE_FACTOR * self.edge_stiffness)
        out: ComplexArray = (many * share)[:, None] * np.exp(-1j * np.outer(n, self.angles))
        return out

    @kept_property
    def edge_per_turn(self) -> ComplexArray:
        """(H + 1, rods) the same for a turn of each rod."""
        out: ComplexArray = self.edge_per_newton @ self.force_per_turn
        return out

    @kept_property
    def local_rows(self) -> FloatArray:
        """(rods, rods) tension at the edge beside each rod for a turn of each, N/m.

        Only patterns that so many rods can set apart count: what is finer lies beside the rod.
        """
        seen = np.where(np.arange(HARMONICS + 1) <= self.rods // 2, 1.0, 0.0)
        return self._rows(seen)

    @kept_property
    def pitch_rows(self) -> FloatArray:
        """(rods, rods) T_0 (d ln f) of the (1,1) heard at each rod, N/m a turn (theory eq. 42)."""
        return self._rows(_only({0: 0.5, 2: PITCH_SEES}))

    @kept_property
    def second_rows(self) -> FloatArray:
        """(rods, rods) the same of the (2,1)."""
        return self._rows(_only({0: 0.5, 4: SECOND_SEES}))

    @kept_property
    def dial_rows(self) -> FloatArray:
        """(rods, rods) tension under the dial at each rod, N/m a turn (theory eq. 43)."""
        return self._rows(dial_sees(self.poisson))

    def _rows(self, seen: FloatArray) -> FloatArray:
        n = np.arange(HARMONICS + 1)
        wave = np.exp(1j * np.outer(self.angles, n)) * seen
        out: FloatArray = (wave @ self.edge_per_turn).real
        return out

    @property
    def turn_n_per_m(self) -> float:
        """Tension gained when every rod is turned once, N/m."""
        return float(self.edge_per_turn[0].real.sum())


def rim_of(drum: Drum, side: str, scale: float = 1.0, hoop: float = 1.0) -> Rim:
    """The rim of a head, before anything is learned of it or with what was learned.

    Parameters
    ----------
    scale : tension of a turn over that of the assumed collar and lugs: both are taken as softer or
        stiffer together
    hoop : stiffness of the hoop over that of its construction
    """
    head = drum.setting(side).head
    substance = head.substance
    bend, twist, warp = HOOP_STIFFNESS[drum.shell.hoop]
    give = give_of(drum)
    return Rim(
        drum.shell.rods,
        drum.shell.radius_m,
        substance.modulus_pa.value * head.film_thickness_m,
        substance.poisson_ratio.value,
        bend * hoop,
        twist * hoop,
        warp * hoop,
        give.collar_m2_per_n,
        give.lug_n_per_m,
        THREADS[drum.shell.rod_thread].pitch_m * scale,
    )


def ring_stiffness(
    bend_nm2: float, twist_nm2: float, warp_nm4: float, radius_m: float
) -> FloatArray:
    """(H + 1,) stiffness of a ring against loads across its plane, per length, per pattern.

    Notes
    -----
    Theory eq. 40, thin ring with coupled bending and twist: nothing for n = 0 and 1, which move it
    whole.

    References
    ----------
    Timoshenko, Strength of Materials II, on rings bent out of their plane; from memory.
    """
    n = np.arange(HARMONICS + 1, dtype=float)
    twist = twist_nm2 + warp_nm4 * n**2 / radius_m**2
    top = bend_nm2 * twist * n**2 * (n**2 - 1.0) ** 2
    out: FloatArray = top / (radius_m**4 * (bend_nm2 + n**2 * twist))
    return out


def edge_film_stiffness(film_n_per_m: float, poisson: float, radius_m: float) -> FloatArray:
    """(H + 1,) T_rr at the edge for a metre the edge is drawn in, N/m^2, per pattern.

    Notes
    -----
    Theory eq. 41: plane stress in a disc, the edge held along its circle.
    """
    n = np.arange(HARMONICS + 1, dtype=float)
    kappa = (3.0 - poisson) / (1.0 + poisson)
    shear = film_n_per_m / (1.0 + poisson)
    out: FloatArray = shear / radius_m * (kappa * (n - 1.0) + n + 1.0) / (2.0 * kappa)
    out[0] = film_n_per_m / ((1.0 - poisson) * radius_m)
    return out


def dial_sees(poisson: float, place: float = DIAL_PLACE) -> FloatArray:
    """(H + 1,) mean of the two tensions under a dial over T_rr at the edge, per pattern."""
    n = np.arange(HARMONICS + 1, dtype=float)
    kappa = (3.0 - poisson) / (1.0 + poisson)
    out: FloatArray = 2.0 * (n + 1.0) * place**n / (kappa * (n - 1.0) + n + 1.0)
    out[0] = 1.0
    return out


def _only(shares: dict[int, float]) -> FloatArray:
    out = np.zeros(HARMONICS + 1)
    for n, share in shares.items():
        out[n] = share
    return out


def field(
    rim: Rim, patterns: ComplexArray, s: FloatArray, angle: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Tensions T_rr, T_tt and T_rt in the head, N/m.

    Parameters
    ----------
    patterns : (H + 1,) c_n at the edge
    s, angle : (P,) radius over the contact radius, and angle

    Notes
    -----
    Michell's functions r^n and r^(n+2) of each pattern, the edge held along its circle (theory
    eq. 41).
    """
    kappa = (3.0 - rim.poisson) / (1.0 + rim.poisson)
    n = np.arange(1, len(patterns), dtype=float)
    b = patterns[1:] / (kappa * (n - 1.0) + n + 1.0)
    a = -b * (kappa + 1.0 + n) / n
    low = s[:, None] ** np.maximum(n - 2.0, 0.0)  # n = 1: its factor n - 1 is nought
    high = s[:, None] ** n
    wave = np.exp(1j * np.outer(angle, n))
    base = float(patterns[0].real)
    rr = (-(a * n * (n - 1.0) * low + b * (n + 1.0) * (n - 2.0) * high) * wave).real.sum(axis=1)
    tt = ((a * n * (n - 1.0) * low + b * (n + 2.0) * (n + 1.0) * high) * wave).real.sum(axis=1)
    # T_rt of a cosine pattern is a sine: a quarter turn behind
    rt = ((a * n * (n - 1.0) * low + b * n * (n + 1.0) * high) * wave * -1j).real.sum(axis=1)
    return base + rr, base + tt, rt
