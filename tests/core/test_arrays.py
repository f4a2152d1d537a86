"""What is shared cannot be changed by one of those who share it."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest

from kesselton.core.acoustics.bessel import head_basis
from kesselton.core.arrays import FloatArray, kept, kept_property

CORE = Path(__file__).parents[2] / "src" / "kesselton" / "core"


@dataclass(frozen=True, eq=False)
class Pair:
    first: FloatArray
    more: dict[str, tuple[FloatArray, ...]]


def test_kept_arrays_refuse_to_be_changed_wherever_they_lie() -> None:
    calls: list[int] = []

    @kept(4)
    def make(size: int) -> Pair:
        calls.append(size)
        return Pair(np.zeros(size), {"a": (np.ones(size),)})

    class Owner:
        @kept_property
        def rows(self) -> FloatArray:
            return np.zeros(2)

    for array in (make(3).first, make(3).more["a"][0], Owner().rows, head_basis(1, 8).k):
        with pytest.raises(ValueError, match="read-only"):
            array[0] = 7.0
    assert calls == [3]


def test_nothing_in_the_core_is_kept_in_another_way() -> None:
    """A plain lru_cache or cached_property would share arrays that can be changed."""
    for file in CORE.rglob("*.py"):
        if file.name == "arrays.py":
            continue
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module == "functools":
                names = {alias.name for alias in node.names}
                plain = names & {"lru_cache", "cache", "cached_property"}
                assert not plain or file.name == "tightening_sequence.py", file  # tuples of numbers


def test_what_is_kept_is_bounded_by_its_bytes(monkeypatch: pytest.MonkeyPatch) -> None:
    made = []

    @kept(100)
    def zeros(number: int) -> FloatArray:
        made.append(number)
        return np.zeros(1000)

    monkeypatch.setattr("kesselton.core.arrays.MOST_BYTES", 20_000)
    for number in (0, 1, 0, 1):
        zeros(number)
    assert made == [0, 1]
    zeros(2)  # 24,000 bytes: the first two go
    zeros(2)
    zeros(0)
    assert made == [0, 1, 2, 0]
