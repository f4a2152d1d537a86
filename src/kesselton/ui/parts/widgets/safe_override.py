"""Methods of Qt that are written anew here: what fails in them ends in the hook of last resort.

An IndexError, ValueError or TypeError that C code raises inside such a method, where Python reached
it through Qt (`show`, `grab`, `super().event(…)`), is not yet an object when PySide6 6.11 keeps it
on CPython 3.11: the process dies. Caught here it is one.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar, cast

from PySide6.QtCore import QRect, QSize, Qt

F = TypeVar("F", bound=Callable[..., Any])

_AFTER_A_FAULT: dict[str, Callable[[], object]] = {
    "sizeHint": QSize,
    "minimumSizeHint": QSize,
    "minimumSize": QSize,
    "event": lambda: False,
    "eventFilter": lambda: False,
    "focusNextPrevChild": lambda: False,
    "hasHeightForWidth": lambda: False,
    "heightForWidth": lambda: -1,
    "count": lambda: 0,
    "rowCount": lambda: 0,
    "columnCount": lambda: 0,
    "setData": lambda: False,
    "flags": lambda: Qt.ItemFlag.NoItemFlags,
    "expandingDirections": lambda: Qt.Orientation(0),
    "geometry": QRect,
}
"""What Qt is answered after a fault, by the name of the method; nothing, where it asks nothing."""


def safe_override(method: F) -> F:
    """Every method that Qt calls: an error in it goes to `sys.excepthook`, and Qt gets an answer
    that does nothing."""
    answer = _AFTER_A_FAULT.get(method.__name__, lambda: None)

    @wraps(method)
    def run(*given: Any, **named: Any) -> Any:
        try:
            return method(*given, **named)
        except Exception:
            sys.excepthook(*sys.exc_info())
            return answer()

    run.safe_override = True  # type: ignore[attr-defined]
    return cast("F", run)
