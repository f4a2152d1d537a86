"""The bare shell: its diameters and gaps, and whether a head will sit on it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Inspected
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Entry
from kesselton.ui.parts.widgets.columns import clear, column, fault_label
from kesselton.ui.parts.widgets.fields import Field
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label, MarkedLabel
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words.lengths_text import MISSING, LengthsText

if TYPE_CHECKING:
    from kesselton.core.measure.inspection import EdgeFound

SPANS = {
    "diameters_m": (0.1, 1.3, "355.6 355.2 355.9"),
    "gaps_m": (0.0, 0.02, "0 0.1 0.05 0"),
    "head_inside_m": (0.1, 1.4, "357"),
    "moulded_m": (0.1, 1.4, "355.6"),
}
"""Lowest, highest, and what a right one looks like in mm."""
SAME_CIRCLE_M = 0.00005
"""Half of what a line of diameters can tell."""
SEVERITY_MARKS = {"fine": "✓", "mind": "!", "repair": "✗"}
ROUND_THE_RIM = {"diameter": "diameters_m", "edge": "gaps_m"}
"""What is read of the bare shell at a rod, and the line that holds all of them."""


class ShellColumn(QWidget):
    """Lines for what was measured, and what it means.

    Signals
    -------
    inspected(Inspected) : to be kept with the drum
    changed : what stands in a line, entered or not
    reckoned(Drum) : the drum with its edge as it was found
    """

    inspected = Signal(object)
    changed = Signal()
    reckoned = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._entry: Entry | None = None
        self.lines: dict[str, Field] = {}
        around = QVBoxLayout(self)
        around.setContentsMargins(0, 0, 0, 0)
        part, box = column(_("Bare shell"))
        around.addWidget(part)
        for name, caption in (
            ("diameters_m", _("Diameters, mm, half turn from rod 1")),
            ("gaps_m", _("Gaps under a flat plate, mm, from rod 1")),
            ("head_inside_m", _("Inner diameter of new head’s hoop")),
            ("moulded_m", _("Molded film diameter (optional)")),
        ):
            lengths = LengthsText(name.endswith("s_m"), "mm", *SPANS[name])
            field = Field(caption, lengths.read, lengths.write)
            field.edited.connect(lambda value, name=name: self._on_edited(name, value))
            field.line.textChanged.connect(lambda text: self.changed.emit())
            self.lines[name] = field
            box.addWidget(field)
        self.verdicts = QGridLayout()
        self.verdicts.setColumnStretch(1, 1)
        self.fault = fault_label()
        box.addWidget(self.fault)
        box.addLayout(self.verdicts)
        self._drum_found: Drum | None = None
        self.reckon = Button("")
        self.reckon.clicked.connect(lambda: self.reckoned.emit(self._drum_found))
        self.reckoning = Label()
        self.reckoning.setProperty("quiet", True)
        self.reckoning.setWordWrap(True)
        box.addWidget(self.reckoning)
        box.addWidget(self.reckon)
        box.addStretch(1)

    def set_state(self, entry: Entry) -> list[tuple[str, str]]:
        """Show what is known of a drum; what stood typed for another one is dropped and returned
        (line, text)."""
        dropped = []
        if self._entry is not None and self._entry.id != entry.id:
            left = [(line.line.accessibleName(), line.let_go()) for line in self.lines.values()]
            dropped = [(name, text) for name, text in left if text]
        self._entry = entry
        inspection = entry.inspected or Inspected()
        for name, field in self.lines.items():
            field.set_state(getattr(inspection, name))
        self._judge(entry, inspection)
        return dropped

    # from rod to rod

    def places(self, kind: str) -> int:
        """At how many rods this is measured, from rod 1 on.

        Raises
        ------
        InputError
            If no diameter goes from rod to rod.
        """
        rods = self._entry.drum.shell.rods if self._entry is not None else 0
        if kind == "edge":
            return rods
        if rods % 2:
            raise InputError(
                _("With {rods} rods, no two rods are opposite.").format(rods=rods),
                _("Enter the diameters under “Bare shell”, at equal steps."),
            )
        return rods // 2

    def at_rods(self, kind: str) -> list[str]:
        """What stands in the line of this kind by rod; gaps where nothing does yet."""
        many = self.places(kind)
        parts = self.lines[ROUND_THE_RIM[kind]].line.text().split()
        return parts if len(parts) == many else [MISSING] * many

    def missing(self, kind: str, after: int = 0) -> int:
        """The next rod where this is to be measured: one that has none, else the next."""
        parts = self.at_rods(kind)
        for step in range(len(parts)):
            rod = (after + step) % len(parts) + 1
            if parts[rod - 1] == MISSING:
                return rod
        return after % len(parts) + 1

    def note(self, kind: str, rod: int, metres: float) -> None:
        """Write what was measured at a rod into its line, which is entered once it is whole.

        Raises
        ------
        InputError
            If nothing is measured at this rod, or it cannot be so long.
        """
        field, parts = self.lines[ROUND_THE_RIM[kind]], self.at_rods(kind)
        if not 1 <= rod <= len(parts):
            raise InputError(
                _("No need to measure at rod {rod}: rods 1 to {last} cover the rim.").format(
                    rod=rod, last=len(parts)
                )
            )
        low, high, example = SPANS[ROUND_THE_RIM[kind]]
        text = LengthsText.number(metres, "mm")
        LengthsText(False, "mm", low, high, example).read(text)
        parts[rod - 1] = text
        field.line.setText(" ".join(parts))
        if MISSING not in parts:
            field.line.enter()

    def _on_edited(self, name: str, value: object) -> None:
        if self._entry is not None:
            inspection = self._entry.inspected or Inspected()
            self.inspected.emit(replace(inspection, **{name: value}))  # type: ignore[arg-type]

    def _judge(self, entry: Entry, inspection: Inspected) -> None:
        from kesselton.core.measure.inspection import edge, edge_found, roundness, verdicts

        clear(self.verdicts)
        self.reckon.hide()
        self.reckoning.hide()
        self.fault.setText("")
        shell = entry.drum.shell
        rods = shell.rods
        round_, flat = None, None
        try:
            if inspection.diameters_m:
                round_ = roundness(inspection.diameters_m, rods)
            if inspection.gaps_m:
                flat = edge(inspection.gaps_m, rods, shell.beds_at or ())
        except InputError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()
            return
        skin = entry.drum.batter.head.is_skin
        beds = (shell.beds_at or ()) if entry.drum.kind == "snare" else None
        for row, verdict in enumerate(
            verdicts(round_, flat, inspection.head_inside_m, inspection.moulded_m, skin, beds, rods)
        ):
            mark = Label(SEVERITY_MARKS[verdict.severity])
            mark.setFont(font(13, QFont.Weight.Bold))
            text = MarkedLabel(
                _("<b>{what}</b><br>{advice}"), what=verdict.what, advice=verdict.advice
            )
            text.setWordWrap(True)
            self.verdicts.addWidget(mark, row, 0, Qt.AlignmentFlag.AlignTop)
            self.verdicts.addWidget(text, row, 1)
        if round_ is not None or flat is not None:
            self._offer(entry, edge_found(round_, flat, inspection.moulded_m, skin))

    def _offer(self, entry: Entry, edge_found: EdgeFound) -> None:
        """Offer to reckon with the edge as it was found, or say that it is done."""
        now = entry.drum.shell
        try:
            shell = edge_found.on(now)
            known = now.wear == shell.wear and (
                edge_found.contact_radius_m is None
                or abs(now.radius_m - edge_found.contact_radius_m) < SAME_CIRCLE_M
            )
            self._drum_found = None if known else replace(entry.drum, shell=shell)
        except InputError as error:
            self.fault.setText(f"{error.message} {error.remedy}")
            self.fault.show()
            return
        results = []
        if edge_found.wear is not None:
            results.append(_("edge {state}").format(state=shell.worn.label))
        if edge_found.contact_radius_m is not None:
            results.append(
                _("bearing diameter {mm:.1f} mm").format(mm=2000.0 * edge_found.contact_radius_m)
            )
        words = ", ".join(results)
        self.reckon.setText(_("Apply findings to shell"))
        self.reckon.setVisible(not known)
        message = (
            _("Applied to the shell: {words}. Usable range, drum pitch and ± include it.")
            if known
            else _("Found: {words}. Not yet in the usable range, drum pitch and ±.")
        )
        self.reckoning.setText(message.format(words=words))
        self.reckoning.setVisible(bool(words))
