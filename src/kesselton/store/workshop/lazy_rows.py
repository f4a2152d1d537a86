"""Rows that are read when somebody looks at them: a workshop may hold a hundred thousand."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar, overload

T = TypeVar("T", covariant=True)


class Stored(Sequence[T]):
    """A tuple that is fetched on first use and equal to the tuple it stands for.

    Whoever is about to change the rows in the file looks first, so what was not looked at yet is
    always what the file holds.
    """

    __slots__ = ("_count", "_fetch", "_fetch_last", "_lately", "_rows")

    def __init__(
        self,
        fetch: Callable[[], tuple[T, ...]],
        fetch_last: Callable[[int], tuple[T, ...]] | None = None,
        count: Callable[[], int] | None = None,
    ) -> None:
        self._fetch: Callable[[], tuple[T, ...]] | None = fetch
        self._fetch_last, self._count = fetch_last, count
        self._rows: tuple[T, ...] = ()
        self._lately: tuple[int, tuple[T, ...]] = (0, ())  # the last so many, once they were read

    def last(self, count: int) -> tuple[T, ...]:
        """The last rows, without the others being read for them."""
        if self._fetch is None or self._fetch_last is None:
            return self.rows[-count:]
        if count > self._lately[0]:
            self._lately = (count, self._fetch_last(count))
        return self._lately[1][-count:]

    def size(self) -> int:
        """How many there are, without one being read."""
        if self._fetch is None or self._count is None:
            return len(self.rows)
        return self._count()

    @property
    def rows(self) -> tuple[T, ...]:
        """What it holds."""
        if self._fetch is not None:
            self._rows, self._fetch = self._fetch(), None
        return self._rows

    @overload
    def __getitem__(self, place: int) -> T: ...
    @overload
    def __getitem__(self, place: slice) -> tuple[T, ...]: ...
    def __getitem__(self, place: int | slice) -> Any:
        return self.rows[place]

    def __len__(self) -> int:
        return len(self.rows)

    def __iter__(self) -> Iterator[T]:
        return iter(self.rows)

    def __eq__(self, other: object) -> bool:
        if self is other:
            return True
        if isinstance(other, Stored):
            return self.rows == other.rows
        return self.rows == other if isinstance(other, tuple) else NotImplemented

    def __hash__(self) -> int:
        return hash(self.rows)

    def __repr__(self) -> str:
        return repr(self.rows)


def last_of(rows: Sequence[T], count: int | None) -> tuple[T, ...]:
    """The last of rows that may not have been read yet; None for all."""
    if count is None:
        return tuple(rows)
    return rows.last(count) if isinstance(rows, Stored) else tuple(rows[-count:])


def count_of(rows: Sequence[T]) -> int:
    """How many rows there are, of those that may not have been read yet."""
    return rows.size() if isinstance(rows, Stored) else len(rows)
