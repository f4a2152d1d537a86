"""What the menus do with logs: keep, export, bring in, attach, and what is due."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal

from kesselton.core.instrument.kept import Attached, Kept
from kesselton.core.language import _
from kesselton.store.workshop.connection import SUFFIX
from kesselton.store.workshop.holdings import Entry
from kesselton.ui.commands.group import CommandGroup, guarded

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.app.workshop.log_entries import Said


class LogCommands(CommandGroup):
    """Logs.

    Signals
    -------
    keep_wanted : what stands on the bench is to be added to its log
    drawer_wanted : the log beside the page is to be shown or put away
    """

    keep_wanted = Signal()
    drawer_wanted = Signal()

    def open_keep(self, heard: HeardDrum | None) -> None:
        """Ask what for, then keep; or say why that must wait."""
        from kesselton.app.workshop.log_entries import counted_down, current_entry
        from kesselton.core.instrument.library import head_size_in
        from kesselton.core.sets.model.kit import names_of
        from kesselton.store.workshop.lazy_rows import last_of
        from kesselton.ui.log.keep_dialog import KeepDialog

        entry, result = self._bench.entry, self._bench.settled
        if entry is None:
            return
        if result is None:
            if not self._bench.when_settled(self.keep_wanted.emit):
                self.notice.emit(_("Still computing; add to the log in a moment."), False)
            return
        document = self._bench.document
        before = last_of(entry.kept, 1)

        def on_said(message: Said) -> None:
            with guarded(self.told, "drum"):
                sound = heard if dialog.sound.isChecked() else None
                attached = self._attach(dialog.files, sound)
                sets = names_of(self._bench.document.workshop.kits, entry.id)
                log_entry = current_entry(
                    entry, result, heard, message, datetime.now(), attached, sets
                )
                shop = _with_kept(self._bench.document.workshop.entries, entry.id, log_entry)
                workshop = replace(document.workshop, entries=shop)
                document.commit(_("add to log"), counted_down(workshop, log_entry, head_size_in))
                self.notice.emit(
                    _("Added to the log of {name}.").format(name=entry.drum.name), True
                )

        dialog = KeepDialog(
            entry.drum, heard is not None, before[0] if before else None, self._ask_pictures,
            self._parent,
        )  # fmt: skip
        dialog.kept.connect(on_said)
        self._open_dialog(dialog)

    def _ask_pictures(self) -> list[Path]:
        return self._asking.open_many(
            _("Attach pictures and sounds"),
            _("Pictures and sounds (*.png *.jpg *.jpeg *.flac *.wav)"),
        )

    def _attach(self, files: list[Path], heard: HeardDrum | None) -> list[Attached]:
        """Pictures and sounds copied into the workshop.

        Raises
        ------
        KesseltonError
            If one cannot be read or is neither; nothing is kept then.
        """
        from kesselton.store.io.bounded_reader import read_whole
        from kesselton.store.workshop.attachments import MOST_BYTES, attached, flac_of

        results = [
            (path.name, read_whole(path, _("picture or sound"), MOST_BYTES)) for path in files
        ]
        if heard is not None:
            results.append(("stroke.flac", flac_of(heard.samples, heard.rate_hz)))
        out = [attached(name, content) for name, content in results]
        for _unused, content in results:
            self._bench.document.attach(content)
        return out

    def attach_to(self, kept: Kept) -> None:
        """More pictures and sounds to an entry of the drum on the bench."""
        entry, document = self._bench.entry, self._bench.document
        files = self._ask_pictures() if entry is not None else []
        if entry is None or not files:
            return
        with guarded(self.told, "file"):
            more = self._attach(files, None)
            log = tuple(
                replace(entry, attached=(*entry.attached, *more)) if entry == kept else entry
                for entry in entry.kept
            )
            document.change_entry(_("attach to entry"), kept=log)

    def show_attached(self, attachment: Attached) -> None:
        """A picture is shown, a sound played."""
        with guarded(self.told, "file"):
            content = self._bench.document.attached(attachment.digest)
            if attachment.kind in ("png", "jpg"):
                from kesselton.ui.log.picture_dialog import PictureDialog

                self._open_dialog(PictureDialog(attachment.name, content, self._parent))
            else:
                self._play(attachment, content)

    def _play(self, attachment: Attached, content: bytes) -> None:
        from io import BytesIO

        from kesselton.core.prediction.render import Sound, matched
        from kesselton.store.exports.sound_file import read_sound

        samples, rate = read_sound(BytesIO(content))
        name = _("log: {name}").format(name=attachment.name)
        self._listener.remember(name, Sound(matched(samples, int(rate)), int(rate), False))
        self._listener.play_again(name)

    def export_log(self) -> None:
        """The log of the drum on the bench: with its drum and sounds as a workshop, as lines of
        JSON, or as a table."""
        from kesselton.store.formats.log_file import as_csv, as_lines
        from kesselton.store.io.atomic_file import write_file

        entry = self._bench.entry
        if entry is None:
            return
        name = f"{entry.drum.name} log.jsonl"
        path = self._asking.save(
            _("Export log"),
            name,
            _(
                "JSON lines (*.jsonl);;Table (*.csv);;Workshop with drum, log "
                "and sounds (*{suffix})"
            ).format(suffix=SUFFIX),
        )
        if path is None:
            return
        with guarded(self.told, "file"):
            if path.suffix == SUFFIX:
                missing = self._bench.document.export_alone(entry, path)
                if missing:
                    message = _(
                        "Written: {path}. Pictures or sounds left out, missing or damaged: {count}."
                    ).format(path=path, count=missing)
                    self.notice.emit(message, False)
                    return
            else:
                result = as_csv if path.suffix == ".csv" else as_lines
                write_file(path, result(tuple(entry.kept)).encode())
            self.notice.emit(_("Saved: {path}").format(path=path), False)

    def import_file(self, path: Path) -> None:
        """Drums with their logs from another workshop, or a log into the drum it is of.

        Raises
        ------
        KesseltonError
            If the file cannot be read; nothing is taken then.
        """
        from kesselton.app.workshop.transfer import import_log, import_workshop

        if path.suffix == SUFFIX:
            workshop, contents, names = import_workshop(self._bench.document.workshop, path)
            for content in contents:
                self._bench.document.attach(content)
        else:
            workshop, names = import_log(self._bench.document.workshop, path)
        self._bench.document.commit(_("import {name}").format(name=names), workshop)
        self.notice.emit(_("“{name}” imported.").format(name=names), True)

    def due(self) -> None:
        """What is left of the heads of all drums, and what to have before a date."""
        from kesselton.app.workshop.log_entries import LEARNS_FROM
        from kesselton.ui.log.due_dialog import DueDialog

        document = self._bench.document
        read = document.played_lately(LEARNS_FROM)
        self._open_dialog(
            DueDialog(document.workshop, read, self._asking.save, datetime.now(), self._parent)
        )


def _with_kept(entries: tuple[Entry, ...], number: int, log_entry: Kept) -> tuple[Entry, ...]:
    return tuple(
        replace(entry, kept=(*entry.kept, log_entry)) if entry.id == number else entry
        for entry in entries
    )
