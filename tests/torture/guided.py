"""Readers of text files, fed by a fuzzer that looks at which branches its bytes reach.

    python -m tests.torture.guided SECONDS SEED

Needs atheris (`pip install atheris==3.0.0`; it is not among the pinned packages, because it does
not install everywhere): without it this says so and finds nothing.
"""

from __future__ import annotations

import importlib.util
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

MISSING = "atheris is not installed: nothing was tried (pip install atheris==3.0.0)"


def seeds(folder: Path) -> None:
    """Whole files of every kind to begin from."""
    from kesselton.resources import text_of

    drums = json.loads(text_of("demo/tern-island-opera.json"))["drums"]
    for number, drum in enumerate(drums):
        (folder / f"drum{number}").write_text("\x00" + json.dumps(drum))
    (folder / "procedure").write_text("\x03" + text_of("procedures/fit.json"))


def fuzz(seconds: int, seed: int, corpus: str) -> None:
    """Feed the readers until the time is over; whatever but a complaint in words ends it."""
    import atheris

    with atheris.instrument_imports(include=["kesselton.store", "kesselton.core.instrument"]):
        from kesselton.core.errors import KesseltonError
        from kesselton.store.formats.brief_file import read_order
        from kesselton.store.formats.drum_file import head_from_data, read_drum
        from kesselton.store.formats.readings_file import read_readings

    def heads(text: str, name: str) -> object:
        try:
            return head_from_data(json.loads(text))
        except (ValueError, RecursionError):  # no JSON at all: another reader says so
            return None

    readers = (read_drum, read_readings, read_order, heads)

    def one(data: bytes) -> None:
        if not data:
            return
        try:
            text = data[1:].decode()
        except UnicodeDecodeError:
            return
        try:
            readers[data[0] % len(readers)](text, "fuzz.json")
        except KesseltonError:
            return

    given = [sys.argv[0], f"-max_total_time={seconds}", f"-seed={seed}", "-max_len=20000",
             f"-artifact_prefix={corpus}/", "-verbosity=0", corpus]  # fmt: skip
    atheris.Setup(given, one)
    atheris.Fuzz()


def main(seconds: int, seed: int) -> int:
    """0 if nothing was found; the fuzzer ends its own process, so it has one."""
    if importlib.util.find_spec("atheris") is None:
        print(MISSING)
        return 0
    with tempfile.TemporaryDirectory() as corpus:
        seeds(Path(corpus))
        done = subprocess.run(
            [sys.executable, "-m", __spec__.name, str(seconds), str(seed), corpus],
            capture_output=True, text=True, check=False, env={**os.environ, "PYTHONWARNINGS": "ignore"},
        )  # fmt: skip
    if done.returncode:
        print(done.stdout[-2000:], done.stderr[-4000:])
        return 1
    print(f"guided: {seconds} s, nothing found")
    return 0


if __name__ == "__main__":
    words = sys.argv[1:]
    if len(words) > 2:
        fuzz(int(words[0]), int(words[1]), words[2])
    else:
        sys.exit(main(int(words[0]), int(words[1])))
