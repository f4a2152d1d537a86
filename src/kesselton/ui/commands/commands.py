"""What the menus do: one group of commands for each kind of thing, and undo over all of them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.sound.stroke_player import StrokePlayer
from kesselton.app.workshop.document import Step
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.store.formats.drum_file import read_text
from kesselton.store.workshop.connection import SUFFIX
from kesselton.ui.commands.asking import Asking
from kesselton.ui.commands.drum_commands import DrumCommands
from kesselton.ui.commands.group import CommandGroup, Hands
from kesselton.ui.commands.log_commands import LogCommands
from kesselton.ui.commands.papers import Papers
from kesselton.ui.commands.set_commands import SetCommands
from kesselton.ui.commands.show_commands import ShowCommands
from kesselton.ui.commands.sound_commands import SoundCommands
from kesselton.ui.commands.view_commands import ViewCommands
from kesselton.ui.commands.workshop_commands import WorkshopCommands
from kesselton.ui.parts.widgets.inputs import typed
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.parts.words.entry_text import many_entries

MOST_CSV_BYTES = 100_000


class Commands(CommandGroup):
    """Handlers of the action table, for one window.

    Signals
    -------
    stepped(str page) : a step was undone or done again, and where it was taken
    part_wanted(str), focus_wanted(str view) : where to go
    close_wanted : the window is to be closed
    go_to_wanted : the list of everything is wanted
    sound_dropped(Path) : a recording of taps is to be read
    readings_dropped(str) : a column or table of readings is to be noted
    """

    stepped = Signal(str)
    part_wanted = Signal(str)
    focus_wanted = Signal(str)
    close_wanted = Signal()
    go_to_wanted = Signal()
    sound_dropped = Signal(object)
    readings_dropped = Signal(str)

    def __init__(
        self,
        bench: Bench,
        listener: StrokePlayer,
        display: DisplayFormat,
        open_another: Callable[..., object],
        parent: QWidget,
    ) -> None:
        hands = Hands(bench, listener, display, Asking(parent), open_another, parent)
        super().__init__(hands)
        self.hands, self.asking = hands, hands.asking
        self.first_source = ""
        """How rods are read when clearing is first shown, whatever it was the last time."""
        self.workshop = WorkshopCommands(hands)
        self.drums = DrumCommands(hands)
        self.sound = SoundCommands(hands)
        self.view = ViewCommands(hands)
        self.papers = Papers(hands)
        self.logs = LogCommands(hands)
        self.sets = SetCommands(hands)
        self.shows = ShowCommands(hands)
        for group in (
            self.workshop, self.drums, self.sound, self.view, self.papers, self.logs, self.sets,
            self.shows,
        ):  # fmt: skip
            group.told.connect(self.told)
            group.notice.connect(self.notice)
            group.offered.connect(self.offered)
            group.page_wanted.connect(self.page_wanted)
        self.drums.added.connect(self._on_drum_added)
        self.drums.file_wanted.connect(self.import_file)
        self.workshop.missing = self.shows.show_bench.missing
        self.shows.first_source = lambda: self.first_source

    def _on_drum_added(self, page: str) -> None:
        if page:
            self.page_wanted.emit(page)
        else:
            self.focus_wanted.emit("name")

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
        text = words.format(label=step.label)
        drum = self._bench.drum
        self.notice.emit(f"{text} · {drum.name}" if drum is not None else text, False)

    def import_file(self) -> None:
        """Choose a file with drums, a set or a log, and read it."""
        path = self._asking.open(
            _("Import drum"),
            _("Drum, set, log or workshop (*.drum.json *.json *.jsonl *{suffix})").format(
                suffix=SUFFIX
            ),
        )
        if path is not None:
            self.read_file(path)

    def read_file(self, path: Path) -> None:
        """Read drums, a set or a log into the workshop, or say why not."""
        try:
            if path.suffix in (SUFFIX, ".jsonl"):
                self.logs.import_file(path)
            elif path.name.casefold().endswith(".set.json"):
                self.sets.import_file(path)
            else:
                self.drums.read(path)
        except KesseltonError as error:
            self.told.emit(KesseltonError(f"{path.name}: {error.one_line()}"), "file")

    def take_file(self, path: Path) -> None:
        """A file that was dropped on the window: a workshop, a drum, a set, a log, readings, a
        recording of taps."""
        kind = path.suffix.casefold()
        if kind == SUFFIX:
            self.workshop.open_file(path, must_be_new=False)
        elif kind in (".json", ".jsonl"):
            self.read_file(path)
        elif kind in (".wav", ".flac") and self._bench.drum is not None:
            self.page_wanted.emit("clear")
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
