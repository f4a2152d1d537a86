"""The fields of snare wires: everything may be left empty, and is usual then."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QWidget

from kesselton.core.errors import InputError
from kesselton.core.instrument import wires as w
from kesselton.core.instrument.drum import WIRED, Drum
from kesselton.core.instrument.wires import Wires
from kesselton.core.language import _, figures
from kesselton.core.units import format_length
from kesselton.ui.parts.widgets.fields import Choice, Field, length_field, number_field

GRAMS = 1000.0
NONE, ON, OFF = "", "on", "off"


class WiresFields(QWidget):
    """Strands, size, mass, pull and sag of a drum's wires.

    Signals
    -------
    edited(Wires or None)
    """

    edited = Signal(object)

    def __init__(self, metric: Callable[[], bool], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._metric = metric
        self._wires: Wires | None = None
        self.state = Choice(_("Snare wires"))
        self.state.chosen.connect(self._on_state)
        self.strands = _optional(number_field(_("Strands"), *w.STRANDS, "", whole=True))
        self.length = _optional(length_field(_("Wire length"), *w.LENGTHS_M, metric))
        self.across = _optional(length_field(_("Wire width"), *w.WIDTHS_M, metric))
        self.mass = _optional(
            number_field(_("Wire mass"), GRAMS * w.MASSES_KG[0], GRAMS * w.MASSES_KG[1], "g", 0)
        )
        self.pull = _optional(number_field(_("Strainer pull"), *w.PULLS_N, "N", 0))
        self.sag = _optional(length_field(_("Wire sag"), *w.SAGS_M, metric))
        self.sag.setToolTip(
            _(
                "How far the middle of the wires lies below their ends; empty: "
                "the depth of the beds."
            )
        )
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(8)
        for column in (0, 1):
            grid.setColumnStretch(column, 1)
        self.fields: dict[str, Field] = {
            "strands": self.strands, "length_m": self.length, "width_m": self.across,
            "mass_kg": self.mass, "pull_n": self.pull, "sag_m": self.sag,
        }  # fmt: skip
        for place, widget in enumerate((self.state, *self.fields.values())):
            grid.addWidget(widget, place // 2, place % 2)
        for name, field in self.fields.items():
            field.edited.connect(lambda value, name=name: self._set(name, value))

    def set_state(self, drum: Drum) -> None:
        """Show the wires of a drum; nothing of the kind on drums that have none."""
        self.setVisible(drum.kind in WIRED and drum.resonant is not None)
        snare = drum.kind == "snare"
        none = _("on, typical") if snare else _("none")
        self.state.set_options([(NONE, none), (ON, _("on")), (OFF, _("strainer off"))])
        self._wires = drum.wires
        wires = drum.wires
        self.state.set_state(NONE if wires is None else ON if wires.engaged else OFF)
        own, laid = drum.own_wires, drum.laid_wires
        for name, field in self.fields.items():
            field.setVisible(own is not None)
            if own is None or laid is None:
                continue
            given = getattr(own, name)
            shown = given if given is None or name != "mass_kg" else GRAMS * given
            field.set_state(shown)
            usual = float(getattr(laid, name))
            about = {
                "strands": figures(usual, ".0f"), "mass_kg": f"{figures(GRAMS * usual, '.0f')} g",
                "pull_n": f"{figures(usual, '.0f')} N",
            }.get(name) or format_length(usual, self._metric())  # fmt: skip
            field.line.setPlaceholderText(_("about {value}").format(value=about))

    def _on_state(self, state: str) -> None:
        if state == NONE:
            self.edited.emit(None)
            return
        self.edited.emit(replace(self._wires or Wires(), engaged=state == ON))

    def _set(self, name: str, value: float | int | None) -> None:
        if value is not None and name == "mass_kg":
            value = value / GRAMS
        try:
            wires = replace(self._wires or Wires(), **{name: value})  # type: ignore[arg-type]
        except InputError as error:
            self.fields[name].complain(f"{error.message} {error.remedy}")
            return
        self.edited.emit(wires)


def _optional(field: Field) -> Field:
    """A field that may be left empty."""
    read, write = field._read, field._write
    field._read = lambda text: read(text) if text.strip() else None
    field._write = lambda value: "" if value is None else write(value)
    return field
