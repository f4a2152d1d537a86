"""What the forms of the parts of a drum have in common."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.ui.parts.widgets.fields import Field


class PartForm(QWidget):
    """A grid of fields; `edited` carries a label for undo and the new drum, `refused` what is wrong
    with something chosen from a list."""

    edited = Signal(str, object)
    refused = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._drum: Drum | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(12)
        self._grid.setVerticalSpacing(8)
        self._grid.setColumnStretch(0, 1)
        self._grid.setColumnStretch(1, 1)
        outer.addLayout(self._grid)
        outer.addStretch(1)

    def put(self, widget: QWidget, row: int, column: int, span: int = 1) -> None:
        self._grid.addWidget(widget, row, column, 1, span, Qt.AlignmentFlag.AlignTop)

    def attempt(self, field: Field | None, label: str, make: Callable[[], Drum]) -> None:
        """Emit the drum `make` builds, or put what is wrong with it at the field."""
        try:
            drum = make()
        except InputError as error:
            if field is None:
                self.refused.emit(error)
                return
            field.complain(f"{error.message} {error.remedy}")
            return
        self.edited.emit(label, drum)
