"""The catalogs of sentences: every name is used, every gap is filled, in every room."""

from __future__ import annotations

import ast
import importlib
from pathlib import Path
from string import Formatter

import pytest

UI = Path(__file__).parents[2] / "src" / "kesselton" / "ui"
ROOMS = sorted(file.parent for file in UI.rglob("texts.py"))


def names_of(room: Path) -> dict[str, str]:
    path = ".".join(("kesselton", "ui", *room.relative_to(UI).parts, "texts"))
    found = vars(importlib.import_module(path))
    return {name: text for name, text in found.items() if name.isupper()}


@pytest.mark.parametrize("room", ROOMS, ids=lambda room: room.name)
def test_every_gap_is_filled_and_no_sentence_is_left_over(room: Path) -> None:
    catalog = names_of(room)
    used: set[str] = set()
    for file in room.glob("*.py"):
        tree = ast.parse(file.read_text())
        filled: dict[int, ast.Call] = {}
        for node in ast.walk(tree):
            if isinstance(node, ast.Call) and getattr(node.func, "attr", "") == "format":
                filled[id(node.func.value)] = node  # text.format(…)
        for node in ast.walk(tree):
            if not (isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name)):
                continue
            if node.value.id != "texts":
                continue
            assert node.attr in catalog, f"{file.name}: {node.attr}"
            used.add(node.attr)
            call = filled.get(id(node))
            if call is not None:
                given = {keyword.arg for keyword in call.keywords}
                gaps = {gap for _, gap, _, _ in Formatter().parse(catalog[node.attr]) if gap}
                assert gaps <= given, f"{file.name}: {node.attr} wants {gaps - given}"
    assert set(catalog) == used


def test_a_gauge_that_would_read_less_than_nothing_is_below_its_scale() -> None:
    from kesselton.core.measuring.plan import Need
    from kesselton.ui.parts.result_rows import _dial_words

    assert _dial_words(Need(-16.0, 3.0, "")) == "below scale"
    assert _dial_words(Need(71.4, 2.0, "")) == "71 ± 2"


def test_a_change_whose_sign_is_not_known_says_so() -> None:
    from kesselton.ui.parts.result_rows import drift_words

    assert drift_words(21.0, 48.0) == "either way, −27 to +69 cents"
    assert drift_words(-22.0, 11.0) == "22 cents flat ± 11"
