"""The heads in store: favourites and stock by size, and heads of one's own by scale or pitch."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.workshop.head_stock import Offer, filtered, offers
from kesselton.core import constants as const
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import head_size_in
from kesselton.core.instrument.materials import MATERIALS
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Workshop
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.fields import (
    Choice,
    length_field,
    number_field,
    pitch_field,
)
from kesselton.ui.parts.widgets.inputs import Button, Finder, Line
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.table import Table, TableModel
from kesselton.ui.parts.widgets.theme import font

MAX_STOCK = 999
LIKED, STOCK = 2, 3


class StoreDialog(Dialog):
    """Everything on offer for the size of the drum on the bench.

    Signals
    -------
    shelved(Shelved) : another note of one head; head_made(Head) : a new head for the library
    """

    shelved = Signal(object)
    head_made = Signal(object)

    def __init__(
        self,
        drum: Drum,
        workshop: Workshop,
        metric: Callable[[], bool],
        a4: Callable[[], float],
        show: Callable[[float], str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Heads in stock"))
        size_dialog(self, 860, 640)
        self._drum, self._workshop = drum, workshop
        size = head_size_in(drum)
        title = Label(_("{size:g} in heads").format(size=size))
        title.setFont(font(12, QFont.Weight.DemiBold))
        self.search = Finder(_("Search heads"))
        self.search.textChanged.connect(lambda text: self._fill())
        captions = (
            _("Head"), _("Typical character"), _("Favorite"), _("In stock"),
        )  # fmt: skip
        self.table = Table(
            TableModel(captions, ticks=[LIKED], counts=[STOCK], bold=[0], changed=self._on_changed),
            _("Available heads"), MAX_STOCK,
        )  # fmt: skip
        self.table.set_widths((270, 0, 80, 80))
        self._all: list[Offer] = []
        self.shown: list[Offer] = []
        self.form = OwnHeadForm(drum, workshop, metric, a4, show)
        self.form.created.connect(self._on_made)
        close = Button(_("Close"))
        close.clicked.connect(self.accept)
        top = QHBoxLayout()
        top.addWidget(title)
        top.addStretch(1)
        top.addWidget(self.search)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(close)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.form)
        layout.addLayout(foot)
        self._gather()

    def set_state(self, workshop: Workshop) -> None:
        """Follow the workshop."""
        self._workshop = workshop
        self._gather()

    def _gather(self) -> None:
        """All heads on offer; looking for words in them costs no more than that then."""
        results: dict[str, Offer] = {}
        for side in self._drum.sides:
            for offer in offers(self._drum, self._workshop, side):
                results.setdefault(offer.head.name, offer)
        self._all = list(results.values())
        self._fill()

    def _fill(self) -> None:
        self.shown = filtered(self._all, self.search.text(), "all")
        self.table.rows.set_rows([self._row(offer) for offer in self.shown])

    def _row(self, offer: Offer) -> tuple[str, str, bool, int]:
        name, size = offer.head.name, offer.shelved.size_in
        noted = self._workshop.shelved(name, size)
        character = _("{character} · {base_density_kg_per_m2:.2f} kg/m²").format(
            character=offer.character,
            base_density_kg_per_m2=offer.head.base_density_kg_per_m2,
        )
        return name, character, noted.favourite, noted.stock

    def _on_changed(self, row: int, column: int, value: Any) -> None:
        shelved = self.shown[row].shelved
        before = self._workshop.shelved(shelved.head_name, shelved.size_in)
        noted = replace(before, **{"favourite" if column == LIKED else "stock": value})
        self._workshop = self._workshop.with_shelved(noted)
        self.shelved.emit(noted)

    def _on_made(self, head: Head) -> None:
        self._workshop = replace(self._workshop, library=(*self._workshop.library, head))
        self.head_made.emit(head)
        self._gather()


class OwnHeadForm(QWidget):
    """Adds a head that was weighed, or heard beside a known one.

    Signals
    -------
    made(Head)
    """

    created = Signal(object)

    def __init__(
        self,
        drum: Drum,
        workshop: Workshop,
        metric: Callable[[], bool],
        a4: Callable[[], float],
        show: Callable[[float], str],
    ) -> None:
        super().__init__()
        self._drum, self._workshop = drum, workshop
        self.name = Line()
        self.name.setPlaceholderText(_("name of the head"))
        self.name.setAccessibleName(_("Name of the head"))
        self.material = Choice(_("Material"))
        self.material.set_options([(m.name, m.label) for m in MATERIALS.values()])
        self.material.set_state("polyester_film")
        self._material = "polyester_film"
        self.material.chosen.connect(self._on_material)
        self.mass = number_field(_("Weight on scale"), 5.0, 5000.0, "g", 0)
        self.hoop = number_field(_("Flesh hoop weight"), 0.0, 4000.0, "g", 0)
        self.diameter = length_field(_("Film diameter"), 0.1, 1.5, metric)
        self.known = Choice(_("Or compare with head"))
        self.known.set_options(
            [(h, h.name) for h in workshop.library if not h.additions and h.plies_m]
        )
        self._known: Head | None = next(
            (h for h in workshop.library if not h.additions and h.plies_m), None
        )
        self.known.set_state(self._known)
        self.known.chosen.connect(self._on_known)
        self.known_hz = pitch_field(
            _("Its lug pitch"),
            const.LOWEST_PITCH_HZ,
            const.HIGHEST_PITCH_HZ,
            a4,
            show,
            optional=True,
        )
        self.own_hz = pitch_field(
            _("Lug pitch of this one"),
            const.LOWEST_PITCH_HZ,
            const.HIGHEST_PITCH_HZ,
            a4,
            show,
            optional=True,
        )
        self.hoop.set_state(0.0)
        self.diameter.set_state(drum.shell.head_diameter_m)
        self._lay_out()

    def _lay_out(self) -> None:
        for field in (self.mass, self.hoop, self.diameter, self.known_hz, self.own_hz):
            field.edited.connect(field.set_state)
        self.fault = Label()
        self.fault.setProperty("fault", True)
        self.fault.setWordWrap(True)
        self.add = Button(_("Add head"))
        self.add.clicked.connect(self.make)
        title = Label(_("Custom head: weigh it, or compare its pitch at the same gauge reading"))
        title.setFont(font(10, QFont.Weight.DemiBold))
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        for column in range(4):
            grid.setColumnStretch(column, 1)
        grid.setHorizontalSpacing(10)
        grid.addWidget(title, 0, 0, 1, 4)
        grid.addWidget(self.name, 1, 0, Qt.AlignmentFlag.AlignBottom)
        for place, widget in enumerate((self.material, self.mass, self.hoop), start=1):
            grid.addWidget(widget, 1, place)
        for place, widget in enumerate((self.diameter, self.known, self.known_hz, self.own_hz)):
            grid.addWidget(widget, 2, place)
        grid.addWidget(self.fault, 3, 0, 1, 3)
        grid.addWidget(self.add, 3, 3)

    def _on_material(self, key: str) -> None:
        self._material = key
        self.material.set_state(key)

    def _on_known(self, head: Head) -> None:
        self._known = head
        self.known.set_state(head)

    def make(self) -> None:
        """Make the head from what is filled in, or say what is missing."""
        try:
            head = self._head()
        except KesseltonError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            return
        self.fault.setText(
            _("Added {name}: {base_density_kg_per_m2:.3f} kg/m².").format(
                name=head.name, base_density_kg_per_m2=head.base_density_kg_per_m2
            )
        )
        self.created.emit(head)

    def _head(self) -> Head:
        from kesselton.core.measure.areal_density import density_from_pitches, density_from_weight

        name = self.name.text().strip()
        if not name:
            raise InputError(_("The head has no name."), _("Enter one."))
        if any(head.name == name for head in self._workshop.library):
            raise InputError(
                _("The head {name!r} exists already.").format(name=name), _("Choose another name.")
            )
        plain = Head(name, self._material, areal_density_kg_per_m2=0.35)
        if self.mass.value is not None:
            density = density_from_weight(
                self.mass.value / 1000.0, self.diameter.value, (self.hoop.value or 0.0) / 1000.0
            )
        elif self._known is not None and self.known_hz.value and self.own_hz.value:
            density = density_from_pitches(
                self._drum, self._known, self.known_hz.value, plain, self.own_hz.value
            )
        else:
            raise InputError(
                _("Neither a weight nor two lug pitches are entered."),
                _("Weigh the head, or choose a known head and enter both pitches."),
            )
        return replace(plain, areal_density_kg_per_m2=density)
