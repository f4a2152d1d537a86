"""Snare wires: what they do to the head they lie on, when they leave it, and how soft a stroke
still makes them answer (theory section 25)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from kesselton.core.acoustics.bessel import head_basis, square_area
from kesselton.core.acoustics.solver.partials import AIR, Partials, decay_rate
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray, kept
from kesselton.core.constants import AUDIBLE_DECAY_NEPER
from kesselton.core.errors import ConvergenceError, InputError, KesseltonError
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.wires import Laid
from kesselton.core.language import _
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.stroke import pulse_on, strikes

GRAVITY_M_PER_S2 = 9.81
ALONG, ACROSS = 48, 3
"""Points at which the strip is looked at; 96 along it change a line by less than a cent."""
LOSS_FACTOR = 0.05
"""Of wires in contact: strands rub on the head and each other; assumed."""
ANSWERS_S = 0.05
"""Wires that are not off the head by then do not answer that stroke."""
STEPS = 600
SOFT_TOUCH = 0.035
"""A ghost stroke, 29 dB under a medium one: wires that answer it are right; assumed."""
LOOSE_TOUCH = 0.005
"""Wires that leave for less than this rattle on with every sound in the room; assumed."""
EASED = 0.5
"""Share of the pull to which a strainer is let out to see whether it was the pull; assumed."""
SLOPE_STEP = 1e-4

LOOSE, RIGHT, DULL, CHOKED = "loose", "right", "dull", "choked"


@dataclass(frozen=True, eq=False)
class Strip:
    """Modes along the wires.

    Attributes
    ----------
    values, slopes : (P, Q) displacement and its slope along the wires, modal mass 1 kg
    weights : (Q,) area in m^2
    """

    values: FloatArray
    slopes: FloatArray
    weights: FloatArray


def strip_of(order: IndexArray, shape: FloatArray, radius_m: float, wires: Laid) -> Strip:
    """Modes of a head on the strip where wires lie, one nodal line of cos m theta along them.

    Parameters
    ----------
    order : (P,) nodal diameters
    shape : (P, N) displacement in head functions, scaled as in `modes.Roots`

    Raises
    ------
    InputError
        If the wires are longer than the head.
    """
    half, side = 0.5 * wires.length_m, 0.5 * wires.width_m
    if math.hypot(half, side) >= radius_m:
        raise InputError(
            _("Wires of {length_m:.0f} mm do not fit a {radius_m:.0f} mm head.").format(
                length_m=1000.0 * wires.length_m, radius_m=2000.0 * radius_m
            ),
            _("Enter the strand length between the end plates."),
            "wires.length_m",
        )
    weights = _weights(half, side)
    values, slopes = np.empty((2, len(order), len(weights)))
    scale = 1.0 / np.sqrt(square_area(order, radius_m))
    for m in np.unique(order):
        mine = np.flatnonzero(order == m)
        at, sloped = _functions(int(m), shape.shape[1], half, side, radius_m)
        values[mine] = scale[mine, None] * (shape[mine] @ at.T)
        slopes[mine] = scale[mine, None] * (shape[mine] @ sloped.T)
    return Strip(values, slopes, weights)


def _points(half: float, side: float) -> tuple[FloatArray, FloatArray]:
    x, y = np.meshgrid(
        half * np.polynomial.legendre.leggauss(ALONG)[0],
        side * np.polynomial.legendre.leggauss(ACROSS)[0],
        indexing="ij",
    )
    return x.ravel(), y.ravel()


@kept(16)
def _weights(half: float, side: float) -> FloatArray:
    """Area that each place along the wires stands for, (Q,)."""
    along = half * np.polynomial.legendre.leggauss(ALONG)[1]
    across = side * np.polynomial.legendre.leggauss(ACROSS)[1]
    return np.outer(along, across).ravel()


@kept(96)
def _functions(
    m: int, count: int, half: float, side: float, radius_m: float
) -> tuple[FloatArray, FloatArray]:
    """Head functions times cos m theta on the strip, and their slopes along it, (Q, N) each."""
    x, y = _points(half, side)
    step, basis = SLOPE_STEP * radius_m, head_basis(m, count)

    def at(move: float) -> FloatArray:
        radial = basis.values(np.hypot(x + move, y) / radius_m)
        turned: FloatArray = radial * np.cos(m * np.arctan2(y, x + move))[:, None]
        return turned

    return at(0.0), (at(step) - at(-step)) / (2.0 * step)


def load(strip: Strip, wires: Laid) -> tuple[FloatArray, FloatArray]:
    """What wires in contact add to modal mass and stiffness, (P, P) each.

    Notes
    -----
    Theory eqs. 88 and 89: their mass and their pull spread over the strip; orders couple. Holds
    while they lie on the head.
    """
    mass = wires.line_mass_kg_per_m / wires.width_m
    pull = wires.pull_n / wires.width_m
    weighed = strip.values * strip.weights
    sloped = strip.slopes * strip.weights
    return mass * (weighed @ strip.values.T), pull * (sloped @ strip.slopes.T)


@dataclass(frozen=True, eq=False)
class Lying:
    """A drum with its wires on the head, below the strokes that throw them off.

    Attributes
    ----------
    omega : (P,) complex rad/s, ascending
    mix : (P, P) each new motion in the modes of the drum without them, modal mass 1 kg
    index : (P,) which partials of the drum those modes are
    strip : the modes along the wires
    leaves_m_per_s2 : acceleration of the head at which they leave it
    """

    omega: ComplexArray
    mix: FloatArray
    index: IndexArray
    strip: Strip
    leaves_m_per_s2: float

    @property
    def frequency_hz(self) -> FloatArray:
        """(P,)."""
        out: FloatArray = self.omega.real / (2.0 * np.pi)
        return out

    @property
    def t60_s(self) -> FloatArray:
        """(P,) seconds."""
        out: FloatArray = AUDIBLE_DECAY_NEPER / self.omega.imag
        return out

    @property
    def on_wires(self) -> FloatArray:
        """(P, Q) the new motions along the wires."""
        out: FloatArray = self.mix.T @ self.strip.values
        return out


def leaving_m_per_s2(wires: Laid, tilt_deg: float = 0.0) -> float:
    """Acceleration of the head above which wires lift off it; negative where they hang off.

    Notes
    -----
    Theory eq. 90: pull times the curvature of the sag over line mass, less their weight.
    """
    curvature = 8.0 * wires.sag_m / wires.length_m**2
    weight = GRAVITY_M_PER_S2 * math.cos(math.radians(tilt_deg))
    return wires.pull_n * curvature / wires.line_mass_kg_per_m - weight


def lying(partials: Partials, wires: Laid) -> Lying:
    """A solved drum with its wires on the snare side.

    Raises
    ------
    InputError
        If the wires are longer than the head.
    ConvergenceError
        If the loaded problem was not solved.

    Notes
    -----
    Theory eqs. 88 and 89 in the modes of the drum without wires, air and shell included; motions
    whose nodal diameter lies along the wires hardly notice them and are left out.
    """
    from scipy.linalg import LinAlgError, eigh

    system = partials.system
    if len(system.slices) < 2 or system.ends[1].head is None:
        raise InputError(_("Wires need a resonant head."), _("Add one."), "wires")
    index = np.flatnonzero(partials.branch != AIR)
    shape = partials.shape[index][:, system.slices[1]].real
    strip = strip_of(partials.order[index], shape, system.radius_m, wires)
    more, stiffer = load(strip, wires)
    omega = 2.0 * np.pi * partials.frequency_hz[index]
    try:
        square, mix = eigh(np.diag(omega**2) + stiffer, np.eye(len(index)) + more)
    except LinAlgError as error:
        raise ConvergenceError(_("Wires not computed: {error}.").format(error=error)) from None
    loaded = np.sqrt(square)
    bare = decay_rate(partials.t60_s[index])
    own = np.einsum("pi,pi->i", mix, bare[:, None] * mix)
    taken = np.einsum("pi,pq,qi->i", mix, more + stiffer / (omega[:, None] * omega), mix)
    rate = own + 0.25 * LOSS_FACTOR * loaded * taken
    return Lying(loaded + 1j * rate, mix, index, strip, leaving_m_per_s2(wires))


@dataclass(frozen=True)
class Response:
    """How a drum's wires answer.

    Attributes
    ----------
    from_touch : impulse of the softest stroke they answer, over a medium one
    verdict : "loose", "right", "dull" (the heads do not move them) or "choked" (pulled too hard)
    leaves_m_per_s2 : acceleration at which they leave the head
    time_s : how long after the blow they first leave it
    """

    from_touch: float
    verdict: str
    leaves_m_per_s2: float
    time_s: float


def response(partials: Partials, wires: Laid, stroke: Stroke) -> Response:
    """The softest stroke at a place, with a beater, that wires answer.

    Raises
    ------
    InputError, ConvergenceError
        As `lying`.
    """
    return _response(partials, lying(partials, wires), wires, stroke)


def _response(partials: Partials, on: Lying, wires: Laid, stroke: Stroke) -> Response:
    """The same with the wires lying on already."""
    threshold, after = _threshold(partials, on, stroke)
    verdict = RIGHT
    if threshold <= LOOSE_TOUCH:
        verdict = LOOSE
    elif threshold > SOFT_TOUCH:
        eased = Laid(
            wires.strands, wires.length_m, wires.width_m, wires.mass_kg,
            EASED * wires.pull_n, wires.sag_m,
        )  # fmt: skip
        let_out, _unused = _threshold(partials, lying(partials, eased), stroke)
        verdict = CHOKED if let_out <= SOFT_TOUCH else DULL
    return Response(threshold, verdict, on.leaves_m_per_s2, after)


def response_touch(prediction: Prediction, on: Lying, stroke: Stroke) -> float:
    """Impulse of the softest such stroke that throws wires, over a medium one."""
    return _threshold(prediction.partials, on, stroke)[0]


def _threshold(partials: Partials, on: Lying, stroke: Stroke) -> tuple[float, float]:
    """Impulse that throws wires, over a medium stroke, and when it does: what they leave at over
    the largest acceleration of the head along them."""
    time = np.linspace(0.0, ANSWERS_S, STEPS)
    motion = struck_acceleration(partials, on, Stroke(stroke.place, stroke.beater, 1.0), time)
    away = np.abs(motion).max(axis=0)
    place = int(np.argmax(away))
    peak = max(float(away[place]), 1e-12)
    return max(on.leaves_m_per_s2, 0.0) / peak, float(time[place])


def struck_acceleration(
    partials: Partials, on: Lying, stroke: Stroke, time_s: FloatArray
) -> FloatArray:
    """Acceleration of the head along the middle of the wires, (places, times), m/s^2, lying on."""
    middle = slice(ACROSS // 2, None, 2 * ACROSS)
    here = strikes(partials, stroke.place).real[on.index]
    pulse = pulse_on(partials, stroke)
    omega, rate = on.omega.real, on.omega.imag
    push = stroke.impulse_ns * pulse.spectrum(omega) * (here @ on.mix)
    wave = np.exp(-rate[:, None] * time_s) * np.sin(omega[:, None] * time_s)
    moved: FloatArray = (on.on_wires[:, middle] * (push * omega)[:, None]).T @ wave
    return moved


@dataclass(frozen=True)
class WiresView:
    """Both states of a drum's wires.

    Attributes
    ----------
    engaged : whether the strainer is on
    response : with them on
    lying_hz, off_hz : the lowest motions with the wires lying on, and of the drum without
    why_not : why that was not worked out, ""
    """

    engaged: bool
    response: Response | None
    lying_hz: tuple[float, ...] = ()
    off_hz: tuple[float, ...] = ()
    why_not: str = ""


SHOWN_LINES = 3


def wires_view(prediction: Prediction) -> WiresView | None:
    """Both states of a drum's wires; None where it has none. What cannot be is said in it."""
    own, laid = prediction.drum.own_wires, prediction.drum.laid_wires
    if own is None or laid is None:
        return None
    try:
        on = lying(prediction.partials, laid)
        answers = _response(prediction.partials, on, laid, prediction.stroke)
    except KesseltonError as error:
        return WiresView(own.engaged, None, why_not=error.one_line())
    heads = prediction.partials.frequency_hz[prediction.partials.branch != AIR]
    return WiresView(
        own.engaged,
        answers,
        tuple(on.frequency_hz[:SHOWN_LINES].tolist()),
        tuple(heads[:SHOWN_LINES].tolist()),
    )


def wires_response(prediction: Prediction) -> Response | None:
    """How the wires of a drum answer its stroke; None where none lie on."""
    laid = prediction.drum.lying_wires
    return None if laid is None else response(prediction.partials, laid, prediction.stroke)
