"""Workshop files with pages, bytes and digits changed: nothing is believed, and nothing is lost twice.

    python -m tests.torture.damage CASES SEED

For every case: the file opens with what was saved, or the fault is told in words and the file is as
it was. What is salvaged is what was saved, or is named.
"""

from __future__ import annotations

import random
import re
import sys
import tempfile
from collections import Counter
from pathlib import Path

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import KesseltonError
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.holdings import Workshop
from kesselton.store.workshop.salvage import salvage
from kesselton.store.workshop.workshop import WorkshopFile

PAGE = 4096
DIGIT = re.compile(rb"\d")


def damage(data: bytes, rng: random.Random) -> bytes:
    """The same with something wrong in it."""
    out = bytearray(data)
    how = rng.choice(["flip", "flips", "page", "zero", "cut", "digit", "digit", "word", "swap"])
    if how in ("flip", "flips"):
        for _ in range(1 if how == "flip" else rng.randint(2, 200)):
            out[rng.randrange(len(out))] ^= 1 << rng.randrange(8)
    elif how in ("page", "zero"):
        start = PAGE * rng.randrange(len(out) // PAGE)
        size = rng.choice([16, 512, PAGE])
        out[start : start + size] = bytes(size) if how == "zero" else rng.randbytes(size)
    elif how == "cut":
        del out[rng.randrange(100, len(out)) :]
    elif how == "digit":
        places = [m.start() for m in DIGIT.finditer(data)]
        for _ in range(rng.randint(1, 3)):
            out[rng.choice(places)] = rng.choice(b"0123456789")
    elif how == "word":
        start = rng.randrange(len(out) - 8)
        out[start : start + 4] = rng.choice([b"snar", b"\xff\xfe\xfd\xfc", b"null", b"1e99"])
    else:
        one, other = (PAGE * rng.randrange(1, len(out) // PAGE) for _ in range(2))
        out[one : one + PAGE], out[other : other + PAGE] = (
            data[other : other + PAGE], data[one : one + PAGE],
        )  # fmt: skip
    return bytes(out)


def judge(path: Path, before: bytes, saved: Workshop) -> str:
    """What comes of a damaged file; a fault begins with a capital."""
    try:
        with WorkshopFile.open(path) as file:
            held = file.load(at_once=True)
    except StoreError as error:
        if path.read_bytes() != before:
            return f"Changed although refused: {error.one_line()}"
        return "refused, " + salvaged(path, before, saved)
    except Exception as error:  # what must never be
        return f"{type(error).__name__} on opening: {error}"
    if held != saved:
        return "Other values were loaded unnoticed"
    return "harmless"


def salvaged(path: Path, before: bytes, saved: Workshop) -> str:
    try:
        found = salvage(path)
    except KesseltonError:
        return "nothing salvaged"
    except Exception as error:  # what must never be
        return f"{type(error).__name__} on salvage: {error}"
    if path.read_bytes() != before:
        return "Changed by salvage"
    told = " ".join(one.what for one in found.lost)
    if found.workshop != saved and not told:
        return "Salvaged otherwise unnoticed"
    good = {entry.id: entry for entry in saved.entries}
    for entry in found.workshop.entries:
        same = entry == good.get(entry.id)
        was = good.get(entry.id)
        names = {
            entry.drum.name,
            *(() if was is None else (was.drum.name,)),
        }  # either may be damaged
        named = any(name in told for name in (*names, "a part of the table", "a row of"))
        if not same and not named:
            return f"Salvaged {entry.drum.name} otherwise unnoticed ({told})"
    return "salvaged" if found.workshop.entries else "salvaged without drums"


def main(cases: int, seed: int) -> int:
    """Damage files; how many faults."""
    rng = random.Random(seed)
    counts: Counter[str] = Counter()
    faults = 0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "w.kesselton"
        saved = demo_workshop()
        WorkshopFile.create(path, saved).close()
        data = path.read_bytes()
        for case in range(cases):
            before = damage(data, rng)
            for rest in Path(folder).iterdir():
                rest.unlink()
            path.write_bytes(before)
            said = judge(path, before, saved)
            counts[said.partition(":")[0]] += 1
            last = said.rsplit(", ", 1)[-1]
            if said[0].isupper() or last[0].isupper():
                faults += 1
                print(f"case {case}: {said}")
    for said, number in counts.most_common():
        print(f"{number:6} {said}", file=sys.stderr)
    print(f"{cases} files, seed {seed}: {faults} faults")
    return faults


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]] + [1500, 20261126][len(sys.argv) - 1 :]
    sys.exit(min(main(*numbers), 100))
