"""Handbook, keys and what the program is: all offline."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QTextDocument
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from kesselton import __version__
from kesselton.core.language import _
from kesselton.resources import text_of
from kesselton.ui.menu.actions import KEYS_ON_SCREEN, shortcut_list
from kesselton.ui.parts.widgets.columns import scroll
from kesselton.ui.parts.widgets.dialogs import Dialog, close_box, size_dialog
from kesselton.ui.parts.widgets.inputs import Button, Finder
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import font, px


class HandbookDialog(Dialog):
    """The handbook; the search goes from place to place."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Handbook"))
        size_dialog(self, 720, 640)
        self.page = QTextBrowser()
        self.page.setMarkdown(text_of("handbook.md"))
        self.page.setAccessibleName(_("Handbook"))
        self.finder = Finder(_("Search"))
        self.finder.setClearButtonEnabled(True)
        self.next = Button(_("Find next"))
        self.fault = Label()
        self.fault.setProperty("fault", True)
        top = QHBoxLayout()
        top.addWidget(self.finder, 1)
        top.addWidget(self.next)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.fault)
        layout.addWidget(self.page, 1)
        layout.addWidget(_close(self))
        self.finder.textChanged.connect(lambda text: self.look(anew=True))
        self.finder.returnPressed.connect(self.look)
        self.next.clicked.connect(self.look)
        self.finder.setFocus()

    def look(self, anew: bool = False) -> None:
        """To the next place where the words stand; after the last comes the first."""
        text = self.finder.text().strip()
        if anew or not text:
            cursor = self.page.textCursor()
            cursor.setPosition(0)
            self.page.setTextCursor(cursor)
        hit = not text or self.page.find(text) or self._from_the_top(text)
        self.fault.setText("" if hit else _("“{text}” not found.").format(text=text))

    def _from_the_top(self, text: str) -> bool:
        cursor = self.page.textCursor()
        cursor.setPosition(0)
        self.page.setTextCursor(cursor)
        return bool(self.page.find(text, QTextDocument.FindFlag(0)))


class KeysDialog(Dialog):
    """Every key, to be scrolled and searched."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Shortcuts"))
        size_dialog(self, 560, 560)
        self.finder = Finder(_("Search"))
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setHorizontalSpacing(24)
        grid.setColumnStretch(1, 1)
        self.rows: list[tuple[QLabel, QLabel]] = []
        for row, (keys, text) in enumerate(
            [*shortcut_list(), *((_(keys), _(text)) for keys, text in KEYS_ON_SCREEN)]
        ):
            name, what = Label(keys), Label(text)
            name.setFont(font(10, QFont.Weight.DemiBold))
            what.setWordWrap(True)
            grid.addWidget(name, row, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(what, row, 1)
            self.rows.append((name, what))
        grid.setRowStretch(len(self.rows), 1)
        layout = QVBoxLayout(self)
        layout.addWidget(self.finder)
        layout.addWidget(scroll(inside), 1)
        layout.addWidget(_close(self))
        self.finder.textChanged.connect(self._look)

    def _look(self, text: str) -> None:
        words = text.casefold().split()
        for name, what in self.rows:
            row = f"{name.text()} {what.text()}".casefold()
            for label in (name, what):
                label.setVisible(all(word in row for word in words))


class AboutDialog(Dialog):
    """Which program, which version, under which terms."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("About Kesselton"))
        title = Label(_("Kesselton {version}").format(version=__version__))
        title.setFont(font(16, QFont.Weight.Bold))
        text = Label(
            _(
                "Computes how a drum will sound before you open a head, guides "
                "you through fitting and clearing, and logs your readings.\n\n"
                "Free software under the Apache License 2.0. Built with "
                "Python, Qt for Python (LGPL 3), NumPy and SciPy (BSD), and "
                "others listed in its lock file; fonts: Inter (OFL 1.1) and "
                "DejaVu Sans.\n\nYour data stays on this computer."
            )
        )
        text.setWordWrap(True)
        text.setMinimumWidth(px(420))
        for label in (title, text):
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout = QVBoxLayout(self)
        layout.setSpacing(12)
        for widget in (title, text, _close(self)):
            layout.addWidget(widget)


def _close(dialog: QDialog) -> QDialogButtonBox:
    buttons = close_box()
    buttons.rejected.connect(dialog.reject)
    return buttons
