"""Types of arrays, and arrays that nobody may change because many share them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass
from functools import cached_property, lru_cache, wraps
from typing import Any, ParamSpec, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
ComplexArray = NDArray[np.complex128]
IndexArray = NDArray[np.intp]
BoolArray = NDArray[np.bool_]
P = ParamSpec("P")
T = TypeVar("T")


def read_only(made: T) -> T:
    """The same array, tuple, list, dict or dataclass, whose arrays refuse to be changed."""
    if isinstance(made, np.ndarray):
        made.setflags(write=False)
    elif isinstance(made, (tuple, list)):
        for part in made:
            read_only(part)
    elif isinstance(made, dict):
        for part in made.values():
            read_only(part)
    elif is_dataclass(made) and not isinstance(made, type):
        for field in fields(made):
            read_only(getattr(made, field.name))
    return made


MOST_BYTES = 8_000_000
"""Kept by one function; what would go beyond it begins anew."""


def size_of(made: object) -> int:
    """Bytes of all arrays in a result."""
    if isinstance(made, np.ndarray):
        return made.nbytes
    if isinstance(made, (tuple, list)):
        return sum(size_of(part) for part in made)
    if isinstance(made, dict):
        return sum(size_of(part) for part in made.values())
    if is_dataclass(made) and not isinstance(made, type):
        return sum(size_of(getattr(made, field.name)) for field in fields(made))
    return 0


def kept(maxsize: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep results of the calls made last, as `functools.lru_cache` does, but read-only.

    A kept array is handed to every caller: one that changed it would change the answers of all.
    All of one function together stay under `MOST_BYTES`: a cache that would outgrow them is emptied
    first. A single result may be larger.
    """

    def keep(make: Callable[P, T]) -> Callable[P, T]:
        held = 0

        @wraps(make)
        def frozen(*args: P.args, **kwargs: P.kwargs) -> T:
            nonlocal held
            made = read_only(make(*args, **kwargs))
            held += size_of(made)
            if held > MOST_BYTES:
                found.cache_clear()
                held = size_of(made)
            return made

        found = lru_cache(maxsize=maxsize)(frozen)
        return cast("Callable[P, T]", found)

    return keep


class kept_property(cached_property[T]):  # noqa: N801 - used as a decorator
    """A property worked out once, as `functools.cached_property`, but read-only."""

    def __init__(self, make: Callable[[Any], T]) -> None:
        @wraps(make)
        def frozen(owner: Any) -> T:
            return read_only(make(owner))

        super().__init__(frozen)
