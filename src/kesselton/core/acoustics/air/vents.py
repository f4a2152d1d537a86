"""The air in vents and ports: driven by the air in the shell, heard outside (theory eq. 26)."""

from __future__ import annotations

import math

import numpy as np

from kesselton.core.acoustics.air.orifice import Orifice
from kesselton.core.arrays import ComplexArray, FloatArray, IndexArray
from kesselton.core.instrument.air import Air

NEAREST = 0.5
"""Radii; a head and a hole in it hear each other over this distance at least (assumed)."""
STEP = 1e-7


class Breathing:
    """What the air does to holes, for the motions without nodal diameter.

    The unknown of a hole is its volume over sqrt(2) pi a^2, outwards positive: the same as of the
    first function of an open end. Inside, the plane wave of the shell carries from hole to ends and
    holes; outside, every hole and head is a source of volume.

    Parameters
    ----------
    planes : per end what its functions have of a plane wave, each (n,)
    volumes : per end the integral of its functions, each (n,)
    wall_loss : of the plane wave, times sqrt(omega)
    carried : per end True if a shell that recoils carries it along; None if the shell is held
    """

    def __init__(
        self,
        holes: tuple[Orifice, ...],
        planes: tuple[FloatArray, ...],
        volumes: tuple[FloatArray, ...],
        radius_m: float,
        depth_m: float,
        air: Air,
        wall_loss: float,
        carried: tuple[bool, ...] | None = None,
    ) -> None:
        self._c, self._rho = air.sound_speed_m_per_s, air.density_kg_per_m3
        self._wall_loss, self._depth, self._radius = wall_loss, depth_m, radius_m
        self._whole: IndexArray | None = None
        if carried is not None:  # each end once more, moved as a whole
            planes = tuple(np.append(p, float(c)) for p, c in zip(planes, carried, strict=True))
            volumes = tuple(
                np.append(v, math.sqrt(0.5) * c) for v, c in zip(volumes, carried, strict=True)
            )
            self._whole = np.cumsum([len(plane) for plane in planes]) - 1
        counts = [*(len(plane) for plane in planes), len(holes)]
        place = np.array([hole.place for hole in holes]) * depth_m
        # all functions of one end lie in one place: what depends on places is worked out once
        ends = len(planes)
        self._at = np.concatenate(
            (np.repeat(np.arange(ends), counts[:-1]), ends + np.arange(len(holes)))
        )
        z = np.concatenate(([0.0, depth_m][:ends], place))
        signs = np.repeat([*[1.0, -1.0][: len(planes)], -1.0], counts)  # 1: pushes into the shell
        self._near = np.minimum(place[:, None], z)
        self._far = depth_m - np.maximum(place[:, None], z)
        self._pushed = -signs * np.concatenate((*planes, np.ones(len(holes))))
        apart = np.where(
            place[:, None] == z, NEAREST, np.hypot(1.0, (place[:, None] - z) / radius_m)
        )
        self._apart = apart * radius_m
        own = np.full(len(holes), math.sqrt(0.5))
        heard = -signs * np.concatenate((*volumes, own))
        self._heard = 0.5 * self._rho * radius_m**2 * math.sqrt(0.5) * heard
        self._own = (np.arange(len(holes)), sum(counts[:-1]) + np.arange(len(holes)))
        radius = np.array([hole.radius_m for hole in holes])
        length = np.array([hole.length_m for hole in holes])
        count = np.array([hole.count for hole in holes])
        drag = (length / radius + 1.0) * (radius_m / radius) ** 2 / count
        self._drag = math.sqrt(2.0 * air.viscosity_pa_s * self._rho) * drag

    def rows(self, omega: ComplexArray, damping: float) -> ComplexArray:
        """Rows of D and of its derivative, the latter by differences: (F, 2, holes, n); towards the
        ends, the holes, and last the shell where it moves."""
        step = STEP * omega
        both = self._collapsed(self._rows(np.concatenate((omega, omega + step)), damping))
        here, up = both[: len(omega)], both[len(omega) :]
        return np.stack((here, (up - here) / step[:, None, None]), axis=1)

    def _rows(self, omega: ComplexArray, damping: float) -> ComplexArray:
        w = omega[:, None, None]
        square = -(w * w)
        kappa = 1j * w / self._c * np.sqrt(1.0 - 1j * damping * self._wall_loss / np.sqrt(w))
        spread = np.cosh(kappa * self._near) * np.cosh(kappa * self._far)
        spread *= self._rho / (kappa * np.sinh(kappa * self._depth))
        out: ComplexArray = spread[:, :, self._at] * self._pushed
        out += self._outside(omega, damping)
        rub = (1.0 - 1j * damping) / np.sqrt(omega)[:, None]
        out[:, *self._own] += rub * self._drag
        out *= square
        return out

    def _collapsed(self, columns: ComplexArray) -> ComplexArray:
        """The uniform motions of all ends as one column, the last."""
        if self._whole is None:
            return columns
        shell = columns[..., self._whole].sum(axis=-1, keepdims=True)
        return np.concatenate((np.delete(columns, self._whole, axis=-1), shell), axis=-1)

    def outside(self, omega: ComplexArray, damping: float) -> ComplexArray:
        """Mass (F, holes, n) the outside air adds to holes beyond their plug."""
        return self._collapsed(self._outside(omega, damping))

    def _outside(self, omega: ComplexArray, damping: float) -> ComplexArray:
        k = omega[:, None, None] / self._c
        far = k * self._apart
        reach = (np.cos(far) - 1j * damping * np.sin(far)) / self._apart
        reach = reach[:, :, self._at]
        reach[:, *self._own] = -1j * damping * k[:, 0]  # its own mass is in the plug
        out: ComplexArray = reach * self._heard
        return out
