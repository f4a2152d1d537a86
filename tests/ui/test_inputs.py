"""No module takes Qt's own widgets where ours keep a slip of the hand from doing anything."""

from __future__ import annotations

import ast
from pathlib import Path

import kesselton.ui

OURS = {
    "QLineEdit": "Line", "QComboBox": "Box", "QSlider": "Slider", "QSpinBox": "Count",
    "QDoubleSpinBox": "Count", "QPushButton": "Button", "QCheckBox": "Tick", "QListWidget": "Rows",
    "QTableView": "Grid", "QTableWidget": "Table", "QLabel": "Label",
}  # fmt: skip
ROOT = Path(kesselton.ui.__file__).parent


def made(tree: ast.AST) -> set[str]:
    """Names that are called, as widgets are when they are made, or built upon."""
    called = {
        n.func.id
        for n in ast.walk(tree)
        if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)
    }
    bases = {
        b.id
        for n in ast.walk(tree)
        if isinstance(n, ast.ClassDef)
        for b in n.bases
        if isinstance(b, ast.Name)
    }
    return called | bases


def test_widgets_that_take_keys_are_ours() -> None:
    assert made(ast.parse("x = QLineEdit()\nclass A(QSlider): pass")) == {"QLineEdit", "QSlider"}
    for file in ROOT.rglob("*.py"):
        if file.name not in ("inputs.py", "labels.py"):
            wrong = made(ast.parse(file.read_text(encoding="utf-8"))) & OURS.keys()
            assert not wrong, f"{file.relative_to(ROOT)}: use {[OURS[name] for name in wrong]}"
