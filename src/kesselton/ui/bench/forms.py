"""The fields of the part that is chosen in the section."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QStackedWidget, QVBoxLayout, QWidget

from kesselton.app.bench import Strike
from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.instrument import drum as d
from kesselton.core.instrument import shell as sh
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum, HeadSetting, LugPitch
from kesselton.core.instrument.head import THICKEST_PLY_M, THINNEST_PLY_M, Head
from kesselton.core.instrument.materials import MATERIALS
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.threads import THREADS
from kesselton.core.units import format_thickness, parse_length
from kesselton.ui.bench import texts
from kesselton.ui.parts import wording
from kesselton.ui.parts.display_format import DisplayFormat
from kesselton.ui.parts.fields import (
    Choice,
    Field,
    guessable,
    length_field,
    mass_field,
    may_shrink,
    number_field,
    pitch_field,
)
from kesselton.ui.parts.head_text import Extras, head_name, read_extras, write_extras
from kesselton.ui.parts.inputs import Tick
from kesselton.ui.parts.labels import Label
from kesselton.ui.parts.muffling_text import read_mufflers, write_mufflers


class _Form(QWidget):
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

    def _put(self, widget: QWidget, row: int, column: int, span: int = 1) -> None:
        self._grid.addWidget(widget, row, column, 1, span, Qt.AlignmentFlag.AlignTop)

    def _try(self, field: Field | None, label: str, make: Callable[[], Drum]) -> None:
        """Emit the drum `make` builds, or put what is wrong with it at the field."""
        try:
            made = make()
        except InputError as error:
            if field is None:
                self.refused.emit(error)
                return
            field.complain(f"{error.message} {error.remedy}")
            return
        self.edited.emit(label, made)


class ShellForm(_Form):
    """Name, kind, size, rods and hoop of the drum."""

    def __init__(self, display: DisplayFormat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.name = Field(texts.NAME, _read_name, lambda v: v or "")
        self.kind = Choice(texts.KIND)
        self.kind.set_options(list(d.KINDS.items()))
        self.diameter = length_field(
            texts.HEAD_DIAMETER, sh.SMALLEST_HEAD_M, sh.LARGEST_HEAD_M, display.metric
        )
        self.shell_depth = guessable(
            length_field(texts.SHELL_DEPTH, sh.SHALLOWEST_M, sh.DEEPEST_M, display.metric)
        )
        self.shell_depth.setToolTip(texts.GUESS_WITH_QUESTION_MARK)
        self.rods = number_field(texts.RODS, const.MIN_RODS, const.MAX_RODS, "", whole=True)
        self.hoop = Choice(texts.HOOP)
        self.hoop.set_options([(h.name, h.label) for h in sh.HOOPS.values()])
        self.note = pitch_field(
            texts.SHELL_NOTE_IF_KNOWN,
            sh.LOWEST_SHELL_NOTE_HZ,
            sh.HIGHEST_SHELL_NOTE_HZ,
            display.a4_hz,
            display.note,
            optional=True,
        )
        self.vent = length_field(texts.VENT_IN_SHELL, 0.0, sh.WIDEST_VENT_M, display.metric)
        self.rod_thread = Choice(texts.ROD_THREAD)
        self.rod_thread.set_options([(t.name, t.label) for t in THREADS.values()])
        self.material = Choice(texts.SHELL_MATERIAL)
        self.mass = mass_field(texts.SHELL_MASS, sh.LIGHTEST_KG, sh.HEAVIEST_KG)
        self.mass.setToolTip(texts.WITHOUT_HEADS_WITH_HOOPS)
        self.mount = Choice(texts.HOW_HELD)
        self.edge = Choice(texts.BEARING_EDGE)
        self.drawn = Choice(texts.DRAWN_BY)
        self.lugs = Choice(texts.LUGS)
        self.lugs.set_options([("", texts.LUGS_USUAL), *sh.LUGS.items()])
        self.diameter.setToolTip(texts.MEASURED_FROM_INSIDE_OF_HOOP)
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
                self.drawn,
                self.lugs,
            )
        ):
            self._put(widget, place // 2, place % 2)
        self.name.edited.connect(lambda v: self._set(self.name, "name", name=v))
        self.kind.chosen.connect(lambda v: self._set(self.name, "kind", kind=v))
        for field, key, label in (
            (self.diameter, "head_diameter_m", texts.HEAD_DIAMETER_2),
            (self.rods, "rods", texts.NUMBER_OF_RODS),
            (self.note, "shell_note_hz", texts.SHELL_NOTE),
            (self.vent, "vent_diameter_m", "vent"),
        ):
            field.edited.connect(self._shell_setter(field, key, label))
        self.shell_depth.edited.connect(self._on_depth)
        self.hoop.chosen.connect(self._shell_setter(None, "hoop", "hoop"))
        self.rod_thread.chosen.connect(self._shell_setter(None, "rod_thread", texts.ROD_THREAD_2))
        self.mass.edited.connect(self._shell_setter(self.mass, "mass_kg", texts.SHELL_MASS_2))
        for choice, key, label in (
            (self.material, "material", texts.SHELL_MATERIAL_2),
            (self.mount, "mount", texts.HOW_HELD_2),
            (self.edge, "edge", texts.BEARING_EDGE_2),
            (self.drawn, "drawn", texts.DRAWN_BY_2),
            (self.lugs, "lugs", texts.LUGS_2),
        ):
            choice.chosen.connect(self._shell_setter(None, key, label))

    def set_state(self, drum: Drum) -> None:
        """Show a drum."""
        self._drum = drum
        self.name.set_state(drum.name)
        self.kind.set_state(drum.kind)
        self.diameter.set_state(drum.shell.head_diameter_m)
        self.shell_depth.set_state((drum.shell.depth_m, "depth" in drum.guessed))
        self.rods.set_state(drum.shell.rods)
        self.hoop.set_state(drum.shell.hoop)
        self.note.set_state(drum.shell.shell_note_hz)
        self.vent.set_state(drum.shell.vent_diameter_m)
        self.rod_thread.set_state(drum.shell.rod_thread)
        shell = drum.shell
        usual = replace(shell, material=None, mount=None, edge=None, drawn=None)
        made, held = usual.made_of, usual.usual_mount(drum.kind)
        for choice, caption, known, typical, chosen in (
            (self.material, texts.SHELL_MATERIAL, sh.SHELL_MATERIALS, made, shell.material),
            (self.mount, texts.HOW_HELD, sh.MOUNTS, held, shell.mount),
            (self.edge, texts.BEARING_EDGE, sh.EDGES, usual.usual_edge, shell.edge),
            (self.drawn, texts.DRAWN_BY, sh.DRAWN, usual.usual_drawn, shell.drawn),
        ):
            options = [("", texts.USUAL.format(value=typical.label))]
            choice.set_options(options + [(m.name, m.label) for m in known.values()])
            choice.set_state(chosen or "")
            choice.caption.setText(caption if chosen else texts.IS_ASSUMED.format(caption=caption))
        self.lugs.set_state(shell.lugs or "")
        guess = replace(shell, mass_kg=None).own_mass(drum.kind)[0]
        self.mass.line.setPlaceholderText(texts.ABOUT.format(value=f"{guess:.1f} kg"))
        self.mass.set_state(shell.mass_kg)

    def _on_depth(self, value: tuple[float, bool]) -> None:
        drum = self._drum
        if drum is not None:
            depth_m, guessed = value
            self._try(
                self.shell_depth,
                texts.SHELL_DEPTH_2,
                lambda: replace(drum, shell=replace(drum.shell, depth_m=depth_m)).guessing(
                    "depth", guessed
                ),
            )

    def _set(self, field: Field, label: str, **values: Any) -> None:
        drum = self._drum
        if drum is not None:
            self._try(field, label, lambda: replace(drum, **values))

    def _shell_setter(self, field: Field | None, key: str, label: str) -> Callable[[Any], None]:
        def change(value: Any) -> None:
            drum = self._drum
            if drum is not None:
                changes: dict[str, Any] = {key: None if value == "" else value}
                if key == "head_diameter_m":
                    changes["contact_radius_m"] = None
                self._try(field, label, lambda: replace(drum, shell=replace(drum.shell, **changes)))

        return change


class HeadForm(_Form):
    """One head: which, of what, and how it is set."""

    def __init__(self, side: str, display: DisplayFormat, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._side, self._display = side, display
        self._library: tuple[Head, ...] = ()
        self.head = Choice(texts.HEAD)
        self.plies = guessable(Field(texts.PLIES, self._read_plies, self._write_plies))
        self.plies.setToolTip(texts.GUESS_WITH_QUESTION_MARK)
        self.material = Choice(texts.MATERIAL)
        self.material.set_options([(m.name, m.label) for m in MATERIALS.values()])
        self.coating = number_field(texts.COATING, 0.0, 0.5, "kg/m²")
        self.addition = Field(texts.DOT_RING_OR_PORT, self._read_extras, self._write_extras)
        self.addition.line.setPlaceholderText(texts.DOT_4_IN_7_MIL)
        self.pitch = pitch_field(
            texts.LUG_PITCH,
            const.LOWEST_PITCH_HZ,
            const.HIGHEST_PITCH_HZ,
            display.a4_hz,
            display.note,
        )
        self.condition = Choice(texts.OTHER_HEAD_DURING_READING)
        self.condition.set_options([("muted", "muted"), ("free", texts.FREE_TO_SOUND)])
        self.tension = number_field(
            texts.TENSION, d.LOWEST_TENSION_N_PER_M, d.HIGHEST_TENSION_N_PER_M, "N/m", 0
        )
        self.muffling = Field(
            texts.MUFFLING,
            lambda text: read_mufflers(text, side),
            lambda value: write_mufflers(value, side),
        )
        self.muffling.line.setPlaceholderText(texts.TAPE_ROD_1_5_80)
        self.open = Tick(texts.OPEN_BELOW)
        may_shrink(self.open)
        self._put(self.head, 0, 0, 2)
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
            self._put(widget, 1 + place // 2, place % 2)
        self._put(self.condition, 4, 0, 2)
        self._put(self.muffling, 5, 0, 2)
        if side == "resonant":
            self._put(self.open, 6, 0)
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
                self.addition, texts.DOT_RING_OR_PORT_2, additions=v[0], port_diameter_m=v[1]
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
            else [(setting.head, texts.OWN.format(name=setting.head.name))]
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
            name = wording.side_word(drum, self._side).lower()
            self._try(field, f"{name} {label}", lambda: drum.with_setting(self._side, make()))

    def _on_plies(self, value: tuple[tuple[float, ...], bool]) -> None:
        drum = self._drum
        if drum is not None:
            plies_m, guessed = value
            name = wording.side_word(drum, self._side).lower()
            self._try(
                self.plies,
                f"{name} plies",
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
        self._with(self.pitch, texts.LUG_PITCH_2, lambda: self._setting().at_pitch(hz))

    def _on_tension(self, tension: float) -> None:
        self._with(self.tension, "tension", lambda: self._setting().at_tension(tension))

    def _on_condition(self, other: str) -> None:
        def make() -> HeadSetting:
            setting = self._setting()
            hz = setting.reading.hz if setting.reading else self.pitch.value
            if hz is None:
                raise InputError(texts.THERE_IS_NO_LUG_PITCH, texts.TYPE_PITCH_THAT_IS_HEARD)
            centre = setting.reading.centre if setting.reading else "damped"
            return replace(setting, tension_n_per_m=None, reading=LugPitch(hz, other, centre))

        self._with(self.pitch, texts.READING_CONDITION, make)

    def _on_muffling(self, mufflers: tuple[Muffler, ...]) -> None:
        drum = self._drum
        if drum is not None:
            others = tuple(m for m in drum.mufflers if m.side != self._side)
            both = mufflers + others if self._side == "batter" else others + mufflers
            self._try(self.muffling, "muffling", lambda: replace(drum, mufflers=both))

    def _on_open(self, no_head: bool) -> None:
        drum = self._drum
        if drum is None:
            return
        if no_head:
            self.edited.emit(texts.OPEN_BELOW_2, drum.with_setting("resonant", None))
        else:
            thin = next((h for h in self._library if _is_plain(h)), drum.batter.head)
            self.edited.emit(
                texts.RESONANT_HEAD, replace(drum, resonant=replace(drum.batter, head=thin))
            )

    def _read_plies(self, text: str) -> tuple[float, ...]:
        metric = self._display.metric()
        unit = "mm" if metric else "mil"
        parts = [part.strip() for part in text.split("+")]
        if parts and not parts[-1].replace(".", "").replace(",", "").isdigit():
            unit = next((u for u in ("mil", "mm", "in", "µm") if parts[-1].endswith(u)), unit)
        plies = tuple(parse_length(part, unit) for part in parts)
        for ply in plies:
            if not THINNEST_PLY_M <= ply <= THICKEST_PLY_M:
                raise InputError(
                    texts.PLY_OF_CANNOT_BE_HEAD.format(
                        format_thickness=format_thickness(ply, metric)
                    ),
                    texts.PERMITTED_TO.format(
                        format_thickness=format_thickness(THINNEST_PLY_M, metric),
                        format_thickness_2=format_thickness(THICKEST_PLY_M, metric),
                    ),
                )
        if len(plies) > 4:
            raise InputError(texts.HEAD_HAS_AT_MOST_FOUR, texts.WRITE_10_MIL_OR_7)
        return plies

    def _write_plies(self, plies: tuple[float, ...] | None) -> str:
        return (
            wording.plies_words(Head("x", plies_m=plies), self._display.metric()) if plies else ""
        )

    def _read_extras(self, text: str) -> Extras:
        return read_extras(text, self._display.metric(), self._drum)

    def _write_extras(self, extras: Extras | None) -> str:
        return write_extras(*(extras or ((), 0.0)), self._display.metric())


class BeaterForm(_Form):
    """Where the stroke falls and what with. Not part of the drum; nothing to undo."""

    changed = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.kind = Choice(texts.BEATER)
        self.place = number_field(texts.FROM_CENTER_TO_EDGE, 0.0, 95.0, "%", 0)
        hint = Label(texts.TEXT_0_PERCENT_IS_CENTER_67)
        hint.setWordWrap(True)
        hint.setProperty("quiet", True)
        self._put(self.kind, 0, 0)
        self._put(self.place, 0, 1)
        self._put(hint, 1, 0, 2)
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


def _read_name(text: str) -> str:
    if not text.strip():
        raise InputError(texts.DRUM_NEEDS_NAME, texts.TYPE_ONE)
    if len(text.strip()) > 80:
        raise InputError(texts.THAT_NAME_IS_TOO_LONG, texts.PERMITTED_80_CHARACTERS)
    return text.strip()


def _is_plain(head: Head) -> bool:
    """A single clear ply with nothing on it: what most drums carry below."""
    return len(head.plies_m) == 1 and not head.coating_kg_per_m2 and not head.additions
