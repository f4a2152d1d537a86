"""What all tests share: a home of their own, one application, and no thread left behind."""

from __future__ import annotations

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import gc
import importlib.util
import sys
import threading
import time
import traceback
from collections.abc import Callable, Iterator
from pathlib import Path
from types import TracebackType

import pytest
from hypothesis import HealthCheck, settings

from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell

settings.register_profile(
    "house",
    deadline=None,
    max_examples=25,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("house")

gc.set_threshold(20_000, 20, 20)
"""A worker comes to hold a gigabyte: looked through as often as usual, that is felt."""

SINGLE = Head("single 10 mil, clear", plies_m=(254e-6,))
THIN = Head("snare side 3 mil", plies_m=(76.2e-6,))


def make_drum(
    diameter_m: float = 0.3048,
    depth_m: float = 0.2032,
    batter: Head = SINGLE,
    resonant: Head | None = SINGLE,
    tensions: tuple[float, float] = (1200.0, 1600.0),
    kind: str = "tom",
) -> Drum:
    """A drum set by tension."""
    return Drum(
        "drum",
        kind,
        Shell(diameter_m, depth_m, 8),
        HeadSetting(batter, tensions[0]),
        None if resonant is None else HeadSetting(resonant, tensions[1]),
    )


HAS_QT = importlib.util.find_spec("PySide6") is not None


def pytest_ignore_collect(collection_path: Path) -> bool | None:
    """Where there is no Qt (./run others), tests that need more than core and store are left out."""
    if HAS_QT or collection_path.suffix != ".py":
        return None
    text = collection_path.read_text(encoding="utf-8")
    return True if "kesselton.app" in text or "kesselton.ui" in text else None


@pytest.fixture(autouse=True)
def _home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test touches the home of whoever runs it."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


@pytest.fixture(autouse=True)
def _no_thread_left() -> Iterator[None]:
    """A worker thread that outlives its window is a fault."""
    yield
    end = time.monotonic() + 5.0
    while left := [t for t in threading.enumerate() if t.name.startswith("kesselton")]:
        if time.monotonic() > end:
            frame = sys._current_frames().get(left[0].ident or 0)
            at = "".join(traceback.format_stack(frame)) if frame else ""
            pytest.fail(f"a worker thread was left running:\n{at}")
        time.sleep(0.01)


@pytest.fixture(autouse=True)
def _no_error_unseen(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """What Qt calls and fails ends in the hook of last resort: not unseen."""
    seen: list[str] = []

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        seen.append("".join(traceback.format_exception(kind, error, trace)))

    monkeypatch.setattr(sys, "excepthook", hook)
    yield
    assert not seen, seen[0]


@pytest.fixture(scope="session")
def qapp() -> object:
    """The one application."""
    from PySide6.QtWidgets import QApplication

    from kesselton.ui.parts.widgets import theme

    app = QApplication.instance() or QApplication([])
    assert theme.load_fonts() == []
    return app


@pytest.fixture
def wait(qapp: object) -> Callable[..., None]:
    """Let the program work until something is true."""

    def until(condition: Callable[[], bool], seconds: float = 30.0) -> None:
        end = time.monotonic() + seconds
        while not condition():
            assert time.monotonic() < end, "it did not come to pass"
            qapp.processEvents()  # type: ignore[attr-defined]
            time.sleep(0.002)  # lets the worker threads have the interpreter

    return until
