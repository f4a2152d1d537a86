"""Tables that belong under the figures in docs/benchmarks.md, kept until they are measured again."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

KEPT = Path(__file__).parent / "tables.json"


def keep(title: str, about: str, head: list[str], rows: list[list[str]]) -> None:
    """Keep a table in place of the one that had its title."""
    tables = _read()
    tables[title] = {"about": about, "head": head, "rows": rows}
    KEPT.write_text(json.dumps(tables, indent=1, ensure_ascii=False, sort_keys=True) + "\n")


def as_markdown() -> list[str]:
    """Lines of all tables that were kept."""
    lines: list[str] = []
    for title, table in sorted(_read().items()):
        lines += ["", f"## {title}", "", table["about"], ""]
        lines += ["| " + " | ".join(row) + " |" for row in (table["head"],)]
        lines += ["|" + "---|" * len(table["head"])]
        lines += ["| " + " | ".join(row) + " |" for row in table["rows"]]
    return lines


def _read() -> dict[str, Any]:
    tables: dict[str, Any] = json.loads(KEPT.read_text()) if KEPT.exists() else {}
    return tables
