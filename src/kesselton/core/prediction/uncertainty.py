"""How sure a predicted partial is: half-width of the 90 % interval in cents."""

from __future__ import annotations

import math
from dataclasses import dataclass, fields

import numpy as np

from kesselton.core.acoustics.solver.partials import AIR, Partials, air_round
from kesselton.core.arrays import FloatArray
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.instrument.drum import Drum


@dataclass(frozen=True)
class InputTolerances:
    """90 % half-widths of what goes in; all assumed, none measured yet.

    `outside` and `inside` are shares of the mass or stiffness that the outside and the inside air
    contribute: hoops and lugs stand in the outside air, walls, collars and moisture change the
    inside. `hole` is the share of a port's plug of air; `friction` and `radiation` are
    shares of the decay rate by every loss inside and by sound.
    """

    film_mass: float = 0.03
    tension: float = 0.03
    reading_cents: float = 5.0
    inside: float = 0.015
    hole: float = 0.10
    numeric_cents: float = 1.0
    friction: float = 1.0
    radiation: float = 0.25


DEFAULT = InputTolerances()
GUESSED_PLIES, GUESSED_DEPTH_M = 0.30, 0.0254
"""How far plies that were guessed may be off in mass, and a guessed depth (90 %): the next
thickness sold, an inch; assumed."""
OUTSIDE_ALIKE = 0.85
"""How far what is off in the air outside is off alike for the (0,1) and for the (1,1) a head was
set by, a correlation: rims, lugs and whoever stands by load both, but not quite alike; assumed."""
APART = math.sqrt(1.0 / OUTSIDE_ALIKE**2 - 1.0)
PITCH_BY_RADIUS = 0.1
"""What is left of the contact circle's doubt in a head that is set by its pitch (theory 7)."""


@dataclass(frozen=True, eq=False)
class Budget:
    """Error budget of the partials: half-widths in cents, each (P,), by where they come from."""

    film_mass: FloatArray
    tension: FloatArray
    radius: FloatArray
    outside: FloatArray
    inside: FloatArray
    numeric: FloatArray
    recoil: FloatArray
    guessed: FloatArray

    @property
    def total(self) -> FloatArray:
        """All terms added as independent."""
        squares = [np.square(term) for term in vars(self).values()]
        out: FloatArray = np.sqrt(np.sum(squares, axis=0))
        return out


def error_budget(drum: Drum, partials: Partials, given: InputTolerances = DEFAULT) -> Budget:
    """What makes a prediction uncertain, group by group of `error_terms`."""
    terms = error_terms(drum, partials, given)
    groups: dict[str, list[FloatArray]] = {field.name: [] for field in fields(Budget)}
    for name, term in terms.items():
        groups[GROUP.get(name.partition(" ")[0], name.partition(" ")[0])].append(term)
    nothing = np.zeros(len(partials))
    return Budget(
        **{name: np.sqrt(np.sum(np.square(of or [nothing]), axis=0)) for name, of in groups.items()}
    )


GROUP = {"film": "film_mass", "pull": "tension", "hole": "inside", "plies": "guessed",
         "depth": "guessed"}  # fmt: skip
"""To which part of the budget a term belongs, where the part is called otherwise."""


def _by_tension_and_mass(
    partials: Partials, sides: int, shape2: FloatArray, omega2: FloatArray
) -> tuple[list[FloatArray], list[FloatArray]]:
    """Per head how ln f goes with ln of its tension, and against ln of its mass, (P,) each; of
    squared shapes (P, N) and frequencies (P,)."""
    system = partials.system
    stiffs, masses = [], []
    for index in range(sides):
        part = system.slices[index]
        unit = system.unit_stiffness[index][partials.row]
        tension = system.ends[index].tension_n_per_m
        stiffs.append(0.5 * tension * np.sum(shape2 * unit, axis=1) / omega2)
        x, film = partials.shape[:, part], system.film_mass[partials.row][:, part, part]
        masses.append(0.5 * np.einsum("ri,rij,rj->r", x, film, x).real)
    return stiffs, masses


