"""What the technician is asked by dialogs of the desktop: one object, given to all commands."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QInputDialog, QLineEdit, QMessageBox, QWidget

from kesselton.core.language import _


class Asking:
    """Asks for files, a line of text, and whether changes may be lost."""

    def __init__(self, parent: QWidget) -> None:
        self._parent = parent

    def open(self, title: str, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _unused = QFileDialog.getOpenFileName(self._parent, title, "", kinds)
        return Path(name) if name else None

    def open_many(self, title: str, kinds: str) -> list[Path]:
        """Files to read, or none."""
        names, _unused = QFileDialog.getOpenFileNames(self._parent, title, "", kinds)
        return [Path(name) for name in names]

    def save(self, title: str, suggestion: str, kinds: str) -> Path | None:
        """A file to write, or None."""
        suggestion = suggestion.replace("/", "-")  # names of drums may hold one
        name, _unused = QFileDialog.getSaveFileName(self._parent, title, suggestion, kinds)
        return Path(name) if name else None

    def taps(self) -> Path | None:
        """A recording of taps to read, or None."""
        return self.open(_("Open a recording of taps"), _("Sound (*.wav *.flac)"))

    def strokes(self) -> Path | None:
        """A recording of strokes to read, or None."""
        return self.open(_("Open a recording of strokes"), _("Sound (*.wav *.flac)"))

    def text(self, title: str, caption: str, text: str) -> str | None:
        """A line of text, or None."""
        message, ok = QInputDialog.getText(
            self._parent, title, caption, QLineEdit.EchoMode.Normal, text
        )
        return message if ok else None

    def may_lose_changes(self) -> bool:
        """True if the technician lets unsaved changes go."""
        answer = QMessageBox.question(
            self._parent,
            _("Not saved"),
            _(
                "The last changes could not be saved to this file. Close and "
                "lose them?\n“No” keeps the window open so that you can save a "
                "copy elsewhere."
            ),
        )
        return answer == QMessageBox.StandardButton.Yes
