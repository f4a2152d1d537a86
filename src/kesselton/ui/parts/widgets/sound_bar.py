"""What is playing, the other of two strokes, and saving the sound."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QWidget

from kesselton.core.language import _, begin
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label


class SoundBar(QFrame):
    """A line at the foot that appears with the first stroke listened to.

    Signals
    -------
    again_wanted(), other_wanted(), save_wanted(), closed()
    """

    again_wanted = Signal()
    other_wanted = Signal()
    save_wanted = Signal()
    closed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("soundbar")
        self.text = Label()
        self.other = Button(_("Previous (B)"))
        self.save = Button(_("Save sound…"))
        close = Button(_("Close"))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 4, 12, 4)
        layout.addWidget(self.text, 1)
        for button, signal in (
            (self.other, self.other_wanted),
            (self.save, self.save_wanted),
            (close, self.closed),
        ):
            button.clicked.connect(signal)
            layout.addWidget(button)
        self.hide()

    def set_state(self, text: str, names: list[str]) -> None:
        """Show what happens, and the strokes there are (the last one was heard last)."""
        if text:
            self.text.setText(begin(text))
        elif names:
            self.text.setText(_("Played: {names}").format(names=names[-1]))
        self.other.setEnabled(len(names) > 1)
        self.save.setEnabled(bool(names))
        if text or names:
            self.show()
