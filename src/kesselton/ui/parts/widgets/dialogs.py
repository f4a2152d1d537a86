"""Dialogs are as large as their letters ask, never larger than the screen, and throw nothing typed
away without asking."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QMessageBox

from kesselton.core.language import _
from kesselton.ui.parts.widgets.inputs import Line
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.tab_order import go_on
from kesselton.ui.parts.widgets.theme import px

MARGIN = 60
"""Left of a screen for what the desktop puts round a window."""


def size_dialog(dialog: QDialog, wide: int, high: int) -> None:
    """Give a dialog its first size, in pixels of the source."""
    room = dialog.screen().availableGeometry()
    dialog.resize(min(px(wide), room.width() - MARGIN), min(px(high), room.height() - MARGIN))


def close_box() -> QDialogButtonBox:
    """The one button of a dialog that only shows."""
    buttons = QDialogButtonBox()
    buttons.addButton(_("Close"), QDialogButtonBox.ButtonRole.RejectRole)
    return buttons


class Dialog(QDialog):
    """A dialog that Escape, its cross and Cancel leave at once, but for something typed in it."""

    @safe_override
    def focusNextPrevChild(self, next: bool) -> bool:
        return go_on(self, next)

    def would_lose(self) -> str:
        """What stands typed here and would go, in words; "" for nothing."""
        typed = (
            line.text() for line in self.findChildren(Line) if line.unsent and line.isVisible()
        )
        return next((text for text in typed if text.strip()), "")

    @safe_override
    def reject(self) -> None:
        """Leave, after asking where something would be lost."""
        lost = self.would_lose()
        if not lost or self._lets_go(lost):
            super().reject()

    def _lets_go(self, lost: str) -> bool:
        asked = QMessageBox(self)
        asked.setIcon(QMessageBox.Icon.NoIcon)
        asked.setWindowTitle(self.windowTitle())
        asked.setText(_("“{text}” is not kept yet.").format(text=lost))
        stay = asked.addButton(_("Go on writing"), QMessageBox.ButtonRole.RejectRole)
        drop = asked.addButton(_("Throw it away"), QMessageBox.ButtonRole.DestructiveRole)
        asked.setDefaultButton(stay)
        asked.setEscapeButton(stay)
        asked.exec()
        return asked.clickedButton() is drop
