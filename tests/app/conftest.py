"""A sound server of our own that leads nowhere."""

from __future__ import annotations

import os
import shutil
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import pytest


@pytest.fixture
def server(tmp_path: Path) -> Iterator[dict[str, str]]:
    """A sound server of our own with a sink that swallows everything."""
    if shutil.which("pulseaudio") is None:
        pytest.skip("pulseaudio is not installed: playing and listening are not tried")
    env = {**os.environ, "XDG_RUNTIME_DIR": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    tmp_path.chmod(0o700)
    daemon = subprocess.Popen(
        [
            "pulseaudio", "-n", "--exit-idle-time=-1", "--daemonize=no",
            "-L", "module-native-protocol-unix", "-L", "module-null-sink sink_name=nowhere",
            # what is played there can be heard at a source of its own
            "-L", "module-remap-source master=nowhere.monitor source_name=ear",
        ],
        env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    end = time.monotonic() + 10.0
    while not (tmp_path / "pulse" / "native").exists():
        if time.monotonic() > end or daemon.poll() is not None:
            daemon.kill()
            daemon.wait()
            pytest.skip("the sound server did not start: playing and listening are not tried")
        time.sleep(0.05)
    env["SERVER"] = str(daemon.pid)
    yield env
    daemon.terminate()
    daemon.wait()
