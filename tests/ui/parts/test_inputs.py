"""No module takes Qt's own widgets where ours keep a slip of the hand from doing anything."""

from __future__ import annotations

import ast
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

import kesselton.ui
from kesselton.ui.window.main_window import MainWindow

Wait = Callable[..., None]

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


def test_a_column_is_pasted_and_a_table_dropped(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    """Rod after rod; the first that cannot be taken stands in the line, with what is wrong."""
    window.document.select(2)
    window.choose_page("clear")
    clear = window.pages.clear
    clear.choose_source("pitch")
    QApplication.clipboard().setText("196\n197 Hz\nG3\n198\n")
    QTest.keyClick(clear.value, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert [tap.rod for tap in clear.clearing.now.taps] == [1, 2, 3, 4]
    window.choose_page("measure")
    measure, before = window.pages.measure, len(window.document.entry.readings)  # type: ignore[union-attr]
    QApplication.clipboard().setText("rod\tpitch\n1\t196\n2\tx9\n3\t197")
    QTest.keyClick(measure.value, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert len(window.document.entry.readings) == before + 1  # type: ignore[union-attr]
    assert measure.value.text() == "2: x9"
    assert "1 of 3 taken" in measure.fault.text()
    measure.value.clear()
    (tmp_path / "r.csv").write_text("rod,hz\n1,201.5\n2,202.5\n")
    window.commands.take_file(tmp_path / "r.csv")
    now = window.document.entry.readings  # type: ignore[union-attr]
    assert [(one.rod, one.value) for one in now[-2:]] == [(1, 201.5), (2, 202.5)]
