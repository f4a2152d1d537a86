"""Every job of the technician has a test that does it: the table in docs/jobs.md is kept true."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def test_the_tests_of_the_jobs_are_there() -> None:
    rows = re.findall(r"^\| (\d+) \| (.*?) \| (.*?) \| (.*?)\|$", _read("docs/jobs.md"), re.M)
    assert [int(row[0]) for row in rows] == list(range(1, 25))
    sources = "\n".join(p.read_text() for p in (ROOT / "tests").rglob("test_*.py"))
    for number, job, _, test in rows:
        named = re.findall(r"`(\w+)`", test)
        assert named, (number, job)
        assert all(f"def {name}(" in sources for name in named), (number, job, named)


def _read(name: str) -> str:
    return (ROOT / name).read_text()
