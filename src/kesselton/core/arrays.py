"""Types of arrays, and arrays that nobody may change because many share them."""

from __future__ import annotations

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
ComplexArray = NDArray[np.complex128]
A = TypeVar("A", bound="NDArray[np.generic]")


def read_only(array: A) -> A:
    """The same array, which from now on refuses to be changed."""
    array.setflags(write=False)
    return array
