"""What the menus do: files, sheets, undo, and where the focus goes."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QLabel,
    QMessageBox,
)

from kesselton.app.settings import save_settings
from kesselton.core.errors import KesseltonError
from kesselton.store.connection import SUFFIX

if TYPE_CHECKING:
    from kesselton.ui.main_window import MainWindow
    from kesselton.ui.sheet import Sheet

WORKSHOP_FILES = f"Workshops (*{SUFFIX})"
DRUM_FILES = "Drum files (*.drum.json *.json)"


class Commands:
    """Handlers of the action table, on one main window."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self.dialog: QDialog | None = None

    # what the technician is asked; tests answer in their place

    def ask_open(self, title: str, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _ = QFileDialog.getOpenFileName(self._window, title, "", kinds)
        return Path(name) if name else None

    def ask_sound(self) -> Path | None:
        """A recording to read, or None."""
        return self.ask_open("A recording of taps", "Sound (*.wav *.flac)")

    def ask_save(self, title: str, suggestion: str, kinds: str) -> Path | None:
        """A file to write, or None."""
        name, _ = QFileDialog.getSaveFileName(self._window, title, suggestion, kinds)
        return Path(name) if name else None

    def may_lose_changes(self) -> bool:
        """True if the technician lets unsaved changes go."""
        answer = QMessageBox.question(
            self._window,
            "Not saved",
            "The last changes could not be saved to this file. Close and lose them?\n"
            "“No” keeps the window open: save a copy in another place.",
        )
        return answer == QMessageBox.StandardButton.Yes

    def _guarded(self, error: KesseltonError) -> None:
        self._window.message.tell(error, "file")

    # workshop

    def keep_settings(self) -> None:
        """Write the settings of the program."""
        try:
            save_settings(self._window.settings)
        except KesseltonError as error:
            self._guarded(error)

    def new_workshop(self) -> None:
        """Make a workshop file and open it in a window of its own."""
        path = self.ask_save("New workshop", f"workshop{SUFFIX}", WORKSHOP_FILES)
        if path is not None:
            self._open(path.with_suffix(SUFFIX), must_be_new=True)

    def open_workshop(self) -> None:
        """Open another workshop file in a window of its own."""
        path = self.ask_open("Open workshop", WORKSHOP_FILES)
        if path is not None:
            self._open(path, must_be_new=False)

    def _open(self, path: Path, must_be_new: bool) -> None:
        try:
            if must_be_new and path.exists():
                raise KesseltonError(
                    f"There is a file {path.name} already.", "Choose another name."
                )
            self._window.open_another(str(path), self._window.settings)
        except KesseltonError as error:
            self._guarded(error)

    def save_copy(self) -> None:
        """Write the workshop to another file and go on in that."""
        document = self._window.document
        path = self.ask_save("Save a copy as", document.path.name, WORKSHOP_FILES)
        if path is not None:
            try:
                document.save_copy(path.with_suffix(SUFFIX))
            except KesseltonError as error:
                self._guarded(error)

    def restore(self) -> None:
        """Go back to the state of an earlier day."""
        from kesselton.ui.restore_dialog import RestoreDialog

        document = self._window.document
        dialog = RestoreDialog(document.path, self._window)
        dialog.restored.connect(
            lambda workshop, day: document.commit(f"restore the state of {day}", workshop)
        )
        self._open_dialog(dialog)

    def _sheet(self) -> Sheet | None:
        """What the settings sheet of the drum on the bench shows; None while it is computed."""
        from kesselton.ui.sheet import Sheet

        window, settings = self._window, self._window.settings
        if window.answer is None:
            return None
        return Sheet(
            window.answer,
            window.document.workshop.name,
            settings.a4_hz,
            settings.flats,
            settings.metric,
            date.today(),
            window.planned,
        )

    def sheet_pdf(self) -> None:
        """Write the settings sheet of the drum on the bench."""
        from kesselton.ui.sheet import write_pdf

        sheet = self._sheet()
        if sheet is None:
            return
        name = f"{sheet.answer.drum.name} settings.pdf".replace("/", "-")
        path = self.ask_save("Settings sheet", name, "PDF (*.pdf)")
        if path is not None:
            try:
                write_pdf(path if path.suffix else path.with_suffix(".pdf"), sheet)
            except KesseltonError as error:
                self._guarded(error)

    def sheet_print(self) -> None:
        """Print the settings sheet."""
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter

        from kesselton.ui.sheet import print_sheet

        sheet = self._sheet()
        if sheet is None:
            return
        printer = QPrinter()
        if QPrintDialog(printer, self._window).exec() != QDialog.DialogCode.Accepted:
            return
        try:
            print_sheet(printer, sheet)
        except KesseltonError as error:
            self._guarded(error)

    def heads_store(self) -> None:
        """Note what is in store, and add heads of one's own."""
        from kesselton.ui.store_dialog import StoreDialog

        window, document = self._window, self._window.document
        if document.drum is None:
            return
        way = window.way
        dialog = StoreDialog(
            document.drum, document.workshop, way.metric, way.a4_hz, way.note, window
        )
        dialog.shelved.connect(
            lambda noted: document.commit("heads in store", document.workshop.with_shelved(noted))
        )
        dialog.head_made.connect(
            lambda head: document.commit(
                f"head {head.name}",
                replace(document.workshop, library=(*document.workshop.library, head)),
            )
        )
        self._open_dialog(dialog)

    def buy_list(self) -> None:
        """What to buy for the heads that are planned."""
        from kesselton.ui.buy_dialog import BuyDialog

        window = self._window
        self._open_dialog(BuyDialog(window.document.workshop, self.ask_save, window))

    def _open_dialog(self, dialog: QDialog) -> None:
        self.dialog = dialog
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def close(self) -> None:
        """Close the window."""
        self._window.close()

    # drum

    def undo(self) -> None:
        """One step back."""
        self._window.document.undo()

    def redo(self) -> None:
        """One step forward again."""
        self._window.document.redo()

    def add_drum(self) -> None:
        """A copy of the drum on the bench, to be changed."""
        from kesselton.app.workshops import demo_workshop

        document = self._window.document
        drum = document.drum or demo_workshop().entries[1].drum
        document.add_drum("add a drum", replace(drum, name=f"{drum.name} 2"[:80]))
        self._window.choose_part("shell")
        self._window.forms.shell.name.line.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self._window.forms.shell.name.line.selectAll()

    def remove_drum(self) -> None:
        """Take the drum off the rack; undo brings it back."""
        self._window.document.remove_drum()

    def import_drum(self) -> None:
        """Read a drum file into the rack."""
        from kesselton.app.predictor import check
        from kesselton.store.exchange import load_drum

        path = self.ask_open("Import a drum", DRUM_FILES)
        if path is not None:
            try:
                drum = load_drum(path)
                check(drum)
                self._window.document.add_drum(f"import {drum.name}", drum)
            except KesseltonError as error:
                self._guarded(KesseltonError(f"{path.name}: {error.one_line()}"))

    def export_drum(self) -> None:
        """Write the drum on the bench as a drum file."""
        from kesselton.store.exchange import save_drum

        drum = self._window.document.drum
        if drum is None:
            return
        name = f"{drum.name}.drum.json".replace("/", "-")
        path = self.ask_save("Export this drum", name, DRUM_FILES)
        if path is not None:
            try:
                save_drum(drum, path)
            except KesseltonError as error:
                self._guarded(error)

    # sound

    def listen(self) -> None:
        """Play a stroke on the drum on the bench, or on the pair that is chosen."""
        from kesselton.core.stroke import Stroke

        window = self._window
        if window.stage == "heads":
            window.work.listen_to(window.heads.list.current)
        elif window.document.drum is not None:
            drum, beater = window.document.drum, window.beater
            stroke = Stroke(beater.place, beater.contact_s)
            window.listener.hear(f"{drum.name} as it is set", drum, stroke)

    def listen_other(self) -> None:
        """Play the other of the last two strokes, equally loud."""
        self._window.listener.swap()

    def save_sound(self) -> None:
        """Write the stroke heard last as WAV or FLAC."""
        heard = self._window.listener.last
        name = f"{heard[-1].name}.wav".replace("/", "-") if heard else "stroke.wav"
        path = self.ask_save("Save the sound", name, "Sound (*.wav *.flac)")
        if path is not None:
            try:
                self._window.listener.save(path if path.suffix else path.with_suffix(".wav"))
            except KesseltonError as error:
                self._guarded(error)

    # places

    def _part(self, part: str) -> None:
        self._window.choose_stage("settings")
        self._window.choose_part(part)
        self._window.forms.first_field(part).setFocus(Qt.FocusReason.ShortcutFocusReason)

    def part_shell(self) -> None:
        """Set the shell."""
        self._part("shell")

    def part_batter(self) -> None:
        """Set the batter head."""
        self._part("batter")

    def part_resonant(self) -> None:
        """Set the resonant head."""
        self._part("resonant")

    def part_beater(self) -> None:
        """Set the beater."""
        self._part("beater")

    def stage_heads(self) -> None:
        """Choose heads."""
        self._window.choose_stage("heads")

    def stage_fit(self) -> None:
        """Fit a head step by step."""
        self._window.choose_stage("fit")

    def stage_clear(self) -> None:
        """Clear a head round by round."""
        self._window.choose_stage("clear")

    def stage_measure(self) -> None:
        """Note readings."""
        self._window.choose_stage("measure")

    def stage_gauges(self) -> None:
        """Calibrate gauges."""
        self._window.choose_stage("gauges")

    def stage_settings(self) -> None:
        """Set the heads there are."""
        self._window.choose_stage("settings")

    def go_rack(self) -> None:
        """Keys to the rack."""
        self._window.rack.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def go_section(self) -> None:
        """Keys to the section."""
        self._window.section.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def go_ladder(self) -> None:
        """Keys to the ladder."""
        self._window.ladder.setFocus(Qt.FocusReason.ShortcutFocusReason)

    # view

    def toggle_metric(self) -> None:
        """Inches or millimetres."""
        self._window.change_settings(metric=not self._window.settings.metric)

    def toggle_flats(self) -> None:
        """Sharps or flats."""
        self._window.change_settings(flats=not self._window.settings.flats)

    def theme_system(self) -> None:
        """As the desktop."""
        self._window.change_settings(theme="system")

    def theme_light(self) -> None:
        """Light."""
        self._window.change_settings(theme="light")

    def theme_dark(self) -> None:
        """Dark."""
        self._window.change_settings(theme="dark")

    def show_shortcuts(self) -> None:
        """The list of all keys."""
        from kesselton.ui.actions import KEYS_ON_SCREEN, shortcut_list

        dialog = QDialog(self._window)
        dialog.setWindowTitle("Shortcuts")
        grid = QGridLayout(dialog)
        grid.setHorizontalSpacing(24)
        for row, (keys, text) in enumerate([*shortcut_list(), *KEYS_ON_SCREEN]):
            grid.addWidget(QLabel(f"<b>{keys}</b>"), row, 0)
            grid.addWidget(QLabel(text), row, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(dialog.reject)
        grid.addWidget(buttons, grid.rowCount(), 0, 1, 2)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()
