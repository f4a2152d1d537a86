"""A short run of every harness with a fixed seed; `./run torture MINUTES` is the long one."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

import pytest


@pytest.mark.timeout(200)
@pytest.mark.parametrize(("name", "many"), [("damage", 150), ("inputs", 60), ("sound", 3)])
def test_nothing_breaks_it(name: str, many: int) -> None:
    run(name, many, 5)


@pytest.mark.journey
@pytest.mark.timeout(240)
@pytest.mark.parametrize("seed", [5, 6])
def test_no_hand_breaks_it(seed: int) -> None:
    """Real keys, clicks and drags, nothing left out."""
    run("monkey", 250, seed)


def run(name: str, many: int, seed: int) -> None:
    """One harness, in a process of its own."""
    if name == "sound" and shutil.which("pulseaudio") is None:
        pytest.skip("pulseaudio is not installed: dying sound servers are not tried")
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-m", f"tests.torture.{name}", str(many), str(seed)],
        capture_output=True, text=True, check=False, timeout=230,
        env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr[-2000:]
    assert "0 faults" in done.stdout


def test_the_harnesses_find_what_is_wrong(monkeypatch: pytest.MonkeyPatch) -> None:
    """A store without sums loads other values unnoticed, and the harness says so."""
    from kesselton.store.workshop import rows
    from tests.torture import damage

    monkeypatch.setattr(rows, "changed", lambda db, part, owner=None: [])
    assert damage.main(400, 5) > 0
