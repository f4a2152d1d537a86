"""Dialogs are as large as their letters ask, and never larger than the screen."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog

from kesselton.ui.parts.theme import px

MARGIN = 60
"""Left of a screen for what the desktop puts round a window."""


def size_dialog(dialog: QDialog, wide: int, high: int) -> None:
    """Give a dialog its first size, in pixels of the source."""
    room = dialog.screen().availableGeometry()
    dialog.resize(min(px(wide), room.width() - MARGIN), min(px(high), room.height() - MARGIN))
