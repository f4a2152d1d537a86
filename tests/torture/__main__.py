"""Everything that tries to break the program, in turns, for so many minutes.

python -m tests.torture [MINUTES] [SEED]
"""

from __future__ import annotations

import subprocess
import sys
import time

TURN = {"damage": 400, "inputs": 300, "monkey": 800, "sound": 12, "guided": 60}
"""What one turn of each does: files, files, gestures, rounds, seconds."""


def main(minutes: float, seed: int) -> int:
    """Torture; how many harnesses found something."""
    end, found = time.monotonic() + 60.0 * minutes, 0
    while True:
        for name, many in TURN.items():
            print(f"{name} {many} {seed}", file=sys.stderr, flush=True)
            done = subprocess.run(
                [sys.executable, "-W", "ignore", "-m", f"tests.torture.{name}", str(many), str(seed)],
                stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, check=False,
            )  # fmt: skip
            print(done.stdout, end="", flush=True)
            found += done.returncode != 0
            if time.monotonic() > end:
                print(f"{found} turns found something")
                return found
        seed += 1


if __name__ == "__main__":
    given = [float(word) for word in sys.argv[1:]]
    sys.exit(min(main(given[0] if given else 10.0, int(given[1]) if len(given) > 1 else 1), 100))
