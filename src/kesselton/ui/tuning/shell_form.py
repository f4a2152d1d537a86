"""The fields of the shell: what it is, what draws its heads, how its edges are."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtWidgets import QWidget

from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.instrument import drum as d
from kesselton.core.instrument import shell as sh
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.threads import THREADS
from kesselton.core.instrument.wires import Wires
from kesselton.core.language import _, figures
from kesselton.core.units import format_length
from kesselton.ui.parts.widgets.fields import (
    Choice,
    Field,
    guessable,
    length_field,
    mass_field,
    number_field,
    pitch_field,
)
from kesselton.ui.parts.words.beds_text import read_beds, write_beds
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.part_form import PartForm
from kesselton.ui.tuning.wires_fields import WiresFields


class ShellForm(PartForm):
    """Name, kind, size, rods and hoop of the drum."""

    def __init__(self, display: DisplayFormat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._display = display
        self.name = Field(_("Name"), _read_name, lambda v: v or "")
        self.kind = Choice(_("Kind"))
        self.kind.set_options(list(d.KINDS.items()))
        self.diameter = length_field(
            _("Head diameter"), sh.SMALLEST_HEAD_M, sh.LARGEST_HEAD_M, display.metric
        )
        self.shell_depth = guessable(
            length_field(_("Shell depth"), sh.SHALLOWEST_M, sh.DEEPEST_M, display.metric)
        )
        self.shell_depth.setToolTip(
            _("Add a question mark if this is a guess; the ± widens to match.")
        )
        self.rods = number_field(_("Rods"), const.MIN_RODS, const.MAX_RODS, "", whole=True)
        self.hoop = Choice(_("Hoop"))
        self.hoop.set_options([(h.name, h.label) for h in sh.HOOPS.values()])
        self.note = pitch_field(
            _("Shell note (optional)"),
            sh.LOWEST_SHELL_NOTE_HZ,
            sh.HIGHEST_SHELL_NOTE_HZ,
            display.a4_hz,
            display.note,
            optional=True,
        )
        self.vent = length_field(_("Shell vent"), 0.0, sh.WIDEST_VENT_M, display.metric)
        self._make_small(display)
        self.diameter.setToolTip(_("Inside of hoop to inside of hoop, with the head on."))
        for place, widget in enumerate(
            (
                self.name,
                self.kind,
                self.diameter,
                self.shell_depth,
                self.rods,
                self.hoop,
                self.note,
                self.vent,
                self.rod_thread,
                self.material,
                self.mass,
                self.mount,
                self.edge,
                self.wear,
                self.contact,
                self.drawn,
                self.lugs,
            )
        ):
            self.put(widget, place // 2, place % 2)
        self.put(self.beds, 8, 1)
        self.wires = WiresFields(display.metric)
        self.put(self.wires, 9, 0, 2)
        self._connect()

    def _make_small(self, display: DisplayFormat) -> None:
        self.rod_thread = Choice(_("Rod thread"))
        self.rod_thread.set_options([(t.name, t.label) for t in THREADS.values()])
        self.material = Choice(_("Material"))
        self.mass = mass_field(_("Mass without heads"), sh.LIGHTEST_KG, sh.HEAVIEST_KG)
        self.mass.setToolTip(_("Shell, hoops and hardware, without the heads; empty: estimated."))
        self.mount = Choice(_("Support"))
        self.edge = Choice(_("Bearing edge"))
        self.drawn = Choice(_("Tensioned by"))
        self.wear = Choice(_("Edge condition"))
        self.wear.set_options(
            [("", _("sound, typical")), *((w.name, w.label) for w in sh.WEARS.values())]
        )
        self.contact = _contact_field(display)
        self.contact.setToolTip(
            _("Diameter at which the heads bear on the edge; empty: from the edge profile.")
        )
        self.beds = Field(_("Snare beds"), read_beds, write_beds)
        self.beds.setToolTip(_("rod 1.5, 1.5 mm deep, 70 mm wide; second bed opposite"))
        self.lugs = Choice(_("Lugs"))
        self.lugs.set_options([("", _("separate, typical")), *sh.LUGS.items()])

    def _connect(self) -> None:
        self.wires.edited.connect(self._on_wires)
        self.name.edited.connect(lambda v: self._set(self.name, "name", name=v))
        self.kind.chosen.connect(self._on_kind)
        for field, key, label in (
            (self.diameter, "head_diameter_m", _("head diameter")),
            (self.rods, "rods", _("number of rods")),
            (self.note, "shell_note_hz", _("shell note")),
            (self.vent, "vent_diameter_m", "vent"),
        ):
            field.edited.connect(self._shell_setter(field, key, label))
        self.shell_depth.edited.connect(self._on_depth)
        self.beds.edited.connect(self._shell_setter(self.beds, "beds", _("snare beds")))
        self.contact.edited.connect(self._on_contact)
        self.hoop.chosen.connect(self._shell_setter(None, "hoop", "hoop"))
        self.rod_thread.chosen.connect(self._shell_setter(None, "rod_thread", _("rod thread")))
        self.mass.edited.connect(self._shell_setter(self.mass, "mass_kg", _("mass")))
        for choice, key, label in (
            (self.material, "material", _("shell material")),
            (self.mount, "mount", _("support")),
            (self.edge, "edge", _("bearing edge")),
            (self.drawn, "drawn", _("tensioning")),
            (self.lugs, "lugs", _("lugs")),
            (self.wear, "wear", _("edge condition")),
        ):
            choice.chosen.connect(self._shell_setter(None, key, label))

    def set_state(self, drum: Drum) -> None:
        """Show a drum."""
        self._drum = drum
        self.name.set_state(drum.name)
        self.kind.set_state(drum.kind)
        self.diameter.set_state(drum.shell.head_diameter_m)
        self.diameter.ask(size_question(drum.shell.head_diameter_m))
        self.shell_depth.set_state((drum.shell.depth_m, "depth" in drum.guessed))
        self.rods.set_state(drum.shell.rods)
        self.hoop.set_state(drum.shell.hoop)
        self.note.set_state(drum.shell.shell_note_hz)
        self.vent.set_state(drum.shell.vent_diameter_m)
        self.rod_thread.set_state(drum.shell.rod_thread)
        shell = drum.shell
        usual = replace(shell, material=None, mount=None, edge=None, drawn=None)
        shell_material, held = usual.made_of, usual.usual_mount(drum.kind)
        for choice, caption, known, typical, chosen in (
            (self.material, _("Material"), sh.SHELL_MATERIALS, shell_material, shell.material),
            (self.mount, _("Support"), sh.MOUNTS, held, shell.mount),
            (self.edge, _("Bearing edge"), sh.EDGES, usual.usual_edge, shell.edge),
            (self.drawn, _("Tensioned by"), sh.DRAWN, usual.usual_drawn, shell.drawn),
        ):
            options = [("", _("{value}, typical").format(value=typical.label))]
            choice.set_options(options + [(m.name, m.label) for m in known.values()])
            choice.set_state(chosen or "")
            choice.caption.setText(
                caption if chosen else _("{caption} (assumed)").format(caption=caption)
            )
        self.lugs.set_state(shell.lugs or "")
        self.wear.set_state(shell.wear or "")
        self.beds.set_state(shell.beds)
        self.beds.setVisible(drum.kind == "snare" or shell.beds is not None)
        self.wires.set_state(drum)
        measured = shell.contact_radius_m
        self.contact.set_state(None if measured is None else 2.0 * measured)
        by_edge = format_length(2.0 * shell.radius_m, self._display.metric())
        self.contact.line.setPlaceholderText(_("about {value}").format(value=by_edge))
        guess = replace(shell, mass_kg=None).own_mass(drum.kind)[0]
        self.mass.line.setPlaceholderText(
            _("about {value}").format(value=f"{figures(guess, '.1f')} kg")
        )
        self.mass.set_state(shell.mass_kg)

    def _on_kind(self, kind: str) -> None:
        """Wires go where a drum of that kind has none."""
        drum = self._drum
        if drum is not None:
            wires = drum.wires if kind in d.WIRED else None
            self._set(self.name, "kind", kind=kind, wires=wires)

    def _on_wires(self, wires: Wires | None) -> None:
        drum = self._drum
        if drum is not None:
            self.attempt(None, _("snare wires"), lambda: replace(drum, wires=wires))

    def _on_contact(self, across_m: float | None) -> None:
        radius = None if across_m is None else 0.5 * across_m
        setter = self._shell_setter(self.contact, "contact_radius_m", _("bearing diameter"))
        setter(radius)

    def _on_depth(self, value: tuple[float, bool]) -> None:
        drum = self._drum
        if drum is not None:
            depth_m, guessed = value
            self.attempt(
                self.shell_depth,
                _("shell depth"),
                lambda: replace(drum, shell=replace(drum.shell, depth_m=depth_m)).guessing(
                    "depth", guessed
                ),
            )

    def _set(self, field: Field, label: str, **values: Any) -> None:
        drum = self._drum
        if drum is not None:
            self.attempt(field, label, lambda: replace(drum, **values))

    def _shell_setter(self, field: Field | None, key: str, label: str) -> Callable[[Any], None]:
        def change(value: Any) -> None:
            drum = self._drum
            if drum is not None:
                changes: dict[str, Any] = {key: None if value == "" else value}
                if key == "head_diameter_m":
                    changes["contact_radius_m"] = None
                self.attempt(
                    field, label, lambda: replace(drum, shell=replace(drum.shell, **changes))
                )

        return change


ODD_IN = 0.12
"""Heads are sold by whole inches; what is so far off is asked about."""


def size_question(diameter_m: float) -> str:
    """Whether a size that no head is sold in was measured at the hoop; "" for all others."""
    inches = diameter_m / const.METRE_PER_INCH
    whole = math.ceil(inches) if inches % 1.0 > 0.5 else math.floor(inches)
    if abs(inches - whole) <= ODD_IN:
        return ""
    return _(
        "A {whole} in head? Measure inside the hoop: a shell is smaller than its head, a wooden "
        "hoop larger."
    ).format(whole=whole)


def _read_name(text: str) -> str:
    if not text.strip():
        raise InputError(_("The drum has no name."), _("Enter one."))
    if len(text.strip()) > 80:
        raise InputError(_("The name is too long."), _("Use up to 80 characters."))
    return text.strip()


def _contact_field(display: DisplayFormat) -> Field:
    """Diameter of the circle the heads bear on; empty where nobody measured it."""
    plain = length_field(
        _("Bearing diameter"), 0.9 * sh.SMALLEST_HEAD_M, 1.02 * sh.LARGEST_HEAD_M, display.metric
    )
    read = plain._read
    plain._read = lambda text: read(text) if text.strip() else None
    return plain
