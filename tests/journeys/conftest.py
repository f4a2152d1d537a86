"""A screen, a fresh home and a stranger; journeys run in a program of their own."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.journeys.stranger import Stranger, screen

NEEDED = ("Xvfb", "openbox")


@pytest.fixture(scope="session")
def display() -> Iterator[str]:
    """A screen of the reference size."""
    missing = [name for name in NEEDED if shutil.which(name) is None]
    assert not missing, f"journeys need {', '.join(missing)}: ./run setup installs them"
    with screen(1280, 800) as name:
        yield name


@pytest.fixture
def begin(display: str, tmp_path: Path) -> Iterator[Callable[..., Stranger]]:
    """Somebody starts the program, as a rule on the demo; whatever they leave open is ended."""
    begun: list[Stranger] = []

    def start(*words: str, on: str = display, home: str = "home") -> Stranger:
        one = Stranger(on, tmp_path / home, *words)
        begun.append(one)
        return one

    yield start
    for one in begun:
        one.kill()


@pytest.fixture
def demo(begin: Callable[..., Stranger]) -> Stranger:
    """The demo workshop, its first drum worked out."""
    made = begin("demo")
    made.wait(lambda seen: seen.all("Tuning sheet…") and "Usable range" in seen.text, 40)
    made.rest()
    return made
