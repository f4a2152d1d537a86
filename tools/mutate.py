"""Small faults put into the code, one at a time: do the tests notice?

    python -m tools.mutate [COUNT] [SEED] [ROOM …]

Draws COUNT places (200) in src/kesselton (in these rooms only, "core/sets" for example), makes one
change at each in a copy of the project, and runs the tests of the room it is in, then those of its
layer that ask for the changed module, until one fails. A mutant that nothing notices is a survivor
and is printed with its line. Out of CI: a mutant takes from two seconds to two minutes.
"""

from __future__ import annotations

import ast
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PACKAGE = Path("src/kesselton")
LONGEST_S = 240.0
COMPARED = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
REACHED = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
UNSEEN = ("_", "N_", "lru_cache")
"""Calls in which a change is no fault."""
LEFT_OUT = ("ui/parts/widgets/theme.py",)
"""Looks are judged by eyes."""


@dataclass(frozen=True)
class Mutant:
    """One change: what stands there, and what is put in its place."""

    path: Path
    line: int
    column: int
    before: str
    after: str

    def applied(self, text: str) -> str:
        """The text of the file with the change."""
        lines = text.split("\n")
        row = lines[self.line - 1].encode()
        end = self.column + len(self.before.encode())
        assert row[self.column : end].decode() == self.before
        lines[self.line - 1] = (row[: self.column] + self.after.encode() + row[end:]).decode()
        return "\n".join(lines)


def mutants_of(path: Path, text: str) -> Iterator[Mutant]:
    """Every change that can be made in a file."""
    rows = [row.encode() for row in text.split("\n")]
    tree = ast.parse(text)
    quiet = _quiet(tree)

    def between(left: ast.expr, right: ast.expr, sign: str) -> tuple[int, int] | None:
        line, start = left.end_lineno or 0, left.end_col_offset or 0
        if line != right.lineno:
            return None
        at = rows[line - 1].find(sign.encode(), start, right.col_offset)
        return None if at < 0 else (line, at)

    for node in ast.walk(tree):
        if node in quiet:
            continue
        if isinstance(node, ast.Compare) and len(node.ops) == 1:
            sign = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==",
                    ast.NotEq: "!="}.get(type(node.ops[0]))  # fmt: skip
            place = sign and between(node.left, node.comparators[0], sign)
            if sign and place:
                yield Mutant(path, *place, sign, COMPARED[type(node.ops[0])])
        elif isinstance(node, ast.BinOp) and type(node.op) in REACHED:
            sign = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}[type(node.op)]
            place = between(node.left, node.right, sign)
            text_there = isinstance(node.left, ast.Constant) and isinstance(node.left.value, str)
            if place and not text_there:
                yield Mutant(path, *place, sign, REACHED[type(node.op)])
        elif isinstance(node, ast.BoolOp):
            sign, other = ("and", "or") if isinstance(node.op, ast.And) else ("or", "and")
            place = between(node.values[0], node.values[1], sign)
            if place:
                yield Mutant(path, *place, sign, other)
        elif isinstance(node, ast.Constant) and node.lineno == node.end_lineno:
            there = rows[node.lineno - 1][node.col_offset : node.end_col_offset].decode()
            if isinstance(node.value, bool):
                yield Mutant(path, node.lineno, node.col_offset, there, str(not node.value))
            elif isinstance(node.value, int):
                yield Mutant(path, node.lineno, node.col_offset, there, str(node.value + 1))
            elif isinstance(node.value, float):
                changed = 1.3 * node.value if node.value else 1.0
                yield Mutant(path, node.lineno, node.col_offset, there, repr(changed))


def _unseen(node: ast.AST) -> bool:
    if isinstance(node, ast.Call):
        return getattr(node.func, "id", "") in UNSEEN
    return isinstance(node, ast.If) and getattr(node.test, "id", "") == "TYPE_CHECKING"


def _quiet(tree: ast.AST) -> set[ast.AST]:
    """What no test can notice: annotations, messages, what only a type checker runs."""
    quiet: set[ast.AST] = set()
    for node in ast.walk(tree):
        roots: list[ast.AST | None] = []
        if isinstance(node, ast.Raise):
            roots = [node]
        elif isinstance(node, (ast.arg, ast.AnnAssign)):
            roots = [node.annotation]
        elif isinstance(node, ast.FunctionDef):
            roots = [node.returns]
        elif _unseen(node):
            roots = [node]
        quiet |= {inner for root in roots if root is not None for inner in ast.walk(root)}
    return quiet


def tests_of(path: Path) -> list[str]:
    """Where a change in a file is looked for: its room's tests, then those that import it."""
    parts = path.relative_to(PACKAGE).with_suffix("").parts
    room = ROOT / "tests" / Path(*parts[:2])
    found = [str(room.relative_to(ROOT))] if room.is_dir() else []
    name = "kesselton." + ".".join(parts)
    for test in sorted((ROOT / "tests").rglob("test_*.py")):
        where = str(test.relative_to(ROOT))
        if "journeys" in where or "torture" in where or any(where.startswith(x) for x in found):
            continue
        if name in test.read_text(encoding="utf-8"):
            found.append(where)
    if parts[0] == "store" and "tests/store" not in found:
        found.append("tests/store")
    return found or [f"tests/{parts[0]}"]


def noticed(copy: Path, mutant: Mutant) -> bool | None:
    """Whether a test fails with the change; None where it does not end, which counts as noticed."""
    target = copy / mutant.path
    text = target.read_text(encoding="utf-8")
    target.write_text(mutant.applied(text), encoding="utf-8")
    try:
        for where in tests_of(mutant.path):
            done = subprocess.run(
                [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider",
                 "-m", "not window and not journey", where],
                cwd=copy, capture_output=True, timeout=LONGEST_S, check=False,
                env={**_environment(), "PYTHONPATH": str(copy / "src")},
            )  # fmt: skip
            if done.returncode not in (0, 5):
                return True
    except subprocess.TimeoutExpired:
        return None
    finally:
        target.write_text(text, encoding="utf-8")
    return False


def _environment() -> dict[str, str]:
    import os

    return {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONDONTWRITEBYTECODE": "1"}


def main(words: list[str]) -> int:
    count, seed = (int(words[place]) if len(words) > place else usual
                   for place, usual in ((0, 200), (1, 1)))  # fmt: skip
    rooms = words[2:] or [""]
    every: list[Mutant] = []
    for path in sorted((ROOT / PACKAGE).rglob("*.py")):
        inside = path.relative_to(ROOT)
        where = str(inside.relative_to(PACKAGE))
        if where in LEFT_OUT or not any(where.startswith(room) for room in rooms):
            continue
        every += mutants_of(inside, path.read_text(encoding="utf-8"))
    drawn = random.Random(seed).sample(every, min(count, len(every)))
    killed = 0
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "project"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "__pycache__"))
        for number, mutant in enumerate(drawn, start=1):
            begin = time.monotonic()
            said = noticed(copy, mutant)
            killed += said is not False
            what = {True: "noticed", None: "no end", False: "SURVIVED"}[said]
            print(
                f"{number:4d} {what:8s} {time.monotonic() - begin:5.0f} s  "
                f"{mutant.path}:{mutant.line}  {mutant.before} -> {mutant.after}",
                flush=True,
            )
    print(f"{killed} of {len(drawn)} noticed: {100.0 * killed / max(len(drawn), 1):.0f} %")
    return 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
