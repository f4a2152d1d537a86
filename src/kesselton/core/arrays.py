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


def read_only(result: T) -> T:
    """The same array, tuple, list, dict or dataclass, whose arrays refuse to be changed."""
    if isinstance(result, np.ndarray):
        result.setflags(write=False)
    elif isinstance(result, (tuple, list)):
        for part in result:
            read_only(part)
    elif isinstance(result, dict):
        for part in result.values():
            read_only(part)
    elif is_dataclass(result) and not isinstance(result, type):
        for field in fields(result):
            read_only(getattr(result, field.name))
    return result


MOST_BYTES = 8_000_000
"""Kept by one function; what would go beyond it begins anew."""


def size_of(result: object) -> int:
    """Bytes of all arrays in a result."""
    if isinstance(result, np.ndarray):
        return result.nbytes
    if isinstance(result, (tuple, list)):
        return sum(size_of(part) for part in result)
    if isinstance(result, dict):
        return sum(size_of(part) for part in result.values())
    if is_dataclass(result) and not isinstance(result, type):
        return sum(size_of(getattr(result, field.name)) for field in fields(result))
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
            outcome = read_only(make(*args, **kwargs))
            held += size_of(outcome)
            if held > MOST_BYTES:
                cached.cache_clear()
                held = size_of(outcome)
            return outcome

        cached = lru_cache(maxsize=maxsize)(frozen)
        return cast("Callable[P, T]", cached)

    return keep


class kept_property(cached_property[T]):  # noqa: N801 - used as a decorator
    """A property worked out once, as `functools.cached_property`, but read-only."""

    def __init__(self, make: Callable[[Any], T]) -> None:
        @wraps(make)
        def frozen(owner: Any) -> T:
            return read_only(make(owner))

        super().__init__(frozen)
