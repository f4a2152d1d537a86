"""The examples in docstrings of the core say what they print."""

from __future__ import annotations

import doctest
import importlib
from pathlib import Path

import pytest

import kesselton

ROOT = Path(kesselton.__file__).parent
WITH_EXAMPLES = sorted(
    ".".join(("kesselton", *path.relative_to(ROOT).with_suffix("").parts))
    for path in ROOT.rglob("*.py")
    if ">>> " in path.read_text(encoding="utf-8")
)


def test_there_are_examples() -> None:
    assert len(WITH_EXAMPLES) >= 10


@pytest.mark.parametrize("name", WITH_EXAMPLES)
def test_examples_print_what_they_say(name: str) -> None:
    done = doctest.testmod(importlib.import_module(name))
    assert done.attempted > 0
    assert done.failed == 0
