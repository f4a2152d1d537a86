"""How rough drums sound together: it ranks, it does not judge (theory eq. 94)."""

from __future__ import annotations

import numpy as np

from kesselton.core.arrays import FloatArray


def roughness(
    hz: FloatArray, amplitude: FloatArray, other_hz: FloatArray, other_amplitude: FloatArray
) -> FloatArray:
    """Roughness two groups of partials make with each other, summed over all pairs.

    Parameters
    ----------
    hz, amplitude : (..., P) of one drum
    other_hz, other_amplitude : (..., Q) of the other

    References
    ----------
    W. A. Sethares, "Local consonance and the relationship between timbre and scale", J. Acoust.
    Soc. Am. 94 (1993) 1218, eqs. 2 and 3 (from memory).
    """
    a, b = hz[..., :, None], other_hz[..., None, :]
    weak = np.minimum(amplitude[..., :, None], other_amplitude[..., None, :])
    out: FloatArray = np.sum(weak * dissonance(a, b), axis=(-2, -1))
    return out


def dissonance(hz: FloatArray, other_hz: FloatArray) -> FloatArray:
    """Roughness of two pure tones of amplitude 1; at most 0.1808."""
    apart = 0.24 * np.abs(other_hz - hz) / (0.0207 * np.minimum(hz, other_hz) + 18.96)
    out: FloatArray = np.exp(-3.5 * apart) - np.exp(-5.75 * apart)
    return out