def error_terms(
    drum: Drum, partials: Partials, given: InputTolerances = DEFAULT
) -> dict[str, FloatArray]:
    """What each thing nobody stated does to every partial: (P,) cents at its 90 % half-width, with
    its sign. Named by its kind and, where it is of one head, the side: "film batter".

    Notes
    -----
    Theory eq. 19: first-order sensitivities from the mode shapes. A head set by its lug pitch has a
    tension that follows its mass, so most of both cancels; the air outside loads the (1,1) it was
    set by as it loads the others, so part of its doubt cancels too. Where one pull draws both
    heads, what is off in it is off in both, and friction leaves their difference open, unless both
    were read (theory eq. 77).
    """
    system = partials.system
    omega2 = (2.0 * np.pi * partials.frequency_hz) ** 2
    shape2 = (partials.shape**2).real
    out: dict[str, FloatArray] = {}
    stiffs, masses = _by_tension_and_mass(partials, len(drum.sides), shape2, omega2)
    films = np.sum(masses, axis=0)
    read = [drum.setting(side).reading is not None for side in drum.sides]
    pull = drum.one_pull
    drawn = pull is not None and sum(read) == 1  # the other head by the one that was read
    stiff_pitched, air_in_pitch = np.zeros((2, len(partials)))
    for index, side in enumerate(drum.sides):
        moved = -CENTS_PER_NEPER * masses[index]
        if read[index]:
            stiff = np.sum(stiffs, axis=0) if drawn else stiffs[index]
            pinned, air = _pitch_shares(partials, system.slices[index], masses[index])
            moved += CENTS_PER_NEPER * stiff * pinned
            air_in_pitch += stiff * air
            stiff_pitched += stiff
            out["pull" if drawn else f"pull {side}"] = 2.0 * stiff * given.reading_cents
        elif drawn:
            out["pull apart"] = CENTS_PER_NEPER * stiffs[index] * math.log1p(pull or 0.0)
        elif pull is None:
            out[f"pull {side}"] = CENTS_PER_NEPER * stiffs[index] * given.tension
        out[f"film {side}"] = moved * given.film_mass
        if f"{side}_plies" in drum.guessed:
            out[f"plies {side}"] = moved * GUESSED_PLIES
    stiff_all = np.sum(stiffs, axis=0) - stiff_pitched
    if pull is not None and not any(read):  # by how much friction parts them is open
        out["pull"] = CENTS_PER_NEPER * stiff_all * given.tension
        apart = 0.5 * CENTS_PER_NEPER * (stiffs[-1] - stiffs[0])
        out["pull apart"] = apart * math.log1p(pull)
    stretch = 0.5 * np.sum(shape2 * system.stiffness[partials.row], axis=1) / omega2
    outside = 0.5 * partials.outside_share
    plugs = np.diagonal(system.film_mass, axis1=1, axis2=2)[partials.row, system.holes]
    holes = 0.5 * np.sum(shape2[:, system.holes] * plugs, axis=1)
    # D x = 0 leaves for the air inside what film, outside air and stretching do not balance
    inside = films + holes + outside - stretch
    if "depth" in drum.guessed:
        out["depth"] = CENTS_PER_NEPER * inside * GUESSED_DEPTH_M / drum.shell.depth_m
    radius = drum.shell.radius_doubt_m / drum.shell.radius_m
    moving = drum.shell.moving_mass(drum.kind)
    share = system.outside.mass_error(system.depth_m / system.radius_m)
    out["radius"] = CENTS_PER_NEPER * 2.0 * (stiff_all + PITCH_BY_RADIUS * stiff_pitched) * radius
    alike = OUTSIDE_ALIKE * air_round(drum).mass_error(system.depth_m / system.radius_m)
    out["outside"] = CENTS_PER_NEPER * (air_in_pitch - outside) * alike
    out["outside apart"] = CENTS_PER_NEPER * np.hypot(
        outside * math.sqrt(share**2 - alike**2), air_in_pitch * alike * APART
    )
    out["inside"] = CENTS_PER_NEPER * inside * given.inside
    out["hole"] = CENTS_PER_NEPER * holes * given.hole
    out["numeric"] = np.full(len(partials), given.numeric_cents)
    out["recoil"] = CENTS_PER_NEPER * 0.5 * partials.recoil_share * (moving[1] if moving else 0.0)
    return out


def decay_error(partials: Partials, given: InputTolerances = DEFAULT) -> FloatArray:
    """How far T60 may be off nine times in ten, (P,): from T60 / (1 + e) to T60 (1 + e).

    Notes
    -----
    Theory eq. 27. Losses of film, plies, edge and rings are assumed; sound carries its own share.
    """
    sound = partials.radiated_share
    out: FloatArray = np.hypot((1.0 - sound) * given.friction, sound * given.radiation)
    return out


def _pitch_shares(partials: Partials, part: slice, mass: FloatArray) -> tuple[float, float]:
    """Shares of the film and of the air outside in the moving mass of a head's own (1,1)."""
    ones = np.flatnonzero((partials.order == 1) & (partials.rank == 1) & (partials.branch != AIR))
    if len(ones) == 0:
        return 1.0, 0.0
    own = np.sum(np.abs(partials.shape[ones][:, part]) ** 2, axis=1)
    best = ones[int(np.argmax(own))]
    all_own = np.sum(np.abs(partials.shape[best]) ** 2)
    weight = float(np.sum(np.abs(partials.shape[best, part]) ** 2) / all_own)
    film = min(1.0, 2.0 * mass[best] / weight)
    return float(film), float(min(partials.outside_share[best], 1.0 - film))
