"""The open workshop: one frozen state, undo, and saving as you go."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import Enum
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.logs import log
from kesselton.app.workshop.log_entries import found_in
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept, Played
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.lazy_rows import Stored
from kesselton.store.workshop.log_index import Hit
from kesselton.store.workshop.workshop import WorkshopFile

MAX_UNDO = 200


@dataclass(frozen=True)
class Step:
    """One step of undo or redo.

    Attributes
    ----------
    label : what was done, in words
    workshop : the state it leads to
    drum_id, back_id : drum on the bench there, and on the way back
    place : the page on which it was done, "" where that is not known
    """

    label: str
    workshop: Workshop
    drum_id: int
    back_id: int
    place: str


class Saved(Enum):
    """What the file holds of the committed state."""

    YES, NO, READ_ONLY = range(3)


class Document(QObject):
    """Holds what the screens show. Nothing changes here while a grip is dragged.

    Signals
    -------
    changed : the committed state, or which drum is current, is another
    save_failed(KesseltonError) : a save failed; the change is kept here
    saved : the file holds everything again
    noticed(KesseltonError) : something is to be known of the file, although it is saved
    moved : everything is saved to another file from now on
    leaving : another drum comes to the bench; what belongs to this one is taken now
    """

    changed = Signal()
    save_failed = Signal(object)
    saved = Signal()
    noticed = Signal(object)
    moved = Signal()
    leaving = Signal()

    def __init__(self, file: WorkshopFile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._file = file
        self._workshop = file.load()
        self._stored = self._workshop
        self._current = self._workshop.entries[0].id if self._workshop.entries else 0
        self._past: list[Step] = []
        self._future: list[Step] = []
        self.place = ""
        """The page on which what comes is done."""
        self._let_go: set[str] = set()  # pictures and sounds whose entry was removed

    def disconnect_all(self) -> None:
        """Tell nobody any more: another window takes it over."""
        for signal in (
            self.changed, self.save_failed, self.saved, self.noticed, self.moved, self.leaving,
        ):  # fmt: skip
            signal.disconnect()

    @property
    def workshop(self) -> Workshop:
        """The committed state."""
        return self._workshop

    @property
    def path(self) -> Path:
        """The file everything is saved to."""
        return self._file.path

    @property
    def read_only(self) -> bool:
        """True if changes cannot be saved to the file."""
        return self._file.read_only

    @property
    def unsaved(self) -> bool:
        """True while the file does not hold the committed state."""
        return self._stored != self._workshop

    @property
    def current_id(self) -> int:
        """Number of the drum on the bench, 0 if the drum list is empty."""
        return self._current

    @property
    def entry(self) -> Entry | None:
        """What is kept of the drum on the bench."""
        return self._workshop.entry(self._current)

    @property
    def drum(self) -> Drum | None:
        """The drum on the bench."""
        entry = self.entry
        return entry.drum if entry else None

    @property
    def undo_text(self) -> str:
        """What undo would take back, "" if nothing."""
        return self._past[-1].label if self._past else ""

    @property
    def redo_text(self) -> str:
        """What redo would do again, "" if nothing."""
        return self._future[-1].label if self._future else ""

    def select(self, drum_id: int) -> None:
        """Put another drum on the bench."""
        if drum_id != self._current and self._workshop.entry(drum_id):
            self.leaving.emit()
            self._current = drum_id
            self.changed.emit()

    def replace_drum(self, label: str, drum: Drum) -> None:
        """Commit another state of the current drum."""
        entries = tuple(
            entry.with_drum(drum) if entry.id == self._current else entry
            for entry in self._workshop.entries
        )
        self.commit(label, replace(self._workshop, entries=entries))

    def change_entry(self, label: str, **values: object) -> None:
        """Commit other notes of the current drum: brief, readings, inspection."""
        entries = tuple(
            replace(entry, **values) if entry.id == self._current else entry  # type: ignore[arg-type]
            for entry in self._workshop.entries
        )
        self.commit(label, replace(self._workshop, entries=entries))

    def add_drum(self, label: str, drum: Drum) -> None:
        """Commit a new drum at the end of the drum list and put it on the bench."""
        self.leaving.emit()
        entry = Entry(self._workshop.next_id(), drum)
        self.commit(
            label,
            replace(self._workshop, entries=(*self._workshop.entries, entry)),
            current=entry.id,
        )

    def remove_drum(self) -> None:
        """Commit the drum list without the current drum."""
        entries = self._workshop.entries
        place = next((i for i, e in enumerate(entries) if e.id == self._current), None)
        if place is None:
            raise InputError(_("There is no drum to remove."), _("Select one in the drum list."))
        name = entries[place].drum.name
        rest = entries[:place] + entries[place + 1 :]
        follower = rest[min(place, len(rest) - 1)].id if rest else 0
        left = self._workshop.without_drum(self._current)
        self.commit(_("remove {name}").format(name=name), left, current=follower)

    def move_drum(self, by: int) -> None:
        """Commit the drum list with the current drum `by` places further down."""
        entries = list(self._workshop.entries)
        place = next(i for i, e in enumerate(entries) if e.id == self._current)
        target = max(0, min(len(entries) - 1, place + by))
        if target != place:
            entries.insert(target, entries.pop(place))
            self.commit(_("move in drum list"), replace(self._workshop, entries=tuple(entries)))

    def commit(self, label: str, workshop: Workshop, current: int | None = None) -> None:
        """Make `workshop` the state, as one step of undo, and save it."""
        target = self._current if current is None else current
        if workshop == self._workshop:
            self.changed.emit()  # a preview may have to be taken back
            return
        self._past.append(Step(label, self._workshop, self._current, target, self.place))
        del self._past[:-MAX_UNDO]
        self._future.clear()
        self._become(workshop, target)

    def undo(self) -> Step | None:
        """Take the last step back; None if there is none."""
        return self._step(self._past, self._future)

    def redo(self) -> Step | None:
        """Do again what was taken back; None if nothing was."""
        return self._step(self._future, self._past)

    def _step(self, source: list[Step], target: list[Step]) -> Step | None:
        """To the drum the step is of, whichever is on the bench."""
        if not source:
            return None
        step = source.pop()
        target.append(Step(step.label, self._workshop, step.back_id, step.drum_id, step.place))
        self._become(step.workshop, step.drum_id)
        return step

    # the logs of all drums

    def find_kept(self, words: str) -> list[Hit]:
        """Entries of all logs in which every word is found, the newest first, as far as a list
        goes.

        Raises
        ------
        KesseltonError
            If the file cannot be read.
        """
        if self.unsaved:  # the file does not know everything: all of it is gone through
            return found_in(self._workshop.entries, words)
        return self._file.with_words(words)

    def entry_at(self, hit: Hit) -> Kept | None:
        """An entry that was found, None where it is not any more.

        Raises
        ------
        KesseltonError
            If the file cannot be read.
        """
        entry = self._workshop.entry(hit.drum_id)
        if entry is None or not isinstance(entry.kept, Stored):
            log = () if entry is None else entry.kept
            return log[hit.position] if hit.position < len(log) else None
        return self._file.entry_at(hit)

    def past_cases(self, drum: Drum, hz: float | None) -> list[tuple[Hit, Kept]]:
        """Entries of drums of the kind and size, those nearest to a note first.

        Raises
        ------
        KesseltonError
            If the file cannot be read.
        """
        return self._file.of_such_drums(drum, hz)

    def like_sound(self, kept: Kept) -> list[tuple[Hit, float]]:
        """Entries whose stroke is most like that of one.

        Raises
        ------
        KesseltonError
            If the file cannot be read.
        """
        return self._file.like_sound(kept)

    def played_lately(self, count: int) -> Callable[[], dict[int, list[Played]]]:
        """What reads, on any thread, by drum what was played by its newest entries: of the logs
        that were changed since the file was opened from here, of the others from the file."""
        changed = {
            entry.id: entry.kept
            for entry in self._workshop.entries
            if not isinstance(entry.kept, Stored)
        }
        file = self._file

        def read() -> dict[int, list[Played]]:
            results = file.played_lately(count)
            for number, kept in changed.items():
                results[number] = [Played.of(entry) for entry in kept[-count:]]
            return results

        return read

    def attach(self, content: bytes) -> None:
        """Keep a picture or sound; the entry that names it is committed after.

        Raises
        ------
        KesseltonError
            If it cannot be written.
        """
        self._file.attach(content)

    def attached(self, digest: str) -> bytes:
        """A picture or sound.

        Raises
        ------
        KesseltonError
            If it is missing or damaged.
        """
        return self._file.attached(digest)

    def _note_let_go(self, before: Workshop, after: Workshop) -> None:
        """Remember pictures and sounds that went with an entry; undo may bring them back."""
        logs = {entry.id: entry.kept for entry in after.entries}
        for entry in before.entries:
            now = logs.get(entry.id, ())
            if entry.kept is not now:
                named = {attachment.digest for kept in now for attachment in kept.attached}
                was = {attachment.digest for kept in entry.kept for attachment in kept.attached}
                self._let_go |= was - named

    def _become(self, workshop: Workshop, current: int) -> None:
        self._note_let_go(self._workshop, workshop)
        self._workshop = workshop
        known = workshop.entry(current) or (workshop.entries[0] if workshop.entries else None)
        self._current = known.id if known else 0
        self.save()
        self.changed.emit()

    def save(self) -> None:
        """Write what the file does not hold yet; a failure is a signal and nothing is lost."""
        if not self.unsaved:
            return
        try:
            self._file.write(self._stored, self._workshop)
        except KesseltonError as error:
            log.warning("not saved: %s", error.one_line())
            self.save_failed.emit(error)
            return
        self._stored = self._workshop
        self.saved.emit()
        self.send_notices()

    def send_notices(self) -> None:
        """Tell what is to be known of the file although all is well."""
        while self._file.notices:
            self.noticed.emit(self._file.notices.pop(0))

    def looked_up(self) -> Saved:
        """Whether the file really holds the committed state: it is read anew."""
        if self._file.read_only:
            return Saved.READ_ONLY
        try:
            held = self._file.load(at_once=True)
        except KesseltonError:
            return Saved.NO
        return Saved.YES if held == self._workshop else Saved.NO

    def save_copy(self, path: Path) -> None:
        """Write the committed state to a new file, under its name, and go on working in that.

        Raises
        ------
        StoreError
            If the place cannot be written; the present file stays open.
        """
        named = replace(self._workshop, name=path.stem)  # by which it is told from the first
        fresh = WorkshopFile.create(path, named, self._file.contents())
        for step in (*self._past, *self._future):
            for entry in step.workshop.entries:
                entry.fetched()  # undo will want it, and the old file is shut then
        self._file.close()
        self._file = fresh
        self._stored = self._workshop = named
        self.moved.emit()
        self.saved.emit()
        self.changed.emit()

    def export_alone(self, entry: Entry, path: Path) -> int:
        """A drum with its notes, its log, and the pictures and sounds of that, as a workshop; how
        many of these were left out because they are missing or damaged.

        Raises
        ------
        KesseltonError
            If there is a file already, or the place cannot be written.
        """
        alone = Workshop(path.stem, (entry.fetched(),))
        named = {attachment.digest for kept in entry.kept for attachment in kept.attached}
        contents = []
        for digest in sorted(named):
            with contextlib.suppress(KesseltonError):
                contents.append(self._file.attached(digest))
        WorkshopFile.create(path, alone, contents).close()
        return len(named) - len(contents)

    def close(self) -> None:
        """Let go of the file, and of pictures and sounds nobody names any more."""
        if self._let_go and not self.unsaved:
            self._file.let_go(self._let_go)
        self._file.close()
