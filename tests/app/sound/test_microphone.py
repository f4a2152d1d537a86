"""Listening on a real sound server: a tap is played into it, the server is lost, there is none."""

from __future__ import annotations

import math
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from benchmarks.recorded.found import INSTALL
from benchmarks.recordings import strokes

SCRIPT = """
import time
from PySide6.QtWidgets import QApplication
app = QApplication([])
import numpy as np
from kesselton.app.sound.microphone import RATE_HZ, TAP_S, Microphone
from kesselton.app.sound.player import Player
from kesselton.core.clear.taps.tap import hear
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
    assert "No microphone found." in lines[1]


STROKE_SCRIPT = """
import subprocess, sys, time
from PySide6.QtWidgets import QApplication
app = QApplication([])
from benchmarks.recordings import strokes
import numpy as np, soundfile
from kesselton.app.hearing.stroke_listener import StrokeListener, Struck
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.instrument.beater import Stroke
_, fit, sound = next(one for one in strokes(("G",), ("tom",)) if one[0]["drum"] == "tom1")
drum = next(e.drum for e in demo_workshop().entries if e.drum.name == "Rack tom")
ears, said, heard, refused = StrokeListener(), [], [], []
ears.state_changed.connect(said.append)
ears.heard.connect(heard.append)
ears.refused.connect(refused.append)
def until(true, seconds):
    end = time.monotonic() + seconds
    while not true() and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
ears.listen(Struck(1, drum, Stroke(beater="wood_tip")))
until(lambda: refused or "listening" in said, 10.0)
levels = []
ears.microphone.level_changed.connect(levels.append)
until(lambda: len(levels) > 60, 10.0)
rng = np.random.default_rng(1)
quiet = 1e-4 * rng.standard_normal(48000)
soundfile.write(sys.argv[1], np.concatenate((quiet, sound.samples, quiet)), int(sound.rate))
subprocess.Popen(["paplay", "--device=nowhere", sys.argv[1]])
until(lambda: heard or refused, 20.0)
note = heard[0].note if heard else None
print(fit["hz"], note.hz if note else [e.message for e in refused])
ears.stop()
"""


def test_a_recorded_stroke_gets_its_note_through_a_real_server(
    server: dict[str, str], tmp_path: Path
) -> None:
    if next(strokes(("G",), ("tom",)), None) is None or shutil.which("paplay") is None:
        pytest.skip(f"no recordings, or nothing to play them: {INSTALL}")
    server["PYTHONPATH"] = str(Path(__file__).parents[3])
    script = STROKE_SCRIPT.replace("sys.argv[1]", repr(str(tmp_path / "stroke.wav")))
    said, told = run(server, script)[-1].split()
    assert abs(1200.0 * math.log2(float(told) / float(said))) < 20.0
