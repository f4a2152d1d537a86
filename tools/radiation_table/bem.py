"""Sound outside a body of revolution, by boundary elements on its meridian.

Direct collocation of the Kirchhoff-Helmholtz integral (time e^{jwt}, outward normal n)

    c p(x) = integral of p dG/dn - G dp/dn,    G = e^{-jkR} / (4 pi R),  dp/dn = -f

for all Fourier orders cos(m phi) at once, in units of the radius. The body is mirrored in the plane
z = 0, so that only the upper half of its meridian carries unknowns and both parities come from one
set of integrals. The pressure is a polynomial on each panel; a panel that ends in an edge runs in
d = t^3, which turns the edge's powers of d^(2/3) into polynomials. Points inside the body where the
integral must vanish make the overdetermined system unique at the body's inner resonances.

References
----------
A. J. Burton, G. F. Miller, Proc. R. Soc. Lond. A 323 (1971) 201, the integral equations;
H. A. Schenck, J. Acoust. Soc. Am. 44 (1968) 41, the points inside (both from memory).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import jv, jvp

FloatArray = NDArray[np.float64]
ComplexArray = NDArray[np.complex128]
Curve = Callable[[FloatArray], tuple[FloatArray, FloatArray, FloatArray, FloatArray]]
"""t in 0..1 -> r, z, dr/dt, dz/dt; the fluid lies to the left when t runs from the pole outward."""

LEVELS, RATIO, FINE_POINTS, AZIMUTHS = 10, 0.35, 6, 36
FAR_POINTS = 14
PAIRS_AT_ONCE = 60


@dataclass(frozen=True)
class Panel:
    """One piece of the meridian and the number of nodes on it."""

    curve: Curve
    nodes: int


@dataclass(frozen=True)
class Points:
    """Points on the meridian with outward normal and length weight; every array (N,)."""

    r: FloatArray
    z: FloatArray
    nr: FloatArray
    nz: FloatArray
    length: FloatArray


def on_panel(panel: Panel, t: FloatArray, weight: FloatArray) -> Points:
    """Points at parameters t with quadrature weights in t."""
    r, z, dr, dz = panel.curve(t)
    speed = np.hypot(dr, dz)
    with np.errstate(invalid="ignore", divide="ignore"):
        nr, nz = -dz / speed, dr / speed
    return Points(r, z, nr, nz, weight * speed)


def straight(start: tuple[float, float], stop: tuple[float, float], edge: str = "") -> Curve:
    """A straight piece; `edge` "start" or "stop" runs in the cube root of the distance from it."""

    def curve(t: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
        if edge == "start":
            s, ds = t**3, 3.0 * t**2
        elif edge == "stop":
            s, ds = 1.0 - (1.0 - t) ** 3, 3.0 * (1.0 - t) ** 2
        else:
            s, ds = t, np.ones_like(t)
        dr, dz = stop[0] - start[0], stop[1] - start[1]
        return start[0] + s * dr, start[1] + s * dz, dr * ds, dz * ds

    return curve


def arc(first: float, last: float, radius: float = 1.0) -> Curve:
    """A piece of a circle about the origin between two angles from the axis."""

    def curve(t: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
        angle = first + t * (last - first)
        turn = radius * (last - first)
        return (
            radius * np.sin(angle),
            radius * np.cos(angle),
            turn * np.cos(angle),
            -turn * np.sin(angle),
        )

    return curve


def cylinder(depth_ratio: float, nodes: int = 10) -> tuple[list[Panel], list[Panel]]:
    """Upper end and upper half of the side of a cylinder of radius 1 and length `depth_ratio`."""
    top = 0.5 * depth_ratio
    end = [
        Panel(straight((0.0, top), (0.4, top)), nodes),
        Panel(straight((0.4, top), (0.75, top)), nodes),
        Panel(straight((0.75, top), (1.0, top), "stop"), nodes),
    ]
    first = min(top, 0.4)
    side = [Panel(straight((1.0, top), (1.0, top - first), "start"), nodes)]
    rest = top - first
    pieces = int(np.ceil(rest / 0.7)) if rest > 1e-9 else 0
    for i in range(pieces):
        side.append(
            Panel(
                straight((1.0, rest * (1 - i / pieces)), (1.0, rest * (1 - (i + 1) / pieces))),
                nodes,
            )
        )
    return end, side


def _gauss(count: int) -> tuple[FloatArray, FloatArray]:
    x, w = np.polynomial.legendre.leggauss(count)
    return 0.5 * (1.0 + x), 0.5 * w


def _graded(nearest: float) -> tuple[FloatArray, FloatArray]:
    """Gauss points on 0..1, ever denser towards `nearest`."""
    x, w = _gauss(FINE_POINTS)
    cuts = np.concatenate(([0.0], RATIO ** np.arange(LEVELS - 1, -1, -1)))
    start, width = cuts[:-1, None], np.diff(cuts)[:, None]
    s, ws = (start + width * x).ravel(), (width * w).ravel()
    t, weight = [], []
    for reach, sign in ((1.0 - nearest, 1.0), (nearest, -1.0)):
        if reach > 1e-12:
            t.append(nearest + sign * reach * s)
            weight.append(reach * ws)
    return np.concatenate(t), np.concatenate(weight)


def _lagrange(nodes: FloatArray, t: FloatArray) -> FloatArray:
    """Interpolation matrix (T, N) from Gauss nodes to t."""
    gap = nodes[:, None] - nodes[None, :]
    np.fill_diagonal(gap, 1.0)
    weight = 1.0 / gap.prod(axis=1)
    apart = t[:, None] - nodes[None, :]
    hit = np.abs(apart) < 1e-14
    with np.errstate(divide="ignore"):
        share = weight / np.where(hit, 1.0, apart)
    out: FloatArray = share / share.sum(axis=1, keepdims=True)
    out[hit.any(axis=1)] = hit[hit.any(axis=1)]
    return out


def _nearest(panel: Panel, r: float, z: float) -> tuple[float, float]:
    """Parameter of the point of a panel nearest to (r, z), and its distance."""
    low, high = 0.0, 1.0
    for _ in range(12):
        t = np.linspace(low, high, 17)
        pr, pz, _, _ = panel.curve(t)
        best = int(np.argmin((pr - r) ** 2 + (pz - z) ** 2))
        low, high = t[max(best - 1, 0)], t[min(best + 1, 16)]
    t0 = float(t[best])
    pr, pz, _, _ = panel.curve(np.array([t0]))
    return t0, float(np.hypot(pr[0] - r, pz[0] - z))


def _kernels(
    orders: int, k: FloatArray, r: float, z: float, source: Points
) -> tuple[ComplexArray, ComplexArray]:
    """Azimuthal integrals of G and dG/dn' times cos(m phi): each (K, S, orders).

    With x = phi/2 and delta = rho / (2 sqrt(r r')), x = delta sinh(u) flattens the peak of 1/R.
    """
    u, w = _gauss(AZIMUTHS)
    rho2 = (r - source.r) ** 2 + (z - source.z) ** 2
    product = np.maximum(r * source.r, 1e-30)
    delta = np.maximum(np.sqrt(rho2 / (4.0 * product)), 1e-12)[:, None]
    top = np.arcsinh(0.5 * np.pi / delta)
    x = delta * np.sinh(top * u)
    weight = 4.0 * w * top * delta * np.cosh(top * u)  # phi = 2x, and both halves of the circle
    half = np.sin(x) ** 2
    distance = np.sqrt(rho2[:, None] + 4.0 * product[:, None] * half)
    cosine = 1.0 - 2.0 * half
    lean = (
        source.nr[:, None] * (source.r[:, None] - r * cosine)
        + (source.nz * (source.z - z))[:, None]
    )
    turns = np.cos(2.0 * x[:, :, None] * np.arange(orders))
    plain = weight / (4.0 * np.pi * distance)
    tilt = -plain * lean / distance
    wave = np.exp(-1j * k[:, None] * distance[:, None, :])  # (S, K, A)
    columns = np.concatenate(
        [(factor[..., None] * turns) for factor in (plain, tilt / distance, tilt)], axis=2
    )
    flat = np.concatenate((wave.real, wave.imag), axis=1) @ columns  # (S, 2K, 3 orders)
    summed = (flat[:, : len(k)] + 1j * flat[:, len(k) :]).transpose(1, 0, 2)
    g = summed[..., :orders]
    h = summed[..., orders : 2 * orders] + 1j * k[:, None, None] * summed[..., 2 * orders :]
    return g, h


@dataclass
class Body:
    """A mirrored body of revolution with nodes on the upper half of its meridian.

    Parameters
    ----------
    driven : panels on which the surface moves
    still : the other panels
    functions : r (S,) -> (orders, S, N), the displacements on the driven panels
    inside : (C, 2) points inside the body, r and z
    """

    driven: Sequence[Panel]
    still: Sequence[Panel]
    functions: Callable[[Points], FloatArray]
    inside: FloatArray
    orders: int

    def __post_init__(self) -> None:
        self.panels = [*self.driven, *self.still]
        parts = [on_panel(p, *_gauss(p.nodes)) for p in self.panels]
        names = ("r", "z", "nr", "nz", "length")
        self.nodes = Points(*(np.concatenate([getattr(p, name) for p in parts]) for name in names))
        self.starts = np.cumsum([0, *(p.nodes for p in self.panels)])
        self.count = int(self.starts[-1])
        self.moving = int(self.starts[len(self.driven)])

    def assemble(self, k: FloatArray) -> tuple[ComplexArray, ComplexArray]:
        """Operators on pressure (2, K, orders, T, n) and drive (2, K, orders, T, N), both parities.

        T counts nodes, then points inside; 0 is the symmetric parity, 1 the antisymmetric.
        """
        targets = np.concatenate(
            (np.stack((self.nodes.r, self.nodes.z), axis=1), self.inside), axis=0
        )
        trial = self.functions(self.nodes)
        shape = (2, len(k), self.orders, len(targets))
        on_pressure = np.zeros((*shape, self.count), dtype=complex)
        on_drive = np.zeros((*shape, trial.shape[2]), dtype=complex)
        for index, (r, z) in enumerate(targets):
            for number, panel in enumerate(self.panels):
                part = slice(int(self.starts[number]), int(self.starts[number + 1]))
                nodes = _gauss(panel.nodes)[0]
                for mirror in (1.0, -1.0):
                    t0, gap = _nearest(panel, r, mirror * z)
                    size = float(np.sum(on_panel(panel, *_gauss(8)).length))
                    t, w = _gauss(FAR_POINTS) if gap > 0.8 * size else _graded(t0)
                    source = on_panel(panel, t, w)
                    # the mirrored source seen from (r, z) is the source seen from (r, -z)
                    g, h = _kernels(self.orders, k, r, mirror * z, source)
                    area = source.length * source.r
                    spread = area[:, None] * _lagrange(nodes, t)
                    hp = np.einsum("ksm,sn->kmn", h, spread, optimize=True)
                    on_pressure[0, :, :, index, part] += hp
                    on_pressure[1, :, :, index, part] += mirror * hp
                    if number < len(self.driven):
                        drive = self.functions(source) * area[:, None]
                        gf = np.einsum("ksm,msn->kmn", g, drive, optimize=True)
                        on_drive[0, :, :, index] += gf
                        on_drive[1, :, :, index] += mirror * gf
        return on_pressure, on_drive

    def solve(self, k: FloatArray) -> ComplexArray:
        """Surface pressure (2, K, orders, n, N) for every drive."""
        on_pressure, on_drive = self.assemble(k)
        system = -on_pressure
        row = np.arange(self.count)
        system[..., row, row] += 0.5
        shape = (*on_drive.shape[:3], self.count, on_drive.shape[-1])
        out = np.empty(shape, dtype=complex)
        for index in np.ndindex(*shape[:3]):
            q, upper = np.linalg.qr(system[index])
            out[index] = np.linalg.solve(upper, q.conj().T @ on_drive[index])
        return out

    def added_mass(self, pressure: ComplexArray) -> ComplexArray:
        """A (2, K, orders, N, N): pressure averaged over the moving part with each function."""
        area = (self.nodes.length * self.nodes.r)[: self.moving]
        test = self.functions(self.nodes)[:, : self.moving] * area[:, None]
        return np.einsum("msa,pkmsb->pkmab", test, pressure[:, :, :, : self.moving], optimize=True)

    def radiation(self, k: FloatArray, pressure: ComplexArray, angles: int = 48) -> FloatArray:
        """What leaves for the far field, in the units of -Im A: (2, K, orders, N, N)."""
        cosines, weights = np.polynomial.legendre.leggauss(2 * angles)
        cosines, weights = cosines[angles:], 2.0 * weights[angles:]
        sines = np.sqrt(1.0 - cosines**2)
        nodes, area = self.nodes, self.nodes.length * self.nodes.r
        drive = self.functions(nodes)
        drive[:, self.moving :] = 0.0
        m = np.arange(self.orders)[:, None, None, None]
        radial = k[:, None, None] * sines[:, None] * nodes.r
        bessel, slope = jv(m, radial), jvp(m, radial)  # (orders, K, angles, n)
        ways = np.exp(1j * k[:, None, None] * cosines[:, None] * nodes.z)
        far = 0.0
        out = []
        for sign in (1.0, -1.0):
            even = ways + sign * ways.conj()
            odd = ways - sign * ways.conj()
            k4, c4 = k[:, None, None], cosines[:, None]
            double = 1j * k4 * c4 * nodes.nz * odd * bessel + (
                k4 * sines[:, None] * nodes.nr * even * slope
            )
            p = pressure[0 if sign > 0 else 1]
            far = 0.5 * (
                np.einsum("mkan,kmnb->kmab", double * area, p, optimize=True)
                + np.einsum("mkan,mnb->kmab", even * bessel * area, drive, optimize=True)
            )
            power = np.einsum("kmai,kmaj,a->kmij", far, far.conj(), weights, optimize=True).real
            out.append(0.5 * k[:, None, None, None] * power)
        return np.array(out)
