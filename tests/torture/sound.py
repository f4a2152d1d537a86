"""A sound server that is killed, stopped, ended and begun anew while the program plays and listens.

    python -m tests.torture.sound ROUNDS SEED

A real server that leads nowhere, in a folder of its own. Prints a line for every fault: the window
waited, a stream neither ended nor failed, or nothing played and was heard once the server was well.
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

MODULES = (
    "module-native-protocol-unix",
    "module-null-sink sink_name=nowhere",
    "module-remap-source master=nowhere.monitor source_name=ear",
)
LONGEST_TURN_S = 0.25
"""So long one turn of the event loop may take on a machine that does other things too."""
SETTLED_S = 20.0


class Server:
    """A sound server of our own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.process: subprocess.Popen[bytes] | None = None
        self.begin()

    def begin(self) -> None:
        """Let there be a server that is well."""
        if self.process is not None and self.process.poll() is None:
            self.process.send_signal(signal.SIGCONT)
            return
        shutil.rmtree(self.folder / "pulse", ignore_errors=True)
        words = [word for module in MODULES for word in ("-L", module)]
        self.process = subprocess.Popen(
            ["pulseaudio", "-n", "--exit-idle-time=-1", "--daemonize=no", *words],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        end = time.monotonic() + 10.0
        while not (self.folder / "pulse" / "native").exists() and time.monotonic() < end:
            time.sleep(0.02)

    def suffer(self, how: str) -> None:
        """What becomes of a server."""
        assert self.process is not None
        if how == "begin":
            self.begin()
        elif how == "stop":
            self.process.send_signal(signal.SIGSTOP)
        else:
            self.process.send_signal(signal.SIGCONT)
            self.process.send_signal(signal.SIGKILL if how == "kill" else signal.SIGTERM)
            self.process.wait()

    def end(self) -> None:
        """No server any more."""
        self.suffer("kill")


def main(rounds: int, seed: int) -> int:
    """Torture; how many faults."""
    rng = random.Random(seed)
    folder = Path(tempfile.mkdtemp())
    folder.chmod(0o700)
    os.environ.update(XDG_RUNTIME_DIR=str(folder), QT_QPA_PLATFORM="offscreen")
    os.environ.pop("PULSE_SERVER", None)
    server = Server(folder)
    from PySide6.QtCore import QCoreApplication

    app = QCoreApplication([])
    import numpy as np

    from kesselton.app.sound.microphone import RATE_HZ, TAP_S, Microphone
    from kesselton.app.sound.player import Player
    from kesselton.core.clear.taps.tap import hear
    from kesselton.core.prediction.render import Sound

    ear, player = Microphone(), Player()

    def taps(samples: np.ndarray) -> object:
        return hear(samples, RATE_HZ, 200.0)

    levels: list[float] = []
    ear.level_changed.connect(levels.append)
    sound = Sound(0.3 * np.sin(2 * np.pi * 220 * np.arange(24000) / 48000), 48000, False)
    faults: list[str] = []

    def turn(until: Callable[[], bool], seconds: float, doing: str) -> bool:
        end = time.monotonic() + seconds
        while not until():
            if time.monotonic() > end:
                return False
            start = time.monotonic()
            app.processEvents()
            if time.monotonic() - start > LONGEST_TURN_S:
                faults.append(f"{doing}: the window waited {time.monotonic() - start:.2f} s")
            time.sleep(0.004)
        return True

    def acted(act: Callable[[], object], doing: str) -> None:
        start = time.monotonic()
        act()
        if time.monotonic() - start > LONGEST_TURN_S:
            faults.append(f"{doing}: took {time.monotonic() - start:.2f} s")

    def well(number: int) -> None:
        """With a server that is well, all works again."""
        server.begin()
        ear.stop()
        player.stop()
        said: list[str] = []
        player.state_changed.connect(said.append)
        acted(lambda: player.play(sound, "a tone"), "play again")
        if not turn(lambda: not player.playing, SETTLED_S, "play again") or said[-1]:
            faults.append(f"round {number}: nothing is played by a server that is well: {said}")
        player.state_changed.disconnect(said.append)
        acted(lambda: ear.listen(taps, TAP_S), "try again")
        levels.clear()
        if not turn(lambda: len(levels) > 5, SETTLED_S, "try again"):
            faults.append(f"round {number}: a server that is well is not heard")

    for number in range(rounds):
        doing = []
        for _ in range(rng.randint(1, 4)):
            what = rng.choice(["play", "play", "listen", "quiet", "deaf", "kill", "stop", "end",
                               "begin"])  # fmt: skip
            doing.append(what)
            act: dict[str, Callable[[], object]] = {
                "play": lambda: player.play(sound, "a tone"),
                "listen": lambda: ear.listen(taps, TAP_S),
                "quiet": player.stop,
                "deaf": ear.stop,
            }
            if what in act:
                acted(act[what], f"round {number}, {doing}")
            else:
                server.suffer(what)
            turn(lambda: False, rng.uniform(0.0, 0.8), f"round {number}, {doing}")
        if not turn(lambda: not player.playing, SETTLED_S, f"round {number}, {doing}"):
            faults.append(f"round {number}, {doing}: playing neither ended nor failed")
        well(number)
        print(f"round {number} {' '.join(doing)}", file=sys.stderr)
    acted(player.close, "close the player")
    acted(ear.close, "close the microphone")
    server.end()
    shutil.rmtree(folder, ignore_errors=True)
    for fault in faults:
        print(fault)
    print(f"{rounds} rounds, seed {seed}: {len(faults)} faults")
    return len(faults)


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [100, 20261126][len(sys.argv) - 1 :]
    sys.exit(min(main(*numbers), 100))
