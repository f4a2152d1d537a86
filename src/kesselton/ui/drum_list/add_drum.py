"""Adding a drum: by kind and size, like the one on the bench, or from a file."""

from __future__ import annotations

from textwrap import shorten

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFont, QPainter
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.workshop.usual_drums import USUAL, UsualSize, usual_drum
from kesselton.core.instrument import drum as d
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _, begin
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.dialogs import Dialog
from kesselton.ui.parts.widgets.inputs import Button, Rows
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.parts.widgets.theme import Colours, font, px
from kesselton.ui.parts.words import wording

WIDEST_M = 1.0


class _Preview(Picture):
    """The drum in section, all kinds to one scale."""

    def __init__(self) -> None:
        super().__init__()
        self._drum: Drum | None = None

    def set_state(self, drum: Drum) -> None:
        self._drum = drum
        self.update()

    def _paint(self, p: QPainter) -> None:
        box = QRectF(self.rect())
        if self._drum is not None:
            scale = min(box.width(), box.height()) / WIDEST_M
            paint_section(p, box, self._drum, self._colours, scale)


SHORT = 28
"""Letters of a name on a button."""


class AddDrumDialog(Dialog):
    """Kind, then size; what such a drum usually has is shown before it is added.

    Signals
    -------
    made(Drum) : of a kind and a size
    like_wanted, file_wanted : the other two ways
    """

    created = Signal(object)
    like_wanted = Signal()
    file_wanted = Signal()

    def __init__(
        self, like: str, metric: bool, colours: Colours, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Add drum"))
        self._metric = metric
        self.kinds, self.sizes = Rows(), Rows()
        self.kinds.setAccessibleName(_("Kind"))
        self.sizes.setAccessibleName(_("Size"))
        self.kinds.addItems([begin(label) for label in d.KINDS.values()])
        self.preview = _Preview()
        self.preview.setAccessibleName(_("Drum in cross section"))
        self.preview.set_colours(colours)
        self.advice = Label()
        self.advice.setWordWrap(True)
        self.advice.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.add = Button(_("Add drum"))
        self.add.setObjectName("main")
        self.add.setDefault(True)
        self.like = Button(_("Like “{name}”").format(name=shorten(like, SHORT, placeholder="…")))
        self.like.setVisible(bool(like))
        self.file = Button(_("From file…"))
        cancel = Button(_("Cancel"))
        self._lay_out(cancel)
        self.kinds.currentRowChanged.connect(self._on_kind)
        self.sizes.currentRowChanged.connect(lambda row: self._show())
        self.add.clicked.connect(self._on_add)
        for rows in (self.kinds, self.sizes):
            rows.itemActivated.connect(lambda item: self._on_add())
        self.like.clicked.connect(lambda: self._go(self.like_wanted))
        self.file.clicked.connect(lambda: self._go(self.file_wanted))
        cancel.clicked.connect(self.reject)
        self.kinds.setCurrentRow(0)
        self.kinds.setFocus()

    def _lay_out(self, cancel: Button) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for column, (caption, widget) in enumerate(
            ((_("Kind"), self.kinds), (_("Size"), self.sizes), ("", self.preview))
        ):
            label = Label(caption)
            label.setFont(font(11, QFont.Weight.DemiBold))
            grid.addWidget(label, 0, column)
            grid.addWidget(widget, 1, column)
        grid.addWidget(self.advice, 2, 0, 1, 3)
        grid.setColumnStretch(2, 1)
        self.preview.setMinimumSize(240, 200)
        for rows in (self.kinds, self.sizes):
            rows.setMinimumWidth(px(170))
        foot = QHBoxLayout()
        foot.addWidget(self.like)
        foot.addWidget(self.file)
        foot.addStretch(1)
        foot.addWidget(cancel)
        foot.addWidget(self.add)
        layout = QVBoxLayout(self)
        layout.addLayout(grid)
        layout.addLayout(foot)

    @property
    def kind(self) -> str:
        """The kind chosen."""
        return list(d.KINDS)[max(self.kinds.currentRow(), 0)]

    @property
    def size_chosen(self) -> UsualSize:
        """The size chosen."""
        return USUAL[self.kind].sizes[max(self.sizes.currentRow(), 0)]

    @property
    def drum(self) -> Drum:
        """What would be added."""
        return usual_drum(self.kind, self.size_chosen)

    def _on_kind(self, row: int) -> None:
        self.sizes.clear()
        for size in USUAL[self.kind].sizes:
            self.sizes.addItem(wording.size_words(usual_drum(self.kind, size), self._metric))
        self.sizes.setCurrentRow(0)

    def _show(self) -> None:
        drum = self.drum
        self.preview.set_state(drum)
        heads = " · ".join(
            f"{wording.side_word(drum, side)}: {drum.setting(side).head.name}"
            for side in drum.sides
        )
        self.advice.setText(
            _(
                "{rods} per head. {heads}. Typical for the kind; you can change everything later."
            ).format(rods=drum.rod_count, heads=heads)
        )

    def _on_add(self) -> None:
        self.created.emit(self.drum)
        self.accept()

    def _go(self, way: object) -> None:
        self.accept()
        way.emit()  # type: ignore[attr-defined]
