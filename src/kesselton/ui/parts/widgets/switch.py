"""A row of words of which one is chosen: the stages of the work, the panels of a stage."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QWidget

from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.theme import px


class Switch(QWidget):
    """Buttons by key, a line after the `first` so many; the first is chosen.

    Signals
    -------
    chosen(str key)
    """

    chosen = Signal(str)

    def __init__(
        self, options: Sequence[tuple[str, str]], first: int = 0, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.buttons: dict[str, Button] = {}
        group, row = QButtonGroup(self), QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        for place, (key, text) in enumerate(options):
            if first and place == first:
                line = QFrame()
                line.setObjectName("between")
                line.setFixedSize(px(1), px(20))
                row.addSpacing(px(4))
                row.addWidget(line)
                row.addSpacing(px(4))
            button = Button(text)
            button.setObjectName("stage")
            button.setCheckable(True)
            group.addButton(button)
            button.clicked.connect(lambda on=False, key=key: self.chosen.emit(key))
            row.addWidget(button)
            self.buttons[key] = button
        row.addStretch(1)
        self.buttons[options[0][0]].setChecked(True)

    def set_state(self, key: str) -> None:
        """Show which is chosen."""
        self.buttons[key].setChecked(True)
