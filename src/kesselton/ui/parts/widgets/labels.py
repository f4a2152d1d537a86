"""Labels that show text as it is: what somebody named a drum is never taken for markup."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtGui import QEnterEvent
from PySide6.QtWidgets import QLabel, QWidget

from kesselton.ui.parts.widgets.safe_override import safe_override


class _Copied(QLabel):
    """What a label says can be taken with the mouse: it learns that when the mouse comes, since a
    page has hundreds that nobody ever takes. The keys stay where they are."""

    @safe_override
    def enterEvent(self, event: QEnterEvent) -> None:
        if self.textInteractionFlags() == Qt.TextInteractionFlag.LinksAccessibleByMouse:
            self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        super().enterEvent(event)


class Label(_Copied):
    """Plain text, whatever stands in it."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class MarkedLabel(_Copied):
    """Markup of the program's own, with values in it that stay text."""

    def __init__(self, markup: str = "", parent: QWidget | None = None, **values: object) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.RichText)
        self.say(markup, **values)

    def say(self, markup: str, **values: object) -> None:
        """Show markup with values put in."""
        self.setText(marked(markup, **values))


def marked(markup: str, **values: object) -> str:
    """Markup with values put in as text."""
    return markup.format(**{
        name: escape(value) if isinstance(value, str) else value for name, value in values.items()
    })  # fmt: skip


def plain_tip(text: str) -> str:
    """A text for a tool tip, which would be taken for markup if it looked like it."""
    return f"<span>{escape(text)}</span>" if "<" in text else text
