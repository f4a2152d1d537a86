"""What an empty workshop shows: the one way on."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import Colours, font, px

WIDTH = 420


class FirstDrum(QWidget):
    """Stands where the stages are while there is no drum.

    Signals
    -------
    add_wanted, file_wanted, demo_wanted
    """

    add_wanted = Signal()
    file_wanted = Signal()
    demo_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        title, text = (
            Label(_("No drums yet")),
            Label(
                _(
                    "Choose the kind and size of the drum on the bench. Kesselton "
                    "then shows what its heads can do and guides you through "
                    "fitting and clearing them."
                )
            ),
        )
        title.setFont(font(22, QFont.Weight.Bold))
        text.setFont(font(13))
        text.setWordWrap(True)
        self.add = Button(_("Add your first drum"))
        self.add.setObjectName("main")
        self.add.setFont(font(15, QFont.Weight.Bold))
        self.add.setMinimumHeight(px(56))
        self.file, self.demo = Button(_("Import a drum file…")), Button(_("Open the demo workshop"))
        inside = QWidget()  # of a fixed width, so that the text is as high as it must be
        inside.setFixedWidth(px(WIDTH))
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(14)
        title.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        for widget in (title, text, self.add, self.file, self.demo):
            if isinstance(widget, Button):
                widget.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            column.addWidget(widget)
        across = QHBoxLayout()
        across.addStretch(1)
        across.addWidget(inside)
        across.addStretch(1)
        layout = QVBoxLayout(self)
        layout.addStretch(2)
        layout.addLayout(across)
        layout.addStretch(3)
        for button, signal in (
            (self.add, self.add_wanted),
            (self.file, self.file_wanted),
            (self.demo, self.demo_wanted),
        ):
            button.clicked.connect(signal)
        self.setFocusProxy(self.add)

    def set_colours(self, colours: Colours) -> None:
        """Nothing is painted here."""

    def stop(self) -> None:
        """Nothing runs here."""
