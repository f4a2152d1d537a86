"""Small faults put into the code, one at a time: do the tests notice?

    python -m tools.mutate map
    python -m tools.mutate [COUNT] [SEED] [ROOM …]

The first runs all tests once and keeps in build/ which of them run which lines (half an hour). The
second draws COUNT places (200) in src/kesselton (in these rooms only, "core/sets" for example),
makes one change at each in a copy of the project, and runs the tests that run that line, until one
fails. A mutant that nothing notices is a survivor and is printed with its line. Out of CI: a mutant
takes from two seconds to four minutes.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING
from xml.etree import ElementTree

if TYPE_CHECKING:
    from coverage import CoverageData

ROOT = Path(__file__).resolve().parents[1]
PACKAGE = Path("src/kesselton")
LINES, TIMES = ROOT / "build" / "lines.coverage", ROOT / "build" / "tests.xml"
MOST_TESTS, MOST_S, LONGEST_S = 150, 90.0, 300.0
"""Tests that are asked of one mutant, their seconds together, and when it is taken for endless."""
COMPARED = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
REACHED = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
UNSEEN = ("_", "N_", "lru_cache", "kept")
"""Calls in which a change is no fault."""
GUARDS = ("strict", "frozen", "eq", "repr")
"""Keywords that only keep a later change of the code from going wrong."""
LEFT_OUT = ("ui/parts/widgets/theme.py",)
LOOKS = ("px", "font", "setContentsMargins", "setSpacing", "setMinimumHeight", "setMinimumWidth",
         "addLayout", "addWidget", "setStretch", "QRectF", "QPointF", "QSize", "QPen", "QColor",
         "adjusted", "translated")  # fmt: skip
"""Looks are judged by eyes: margins, sizes, colors, and what is done with a painter in hand."""


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
        name = getattr(node.func, "id", "") or getattr(node.func, "attr", "")
        return name in UNSEEN or name in LOOKS
    if isinstance(node, ast.keyword):
        return node.arg in GUARDS
    if isinstance(node, ast.FunctionDef):
        paints = any("QPainter" in ast.dump(arg) for arg in ast.walk(node.args))
        return paints or node.name in ("paintEvent", "sizeHint", "minimumSizeHint")
    return isinstance(node, ast.If) and getattr(node.test, "id", "") == "TYPE_CHECKING"


def _quiet(tree: ast.AST) -> set[ast.AST]:
    """What no test can notice: annotations, messages, what only a type checker runs."""
    quiet: set[ast.AST] = set()
    for node in ast.walk(tree):
        roots: list[ast.AST | None] = []
        if isinstance(node, ast.Raise) or _unseen(node):
            roots = [node]
        elif isinstance(node, (ast.arg, ast.AnnAssign)):
            roots = [node.annotation]
        elif isinstance(node, ast.FunctionDef):
            roots = [node.returns]
        quiet |= {inner for root in roots if root is not None for inner in ast.walk(root)}
    return quiet


@dataclass(frozen=True)
class Asked:
    """Which tests run which lines, and how long each takes, from one run of all of them."""

    data: CoverageData
    seconds: dict[str, float]

    @classmethod
    def of_last_run(cls) -> Asked:
        """As `map` has left it.

        Raises
        ------
        SystemExit
            If it was not run.
        """
        from coverage import CoverageData

        if not LINES.exists() or not TIMES.exists():
            raise SystemExit("Which tests run which lines is not known: python -m tools.mutate map")
        data = CoverageData(str(LINES))
        data.read()
        seconds = {}
        for case in ElementTree.parse(TIMES).iter("testcase"):
            module = case.get("classname", "").replace(".", "/") + ".py"
            seconds[f"{module}::{case.get('name')}"] = float(case.get("time", "0"))
        return cls(data, seconds)

    def tests(self, mutant: Mutant) -> list[str]:
        """Those that run the changed line, or its file where it runs at import only: those of its
        room and quick ones first, for at most `MOST_S`."""
        by_line = self.data.contexts_by_lineno(str(ROOT / mutant.path))
        running = {name.split("|")[0] for name in by_line.get(mutant.line, []) if name}
        if not running:
            running = {name.split("|")[0] for names in by_line.values() for name in names if name}
        room = str(Path("tests", *mutant.path.relative_to(PACKAGE).parts[:2]).with_suffix(""))
        known = [name for name in running if name in self.seconds]
        known.sort(key=lambda name: (not name.startswith(room), self.seconds[name]))
        out, spent = [], 0.0
        for name in known[:MOST_TESTS]:
            spent += self.seconds[name]
            if out and spent > MOST_S:
                break
            out.append(name)
        return out


def mapped() -> int:
    """Run all tests once, and keep which of them run which lines."""
    LINES.parent.mkdir(exist_ok=True)
    words = ["-n", "2", "--dist", "worksteal", "-m", "not window and not journey", "--cov",
             f"--cov-config={ROOT / 'tools/coverage.ini'}", "--cov-context=test", "--cov-report=",
             f"--junitxml={TIMES}", "--timeout=400"]  # fmt: skip
    return subprocess.run(
        [sys.executable, "-m", "pytest", *words], cwd=ROOT, env=_environment(), check=False
    ).returncode


def noticed(copy: Path, mutant: Mutant, tests: list[str]) -> bool | None:
    """Whether one of the tests fails with the change; None where it does not end, which counts as
    noticed."""
    target = copy / mutant.path
    text = target.read_text(encoding="utf-8")
    target.write_text(mutant.applied(text), encoding="utf-8")
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests],
            cwd=copy, capture_output=True, timeout=LONGEST_S, check=False,
            env={**_environment(), "PYTHONPATH": str(copy / "src")},
        )  # fmt: skip
        if done.returncode != 0:
            return True
    except subprocess.TimeoutExpired:
        return None
    finally:
        target.write_text(text, encoding="utf-8")
    return False


def _environment() -> dict[str, str]:
    return {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONDONTWRITEBYTECODE": "1"}


def main(words: list[str]) -> int:
    if words[:1] == ["map"]:
        return mapped()
    asked = Asked.of_last_run()
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
            tests = asked.tests(mutant)
            said = noticed(copy, mutant, tests) if tests else False
            killed += said is not False
            what = {True: "noticed", None: "no end", False: "SURVIVED"}[said]
            print(
                f"{number:4d} {what:8s} {time.monotonic() - begin:5.0f} s {len(tests):4d} tests  "
                f"{mutant.path}:{mutant.line}  {mutant.before} -> {mutant.after}",
                flush=True,
            )
    print(f"{killed} of {len(drawn)} noticed: {100.0 * killed / max(len(drawn), 1):.0f} %")
    return 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
