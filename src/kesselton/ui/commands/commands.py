"""What the menus do: files, sheets, undo, and where the focus goes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QWidget,
)

from kesselton.app.bench.bench import Bench
from kesselton.app.sound.stroke_player import Listener
from kesselton.app.workshop.document import Step
from kesselton.core.errors import KesseltonError
from kesselton.core.heads.brief import Brief
from kesselton.core.instrument import drum as d
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, TorqueKey
from kesselton.core.language import N_, _
from kesselton.store.formats.drum_file import read_text
from kesselton.store.io.atomic_file import with_suffix
from kesselton.store.io.errors import DamagedError
from kesselton.store.workshop.connection import SUFFIX
from kesselton.ui.commands.log_commands import LogCommands
from kesselton.ui.commands.papers import Papers, guarded
from kesselton.ui.commands.set_commands import SetCommands
from kesselton.ui.commands.stage_commands import StageCommands
from kesselton.ui.parts.widgets.fields import Field
from kesselton.ui.parts.widgets.inputs import typed
from kesselton.ui.parts.widgets.picture import Picture
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.parts.words.entry_text import many_entries

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.ui.parts.widgets.theme import Colours

WORKSHOP_FILES = N_("Workshops (*{suffix})")
MOST_CSV_BYTES = 100_000
DRUM_FILES = N_("Drum files (*.drum.json *.json)")


class Commands(QObject):
    """Handlers of the action table, for one window.

    Signals
    -------
    told(KesseltonError, str topic) : something could not be done
    said(str, bool undo) : something was done; whether it is worth a way back at hand
    stepped(str page) : a step was undone or done again, and where it was taken
    case_wanted(int drum id, Hit) : see how another drum was set, beside this one
    offered(str, bool undo, str, callable) : something was done; what may follow, in words, and what
        does it
    stage_wanted(str), part_wanted(str), focus_wanted(str view) : where to go
    pair_wanted : the chosen pair of heads is to be heard
    heard_wanted : what was heard last is to be shown
    hear_wanted : a stroke on the drum on the bench is to be heard by the program
    close_wanted : the window is to be closed
    sound_dropped(Path) : a recording of taps is to be read
    readings_dropped(str) : a column or table of readings is to be noted
    """

    told = Signal(object, str)
    said = Signal(str, bool)
    offered = Signal(str, bool, str, object)
    case_wanted = Signal(int, object)
    stepped = Signal(str)
    stage_wanted = Signal(str)
    part_wanted = Signal(str)
    focus_wanted = Signal(str)
    pair_wanted = Signal()
    hear_wanted = Signal()
    heard_wanted = Signal()
    close_wanted = Signal()
    sound_dropped = Signal(object)
    readings_dropped = Signal(str)

    def __init__(
        self,
        bench: Bench,
        listener: Listener,
        display: DisplayFormat,
        open_another: Callable[..., object],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._bench, self._listener, self._display = bench, listener, display
        self._open_another, self._parent = open_another, parent
        self.choosing_pairs: Callable[[], bool] = lambda: False
        """Whether pairs of heads are on show: then a stroke is one on the chosen pair."""
        self.first_source = ""
        """How rods are read when clearing is first shown, whatever it was the last time."""
        self.dialog: QDialog | None = None
        self.papers = Papers(bench, self.asked_save, parent)
        self.papers.told.connect(self.told)
        self.papers.said.connect(self.said)
        self.logs = LogCommands(
            bench, listener, self.asked_save, self._asked_many, self._open_dialog, parent
        )
        self.logs.told.connect(self.told)
        self.logs.said.connect(self.said)
        self.sets = SetCommands(bench, listener, self.asked_save, self._open_dialog, parent)
        self.sets.told.connect(self.told)
        self.sets.said.connect(self.said)
        self.sets.stage_wanted.connect(self.stage_wanted)
        self.staging = StageCommands(bench, self.asked_text, parent)
        self.staging.first_source = lambda: self.first_source
        self.staging.told.connect(self.told)
        self.staging.said.connect(self.said)
        self.staging.stage_wanted.connect(self.stage_wanted)

    # what the technician is asked; tests answer in their place

    def ask_open(self, title: str, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _unused = QFileDialog.getOpenFileName(self._parent, title, "", kinds)
        return Path(name) if name else None

    def ask_sound(self) -> Path | None:
        """A recording to read, or None."""
        return self.ask_open(_("Open a recording of taps"), _("Sound (*.wav *.flac)"))

    def ask_strokes(self) -> Path | None:
        """A recording of strokes to read, or None."""
        return self.ask_open(_("Open a recording of strokes"), _("Sound (*.wav *.flac)"))

    def ask_save(self, title: str, suggestion: str, kinds: str) -> Path | None:
        """A file to write, or None."""
        suggestion = suggestion.replace("/", "-")  # names of drums may hold one
        name, _unused = QFileDialog.getSaveFileName(self._parent, title, suggestion, kinds)
        return Path(name) if name else None

    def asked_save(self, title: str, suggestion: str, kinds: str) -> Path | None:
        """The same, whoever answers."""
        return self.ask_save(title, suggestion, kinds)  # looked up anew: tests answer

    def ask_many(self, title: str, kinds: str) -> list[Path]:
        """Files to read, or none."""
        names, _unused = QFileDialog.getOpenFileNames(self._parent, title, "", kinds)
        return [Path(name) for name in names]

    def _asked_many(self, title: str, kinds: str) -> list[Path]:
        return self.ask_many(title, kinds)

    def may_lose_changes(self) -> bool:
        """True if the technician lets unsaved changes go."""
        answer = QMessageBox.question(
            self._parent,
            _("Not saved"),
            _(
                "The last changes could not be saved to this file. Close and "
                "lose them?\n“No” keeps the window open so that you can save a "
                "copy elsewhere."
            ),
        )
        return answer == QMessageBox.StandardButton.Yes

    # workshop

    def new_workshop(self) -> None:
        """Make a workshop file and open it in a window of its own."""
        path = self.ask_save(
            _("New workshop"), f"{_('workshop')}{SUFFIX}", _(WORKSHOP_FILES).format(suffix=SUFFIX)
        )
        if path is not None:
            self._open(with_suffix(path, SUFFIX), must_be_new=True)

    def open_workshop(self) -> None:
        """Open another workshop file in a window of its own."""
        path = self.ask_open(_("Open workshop"), _(WORKSHOP_FILES).format(suffix=SUFFIX))
        if path is not None:
            self._open(path, must_be_new=False)

    def _open(self, path: Path, must_be_new: bool) -> None:
        with guarded(self.told):
            if must_be_new and path.exists():
                raise KesseltonError(
                    _("A file named {name} exists already.").format(name=path.name),
                    _("Choose another name."),
                )
            try:
                self._open_another(str(path), self._bench.settings_store)
            except DamagedError:
                self.offered.emit(
                    _("{name} is damaged; what is readable opens in a new file.").format(
                        name=path.name
                    ), False,
                    _("Recover readable parts"), lambda: self._salvage(path),
                )  # fmt: skip
                raise

    def _salvage(self, path: Path) -> None:
        """Open what can be read of a damaged workshop, in a window of its own."""
        with guarded(self.told):
            self._open_another(str(path), self._bench.settings_store, salvaged=True)

    def save_copy(self) -> None:
        """Write the workshop to another file and go on in that."""
        document = self._bench.document
        path = self.ask_save(
            _("Save a copy as"), document.path.name, _(WORKSHOP_FILES).format(suffix=SUFFIX)
        )
        if path is not None:
            with guarded(self.told):
                document.save_copy(with_suffix(path, SUFFIX))
                self.said.emit(_("Copy saved and open: {path}").format(path=document.path), False)

    def restore(self) -> None:
        """Go back to the state of an earlier day."""
        from kesselton.ui.dialogs.restore_dialog import RestoreDialog

        document = self._bench.document
        dialog = RestoreDialog(document.path, self._parent)
        dialog.restored.connect(
            lambda workshop, day: document.commit(_("restore {day}").format(day=day), workshop)
        )
        self._open_dialog(dialog)

    def heads_store(self) -> None:
        """Note what is in store, and add heads of one's own."""
        from kesselton.ui.heads.store_dialog import StoreDialog

        document, display = self._bench.document, self._display
        if document.drum is None:
            return
        dialog = StoreDialog(
            document.drum, document.workshop, display.metric, display.a4_hz, display.note,
            self._parent,
        )  # fmt: skip
        dialog.shelved.connect(
            lambda noted: document.commit(
                _("heads in stock"), document.workshop.with_shelved(noted)
            )
        )
        dialog.head_made.connect(
            lambda head: document.commit(
                _("head {name}").format(name=head.name),
                replace(document.workshop, library=(*document.workshop.library, head)),
            )
        )
        self._open_dialog(dialog)

    def buy_list(self) -> None:
        """What to buy for the heads that are planned."""
        from kesselton.ui.heads.buy_dialog import BuyDialog

        workshop = self._bench.document.workshop
        dialog = BuyDialog(workshop, self.ask_save, self._parent, self.staging.stage.missing())
        self._open_dialog(dialog)

    def _open_dialog(self, dialog: QDialog) -> None:
        self.dialog = dialog
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def close(self) -> None:
        """Close the window."""
        self.close_wanted.emit()

    # drum

    def undo(self) -> None:
        """One step back: of a text that is being typed, else of the program."""
        line = typed()
        if line is not None:
            line.undo()
        else:
            self._bench.finish_hold()
            self._say_step(self._bench.document.undo(), _("Undone: {label}"))

    def redo(self) -> None:
        """One step forward again."""
        line = typed()
        if line is not None and line.isRedoAvailable():
            line.redo()
        else:
            self._bench.finish_hold()
            self._say_step(self._bench.document.redo(), _("Done again: {label}"))

    def _say_step(self, step: Step | None, words: str) -> None:
        """Show where a step was taken, and name it."""
        if step is None:
            return
        self.stepped.emit(step.place)
        said = words.format(label=step.label)
        drum = self._bench.drum
        self.said.emit(f"{said} · {drum.name}" if drum is not None else said, False)

    def add_drum(self) -> None:
        """A drum more: by kind and size, like the one on the bench, or from a file."""
        from kesselton.ui.drum_list.add_drum import AddDrumDialog

        drum, settings = self._bench.drum, self._bench.settings
        dialog = AddDrumDialog(
            drum.name if drum else "",
            settings.metric,
            self._colours(),
            self._parent,
        )
        dialog.made.connect(lambda made: self._add(made, _("add drum")))
        dialog.like_wanted.connect(self.add_like)
        dialog.file_wanted.connect(self.import_drum)
        self._open_dialog(dialog)

    def add_like(self) -> None:
        """A copy of the drum on the bench, to be changed."""
        drum = self._bench.drum
        if drum is None:
            self.add_drum()
        else:
            self._add(drum, _("add drum"))

    def _add(self, drum: Drum, label: str) -> None:
        from kesselton.app.workshop.usual_drums import free_name

        document = self._bench.document
        taken = {entry.drum.name for entry in document.workshop.entries}
        name = free_name(drum.name[:76], taken)
        document.add_drum(label, replace(drum, name=name))
        self.focus_wanted.emit("name")
        with guarded(self.told):
            self._offer_case()

    def _offer_case(self) -> None:
        """Such a drum may have been set before: offer to look at how."""
        from kesselton.app.workshop.log_search import LogFinder

        document = self._bench.document
        finds, entry = LogFinder(document), document.entry
        if entry is None:
            return
        others = (hit for hit in finds.cases(entry) if hit.drum_id != entry.id)
        hit = next(others, None)
        one = None if hit is None else finds.kept(hit)
        if hit is not None and one is not None:
            text = _(
                "{name} added. A similar drum was logged before: {other}, "
                "{when}. Use it as a starting point."
            ).format(name=entry.drum.name, other=one.drum.name, when=hit.on[:10])
            self.offered.emit(text, True, _("Show"), lambda: self.case_wanted.emit(entry.id, hit))

    def offer_usual(self, drum: Drum) -> None:
        """The kind was changed: offer what that kind usually has."""
        from kesselton.app.workshop.usual_drums import as_usual

        def take() -> None:
            if self._bench.drum == drum:
                self._bench.commit_drum(_("typical values"), as_usual(drum))

        kind = d.KINDS[drum.kind]
        self.offered.emit(
            _("“{name}” is now a {kind}.").format(name=drum.name, kind=kind),
            True,
            _("Use typical heads, hoops and tuning of a {kind}").format(kind=kind),
            take,
        )

    def rename_workshop(self) -> None:
        """Give the workshop another name; its file keeps its own."""
        document = self._bench.document
        name = self.ask_text(_("Rename workshop"), _("Name"), document.workshop.name)
        if name and name.strip():
            document.commit(
                _("rename workshop"), replace(document.workshop, name=name.strip()[:80])
            )

    def ask_text(self, title: str, caption: str, text: str) -> str | None:
        """A line of text, or None."""
        said, ok = QInputDialog.getText(
            self._parent, title, caption, QLineEdit.EchoMode.Normal, text
        )
        return said if ok else None

    def asked_text(self, title: str, caption: str, text: str) -> str | None:
        """The same, whoever answers."""
        return self.ask_text(title, caption, text)  # looked up anew: tests answer

    def open_demo(self) -> None:
        """Open the demo workshop in a window of its own."""
        with guarded(self.told):
            self._open_another("demo", self._bench.settings_store)

    def remove_drum(self) -> None:
        """Take the drum off the rack; undo brings it back."""
        drum = self._bench.drum
        if drum is not None:
            self._bench.document.remove_drum()
            self.said.emit(_("“{name}” removed.").format(name=drum.name), True)

    def import_drum(self) -> None:
        """Read a drum file into the rack."""
        path = self.ask_open(
            _("Import drum"),
            _("Drum, set, log or workshop (*.drum.json *.json *.jsonl *{suffix})").format(
                suffix=SUFFIX
            ),
        )
        if path is not None:
            self.import_drum_from(path)

    def import_drum_from(self, path: Path) -> None:
        """Read a drum file into the rack, with a name of its own."""
        from kesselton.app.prediction.predictor import check
        from kesselton.app.workshop.usual_drums import free_name
        from kesselton.store.formats.drum_file import load_drum

        document = self._bench.document
        taken = {entry.drum.name for entry in document.workshop.entries}
        try:
            if path.suffix in (SUFFIX, ".jsonl"):
                self.logs.bring_in(path)
                return
            if path.name.casefold().endswith(".set.json"):
                self.sets.bring_in(path)
                return
            drum = load_drum(path)
            check(drum)
            drum = replace(drum, name=free_name(drum.name, taken))
            document.add_drum(_("import {name}").format(name=drum.name), drum)
            self.said.emit(_("“{name}” imported.").format(name=drum.name), True)
        except KesseltonError as error:
            self.told.emit(KesseltonError(f"{path.name}: {error.one_line()}"), "file")

    def export_drum(self) -> None:
        """Write the drum on the bench as a drum file."""
        from kesselton.store.formats.drum_file import save_drum

        drum = self._bench.document.drum
        if drum is None:
            return
        name = f"{drum.name}.drum.json"
        path = self.ask_save(_("Export drum"), name, _(DRUM_FILES))
        if path is not None:
            path = with_suffix(path, ".json")
            with guarded(self.told):
                save_drum(drum, path)
                self.said.emit(_("Saved: {path}").format(path=path), False)

    def keep_brief(self, brief: Brief) -> KesseltonError | None:
        """Keep what the drum on the bench must do; what is wrong with it, if it does not fit."""
        try:
            if self._bench.drum is not None:
                brief.check_fits(self._bench.drum)
        except KesseltonError as error:
            return error
        self._bench.document.change_entry(_("requirements"), brief=brief)
        return None

    def change_gauges(
        self, label: str, dials: tuple[Dial, ...], keys: tuple[TorqueKey, ...]
    ) -> None:
        """Keep another register of gauges."""
        document = self._bench.document
        document.commit(label, replace(document.workshop, dials=dials, keys=keys))

    def rename_gauge(self, old: str, new: str) -> None:
        """Call a gauge otherwise, in the readings taken by it too."""
        document = self._bench.document
        document.commit(
            _("rename {old}").format(old=old), document.workshop.with_gauge_renamed(old, new)
        )

    # sound

    def listen(self) -> None:
        """Play a stroke on the drum on the bench, or on the pair that is chosen."""
        drum = self._bench.drum
        if self.choosing_pairs():
            self.pair_wanted.emit()
        elif drum is not None:
            name = _("{name}, current setting").format(name=drum.name)
            self._listener.hear(name, drum, self._bench.stroke(drum))

    def hear(self) -> None:
        """Hear a stroke on the drum on the bench."""
        self.hear_wanted.emit()

    def listen_other(self) -> None:
        """Play the other of the last two strokes, equally loud."""
        self._listener.swap()

    def save_sound(self) -> None:
        """Write the stroke heard last as WAV or FLAC."""
        heard = self._listener.last
        name = f"{heard[-1].name}.wav" if heard else "stroke.wav"
        path = self.ask_save(_("Save sound"), name, _("Sound (*.wav *.flac)"))
        if path is not None:
            path = path if path.suffix.lower() == ".flac" else with_suffix(path, ".wav")
            with guarded(self.told):
                self._listener.save(path)
                self.said.emit(_("Saved: {path}").format(path=path), False)

    # places and view

    def stage(self, name: str) -> None:
        """Show a stage of the work."""
        self.stage_wanted.emit(name)

    def part(self, name: str) -> None:
        """Set a part of the drum."""
        self.part_wanted.emit(name)

    def focus(self, name: str) -> None:
        """Keys to a view, or to the search."""
        self.focus_wanted.emit(name)

    def toggle(self, setting: str) -> None:
        """A setting that is on or off, the other way."""
        store = self._bench.settings_store
        store.change(**{setting: not getattr(store.values, setting)})

    def theme(self, name: str) -> None:
        """Light, dark, or as the desktop."""
        self._bench.settings_store.change(theme=name)

    def full_screen(self) -> None:
        """The window over the whole screen, or as it was."""
        window = self._parent.window()
        window.setWindowState(window.windowState() ^ Qt.WindowState.WindowFullScreen)

    def preferences(self) -> None:
        """How things are shown."""
        from kesselton.ui.dialogs.preferences import PreferencesDialog

        self._open_dialog(PreferencesDialog(self._bench.settings_store, self._parent))

    def _colours(self) -> Colours:
        """Those of the theme that is worn."""
        from kesselton.ui.parts.widgets.theme import colours_for

        app = QApplication.instance()
        assert isinstance(app, QApplication)
        return colours_for(app, self._bench.settings.theme)

    def reference_tone(self) -> None:
        """A tone of the pitch in hand: of the field that has the focus, else of the drum."""
        from kesselton.ui.dialogs.tone_dialog import ToneDialog

        self._open_dialog(
            ToneDialog(
                self._pitch_in_hand(), self._display.a4_hz, self._display.note,
                self._listener.player, self._colours(), self._parent,
            )
        )  # fmt: skip

    def show_heard(self) -> None:
        """What was heard last of the drum on the bench, beside what was computed."""
        self.heard_wanted.emit()

    def open_heard(self, heard: HeardDrum | None) -> None:
        """The two as pictures, or why there are none."""
        from kesselton.ui.dialogs.heard_dialog import HeardDialog

        if heard is None:
            self.said.emit(
                _("No stroke analyzed at this setting yet. Analyze a stroke (J) first."),
                False,
            )
            return
        dialog = HeardDialog(heard, self._display.a4_hz(), self._colours(), self._parent)
        name = heard.drum.name
        dialog.play_heard.clicked.connect(
            lambda: self._listener.play_again(_("{name}, measured").format(name=name))
        )
        dialog.play_computed.clicked.connect(
            lambda: self._listener.play_again(_("{name}, current setting").format(name=name))
        )
        self._open_dialog(dialog)

    def _pitch_in_hand(self) -> float | None:
        """The pitch that stands where the focus is, or what the whole drum sounds."""
        at = QApplication.focusWidget()
        while at is not None:
            if isinstance(at, Field) and at.is_pitch and isinstance(at.value, float):
                return at.value
            hz = getattr(at, "pitch_in_hand", None)
            if hz is not None and hz() is not None:
                return float(hz())
            at = at.parentWidget()
        found = self._bench.result
        return found.prediction.fundamental_hz if found is not None else None

    def show_handbook(self) -> None:
        """The handbook."""
        from kesselton.ui.dialogs.help import HandbookDialog

        self._open_dialog(HandbookDialog(self._parent))

    def show_shortcuts(self) -> None:
        """The list of all keys."""
        from kesselton.ui.dialogs.help import KeysDialog

        self._open_dialog(KeysDialog(self._parent))

    def show_about(self) -> None:
        """Which program this is."""
        from kesselton.ui.dialogs.help import AboutDialog

        self._open_dialog(AboutDialog(self._parent))

    # copying and dropping

    def copy_picture(self) -> None:
        """The picture in hand to the clipboard."""
        picture = self._picture(lambda one: True)
        if picture is not None:
            picture.copy_picture()
            self.said.emit(_("Picture copied: {name}").format(name=picture.accessibleName()), False)

    def copy_table(self) -> None:
        """The numbers of the picture in hand to the clipboard."""
        picture = self._picture(lambda one: bool(one.table()))
        if picture is not None:
            picture.copy_table()
            self.said.emit(_("Table copied: {name}").format(name=picture.accessibleName()), False)

    def _picture(self, suits: Callable[[Picture], bool]) -> Picture | None:
        """The picture with the keys, or the largest that is shown beside the rack."""
        has = QApplication.focusWidget()
        if isinstance(has, Picture) and has.main and suits(has):
            return has
        shown = [
            one
            for one in self._parent.findChildren(Picture)
            if one.isVisible() and one.main and suits(one)
        ]
        if not shown:
            self.told.emit(
                KesseltonError(
                    _("There is no picture to copy here."), _("Go to Tuning, Clear or Gauges.")
                ),
                "",
            )
            return None
        return max(shown, key=lambda one: one.width() * one.height())

    def take_file(self, path: Path) -> None:
        """A file that was dropped on the window: a workshop, a drum, a set, a log, readings, a
        recording of taps."""
        kind = path.suffix.casefold()
        if kind == SUFFIX:
            self._open(path, must_be_new=False)
        elif kind in (".json", ".jsonl"):
            self.import_drum_from(path)
        elif kind in (".wav", ".flac") and self._bench.drum is not None:
            self.stage_wanted.emit("clear")
            self.sound_dropped.emit(path)
        elif kind in (".csv", ".txt") and (text := self._readings_in(path)):
            self.readings_dropped.emit(text)
        else:
            fault = KesseltonError(
                _("{name} cannot be dropped here.").format(name=path.name),
                _(
                    "Drop workshops (*.kesselton), drums (*.drum.json), sets "
                    "(*.set.json), logs (*.jsonl), readings (*.csv, *.txt) and "
                    "recordings of taps (*.wav, *.flac)."
                ),
            )
            self.told.emit(fault, "file")

    def _readings_in(self, path: Path) -> str:
        """A table of readings for the drum on the bench; "" where there is none in it."""
        if self._bench.drum is None:
            return ""
        try:
            text = read_text(path, _("table of readings"), MOST_CSV_BYTES)
        except KesseltonError as error:
            self.told.emit(error, "file")
            return ""
        return text if many_entries(text) else ""
