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


def kept(maxsize: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep results of the calls made last, as `functools.lru_cache` does, but read-only.

    A kept array is handed to every caller: one that changed it would change the answers of all.
    """

    def keep(make: Callable[P, T]) -> Callable[P, T]:
        @wraps(make)
        def frozen(*args: P.args, **kwargs: P.kwargs) -> T:
            return read_only(make(*args, **kwargs))

        return cast("Callable[P, T]", lru_cache(maxsize=maxsize)(frozen))

    return keep


class kept_property(cached_property[T]):  # noqa: N801 - used as a decorator
    """A property worked out once, as `functools.cached_property`, but read-only."""

    def __init__(self, make: Callable[[Any], T]) -> None:
        @wraps(make)
        def frozen(owner: Any) -> T:
            return read_only(make(owner))

        super().__init__(frozen)
