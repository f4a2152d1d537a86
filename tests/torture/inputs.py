"""Files for the shell with values at the ends of what the schemas permit, and with anything at all.

    python -m tests.torture.inputs CASES SEED

In one process with a limit on memory: every answer comes within its time, and is an answer or one
line that says why there is none.
"""

from __future__ import annotations

import contextlib
import io
import json
import random
import resource
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

MOST_BYTES = 500_000_000
"""More than the program has when it begins."""
LONGEST_S = 20
WILD: tuple[Any, ...] = (
    None, True, "", "x" * 5000, "\u202e", -1, 0, 1.0, 1e308, -1e308, 5e-324, 10**400, [], {}, [[]],
    "=1+1", "<b>x</b>",
)  # fmt: skip


def sources() -> list[tuple[str, dict[str, Any]]]:
    """Command and file of every kind there is, from the demo."""
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.heads.brief import typical_brief
    from kesselton.store.formats.brief_file import brief_to_data
    from kesselton.store.formats.drum_file import drum_to_data, to_data
    from kesselton.store.formats.readings_file import readings_to_text
    from kesselton.store.formats.set_file import set_to_data

    found: list[tuple[str, dict[str, Any]]] = []
    for entry in demo_workshop().entries:
        drum = drum_to_data(entry.drum)
        found += [("predict", drum), ("range", drum)]
        brief = to_data(brief_to_data(typical_brief(entry.drum)))
        found.append(("choose", {**brief, "drum": drum}))
        for clearing in entry.clearings:
            found.append(("even", json.loads(readings_to_text(entry.drum, clearing))))
    shop = demo_workshop()
    drums = {entry.id: entry.drum for entry in shop.entries}
    found += [("set", set_to_data(kit, drums)) for kit in shop.kits]
    return found


def leaves(node: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where there is a value."""
    if isinstance(node, dict | list):
        yield path
        for key, value in node.items() if isinstance(node, dict) else enumerate(node):
            yield from leaves(value, (*path, key))
    else:
        yield path


def put(node: Any, path: tuple[Any, ...], value: Any) -> Any:
    """The same with another value in one place."""
    if not path:
        return value
    copy = dict(node) if isinstance(node, dict) else list(node)
    copy[path[0]] = put(copy[path[0]], path[1:], value)
    return copy


def at(node: Any, path: tuple[Any, ...]) -> Any:
    for key in path:
        node = node[key]
    return node


def mutated(data: Any, rng: random.Random, bounds: dict[str, tuple[float, float]]) -> str:
    """A file with something in it that is extreme, or wrong."""
    places = list(leaves(data))
    for _ in range(rng.randint(1, 4)):
        path = rng.choice(places)
        try:
            old = at(data, path)
            if rng.random() < 0.7 and path and path[-1] in bounds and not isinstance(old, str):
                low, high = bounds[path[-1]]
                value: Any = rng.choice([low, high, rng.uniform(low, high)])
                value = int(value) if isinstance(old, int) else value
            elif isinstance(old, list) and old and rng.random() < 0.5:
                value = old * rng.choice([2, 50, 1000])
            else:
                value = rng.choice(WILD)
            data = put(data, path, value)
        except (LookupError, TypeError):
            continue  # what stood there is gone
    text = json.dumps(data)
    if rng.random() < 0.1:
        place = rng.randrange(len(text))
        text = (
            text[:place] + rng.choice(["", "\x00", "}", '"', "9" * 5000, "\\ud800"]) + text[place:]
        )
    return text


def bounds_of(schema: Any, found: dict[str, tuple[float, float]] | None = None) -> Any:
    """Smallest and largest of every number, by the name it has."""
    found = {} if found is None else found
    if isinstance(schema, dict):
        for name, part in schema.get("properties", {}).items():
            for one in (part, *part.get("anyOf", ())):
                if "minimum" in one and "maximum" in one:
                    found[name] = (one["minimum"], one["maximum"])
        for part in schema.values():
            bounds_of(part, found)
    elif isinstance(schema, list):
        for part in schema:
            bounds_of(part, found)
    return found


class TooLongError(Exception):
    """A command that does not end."""


def answers_alone(command: str, path: Path) -> bool:
    """Whether a program of its own answers it with so much memory."""

    def bounded() -> None:
        resource.setrlimit(resource.RLIMIT_DATA, (MOST_BYTES, MOST_BYTES))

    done = subprocess.run(
        [sys.executable, "-m", "kesselton", command, str(path)],
        capture_output=True, text=True, timeout=120, preexec_fn=bounded, check=False,
    )  # fmt: skip
    return done.returncode in (0, 2) and "Not enough memory" not in done.stderr


def main(cases: int, seed: int) -> int:
    """Try files; how many faults."""
    from kesselton.app.host.memory import release_memory
    from kesselton.cli import main as shell
    from kesselton.store.formats.models import FILES, schema_of

    rng = random.Random(seed)
    bounds: dict[str, tuple[float, float]] = {}
    for model in FILES.values():
        bounds_of(schema_of(model), bounds)
    given = sources()
    folder = tempfile.TemporaryDirectory()
    path = Path(folder.name) / "input.json"

    def run(command: str) -> tuple[int, str]:
        out, told = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(told):
            code = shell([command, str(path)])
        return code, told.getvalue()

    for command, data in given[:4]:
        path.write_text(json.dumps(data))
        run(command)  # what is read in once is no part of a command
    release_memory()  # this process lives as long as a window
    size = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (size + MOST_BYTES, resource.RLIM_INFINITY))

    def too_long(number: int, frame: Any) -> None:
        raise TooLongError

    signal.signal(signal.SIGPROF, too_long)
    counts: Counter[str] = Counter()
    faults, slowest = 0, 0.0
    for case in range(cases):
        command, data = rng.choice(given)
        text = mutated(data, rng, bounds)
        path.write_text(text)
        start = time.process_time()
        signal.setitimer(signal.ITIMER_PROF, LONGEST_S)  # not the clock: others are busy, too
        try:
            code, told = run(command)
        except TooLongError:
            code, told = 9, "longer than it may take"
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0.0)
        slowest = max(slowest, time.process_time() - start)
        lines = told.splitlines()
        fine = (code == 0 and not lines) or (code == 2 and len(lines) == 1 and len(told) < 600)
        if "Not enough memory" in told:
            fine = answers_alone(command, path)  # what other cases left lying about is no fault
        if not fine:
            faults += 1
            kept = Path(tempfile.gettempdir()) / f"kesselton-input-{seed}-{case}.json"
            kept.write_text(text)
            print(f"case {case}: {command} {kept}: code {code}, {told[:300]!r}")
        counts[f"{command} {code}"] += 1
    print(dict(counts), f"slowest {slowest:.1f} s", file=sys.stderr)
    print(f"{cases} files, seed {seed}: {faults} faults")
    folder.cleanup()
    return faults


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [1000, 20261126][len(sys.argv) - 1 :]
    sys.exit(min(main(*numbers), 100))
