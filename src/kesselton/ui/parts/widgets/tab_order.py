"""Tab goes as the eye does: through the layouts, row by row and column by column.

Qt goes in the order in which widgets were made, so that what comes later, a row more, stands last
wherever it is seen.
"""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSpinBox,
    QComboBox,
    QGridLayout,
    QLayout,
    QLineEdit,
    QScrollArea,
    QStackedWidget,
    QWidget,
)

WHOLE = (QComboBox, QAbstractSpinBox, QLineEdit, QAbstractItemView)
"""Widgets with parts of their own that Tab does not go into."""


def in_order(widget: QWidget) -> Iterator[QWidget]:
    """All that Tab reaches in a widget, itself first."""
    if not widget.isVisible():
        return
    if _reached(widget):
        yield widget
    if isinstance(widget, WHOLE):
        return
    inside: list[QWidget]
    if isinstance(widget, QScrollArea | QStackedWidget):
        held = widget.widget() if isinstance(widget, QScrollArea) else widget.currentWidget()
        inside = [] if held is None else [held]
    else:
        layout = widget.layout()
        if layout is not None:
            yield from _items(layout)
            laid = set(_widgets(layout))
        else:
            laid = set()
        children = widget.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
        inside = [widget for widget in children if widget not in laid and not widget.isWindow()]
        inside.sort(key=lambda widget: (widget.y(), widget.x()))
    for candidate in inside:
        yield from in_order(candidate)


def _reached(widget: QWidget) -> bool:
    if not widget.isEnabled() or widget.focusProxy() is not None:
        return False
    group = widget.group() if isinstance(widget, QAbstractButton) else None
    if group is not None and group.exclusive() and group.checkedButton() is not None:
        return widget is group.checkedButton()  # Qt takes Tab away from buttons as they are left
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)


def _places(layout: QLayout) -> list[int]:
    """Items of a layout as they are read."""
    places = list(range(layout.count()))
    if isinstance(layout, QGridLayout):
        places.sort(key=lambda place: layout.getItemPosition(place)[:2])  # type: ignore[index]
    return places


def _items(layout: QLayout) -> Iterator[QWidget]:
    for place in _places(layout):
        item = layout.itemAt(place)
        if item is None:
            continue
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            yield from in_order(widget)
        elif inner is not None:
            yield from _items(inner)


def _widgets(layout: QLayout) -> Iterator[QWidget]:
    for place in range(layout.count()):
        item = layout.itemAt(place)
        if item is None:
            continue
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            yield widget
        elif inner is not None:
            yield from _widgets(inner)


def go_on(window: QWidget, forward: bool) -> bool:
    """The keys to the next of them, or the one before; False if there is none."""
    order = list(in_order(window))
    if not order:
        return False
    has = window.focusWidget()
    step = 1 if forward else -1
    if has in order:
        place = (order.index(has) + step) % len(order)
    else:
        place = 0 if forward else len(order) - 1
    reason = Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason
    order[place].setFocus(reason)
    return True
