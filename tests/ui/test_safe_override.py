"""An error in a method that Qt calls ends in the hook of last resort, and nowhere else."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import subprocess
import sys
from collections.abc import Iterator

import pytest
import shiboken6

import kesselton

NOT_VIRTUAL = {
    "__init__", "find", "fontMetrics", "height", "rect", "setFixedHeight", "setMinimumHeight",
    "setMinimumSize", "setText", "update", "width",
}  # fmt: skip
"""Methods of the same name that Qt itself never calls."""
C_CODE_FAILS = """
import sys
from PySide6.QtCore import QEvent, QSize
from PySide6.QtWidgets import QApplication, QWidget
from kesselton.ui.parts.widgets.safe_override import safe_override
FAULTS = (lambda: int("²"), lambda: [][1], lambda: float(None))
class Widget(QWidget):
    @safe_override
    def event(self, event):
        FAULTS[0]() if event.type() == QEvent.Type.User else None
        return super().event(event)
    @safe_override
    def showEvent(self, event): FAULTS[0]()
    @safe_override
    def resizeEvent(self, event): FAULTS[1]()
    @safe_override
    def paintEvent(self, event): FAULTS[2]()
    @safe_override
    def sizeHint(self): return FAULTS[1]()
    @safe_override
    def eventFilter(self, watched, event): FAULTS[2]()
app = QApplication([])
caught = []
sys.excepthook = lambda kind, *rest: caught.append(kind.__name__)
one, two = Widget(), QWidget()
two.installEventFilter(one)
one.show(); one.resize(300, 200); one.grab(); one.adjustSize(); two.show()
QApplication.sendEvent(one, QEvent(QEvent.Type.User))
print(sorted(set(caught)))
"""


def overrides() -> Iterator[tuple[str, object]]:
    """Every method of the program that has the name of one of Qt's in a class it is built upon."""
    for module in pkgutil.walk_packages(kesselton.__path__, "kesselton."):
        if not module.name.endswith("__main__"):
            importlib.import_module(module.name)

    def all_below(base: type) -> Iterator[type]:
        for one in base.__subclasses__():
            yield one
            yield from all_below(one)

    for made in set(all_below(shiboken6.Object)):
        if not made.__module__.startswith("kesselton"):
            continue
        qt = [base for base in made.__mro__ if base.__module__.startswith("PySide6")]
        for part in made.__mro__:
            if part.__module__.startswith("kesselton"):
                for name, method in vars(part).items():
                    ours = inspect.isfunction(method) and name not in NOT_VIRTUAL
                    if ours and any(name in vars(base) for base in qt):
                        yield f"{part.__module__}.{part.__qualname__}.{name}", method


def test_every_method_that_qt_calls_is_safe() -> None:
    found = dict(overrides())
    assert len(found) > 140  # else nothing was looked at
    bare = sorted(name for name, method in found.items() if not hasattr(method, "safe_override"))
    assert bare == []


def test_what_c_code_raises_in_them_does_not_end_the_program() -> None:
    done = subprocess.run(
        [sys.executable, "-c", C_CODE_FAILS], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr[-2000:]
    assert done.stdout.strip() == "['IndexError', 'TypeError', 'ValueError']"


@pytest.mark.parametrize("name", ["isdigit", "isnumeric"])
def test_no_sign_passes_for_a_figure_that_int_refuses(name: str) -> None:
    """ "²".isdigit() is true and int("²") raises."""
    import ast
    from pathlib import Path

    root = Path(kesselton.__path__[0])
    bad = [
        f"{path.relative_to(root)}:{node.lineno}"
        for path in root.rglob("*.py")
        if name in (text := path.read_text())
        for node in ast.walk(ast.parse(text))
        if isinstance(node, ast.Attribute) and node.attr == name
    ]
    assert bad == []
