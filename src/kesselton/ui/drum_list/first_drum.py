"""What an empty workshop shows: three ways to begin."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import Colours, font, px

CARD_WIDTH, GAP = 248, 16


class Card(QFrame):
    """One way to begin: what it is, what it brings, and its button."""

    def __init__(self, title: str, text: str, button: Button) -> None:
        super().__init__()
        self.setObjectName("card")
        self.setFixedWidth(px(CARD_WIDTH))
        head, words = Label(title), Label(text)
        head.setFont(font(15, QFont.Weight.Bold))
        for label in (head, words):
            label.setWordWrap(True)
        words.setAlignment(Qt.AlignmentFlag.AlignTop)
        button.setFont(font(13, QFont.Weight.DemiBold))
        button.setMinimumHeight(px(44))
        button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        button.setAccessibleDescription(text)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 16)
        column.setSpacing(10)
        column.addWidget(head)
        column.addWidget(words, 1)
        column.addWidget(button)

    @property
    def tall(self) -> int:
        """How high it must be for its words."""
        layout = self.layout()
        assert layout is not None
        return layout.totalHeightForWidth(px(CARD_WIDTH))


class FirstDrum(QWidget):
    """Stands where the stages are while there is no drum.

    Signals
    -------
    add_wanted(str page) : a drum, and the page to go on with, "" for Tuning
    file_wanted, demo_wanted
    """

    add_wanted = Signal(str)
    file_wanted = Signal()
    demo_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        title = Label(_("No drums yet"))
        title.setFont(font(22, QFont.Weight.Bold))
        title.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.heads, self.clear = Button(_("Choose heads")), Button(_("Clear a head"))
        self.demo = Button(_("See the demo"))
        self.add, self.file = Button(_("Add your first drum")), Button(_("Import a drum file…"))
        self.heads.setObjectName("main")
        cards = (
            Card(
                _("New heads for a drum"),
                _("Say which drum it is. Kesselton ranks the heads for it before you buy one."),
                self.heads,
            ),
            Card(
                _("A head on the bench"),
                _("Read it at each rod. Kesselton says which to turn, which way and how far."),
                self.clear,
            ),
            Card(
                _("Look around first"),
                _("The percussion store of an invented opera: its drums, sets, shows and log."),
                self.demo,
            ),
        )
        row = QWidget()
        flow = FlowLayout(row, spacing=GAP)
        flow.setContentsMargins(0, 0, 0, 0)
        tall = max(card.tall for card in cards)
        for card in cards:
            card.setFixedHeight(tall)
            flow.addWidget(card)
        row.setMaximumWidth(len(cards) * px(CARD_WIDTH) + (len(cards) - 1) * GAP)
        rest = QHBoxLayout()
        rest.addStretch(1)
        for button in (self.add, self.file):
            button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            rest.addWidget(button)
        rest.addStretch(1)
        across = QHBoxLayout()
        across.addStretch(1)
        across.addWidget(row, 1000)
        across.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setSpacing(20)
        layout.addStretch(2)
        layout.addWidget(title)
        layout.addLayout(across)
        layout.addLayout(rest)
        layout.addStretch(3)
        for button, page in ((self.heads, "heads"), (self.clear, "clear"), (self.add, "")):
            button.clicked.connect(lambda *_args, page=page: self.add_wanted.emit(page))
        self.file.clicked.connect(self.file_wanted)
        self.demo.clicked.connect(self.demo_wanted)
        self.setFocusProxy(self.heads)

    def set_colours(self, colours: Colours) -> None:
        """Nothing is painted here."""

    def stop(self) -> None:
        """Nothing runs here."""
