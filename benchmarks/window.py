"""What a window takes: seconds to close while heads are looked for, and memory after every page of
every drum. By real keys in a real window; needs Xvfb and openbox."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

from tests.journeys.stranger import Stranger, screen

PAGES = ("F6", "F5", "F7", "F9", "F12", "Ctrl+k", "F10", "Shift+F9")
ROUNDS, DRUMS, ROW = 2, 7, 83.0
CLOSINGS = 5
GOAL_S, GOAL_MB = 0.3, 450.0


def window_figures() -> list[tuple[str, float, str, str, float]]:
    """Median of several closings, and the most memory of all."""
    if shutil.which("Xvfb") is None or shutil.which("openbox") is None:
        print("window: skipped, there is no Xvfb or no openbox")
        return []
    took = []
    with screen() as display:
        for number in range(CLOSINGS):
            one = _begun(display)
            one.press("F5")
            time.sleep(5.0)
            _drum(one, 1 + number % 4)
            time.sleep(0.4)  # heads of another drum are looked for
            start = time.monotonic()
            one.press("Ctrl+q")
            one.program.wait(20)
            took.append(time.monotonic() - start)
        one = _begun(display)
        for _ in range(ROUNDS):
            for place in range(DRUMS):
                _drum(one, place)
                for key in PAGES:
                    one.press(key)
                    time.sleep(0.8)
        most = _most_mb(one.program.pid)
        one.quit()
    close = sorted(took)[len(took) // 2]
    return [
        ("close_s", close, "s", f"{GOAL_S} s aimed at, while heads are looked for", close / GOAL_S),
        (
            "memory_hour_mb",
            most,
            "MB",
            f"{GOAL_MB:.0f} MB aimed at, every page twice",
            most / GOAL_MB,
        ),
    ]


def _begun(display: str) -> Stranger:
    stranger = Stranger(display, Path(tempfile.mkdtemp()) / "home", "demo")
    stranger.wait("Tuning sheet")
    time.sleep(2.0)
    return stranger


def _drum(one: Stranger, place: int) -> None:
    x, y, wide, _ = one.look().one("Rack of drums")["seen"]
    one.click_at(x + wide / 2, y + ROW * place + 40)


def _most_mb(pid: int) -> float:
    status = Path(f"/proc/{pid}/status").read_text()
    most = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    return int(most.split()[1]) / 1024.0
