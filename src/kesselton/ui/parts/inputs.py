"""Widgets that take keys, clicks or the wheel: what is done by mistake does nothing.

Lines keep their keys to themselves, buttons do not keep the keys after a click, lists and sliders
turn with the wheel only where the keys are. Other modules take these and not those of Qt (a test
looks).
"""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QDateEdit,
    QDialog,
    QLineEdit,
    QListWidget,
    QPushButton,
    QSlider,
    QSpinBox,
    QTableView,
    QWidget,
)

from kesselton.ui.parts.safe_override import safe_override

OWN_KEYS = (
    Qt.Key.Key_Return,
    Qt.Key.Key_Enter,
    Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
)
"""Keys a line of text has no use for, but must not hand on to a stage that would act on them."""
DESTROY = (QKeySequence("Ctrl+Delete"), QKeySequence("Ctrl+Backspace"))
STEP_KEYS = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)


class _FirstLook(QObject):
    """Asks the widget with the keys whether one is its own before it is a shortcut.

    Only that widget is watched: a look at every event of every widget in Python would be felt.
    """

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() != QEvent.Type.ShortcutOverride or not isinstance(event, QKeyEvent):
            return False
        own = watched.overrides(event)  # type: ignore[attr-defined]
        if own is None:
            return False
        event.setAccepted(own)
        return True


@lru_cache(maxsize=1)
def _first_look() -> _FirstLook:
    return _FirstLook()


class _Overriding:
    """What a widget with the keys has in common that takes some of them before they are shortcuts:
    stands before the widget of Qt it is built upon."""

    @safe_override
    def focusInEvent(self, event: QFocusEvent) -> None:
        self.installEventFilter(_first_look())  # type: ignore[attr-defined]
        super().focusInEvent(event)  # type: ignore[misc]

    @safe_override
    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.removeEventFilter(_first_look())  # type: ignore[attr-defined]
        super().focusOutEvent(event)  # type: ignore[misc]


class Line(_Overriding, QLineEdit):
    """A line of text.

    Undo is of the text while something typed has not been sent, and of the program otherwise; no
    key that destroys more than text acts from here.

    Signals
    -------
    escaped : Escape was pressed
    """

    escaped = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.sent = ""
        """What the program knows of the text: anything else is typed and not yet entered."""

    @property
    def unsent(self) -> bool:
        """True while something is typed that was not entered."""
        return self.text() != self.sent

    def enter(self) -> bool:
        """Enter what is typed, as leaving the line does; False if it could not be taken."""
        self.editingFinished.emit()
        return not self.unsent

    def show_text(self, text: str) -> None:
        """Put a text there that needs no entering; one that is there already is not touched, so
        that what is selected stays selected."""
        self.sent = text
        if self.text() != text:
            whole = self.hasFocus() and self.selectedText() == self.text() != ""
            self.setText(text)
            self.setCursorPosition(0)
            if whole:
                self.selectAll()

    def overrides(self, event: QKeyEvent) -> bool | None:
        """Whether a key is the line's before it is a shortcut; None: as Qt has it."""
        if any(event.matches(key) for key in STEP_KEYS) and not self.unsent:
            return False  # the program's undo
        return True if QKeySequence(event.keyCombination()) in DESTROY else None

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and not isinstance(self.window(), QDialog):
            self.escaped.emit()
            return
        super().keyPressEvent(event)
        if event.key() in OWN_KEYS and not isinstance(self.window(), QDialog):
            event.accept()


class AddLine(Line):
    """A line that Enter empties into a list: leaving it enters nothing, quitting does."""

    def enter(self) -> bool:
        self.returnPressed.emit()
        return not self.unsent


class Finder(Line):
    """A line of words to look for, whose text acts while it is typed: nothing in it waits to be
    entered. `words` stand in it while it is empty; they are its name too, unless it has another."""

    def __init__(self, words: str, name: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setPlaceholderText(words)
        self.setAccessibleName(name or words)

    @property
    def unsent(self) -> bool:
        """Never: every letter has acted already. Undo is of the text while there is any."""
        return False

    def overrides(self, event: QKeyEvent) -> bool | None:
        return None if self.text() else super().overrides(event)


def wheel_needs_focus(widget: QWidget, event: QWheelEvent) -> bool:
    """Whether the wheel may turn a widget; else what lies around it scrolls."""
    if widget.hasFocus():
        return True
    event.ignore()
    return False


def is_letter(event: QEvent) -> bool:
    """Whether a key would type something: in a list it looks for what begins so."""
    return (
        isinstance(event, QKeyEvent)
        and event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
        and event.text().isprintable()
        and event.text().strip() != ""
    )


class Box(_Overriding, QComboBox):
    """A list to choose one from; letters look for an entry and start nothing else."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)  # not by the wheel

    def overrides(self, event: QKeyEvent) -> bool | None:
        """Letters are for looking."""
        return True if is_letter(event) else None

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        if wheel_needs_focus(self, event):
            super().wheelEvent(event)


class Rows(_Overriding, QListWidget):
    """A list of rows; letters look for one and start nothing else."""

    def overrides(self, event: QKeyEvent) -> bool | None:
        """Letters are for looking."""
        return True if is_letter(event) else None


class Grid(_Overriding, QTableView):
    """A table; letters and figures are for the cell that has the keys and start nothing else."""

    def overrides(self, event: QKeyEvent) -> bool | None:
        """Letters are for looking, figures for counting."""
        return True if is_letter(event) else None


class Slider(QSlider):
    """A slider lying flat."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        if wheel_needs_focus(self, event):
            super().wheelEvent(event)


class Count(QSpinBox):
    """A whole number."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        if wheel_needs_focus(self, event):
            super().wheelEvent(event)


class Day(QDateEdit):
    """A date."""

    def __init__(self, caption: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(caption)
        self.setDisplayFormat("yyyy-MM-dd")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        if wheel_needs_focus(self, event):
            super().wheelEvent(event)


class _Clicked:
    """What a click does not give the keys to: Space is for what comes next, not for the same once
    more; Tab still reaches it. What stands typed is entered first, as if the keys had left. Stands
    before the widget of Qt it is built upon."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)  # type: ignore[call-arg]
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # type: ignore[attr-defined]

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        enter_typed()
        super().mousePressEvent(event)  # type: ignore[misc]


class Button(_Clicked, QPushButton):
    """A button."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setAutoDefault(False)


class Tick(_Clicked, QCheckBox):
    """A box to tick."""


def typed() -> Line | None:
    """The line that has the keys and something in it that was not entered, or None."""
    widget = QApplication.focusWidget()
    return widget if isinstance(widget, Line) and widget.unsent else None


def enter_typed() -> None:
    """Enter what stands typed in the line that has the keys, as leaving it does."""
    line = typed()
    if line is not None and not isinstance(line, AddLine):
        line.enter()
