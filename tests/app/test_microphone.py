"""Listening on a real sound server: a tap is played into it, the server is lost, there is none."""

from __future__ import annotations

import subprocess
import sys

SCRIPT = """
import time
from PySide6.QtWidgets import QApplication
app = QApplication([])
import numpy as np
from kesselton.app.microphone import RATE_HZ, TAP_S, Microphone
from kesselton.app.player import Player
from kesselton.core.clearing.tap import hear
from kesselton.core.prediction.render import Sound
ear, player, said, heard, refused = Microphone(), Player(), [], [], []
ear.state_changed.connect(said.append)
ear.heard.connect(heard.append)
ear.refused.connect(refused.append)
def until(true, seconds):
    end = time.monotonic() + seconds
    while not true() and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
ear.listen(lambda samples: hear(samples, RATE_HZ, 200.0), TAP_S)
until(lambda: refused or "listening" in said, 10.0)
print(ear.listening)
levels = []
ear.level_changed.connect(levels.append)
until(lambda: len(levels) > 20, 10.0)
t = np.arange(48000) / 48000
tone = sum(a * np.exp(-9.0 * t) * np.sin(2 * np.pi * f * t)
           for f, a in ((200.0, 0.5), (296.0, 0.8), (384.0, 0.7)))
player.play(Sound(0.3 * tone, 48000, False), "a tap")
until(lambda: heard or refused, 15.0)
print(round(heard[0].lug_pitch_hz) if heard else [e.message for e in refused])
print(said)
player.stop()
SERVER_LOST
"""
LOST = """
import os, signal
os.kill(int(os.environ["SERVER"]), signal.SIGKILL)
count = len(refused)
until(lambda: len(refused) > count, 10.0)
print(refused[-1].message, ear.listening)
"""


def run(env: dict[str, str], script: str) -> list[str]:
    done = subprocess.run(
        [sys.executable, "-c", script],
        check=False,
        env=env,
        capture_output=True,
        text=True,
        timeout=90,
    )
    assert done.returncode == 0, done.stderr
    return done.stdout.splitlines()


def test_a_tap_is_heard_and_a_lost_server_is_told(server: dict[str, str]) -> None:
    lines = run(server, SCRIPT.replace("SERVER_LOST", LOST))
    assert lines[0] == "True"
    assert abs(int(lines[1]) - 200) <= 1  # the clock of a sink that goes nowhere is no quartz
    assert "listening" in lines[2]
    assert lines[3].endswith("False")
    assert "microphone" in lines[3]


def test_without_a_server_it_says_so(tmp_path: object) -> None:
    import os

    env = {**os.environ, "XDG_RUNTIME_DIR": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    env.pop("PULSE_SERVER", None)
    lines = run(env, SCRIPT.split("levels = []")[0] + "print(said)")
    assert lines[0] == "False"
    assert "There is no microphone." in lines[1]
