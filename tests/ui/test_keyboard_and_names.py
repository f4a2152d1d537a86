"""Reached, seen and told apart without a mouse: mnemonics, focus, names."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QLineEdit,
    QMenu,
    QScrollBar,
    QWidget,
)

from kesselton.ui.menu.actions import with_mnemonics
from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.window.main_window import MainWindow

Wait = Callable[..., None]
KINDS = (
    QAbstractButton, QAbstractItemView, QAbstractSlider, QAbstractSpinBox, QComboBox, QLineEdit, Picture,
)  # fmt: skip
PAGES = ("tuning", "measure", "heads", "fit", "clear", "gauges", "log", "set")


def stages(window: MainWindow, wait: Wait) -> list[str]:
    for stage in PAGES:
        window.choose_page(stage)
    wait(lambda: window.pages.heads.candidates is not None)
    return list(PAGES)


def own(widget: QWidget) -> bool:
    """Not a part that Qt makes inside one of its widgets."""
    parent = widget.parentWidget()
    inner = isinstance(parent, QComboBox | QAbstractSpinBox | QLineEdit)
    return not (isinstance(widget, QScrollBar) or inner or widget.objectName().startswith("qt_"))


def named(widget: QWidget) -> str:
    text = widget.text() if isinstance(widget, QAbstractButton) else ""
    return widget.accessibleName() or text


def test_every_menu_and_entry_has_a_letter_of_its_own(window: MainWindow) -> None:
    bar = [a.text() for a in window.menuBar().actions()]
    menus = [a.menu() for a in window.menuBar().actions()]
    for texts in (
        bar,
        *(
            [a.text() for a in m.actions() if not a.isSeparator() and not a.menu()]
            for m in menus
            if isinstance(m, QMenu)
        ),
    ):
        letters = [
            t.replace("&&", "")[t.replace("&&", "").index("&") + 1].casefold() for t in texts
        ]
        assert len(letters) == len(set(letters)), texts
    assert with_mnemonics(["B", "B & O"]) == ["&B", "B && &O"]
    assert with_mnemonics(["Ab", "A"]) == ["A&b", "&A"]


def test_every_control_has_a_name_that_tells_it_from_its_like(
    window: MainWindow, wait: Wait
) -> None:
    bad = []
    for stage in stages(window, wait):
        window.choose_page(stage)
        seen: Counter[tuple[str, str]] = Counter()
        for widget in window.findChildren(QWidget):
            if isinstance(widget, KINDS) and widget.isVisible() and own(widget):
                name = named(widget)
                if not name:
                    bad.append(f"{stage}: {type(widget).__name__} has no name")
                seen[(type(widget).__name__, name)] += 1
        bad += [f"{stage}: {count} times {key}" for key, count in seen.items() if count > 1]
    assert bad == []


def test_dialogs_name_their_controls(window: MainWindow, wait: Wait) -> None:
    bad = []
    for action in ("drum_new", "heads_store", "buy_list", "preferences", "handbook", "shortcuts"):
        window.actions_by_id[action].trigger()
        dialog = window.commands.hands.dialog
        assert isinstance(dialog, QDialog)
        for widget in dialog.findChildren(QWidget):
            if (
                isinstance(widget, KINDS)
                and widget.isVisibleTo(dialog)
                and own(widget)
                and not named(widget)
            ):
                bad.append(f"{action}: {type(widget).__name__}")
        dialog.close()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert bad == []


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_focus_can_be_seen_on_every_control(window: MainWindow, wait: Wait, theme: str) -> None:
    window.commands.view.theme(theme)
    window.activateWindow()
    blind = set()
    for stage in stages(window, wait):
        window.choose_page(stage)
        page = window.pages.currentWidget()
        assert page is not None
        controls = [
            w
            for w in (page, *window.findChildren(QWidget))
            if w.focusPolicy() & Qt.FocusPolicy.TabFocus
        ]
        for widget in controls:
            if not widget.isVisible() or not widget.isEnabled() or not own(widget):
                continue
            if isinstance(widget, KINDS) or widget is page:
                window.topbar.a4.line.setFocus() if widget is not window.topbar.a4.line else window.drum_list.setFocus()
                before = widget.grab().toImage()
                widget.setFocus(Qt.FocusReason.TabFocusReason)
                if not widget.hasFocus():
                    QApplication.sendEvent(
                        widget, QFocusEvent(QEvent.Type.FocusIn, Qt.FocusReason.TabFocusReason)
                    )
                if widget.grab().toImage() == before:
                    blind.add(f"{stage}: {type(widget).__name__} {named(widget)!r}")
    window.commands.view.theme("light")
    assert blind == set()
