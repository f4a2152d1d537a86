"""The fields of the part that is chosen in the section."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QStackedWidget, QWidget

from kesselton.app.bench.bench import Strike
from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.instrument import drum as d
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import THICKEST_PLY_M, THINNEST_PLY_M, Head
from kesselton.core.instrument.materials import MATERIALS
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import _
from kesselton.core.units import format_thickness, parse_length
from kesselton.ui.parts.widgets.fields import (
    Choice,
    Field,
    guessable,
    may_shrink,
    number_field,
    pitch_field,
)
from kesselton.ui.parts.widgets.inputs import Tick
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.parts.words.head_text import Extras, head_name, read_extras, write_extras
from kesselton.ui.parts.words.muffling_text import read_mufflers, write_mufflers
from kesselton.ui.tuning.part_form import PartForm
from kesselton.ui.tuning.shell_form import ShellForm


class HeadForm(PartForm):
    """One head: which, of what, and how it is set."""

    def __init__(self, side: str, display: DisplayFormat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._side, self._display = side, display
        self._library: tuple[Head, ...] = ()
        self.head = Choice(_("Head"))
        self.plies = guessable(Field(_("Plies"), self._read_plies, self._write_plies))
        self.plies.setToolTip(_("Add a question mark if this is a guess; the ± widens to match."))
        self.material = Choice(_("Material"))
        self.material.set_options([(m.name, m.label) for m in MATERIALS.values()])
        self.coating = number_field(_("Coating"), 0.0, 0.5, "kg/m²")
        self.addition = Field(_("Dot, ring, port"), self._read_extras, self._write_extras)
        self.addition.line.setPlaceholderText(_("dot 4 in, 7 mil; port 5 in"))
        self.pitch = pitch_field(
            _("Lug pitch"),
            const.LOWEST_PITCH_HZ,
            const.HIGHEST_PITCH_HZ,
            display.a4_hz,
            display.note,
        )
        self.condition = Choice(_("Other head during reading"))
        self.condition.set_options([("muted", _("muted")), ("free", _("free"))])
        self.tension = number_field(
            _("Tension"), d.LOWEST_TENSION_N_PER_M, d.HIGHEST_TENSION_N_PER_M, "N/m", 0
        )
        self.muffling = Field(
            _("Muffling"),
            lambda text: read_mufflers(text, side),
            lambda value: write_mufflers(value, side),
        )
        self.muffling.line.setPlaceholderText(_("tape, rod 1.5, 80 %; ring"))
        self.open = Tick(_("Single-headed"))
        may_shrink(self.open)
        self.put(self.head, 0, 0, 2)
        for place, widget in enumerate(
            (
                self.plies,
                self.coating,
                self.material,
                self.addition,
                self.pitch,
                self.tension,
            )
        ):
            self.put(widget, 1 + place // 2, place % 2)
        self.put(self.condition, 4, 0, 2)
        self.put(self.muffling, 5, 0, 2)
        if side == "resonant":
            self.put(self.open, 6, 0)
        self._connect()

    def _connect(self) -> None:
        self.head.chosen.connect(self._on_head)
        self.plies.edited.connect(self._on_plies)
        self.material.chosen.connect(
            lambda v: self._change_head(self.plies, "material", material=v)
        )
        self.coating.edited.connect(
            lambda v: self._change_head(self.coating, "coating", coating_kg_per_m2=v)
        )
        self.addition.edited.connect(
            lambda v: self._change_head(
                self.addition, _("dot, ring, port"), additions=v[0], port_diameter_m=v[1]
            )
        )
        self.pitch.edited.connect(self._on_pitch)
        self.condition.chosen.connect(self._on_condition)
        self.tension.edited.connect(self._on_tension)
        self.muffling.edited.connect(self._on_muffling)
        self.open.clicked.connect(self._on_open)

    def set_library(self, library: tuple[Head, ...]) -> None:
        """Offer the heads of the workshop."""
        self._library = library

    def set_state(
        self, drum: Drum, pitch_hz: float | None = None, tension_n_per_m: float | None = None
    ) -> None:
        """Show a drum; pitch and tension as solved, where that is known."""
        self._drum = drum
        has = self._side in drum.sides
        self.open.setChecked(not has)
        for widget in (
            self.head,
            self.plies,
            self.material,
            self.coating,
            self.addition,
            self.pitch,
            self.condition,
            self.tension,
            self.muffling,
        ):
            widget.setEnabled(has)
        if not has:
            return
        setting = drum.setting(self._side)
        own = (
            []
            if setting.head in self._library
            else [(setting.head, _("{name} (custom)").format(name=setting.head.name))]
        )
        self.head.set_options(own + [(head, head.name) for head in self._library])
        self.head.set_state(setting.head)
        guessed = f"{self._side}_plies" in drum.guessed
        self.plies.set_state((setting.head.plies_m, guessed))
        self.material.set_state(setting.head.material)
        self.coating.set_state(setting.head.coating_kg_per_m2)
        self.addition.set_state((setting.head.additions, setting.head.port_diameter_m))
        self.muffling.set_state(tuple(m for m in drum.mufflers if m.side == self._side))
        reading = setting.reading
        self.condition.set_state(reading.other_head if reading else "muted")
        self.pitch.set_state(reading.hz if reading else pitch_hz)
        self.tension.set_state(
            setting.tension_n_per_m if setting.tension_n_per_m else tension_n_per_m
        )

    def complain(self, error: InputError) -> bool:
        """Put a complaint of the core at the field it is about; False if it is about none here."""
        if not error.path.startswith(self._side):
            return False
        field = self.tension if "tension" in error.path else self.pitch
        field.complain(f"{error.message} {error.remedy}")
        return True

    def _setting(self) -> HeadSetting:
        assert self._drum is not None
        return self._drum.setting(self._side)

    def _with(self, field: Field | None, label: str, make: Callable[[], HeadSetting]) -> None:
        drum = self._drum
        if drum is not None:
            name = wording.side_inside(drum, self._side)
            self.attempt(field, f"{name} {label}", lambda: drum.with_setting(self._side, make()))

    def _on_plies(self, value: tuple[tuple[float, ...], bool]) -> None:
        drum = self._drum
        if drum is not None:
            plies_m, guessed = value
            name = wording.side_inside(drum, self._side)
            self.attempt(
                self.plies,
                _("{name} plies").format(name=name),
                lambda: drum.with_setting(self._side, self._with_head(plies_m=plies_m)).guessing(
                    f"{self._side}_plies", guessed
                ),
            )

    def _with_head(self, **values: Any) -> HeadSetting:
        """The setting with its head changed, and named anew."""
        setting = self._setting()
        head = replace(setting.head, **values)
        if values.keys() & {"plies_m", "material", "coating_kg_per_m2"}:
            head = replace(head, areal_density_kg_per_m2=None)
        return replace(setting, head=replace(head, name=head_name(head, self._display.metric())))

    def _change_head(self, field: Field, label: str, **values: Any) -> None:
        def make() -> HeadSetting:
            return self._with_head(**values)

        self._with(field, label, make)

    def _on_head(self, head: Head) -> None:
        self._with(self.plies, "head", lambda: replace(self._setting(), head=head))

    def _on_pitch(self, hz: float) -> None:
        self._with(self.pitch, _("lug pitch"), lambda: self._setting().at_pitch(hz))

    def _on_tension(self, tension: float) -> None:
        self._with(self.tension, "tension", lambda: self._setting().at_tension(tension))

    def _on_condition(self, other: str) -> None:
        def make() -> HeadSetting:
            setting = self._setting()
            hz = setting.reading.hz if setting.reading else self.pitch.value
            if hz is None:
                raise InputError(_("No lug pitch is entered."), _("Enter the pitch you hear."))
            centre = setting.reading.centre if setting.reading else "damped"
            return replace(setting, tension_n_per_m=None, reading=LugPitch(hz, other, centre))

        self._with(self.pitch, _("other head"), make)

    def _on_muffling(self, mufflers: tuple[Muffler, ...]) -> None:
        drum = self._drum
        if drum is not None:
            others = tuple(m for m in drum.mufflers if m.side != self._side)
            both = mufflers + others if self._side == "batter" else others + mufflers
            self.attempt(self.muffling, "muffling", lambda: replace(drum, mufflers=both))

    def _on_open(self, no_head: bool) -> None:
        drum = self._drum
        if drum is None:
            return
        if no_head:
            self.edited.emit(_("single-headed"), drum.with_setting("resonant", None))
        else:
            thin = next((h for h in self._library if _is_plain(h)), drum.batter.head)
            self.edited.emit(
                _("resonant head"), replace(drum, resonant=replace(drum.batter, head=thin))
            )

    def _read_plies(self, text: str) -> tuple[float, ...]:
        metric = self._display.metric()
        unit = "mm" if metric else "mil"
        parts = [part.strip() for part in text.split("+")]
        if parts and not parts[-1].replace(".", "").replace(",", "").isdecimal():
            unit = next((u for u in ("mil", "mm", "in", "µm") if parts[-1].endswith(u)), unit)
        plies = tuple(parse_length(part, unit) for part in parts)
        for ply in plies:
            if not THINNEST_PLY_M <= ply <= THICKEST_PLY_M:
                raise InputError(
                    _("{format_thickness} is not a possible ply thickness.").format(
                        format_thickness=format_thickness(ply, metric)
                    ),
                    _("Use {format_thickness} to {format_thickness_2}.").format(
                        format_thickness=format_thickness(THINNEST_PLY_M, metric),
                        format_thickness_2=format_thickness(THICKEST_PLY_M, metric),
                    ),
                )
        if len(plies) > 4:
            raise InputError(
                _("A head has no more than four plies."), _("Enter 10 mil or 7 + 7 mil.")
            )
        return plies

    def _write_plies(self, plies: tuple[float, ...] | None) -> str:
        return (
            wording.plies_words(Head("x", plies_m=plies), self._display.metric()) if plies else ""
        )

    def _read_extras(self, text: str) -> Extras:
        return read_extras(text, self._display.metric(), self._drum)

    def _write_extras(self, extras: Extras | None) -> str:
        return write_extras(*(extras or ((), 0.0)), self._display.metric())


class BeaterForm(PartForm):
    """Where the stroke falls and what with. Not part of the drum; nothing to undo."""

    changed = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.kind = Choice(_("Beater"))
        self.place = number_field(_("Strike point (0 % center)"), 0.0, 95.0, "%", 0)
        hint = Label(
            _(
                "0 % is the center, 100 % the edge. The partials on the ladder "
                "change in length with it."
            )
        )
        hint.setWordWrap(True)
        hint.setProperty("quiet", True)
        self.put(self.kind, 0, 0)
        self.put(self.place, 0, 1)
        self.put(hint, 1, 0, 2)
        self._strike = Strike()
        self.kind.chosen.connect(lambda v: self.changed.emit(replace(self._strike, beater=v)))
        self.place.edited.connect(
            lambda v: self.changed.emit(replace(self._strike, place=v / 100.0))
        )

    def set_state(self, strike: Strike, drum: Drum) -> None:
        """Show how a drum is struck, and the beaters there are for it."""
        self._strike = strike
        known = [(key, b.label) for key, b in BEATERS.items() if drum.kind in b.kinds]
        self.kind.set_options(known)
        self.kind.set_state(strike.beater_on(drum))
        self.place.set_state(100.0 * strike.place)


class PartForms(QStackedWidget):
    """The form of the part that is chosen."""

    def __init__(self, display: DisplayFormat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.shell = ShellForm(display)
        self.batter = HeadForm("batter", display)
        self.resonant = HeadForm("resonant", display)
        self.beater = BeaterForm()
        for form in (self.shell, self.batter, self.resonant, self.beater):
            self.addWidget(form)

    def first_field(self, part: str) -> QWidget:
        """Where the keys go when a part is asked for."""
        first = {
            "shell": self.shell.diameter.line,
            "batter": self.batter.pitch.line,
            "resonant": self.resonant.pitch.line,
            "beater": self.beater.place.line,
        }
        return first[part]

    def let_go(self) -> list[tuple[str, str]]:
        """Another drum comes: what stands typed and could not be taken, field and text."""
        fields = self.findChildren(Field)
        left = [(field.line.accessibleName(), field.let_go()) for field in fields]
        return [(name, text) for name, text in left if text]

    def show_part(self, part: str) -> None:
        """Bring the form of a part to the front."""
        self.setCurrentWidget(getattr(self, part))


def _is_plain(head: Head) -> bool:
    """A single clear ply with nothing on it: what most drums carry below."""
    return len(head.plies_m) == 1 and not head.coating_kg_per_m2 and not head.additions
