"""Finding every mode of a drum: complex roots of D(w), counted (docs/theory.md 4)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from kesselton.core import constants as const
from kesselton.core.acoustics.air.cavity import Poles
from kesselton.core.acoustics.air.outside import BetweenAir
from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.errors import ConvergenceError
from kesselton.core.language import _


class RootTolerances(NamedTuple):
    """Relative size of a last step: within bounds, and a share of the distance to the next mode.

    Convergence is cubic, so the root itself is far better.
    """

    least: float
    most: float
    share_of_gap: float


FINE = RootTolerances(1e-6, 3e-5, 0.01)
TANGENT_REACH = 2e-4
MAX_STEPS = 14
REFERENCES = 3
ATTEMPTS = 4
GROWTH = 1e-4
"""No drum sounds louder by itself: what seems to, relative to its frequency, is a stray."""
REST = 0.05
"""A search that ends so low, over where it began, has found what moves at 0 Hz."""
TWIN_STEP, TWIN_SHAPE = 1e-7, 0.999
"""Relative distance below which, and likeness of shape above which, two roots are the same one."""
PARTED_STEP = 1e-9
POLE_REACH = 1.5
FILLER_REACH = 3.0
NEAR_REFERENCE = 0.005
POLE_NEIGHBOURHOOD = 0.03
"""Relative distance from a cavity resonance within which its unknown is kept."""


@dataclass(frozen=True, eq=False)
class Roots:
    """Modes below a limit, by order and frequency.

    Attributes
    ----------
    row : (R,) which of the system's orders
    omega : (R,) complex rad/s; the imaginary part is the decay rate
    shape : (R, n) complex, scaled so that x^T D' x = -2 w (modal mass 1 kg/m^2); the displacement
        is the sum of shape times the scaled functions
    """

    row: IndexArray
    omega: ComplexArray
    shape: ComplexArray

    @property
    def frequency_hz(self) -> FloatArray:
        """(R,) hertz."""
        return self.omega.real / (2.0 * np.pi)

    @property
    def t60_s(self) -> FloatArray:
        """(R,) seconds to fall by 60 dB."""
        out: FloatArray = const.AUDIBLE_DECAY_NEPER / self.omega.imag
        return out


Strayed = dict[int, ConvergenceError]
"""Rows whose searches did not end where they should, and what happened."""


@dataclass(frozen=True, eq=False)
class Pencils:
    """Linear problems with the outside air frozen at G references: all eigenvalues at once.

    Attributes
    ----------
    reference : (orders, G) rad/s
    omega : (orders, G, J) ascending
    vectors : (orders, G, n + P, J), the unknowns of the P cavity resonances last
    poles : those of the cavity, see `DrumSystem.cavity_poles`
    """

    reference: FloatArray
    omega: FloatArray
    vectors: FloatArray
    poles: Poles


def solve_pencils(system: DrumSystem, references: FloatArray, poles: Poles) -> Pencils:
    """Solve the linear problems that agree with D(w) at each of `references`, (G,) for all rows or
    (rows, G) (theory eq. 12).

    Each cavity resonance within reach keeps an unknown of its own; the rest of the cavity and the
    outside air count with the mass they show at the reference.

    Raises
    ------
    ConvergenceError
        If that mass is not positive definite.
    """
    orders, n = len(system.orders), system.size
    pole_omega, pull = poles.omega, poles.pull
    count = references.shape[-1]
    row = np.repeat(np.arange(orders), count)
    every = np.broadcast_to(references, (orders, count)).ravel()
    reference = _away_from(every, pole_omega[row])
    value, _unused = system.matrices(row, reference.astype(complex), 0.0)
    square = reference[:, None] ** 2
    filler = (FILLER_REACH * system.highest_omega) ** 2  # above everything looked for
    pole2 = np.where(np.isinf(pole_omega), filler, pole_omega**2)
    springs = pull[row]
    weights = square / (square - pole2[row])
    diagonal = np.arange(n)
    rest = value.real
    rest[:, diagonal, diagonal] -= system.stiffness[row]
    mass = ((springs.transpose(0, 2, 1) * weights[:, None, :]) @ springs - rest) / square[..., None]
    try:
        inverse = np.linalg.inv(np.linalg.cholesky(mass))
    except np.linalg.LinAlgError as error:
        raise ConvergenceError(_("The moving mass of this drum is not positive.")) from error
    turned = inverse.transpose(0, 2, 1)
    stiffness = springs.transpose(0, 2, 1) @ springs
    stiffness[:, diagonal, diagonal] += system.stiffness[row]
    extra = pull.shape[1]
    full = np.zeros((len(row), n + extra, n + extra))
    full[:, :n, :n] = inverse @ stiffness @ turned
    full[:, n:, :n] = (springs * np.sqrt(pole2[row])[..., None]) @ turned
    full[:, :n, n:] = full[:, n:, :n].transpose(0, 2, 1)
    corner = np.arange(n, n + extra)
    full[:, corner, corner] = pole2[row]
    # a resonance at 0 Hz is the plain air spring: it has no motion of its own
    still = pole2[row] == 0.0
    full[:, corner, corner] += np.where(still, filler, 0.0)
    squares, vectors = np.linalg.eigh(full)
    omega = np.sqrt(np.maximum(squares, 0.0))
    vectors[:, :n] = turned @ vectors[:, :n]
    shape = (orders, count)
    return Pencils(
        reference.reshape(shape),
        omega.reshape(*shape, -1),
        vectors.reshape(*shape, n + extra, n + extra),
        poles,
    )


def starting_points(
    pencils: Pencils, still: IndexArray, highest: FloatArray | None = None
) -> tuple[IndexArray, FloatArray, FloatArray]:
    """Where each root should be: eigenvalue number j meets its own reference frequency.

    Parameters
    ----------
    still : (orders,) how many motions at 0 Hz to leave out
    highest : (orders,) rad/s; None for those that must lie below the last reference

    Returns
    -------
    row : (R,)
    omega : (R,) ascending within a row, up to and including the first above `highest` if given
    vectors : (R, n + P)
    """
    omega, nearest = _crossings(pencils)
    if highest is None:
        number = np.sum(pencils.omega[:, -1] < pencils.reference[:, -1:], axis=1)
    else:
        number = np.sum(omega < highest[:, None], axis=1) + 1
    column = np.arange(omega.shape[1])
    wanted = (column < number[:, None]) & (column >= still[:, None])
    row, column = np.nonzero(wanted)
    vectors = pencils.vectors[row, nearest[row, column], :, column]
    return row, omega[row, column], vectors


def _crossings(pencils: Pencils) -> tuple[FloatArray, IndexArray]:
    """Where eigenvalue j meets its own reference, (orders, J), and the nearest reference."""
    reference, levels = pencils.reference, pencils.omega
    gap = levels - reference[..., None]
    count = levels.shape[1]
    if count == 1:
        return levels[:, 0], np.zeros(levels[:, 0].shape, dtype=np.intp)
    passed = np.argmax(gap <= 0.0, axis=1)  # first reference above its own eigenvalue
    passed[np.all(gap > 0.0, axis=1)] = count - 1
    right = np.maximum(passed, 1)
    left = right - 1
    g0 = np.take_along_axis(gap, left[:, None], axis=1)[:, 0]
    g1 = np.take_along_axis(gap, right[:, None], axis=1)[:, 0]
    r0 = np.take_along_axis(reference, left, axis=1)
    r1 = np.take_along_axis(reference, right, axis=1)
    share = g0 / (g0 - g1)
    return r0 + share * (r1 - r0), np.where(share < 0.5, left, right)


def polish(
    system: DrumSystem,
    row: IndexArray,
    omega: FloatArray | ComplexArray,
    vectors: FloatArray | ComplexArray,
    poles: Poles,
    damping: float = 1.0,
) -> tuple[Roots, Strayed]:
    """Follow every start to its complex root by inverse iteration with D' (theory eq. 13).

    Close to a resonance of the cavity D itself has a pole; a root there is followed in the larger
    problem that keeps that resonance as an unknown. Returns the roots of all rows whose searches
    came home, and why those of the others did not: a root did not settle, two searches ended on
    one, one on a motion that grows, or at rest.
    """
    w, x, lost = settle(system, row, omega, vectors, poles, damping)
    stuck = ", ".join(f"{f:.1f} Hz" for f in omega[lost].real / (2.0 * np.pi))
    not_found = ConvergenceError(
        _("Modes near {stuck} were not found.").format(stuck=stuck),
        _("Change one head’s tension slightly and try again."),
    )
    strayed: Strayed = dict.fromkeys(row[lost].tolist(), not_found)
    n = system.size
    home = np.flatnonzero(~np.isin(row, list(strayed)))
    for pair in home[duplicate_roots(row[home], w[home], x[home, :n])]:
        begun = row[pair], omega[pair], vectors[pair]
        try:
            w[pair], x[pair] = _parted(system, *begun, poles, damping)
        except ConvergenceError as problem:
            strayed[int(row[pair[0]])] = problem
    for pair in home[duplicate_roots(row[home], w[home], x[home, :n])]:
        strayed[int(row[pair[0]])] = ConvergenceError(
            _("Two searches found the same mode."),
            _("Change a tension or the depth slightly and try again."),
        )
    for place in home[w[home].imag < -GROWTH * w[home].real]:
        strayed[int(row[place])] = ConvergenceError(_("A mode search ended on an unstable motion."))
    for place in home[w[home].real < REST * omega[home].real]:
        strayed[int(row[place])] = ConvergenceError(_("A mode search ended without motion."))
    home = np.flatnonzero(~np.isin(row, list(strayed)))
    home = home[np.lexsort((w[home].real, row[home]))]
    return Roots(row[home], w[home], x[home, :n]), strayed


def all_home(roots: Roots, strayed: Strayed) -> Roots:
    """The roots, if no search strayed.

    Raises
    ------
    ConvergenceError
        What happened to the first that did.
    """
    for problem in strayed.values():
        raise problem
    return roots


def settle(
    system: DrumSystem,
    row: IndexArray,
    omega: FloatArray | ComplexArray,
    vectors: FloatArray | ComplexArray,
    poles: Poles,
    damping: float = 1.0,
    tolerances: RootTolerances = FINE,
) -> tuple[ComplexArray, ComplexArray, IndexArray]:
    """Roots (R,), shapes (R, n + P) and which searches did not settle; see `polish`."""
    n = system.size
    w = omega.astype(complex)
    x = vectors.astype(complex)
    near = np.any(
        np.abs(w[:, None] - poles.omega[row]) < POLE_NEIGHBOURHOOD * np.abs(w[:, None]), axis=1
    )
    far = np.flatnonzero(~near)
    w[far], x[far, :n], lost = iterate(
        system, row[far], w[far], x[far, :n], None, damping, tolerances
    )
    again = np.concatenate((np.flatnonzero(near), far[lost]))
    lost = again
    if len(again):
        w[again], x[again], still = iterate(
            system,
            row[again],
            omega[again].astype(complex),
            vectors[again].astype(complex),
            poles,
            damping,
            tolerances,
        )
        lost = again[still]
    return w, x, lost


def duplicate_roots(row: IndexArray, omega: ComplexArray, shape: ComplexArray) -> IndexArray:
    """Pairs (K, 2) of searches, neighbours in frequency, that ended on one mode."""
    order = np.lexsort((omega.real, row))
    w, x = omega[order], shape[order]
    near = (np.diff(row[order]) == 0) & (np.abs(np.diff(w)) < TWIN_STEP * np.abs(w[1:]))
    place = np.flatnonzero(near)
    values, other = x[place], x[place + 1]
    alike = np.abs(np.sum(values.conj() * other, axis=1)) > TWIN_SHAPE * (
        np.linalg.norm(values, axis=1) * np.linalg.norm(other, axis=1)
    )
    place = place[alike]
    return np.stack((order[place], order[place + 1]), axis=1)


def _parted(
    system: DrumSystem,
    row: IndexArray,
    omega: FloatArray | ComplexArray,
    vectors: FloatArray | ComplexArray,
    poles: Poles,
    damping: float,
) -> tuple[ComplexArray, ComplexArray]:
    """The two roots (2,) and shapes (2, n + P) that two searches began towards.

    Where losses make two modes nearly one, a search by itself may fall to either; both are kept
    in the plane their starts span, and each step solves for both at once.

    Raises
    ------
    ConvergenceError
        If they do not settle.
    """
    begin: ComplexArray = np.linalg.qr(vectors.T.astype(complex))[0]
    roots, shapes = np.empty(2, dtype=complex), np.empty(vectors.shape, dtype=complex)
    middle = complex(np.mean(omega))
    for which in (0, 1):
        w, plane, first = middle, begin, True
        for _unused in range(2 * MAX_STEPS):
            at = np.array([w])
            value, slope = _with_poles(
                *system.matrices(row[:1], at, damping), at, poles.of(row[:1]), damping
            )
            plane = np.linalg.qr(np.linalg.solve(value[0], slope[0] @ plane))[0]
            small, lean = plane.T @ value[0] @ plane, plane.T @ slope[0] @ plane
            steps, mix = np.linalg.eig(np.linalg.solve(lean, small))
            order = np.argsort(-steps.real) if first else np.argsort(np.abs(steps))
            chosen = order[which] if first else order[0]
            first = False
            w = w - complex(steps[chosen])
            if not 0.0 < w.real < system.highest_omega:
                break
            if abs(steps[chosen]) < PARTED_STEP * abs(w):
                x = plane @ mix[:, chosen]
                roots[which] = w
                shapes[which] = x * np.sqrt(-2.0 * w / (x @ slope[0] @ x))
                break
        else:
            raise ConvergenceError(_("Two modes are too close to separate."))
    return roots, shapes


def _solved(value: ComplexArray, push: ComplexArray) -> ComplexArray:
    """Solutions of D y = push; where D is singular to the last digit a root was hit exactly, and
    any nearby D says so as well."""
    try:
        return np.asarray(np.linalg.solve(value, push), dtype=complex)
    except np.linalg.LinAlgError:
        off = 1e-13 * np.abs(value).max(axis=(1, 2))
        try:
            near = value + off[:, None, None] * np.eye(value.shape[1])
            return np.asarray(np.linalg.solve(near, push), dtype=complex)
        except np.linalg.LinAlgError as error:
            raise ConvergenceError(_("This drum’s equations have no solution there.")) from error


def iterate(
    system: DrumSystem,
    row: IndexArray,
    omega: ComplexArray,
    vectors: ComplexArray,
    poles: Poles | None,
    damping: float,
    tolerances: RootTolerances = FINE,
) -> tuple[ComplexArray, ComplexArray, IndexArray]:
    """Inverse iteration; returns roots, shapes, and the indices that did not settle."""
    w, x = omega.copy(), vectors.copy()
    todo = np.arange(len(w))
    enough = _near_enough(row, omega, tolerances)
    at_hand: tuple[ComplexArray, ComplexArray] | None = None
    for _unused in range(MAX_STEPS):
        inside = (w[todo].real > 0.0) & (w[todo].real < system.highest_omega)
        here = todo[inside]
        if len(here) == 0:
            break
        if at_hand is None:
            value, slope = system.matrices(row[here], w[here], damping)
            if poles is not None:
                value, slope = _with_poles(value, slope, w[here], poles.of(row[here]), damping)
        else:
            value, slope = at_hand
        push = slope @ x[here, :, None]
        y = _solved(value, push)
        down = np.sum(y * (slope @ y), axis=(1, 2))
        step = np.sum(y * push, axis=(1, 2)) / down
        w[here] -= step
        x[here] = y[..., 0] * np.sqrt(-2.0 * w[here] / down)[:, None]
        size = np.abs(step) / np.abs(w[here])
        moving = size >= enough[here]
        # after so small a step D follows its tangent; a second one in a row is computed afresh
        near = at_hand is None and inside.all() and size[moving].max(initial=0.0) < TANGENT_REACH
        at_hand = None
        if near and moving.any():
            turn = step[moving, None, None]
            at_hand = (value[moving] - slope[moving] * turn, slope[moving])
        todo = here[moving] if inside.all() else np.union1d(here[moving], todo[~inside])
        if len(todo) == 0:
            break
    return w, x, todo


def _near_enough(row: IndexArray, omega: ComplexArray, tolerances: RootTolerances) -> FloatArray:
    """Relative size of a last step, (R,): small against the distance to the nearest other mode."""
    order = np.lexsort((omega.real, row))
    sorted_omega = omega[order]
    apart = np.abs(np.diff(sorted_omega))
    apart[np.diff(row[order]) != 0] = np.inf
    apart = np.concatenate(([np.inf], apart, [np.inf]))
    gap = np.empty(len(omega))
    gap[order] = np.minimum(apart[:-1], apart[1:]) / np.abs(sorted_omega)
    return np.clip(tolerances.share_of_gap * gap, tolerances.least, tolerances.most)


def _with_poles(
    value: ComplexArray, slope: ComplexArray, omega: ComplexArray, poles: Poles, damping: float
) -> tuple[ComplexArray, ComplexArray]:
    """D and D' with every cavity resonance as an unknown of its own (theory eqs. 12, 24).

    `poles` are those of every row (F, P).
    """
    count, n, extra = len(omega), value.shape[1], poles.pull.shape[1]
    real = np.isfinite(poles.omega) & (poles.omega > 0.0)
    pole = np.where(real, poles.omega, 0.0)
    pull = poles.pull * real[..., None]
    w = omega[:, None]
    loss = (1j * damping) * poles.loss / np.sqrt(w)
    eased = 1.0 - loss  # its derivative is loss / 2 w
    gap = w * w * eased - pole**2
    dgap = 2.0 * w - 1.5 * w * loss
    weight = w * w / gap - 1.0 / eased
    dweight = 2.0 * w / gap - w * w * dgap / gap**2 + loss / (2.0 * w * eased**2)
    turned = pull.transpose(0, 2, 1)
    big = np.zeros((count, n + extra, n + extra), dtype=complex)
    dbig = np.zeros_like(big)
    big[:, :n, :n] = value - (turned * weight[:, None, :]) @ pull
    dbig[:, :n, :n] = slope - (turned * dweight[:, None, :]) @ pull
    big[:, n:, :n] = pull * pole[..., None]
    big[:, :n, n:] = big[:, n:, :n].transpose(0, 2, 1)
    corner = np.arange(n, n + extra)
    big[:, corner, corner] = np.where(real, -gap * eased, 1.0)
    dbig[:, corner, corner] = np.where(real, -dgap * eased - gap * loss / (2.0 * w), 0.0)
    return big, dbig


def count_below(system: DrumSystem, row: IndexArray, omega: FloatArray) -> IndexArray:
    """Number of undamped modes of order `row` below `omega`, both (F,).

    References
    ----------
    W. H. Wittrick, F. W. Williams, Q. J. Mech. Appl. Math. 24 (1971) 263 (from memory).
    """
    poles = system.cavity_poles(1.001 * float(omega.max()))
    omega = _away_from(omega, poles.omega[row])
    value, _unused = system.matrices(row, omega.astype(complex), 0.0)
    negative = np.sum(np.linalg.eigvalsh(value.real) < 0.0, axis=1)
    below = poles.omega[row]
    inside = np.sum((below > 0.0) & (below < omega[:, None]), axis=1)
    out: IndexArray = negative + inside - system.zero_frequency_modes[row]
    return out


def solve(system: DrumSystem, highest: FloatArray, references: int = REFERENCES) -> Roots:
    """All modes below `highest` (orders,) rad/s.

    Parameters
    ----------
    references : linear problems per order in the first attempt; a wide span wants more

    Raises
    ------
    ConvergenceError
        If one was not found or their number does not agree with an independent count.

    Notes
    -----
    Ordinary drums are solved at once. Where radiation is so strong that a search strays, the
    undamped drum between baffles is solved and counted first, and its modes are followed while the
    damping grows and the baffles go: of those orders only in which one strayed.
    """
    grid = np.linspace(1.0, 0.3, references)[::-1] * float(highest.max())
    poles = system.cavity_poles(POLE_REACH * float(highest.max()))
    try:
        pencils = solve_pencils(system, grid, poles)
    except ConvergenceError:
        return _followed(system, highest)
    if np.all(highest == highest.max()):
        roots, strayed = _as_many_as_counted(system, pencils)
    else:
        starts = starting_points(pencils, system.zero_frequency_modes, highest)
        roots, strayed = polish(system, *starts, pencils.poles)
        strayed |= _miscounted(system, roots, highest)
    if strayed:
        again = np.array(sorted(strayed))
        further = _followed(system.only_rows(again), highest[again])
        roots = _joined(roots, again, further)
    return _below(roots, highest)


def _joined(roots: Roots, again: IndexArray, further: Roots) -> Roots:
    """All roots, those of the rows `again` by `further`, which counts these rows from 0."""
    kept = np.isin(roots.row, again, invert=True)
    row = np.concatenate((roots.row[kept], again[further.row]))
    omega = np.concatenate((roots.omega[kept], further.omega))
    shape = np.concatenate((roots.shape[kept], further.shape))
    order = np.lexsort((omega.real, row))
    return Roots(row[order], omega[order], shape[order])


def _followed(system: DrumSystem, highest: FloatArray) -> Roots:
    """All modes, followed from the undamped drum between baffles, where a search at once strays."""
    beginning = system.with_outside(system.outside.start)
    poles = system.cavity_poles(POLE_REACH * float(highest.max()))
    last = ConvergenceError(_("The modes of this drum were not found."))
    for attempt in range(ATTEMPTS):
        count = 6 * 2**attempt
        grid = np.linspace(1.0, 0.5 / count, count)[::-1] * 1.15 * float(highest.max())
        try:
            pencils = solve_pencils(beginning, np.minimum(grid, 0.99 * system.highest_omega), poles)
            starts = starting_points(pencils, system.zero_frequency_modes, highest)
            roots = all_home(*polish(beginning, *starts, pencils.poles, 0.0))
            roots = all_home(roots, _miscounted(beginning, roots, highest))
            return _damped(system, roots, float(highest.max()))
        except ConvergenceError as error:
            last = error
    raise last


def _as_many_as_counted(system: DrumSystem, pencils: Pencils) -> tuple[Roots, Strayed]:
    """The modes below the highest reference of the pencils, one for each that must be there.

    A pencil agrees with D at its reference, so by Sylvester's law of inertia it has as many
    eigenvalues below that reference as the drum has undamped modes there (theory eq. 14).
    """
    starts = starting_points(pencils, system.zero_frequency_modes)
    roots, strayed = polish(system, *starts, pencils.poles)
    reference = pencils.reference[roots.row, -1]
    for row in roots.row[roots.omega.real > reference * (1.0 + NEAR_REFERENCE)].tolist():
        strayed[row] = ConvergenceError(_("A search for a low mode found a high one."))
    return roots, strayed


def _damped(system: DrumSystem, roots: Roots, highest: float) -> Roots:
    """Follow the modes from no damping in the air they began in to all of it, in as small steps as
    it takes."""
    poles = system.cavity_poles(POLE_REACH * highest)
    share, step = 0.0, 0.25
    while share < 1.0:
        target = min(1.0, share + step)
        try:
            air = BetweenAir(system.outside.start, system.outside, target)
            now = system if target == 1.0 else system.with_outside(air)
            starts = roots.row, roots.omega, _extended(roots, poles)
            further = all_home(*polish(now, *starts, poles, target))
            share, roots, step = target, further, 1.5 * step
        except ConvergenceError:
            step *= 0.5
            if step < 1e-3:
                raise
    return roots


def _extended(roots: Roots, poles: Poles) -> ComplexArray:
    """Shapes with the motion of each cavity resonance appended."""
    pole, pull, _unused = poles.of(roots.row)
    real = np.isfinite(pole) & (pole > 0.0)
    pole = np.where(real, pole, 0.0)
    drive = np.sum(pull * roots.shape[:, None, :], axis=2) * pole
    motion = np.where(real, -drive / (pole**2 - roots.omega[:, None] ** 2), 0.0)
    return np.concatenate((roots.shape, motion), axis=1)


def _below(roots: Roots, highest: FloatArray) -> Roots:
    keep = roots.omega.real < highest[roots.row]
    return Roots(roots.row[keep], roots.omega[keep], roots.shape[keep])


def _miscounted(system: DrumSystem, roots: Roots, highest: FloatArray) -> Strayed:
    """Rows whose number of modes below `highest` is not what it must be.

    Every order was followed to one mode beyond `highest`; between that one and the last below,
    the modes are counted independently.
    """
    rows, between, kept = [], [], []
    for r in range(len(highest)):
        mine = roots.omega.real[roots.row == r]
        number = int(np.sum(mine < highest[r]))
        if number < len(mine):
            low = mine[number - 1] if number else 0.5 * mine[number]
            middle = 0.5 * (low + mine[number])
            if middle < system.highest_omega:
                rows.append(r)
                between.append(middle)
                kept.append(number)
    if not rows:
        return {}
    counted = count_below(system, np.array(rows), np.array(between))
    return {
        r: ConvergenceError(
            _("Order {orders}: {number} modes found, {expected} expected.").format(
                orders=system.orders[r], number=number, expected=expected
            )
        )
        for r, number, expected in zip(rows, kept, counted, strict=True)
        if number != expected
    }


def _away_from(omega: FloatArray, poles: FloatArray) -> FloatArray:
    """`omega` (F,), moved off any cavity resonance in `poles` (F, P) it sits on."""
    omega = omega.copy()
    for _unused in range(8):
        close = np.any(np.abs(poles - omega[:, None]) < 1e-4 * omega[:, None], axis=1)
        if not close.any():
            return omega
        omega[close] *= 1.00037
    raise ConvergenceError(_("The cavity resonances are too dense here."))
