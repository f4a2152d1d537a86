"""What a drum's fundamental is: one rule, for one drum and for many at once (theory eq. 54).

Of the motions without nodal diameter that the heads carry, it is the lowest in which a head swings
as a whole: at least a tenth as much, in energy, as in the one where heads do so most. It is
the same whichever head is struck, and goes on without a jump where two such lines cross as a head
is slackened; a line that a stroke on the batter brings out as much is named beside it.
"""

from __future__ import annotations

import numpy as np

from kesselton.core.acoustics.solver.system import DrumSystem
from kesselton.core.arrays import BoolArray, FloatArray, IndexArray

TAKES_PART = 0.1
"""Energy, over that of the motion in which heads swing most, from which one counts."""
SLOWEST = 0.6
"""Of what the slacker head would sound under all the air it could carry: what is slower is air that
goes to and fro through a hole."""
RIVAL_ENERGY, RIVAL_REACH, LOUDER = 0.5, 1.5, 4.0
"""Energy and frequency, over the fundamental's, from and within which another line shares the note;
and the energy from which it does so anywhere."""


def first_motion(hz: FloatArray, swing: FloatArray, heads: BoolArray) -> IndexArray:
    """Index of the fundamental along the last axis.

    Parameters
    ----------
    hz : (…, K) frequencies of motions without nodal diameter
    swing : (…, K) squares of the first head function's parts, summed over the heads
    heads : (…, K) True where the heads carry the motion, not the air
    """
    most = np.where(heads, swing, 0.0).max(axis=-1, keepdims=True)
    fits = heads & (swing >= TAKES_PART * most)
    out: IndexArray = np.argmin(np.where(fits, hz, np.inf), axis=-1)
    return out


def rival_motion(hz: FloatArray, batter: FloatArray, heads: BoolArray, first: int) -> int | None:
    """Another motion that a stroke brings out as the note, (K,); None where there is none.

    Parameters
    ----------
    batter : (K,) square of the first head function's part on the batter head
    """
    near = np.abs(np.log(hz / hz[first])) < np.log(RIVAL_REACH)
    near = (near & (batter > RIVAL_ENERGY * batter[first])) | (batter > LOUDER * batter[first])
    near &= heads
    near[first] = False
    return int(np.argmax(np.where(near, batter, 0.0))) if near.any() else None


def too_slow(system: DrumSystem, row: IndexArray, omega: FloatArray) -> BoolArray:
    """Which motions without nodal diameter are slower than a head can be, (R,).

    Parameters
    ----------
    row, omega : (R,) of the system, and rad/s
    """
    ring = np.array(system.orders)[row] == 0
    out: BoolArray = ring & (omega < _slowest_head_omega(system)[row])
    return out


def _slowest_head_omega(system: DrumSystem) -> FloatArray:
    """Lowest frequency a head could have, rad/s, for every row of a system."""
    results = []
    for part, end in zip(system.slices, system.ends, strict=True):
        if end.head is not None:
            mass = system.film_mass[:, part.start, part.start]
            # air on both sides weighs about 2 rho a / k on a head function; 3 is on the safe side
            load = 3.0 * system.rho / np.sqrt(system.unit_stiffness[0, :, 0])
            results.append(np.sqrt(system.stiffness[:, part.start] / (mass + load)))
    out: FloatArray = SLOWEST * np.min(results, axis=0)
    return out
