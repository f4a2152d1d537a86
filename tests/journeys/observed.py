"""The program as anybody starts it, with somebody who tells what stands on its screen.

    python -m tests.journeys.observed SOCKET [WORKSHOP …]

Nothing of the program is changed: a thread waits at a socket, and whoever asks gets what every
visible widget says and where it stands, looked up in the thread of the window.
"""

from __future__ import annotations

import json
import queue
import socket
import sys
import threading
import time
from pathlib import Path
from typing import Any

ANSWER_S = 30.0


def _said(widget: Any) -> str:
    """What a widget says, as it stands there."""
    from PySide6.QtWidgets import (
        QAbstractButton,
        QAbstractItemView,
        QAbstractSlider,
        QAbstractSpinBox,
        QComboBox,
        QGroupBox,
        QLabel,
        QLineEdit,
        QPlainTextEdit,
        QTableView,
        QTextEdit,
    )

    from kesselton.ui.parts.widgets.picture import Picture

    if isinstance(widget, QLabel | QAbstractButton | QLineEdit | QAbstractSpinBox):
        return str(widget.text())
    if isinstance(widget, QComboBox):
        return str(widget.currentText())
    if isinstance(widget, QTextEdit | QPlainTextEdit):
        return str(widget.toPlainText())
    if isinstance(widget, QGroupBox):
        return str(widget.title())
    if isinstance(widget, QAbstractSlider):
        return str(widget.value())
    if isinstance(widget, QAbstractItemView) and widget.model() is not None:
        model = widget.model()
        rows = min(model.rowCount(), 400)
        columns = model.columnCount() if isinstance(widget, QTableView) else 1
        return "\n".join(
            "\t".join(str(model.index(r, c).data() or "") for c in range(columns))
            for r in range(rows)
        )
    if isinstance(widget, Picture):
        return "\n".join("\t".join(map(str, row)) for row in widget.table() or ())
    return ""


def _widget(widget: Any, has: Any) -> dict[str, Any]:
    from PySide6.QtCore import QPoint
    from PySide6.QtWidgets import QAbstractButton, QAbstractItemView

    seen = widget.visibleRegion().boundingRect()
    corner = widget.mapToGlobal(QPoint(0, 0))
    said: dict[str, Any] = {
        "kind": type(widget).__name__,
        "name": widget.accessibleName(),
        "text": _said(widget),
        "tip": widget.toolTip(),
        "at": [corner.x(), corner.y(), widget.width(), widget.height()],
        "seen": [corner.x() + seen.x(), corner.y() + seen.y(), seen.width(), seen.height()],
        "enabled": widget.isEnabled(),
        "focus": widget is has,
        "caption": getattr(getattr(widget, "placeholderText", lambda: "")(), "strip", str)(),
    }
    if isinstance(widget, QAbstractButton):
        said["checked"] = widget.isChecked()
    if isinstance(widget, QAbstractItemView) and widget.model() is not None:
        rows = []
        for row in range(min(widget.model().rowCount(), 400)):
            index = widget.model().index(row, 0)
            place = widget.visualRect(index)
            at = widget.viewport().mapToGlobal(place.topLeft())
            rows.append([str(index.data() or ""), at.x(), at.y(), place.width(), place.height()])
        said["rows"] = rows
        said["row"] = widget.currentIndex().row()
    return said


def _menu(menu: Any) -> list[dict[str, Any]]:
    rows = []
    for action in menu.actions():
        place = menu.actionGeometry(action)
        at = menu.mapToGlobal(place.topLeft())
        rows.append({
            "text": action.text(), "keys": action.shortcut().toString(),
            "enabled": action.isEnabled(), "checked": action.isChecked(),
            "at": [at.x(), at.y(), place.width(), place.height()],
        })  # fmt: skip
    return rows


def look() -> dict[str, Any]:
    """Every visible window with what stands in it."""
    from PySide6.QtCore import Qt
    from PySide6.QtWidgets import QApplication, QMenu, QMenuBar, QWidget

    has = QApplication.focusWidget()
    found = []
    for top in QApplication.topLevelWidgets():
        if not top.isVisible():
            continue
        frame = top.frameGeometry()
        one: dict[str, Any] = {
            "kind": type(top).__name__,
            "title": top.windowTitle(),
            "frame": [frame.x(), frame.y(), frame.width(), frame.height()],
            "active": top is QApplication.activeWindow(),
            "modal": top.isModal(),
            "popup": bool(top.windowType() == Qt.WindowType.Popup),
            "widgets": [],
        }
        if isinstance(top, QMenu):
            one["menu"] = _menu(top)
        for widget in [top, *top.findChildren(QWidget)]:
            if widget.isVisible() and widget.window() is top:
                if isinstance(widget, QMenuBar):
                    one["bar"] = _menu(widget)
                one["widgets"].append(_widget(widget, has))
        found.append(one)
    screen = QApplication.primaryScreen().availableGeometry()
    return {"windows": found, "screen": [screen.width(), screen.height()]}


def observe(path: str) -> None:
    """Wait for a program to look at, then answer whoever asks."""
    while not hasattr(sys.modules.get("kesselton.ui.parts.widgets.messages"), "Unexpected"):
        time.sleep(0.02)  # two threads that import Qt at once end the process
    from PySide6.QtCore import QObject, Qt, Signal
    from PySide6.QtWidgets import QApplication

    class Observer(QObject):
        asked = Signal()

        def __init__(self) -> None:
            super().__init__()
            self.answers: queue.Queue[str] = queue.Queue()
            self.asked.connect(self.answer, Qt.ConnectionType.QueuedConnection)

        def answer(self) -> None:
            try:
                said = json.dumps(look())
            except Exception as error:  # a widget may go while it is asked
                said = json.dumps({"error": f"{type(error).__name__}: {error}"})
            self.answers.put(said)

    while (app := QApplication.instance()) is None:
        time.sleep(0.02)
    observer = Observer()
    observer.moveToThread(app.thread())
    door = socket.socket(socket.AF_UNIX)
    door.bind(path)
    door.listen()
    while True:
        visitor, _ = door.accept()
        with visitor:
            observer.asked.emit()
            try:
                said = observer.answers.get(timeout=ANSWER_S)
            except queue.Empty:
                said = json.dumps({"error": "the window does not answer"})
            visitor.sendall(said.encode())


def main() -> None:
    """Start the program with somebody who looks at it."""
    import faulthandler

    faulthandler.enable()
    path, *words = sys.argv[1:]
    Path(path).unlink(missing_ok=True)
    threading.Thread(target=observe, args=(path,), daemon=True, name="observer").start()
    from kesselton.cli import program

    sys.argv[1:] = words
    program()


if __name__ == "__main__":
    main()
