"""Playing on a real sound server that goes nowhere."""

from __future__ import annotations

import subprocess
import sys

SCRIPT = """
import time
from PySide6.QtWidgets import QApplication
app = QApplication([])
import numpy as np
from kesselton.app.player import Player
from kesselton.core.prediction.render import Sound
player, log = Player(), []
player.state_changed.connect(log.append)
sound = Sound(0.3 * np.sin(2 * np.pi * 220 * np.arange(24000) / 48000), 48000, False)
print(player.device_name)
print(player.play(sound, "a tone"))
end = time.monotonic() + 20.0
while log[-1] != "" and time.monotonic() < end:
    app.processEvents()
    time.sleep(0.01)
print(log)
"""


def test_a_stroke_is_played_to_its_end(server: dict[str, str]) -> None:
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT],
        check=False,
        env=server,
        capture_output=True,
        text=True,
        timeout=60,
    )
    lines = done.stdout.splitlines()
    assert lines[0], done.stderr
    assert lines[1] == "True"
    assert lines[2] == "['', 'playing a tone', '']"
