"""Which drums of the workshop belong to a set, and how each of them stands in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _, each
from kesselton.core.sets.model.kit import Kit, usual_seat
from kesselton.ui.parts.widgets.columns import fault_label
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.fields import Field
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.table import Table, TableModel

DRUMS_CAPTIONS = (N_("In set"), N_("Drum"), N_("Locked"), N_("Not in chord"))

IN_SET, NAME, LOCKED, APART = range(4)


class DrumsDialog(Dialog):
    """Ticks: in the set, locked as it is, apart from the chord. `kit` is what was chosen."""

    def __init__(
        self, kit: Kit, drums: Sequence[tuple[int, Drum]], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Drums in the set"))
        size_dialog(self, 560, 480)
        self.kit = self._before = kit
        self._drums = list(drums)
        self.name = Field(_("Set name"), _named, lambda value: value or "")
        self.name.set_state(kit.name)
        self.name.edited.connect(self._on_name)
        self.table = Table(
            TableModel(
                each(DRUMS_CAPTIONS),
                ticks=[IN_SET, LOCKED, APART],
                changed=self._on_tick,
            ),
            _("Drums in the set"),
        )
        self.table.set_widths((70, 0, 110, 150))
        self.fault = fault_label()
        about = Label(
            _(
                "A drum can be in several sets. Locked drums count but are not "
                "retuned. A snare drum stays out of the chord: its batter is "
                "set by feel; its snare side may move."
            )
        )
        about.setProperty("quiet", True)
        about.setWordWrap(True)
        done, cancel = Button(_("Done")), Button(_("Cancel"))
        done.setDefault(True)
        done.clicked.connect(self.accept)
        cancel.clicked.connect(self.reject)
        foot = QHBoxLayout()
        foot.addWidget(self.fault, 1)
        foot.addStretch(1)
        for button in (done, cancel):
            foot.addWidget(button)
        layout = QVBoxLayout(self)
        for widget in (self.name, self.table, about):
            layout.addWidget(widget)
        layout.addLayout(foot)
        self._fill()

    def _row(self, number: int, drum: Drum) -> tuple[Any, ...]:
        seat = self.kit.seat(number)
        return (
            seat is not None,
            drum.name,
            seat is not None and seat.locked,
            seat is not None and seat.apart,
        )

    def _fill(self) -> None:
        self.table.rows.set_rows([self._row(number, drum) for number, drum in self._drums])

    def _on_name(self, name: str) -> None:
        self.kit = replace(self.kit, name=name)

    def _on_tick(self, row: int, column: int, on: bool) -> None:
        number, drum = self._drums[row]
        seat = self.kit.seat(number)
        try:
            if column == IN_SET:
                self.kit = (
                    self.kit.with_seat(usual_seat(number, drum, self.kit.seats))
                    if on and seat is None
                    else self.kit
                    if on
                    else self.kit.without(number)
                )
            elif seat is None:
                seat = usual_seat(number, drum, self.kit.seats)
                self.kit = self.kit.with_seat(seat)
            if seat is not None and column in (LOCKED, APART):
                turned = replace(seat, locked=on) if column == LOCKED else replace(seat, apart=on)
                self.kit = self.kit.with_seat(turned)
            self.fault.hide()
        except InputError as error:
            self.fault.setText(error.one_line())
            self.fault.show()
        self.table.rows.replace_row(row, self._row(number, drum))

    def would_lose(self) -> str:
        """Ticks and the name go with the dialog."""
        return super().would_lose() or (
            _("The choice of drums") if self.kit != self._before else ""
        )

    @safe_override
    def accept(self) -> None:
        """Take what is ticked and typed."""
        if self.name.line.unsent and not self.name.line.enter():
            return
        super().accept()


def _named(text: str) -> str:
    bare = text.strip()
    if not bare or len(bare) > 80:
        raise InputError(_("A set needs a name of up to 80 characters."), _("Enter one."))
    return bare
