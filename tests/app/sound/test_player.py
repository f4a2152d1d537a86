"""Playing on a real sound server that goes nowhere."""

from __future__ import annotations

import subprocess
import sys

SCRIPT = """
import os, signal, time
from PySide6.QtWidgets import QApplication
app = QApplication([])
import numpy as np
from kesselton.app.sound.player import Player
from kesselton.core.prediction.render import Sound
player, log = Player(), []
player.state_changed.connect(log.append)
sound = Sound(0.3 * np.sin(2 * np.pi * 220 * np.arange(24000) / 48000), 48000, False)
def until(true, seconds):
    end = time.monotonic() + seconds
    while not true() and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
def wait_quiet():
    begun = time.monotonic()
    until(lambda: not player.playing, 20.0)
    return time.monotonic() - begun
player.play(sound, "a tone")
print(0.4 < wait_quiet() < 8.0)
print(log)
log.clear()
player.play(Sound(np.tile(sound.samples, 20), 48000, False), "a long tone")
until(lambda: False, 0.7)
os.kill(int(os.environ["SERVER"]), signal.SIGSTOP)
begun = time.monotonic()
player.stop()
print(time.monotonic() - begun < 0.1)
player.play(sound, "another")
until(lambda: not player.playing, 0.3)
print(time.monotonic() - begun < 0.6)
os.kill(int(os.environ["SERVER"]), signal.SIGCONT)
until(lambda: not player.playing, 10.0)
player.play(Sound(np.tile(sound.samples, 20), 48000, False), "a long tone")
until(lambda: False, 0.7)
os.kill(int(os.environ["SERVER"]), signal.SIGKILL)
until(lambda: not player.playing, 10.0)
print(log[-1])
player.play(sound, "once more")
until(lambda: not player.playing, 10.0)
print(log[-1])
player.close()
"""


def test_a_stroke_is_played_to_its_end_whatever_becomes_of_the_server(
    server: dict[str, str],
) -> None:
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT],
        check=False,
        env=server,
        capture_output=True,
        text=True,
        timeout=60,
    )
    assert done.returncode == 0, done.stderr
    lines = done.stdout.splitlines()
    assert lines[:2] == ["True", "['Playing a tone', '']"]
    assert lines[2:4] == ["True", "True"]  # a server that hangs holds nobody up
    assert "does not respond" in lines[4]
    assert "No speakers found" in lines[5]
