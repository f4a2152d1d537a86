"""Widgets that take keys, clicks or the wheel: what is done by mistake does nothing.

Lines keep their keys to themselves, buttons and choices do not take the keys by a click, sliders
turn with the wheel only where the keys are, and a closed choice changes through its list alone.
Other modules take these and not those of Qt (a test looks).
"""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QElapsedTimer, QEvent, QObject, Qt, Signal
from PySide6.QtGui import (
    QFocusEvent,
    QGuiApplication,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QWheelEvent,
)
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

from kesselton.ui.parts.widgets.safe_override import safe_override

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

    def take_key(self, event: QKeyEvent) -> bool:
        """Take a key that was pressed elsewhere and types something: it goes on here."""
        if not is_letter(event) or not self.isEnabled() or not self.isVisible():
            return False
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.end(False)
        self.insert(event.text())
        return True


class AddLine(Line):
    """A line that Enter empties into a list: leaving it enters nothing, going to another drum and
    quitting do.

    Signals
    -------
    pasted(str) : several lines or cells at once, as they stand in the clipboard
    """

    pasted = Signal(str)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Paste):
            text = QGuiApplication.clipboard().text().strip()
            if any(sign in text for sign in "\n\t"):
                self.pasted.emit(text)
                return
        super().keyPressEvent(event)

    def enter(self) -> bool:
        self.returnPressed.emit()
        return not self.unsent


class OwnedLines:
    """Lines whose text belongs to something: with that it goes, and comes back."""

    def __init__(self, *lines: AddLine) -> None:
        self._lines = lines
        self._owner: object = None
        self._kept: dict[object, tuple[str, ...]] = {}

    def belong_to(self, owner: object) -> str:
        """From now on what is typed is of `owner`; what waits for the one before, "" if nothing."""
        if owner == self._owner:
            return ""
        typed = tuple(line.text() for line in self._lines)
        waits = " ".join(text for text in typed if text.strip())
        if waits and self._owner is not None:
            self._kept[self._owner] = typed
        self._owner = owner
        back = self._kept.pop(owner, ("",) * len(self._lines))
        for line, text in zip(self._lines, back, strict=True):
            line.setText(text)
        return waits


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


TYPING_MODIFIERS = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier


def is_letter(event: QEvent) -> bool:
    """Whether a key would type something: in a list it looks for what begins so."""
    return (
        isinstance(event, QKeyEvent)
        and not event.modifiers() & ~TYPING_MODIFIERS
        and event.text().isprintable()
        and event.text().strip() != ""
    )


OPENING = (
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_Home,
    Qt.Key.Key_End,
    Qt.Key.Key_Space,
    Qt.Key.Key_Return,
    Qt.Key.Key_Enter,
)
"""Keys that open a closed choice."""
TYPED_AHEAD_MS = 1500
"""Letters that come later begin another word."""


class _AheadFilter(QObject):
    """Letters typed into an open list of choices are looked for as a whole."""

    def __init__(self, box: Box) -> None:
        super().__init__(box)
        self._box = box

    @safe_override
    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        letter = event.type() in (QEvent.Type.KeyPress, QEvent.Type.ShortcutOverride)
        if not letter or not isinstance(event, QKeyEvent) or not event.text().isprintable():
            return False
        if not event.text() or event.modifiers() & ~TYPING_MODIFIERS:
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return False
        return self._box.look_for(event.text())


class Box(_Overriding, QComboBox):
    """A list to choose one from. Closed, it changes through its list alone: keys open it, the wheel
    scrolls what lies around. Letters look for an entry, all that are typed together; Enter takes
    it, Escape leaves what was."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._ahead, self._ahead_clock = "", QElapsedTimer()
        self.view().installEventFilter(_AheadFilter(self))

    def overrides(self, event: QKeyEvent) -> bool | None:
        """Letters are for looking."""
        return True if is_letter(event) else None

    def look_for(self, letters: str) -> bool:
        """Mark the entry that begins with what was typed together, or has it inside; False for a
        space that belongs to no entry."""
        if not self._ahead_clock.isValid() or self._ahead_clock.elapsed() > TYPED_AHEAD_MS:
            self._ahead = ""
        self._ahead_clock.start()
        if not self._ahead and letters == " ":
            return False
        words = (self._ahead + letters).casefold()
        rows = range(self.count())
        number = next((r for r in rows if self.itemText(r).casefold().startswith(words)), None)
        if number is None:
            number = next((r for r in rows if words.strip() in self.itemText(r).casefold()), None)
        if number is None and letters == " ":
            return False
        if number is not None:
            self._ahead = words
            self.view().setCurrentIndex(self.model().index(number, self.modelColumn()))
        return True

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        enter_typed()
        super().mousePressEvent(event)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        typed_letter = is_letter(event)
        if event.key() not in OPENING and not typed_letter:
            super().keyPressEvent(event)
            return
        if not self.count():
            return
        self._ahead = ""
        self.showPopup()
        row = self.currentIndex()
        if typed_letter:
            self.look_for(event.text())
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            row += 1 if event.key() == Qt.Key.Key_Down else -1
            row = max(0, min(self.count() - 1, row))
            self.view().setCurrentIndex(self.model().index(row, self.modelColumn()))

    @safe_override
    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()


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
    """A button. Enter presses it while it has the keys, whichever is the default."""

    def __init__(self, text: str = "", parent: QWidget | None = None, tip: str = "") -> None:
        super().__init__(text, parent)
        self.setAutoDefault(False)
        self.setToolTip(tip)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.isAutoRepeat():
            self.click()
        else:
            super().keyPressEvent(event)


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
