"""Every key the handbook and the README name is pressed in one of the journeys."""

from __future__ import annotations

import ast
import re
from pathlib import Path

from kesselton.resources import text_of
from kesselton.ui.menu.actions import SPECS

HERE = Path(__file__).parent
COMBINED = re.compile(
    r"\b(?:(?:Ctrl|Shift|Alt)\+)+(?:F\d{1,2}|Space|Delete|[A-Z,]|[↑↓←→])(?![a-z])"
)
FUNCTION = re.compile(r"(?<!\+)\bF\d{1,2}\b")
NAMED = {
    "Insert": "ins",
    "Space": "space",
    "Backspace": "backspace",
    "Escape": "esc",
    "Enter": "enter",
    "Page down": "pgdown",
}
LETTER = re.compile(r"\*\*([A-Z])\*\*|\(([A-Z])\)")
ALIKE = {
    "insert": "ins",
    "delete": "del",
    "return": "enter",
    "escape": "esc",
    "comma": ",",
    "pgdn": "pgdown",
    "↑": "up",
    "↓": "down",
}


def plain(key: str) -> str:
    """One spelling of a key."""
    parts = [ALIKE.get(part, part) for part in key.lower().split("+")]
    return "+".join([*sorted(parts[:-1]), parts[-1]])


def pressed() -> set[str]:
    """What the journeys press, as their text says."""
    found = set()
    for file in HERE.glob("test_*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            if (
                isinstance(node, ast.Constant)
                and isinstance(node.value, str)
                and len(node.value) < 16
            ):
                found.add(plain(node.value))
    return found


def named(text: str) -> set[str]:
    """What a text tells to press."""
    found = {
        plain(key.rstrip(",") if not key.endswith("+,") else key) for key in COMBINED.findall(text)
    }
    found |= {plain(key) for key in FUNCTION.findall(text)}
    found |= {key for name, key in NAMED.items() if re.search(rf"\b{name}\b", text)}
    found |= {(one or other).lower() for one, other in LETTER.findall(text)}
    return found


def test_every_key_that_is_told_is_pressed() -> None:
    told = named(text_of("handbook.md")) | named((HERE.parents[1] / "README.md").read_text())
    assert len(told) > 25
    assert sorted(told - pressed()) == []


def test_every_shortcut_is_pressed() -> None:
    all_ = {plain(keys) for spec in SPECS for keys in spec.shortcut.split(" or ") if keys}
    assert sorted(all_ - pressed()) == []
