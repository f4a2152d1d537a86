"""A workshop is one SQLite file, saved as you go, each gesture in one transaction."""

from __future__ import annotations

import contextlib
import os
import sqlite3
import stat
import tempfile
import time
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from datetime import date
from pathlib import Path

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept, Played
from kesselton.core.language import _
from kesselton.store.io.atomic_file import COPY, USUAL_MODE, new_mode, sync_folder
from kesselton.store.io.errors import ChangedError, ReadOnlyError, StoreError
from kesselton.store.workshop import attachments, log_index, rows
from kesselton.store.workshop.backups import backup_folder, keep_aside, keep_daily
from kesselton.store.workshop.connection import (
    LARGEST_BYTES,
    connect,
    identify,
    translate_errors,
    translate_values,
)
from kesselton.store.workshop.guard import Lock, Mark, mark_of, release_lock, take_lock
from kesselton.store.workshop.holdings import Workshop
from kesselton.store.workshop.log_index import Hit
from kesselton.store.workshop.migrations import current_version, migrate, transaction
from kesselton.store.workshop.played import played_lately
from kesselton.store.workshop.schema import has_orphans, not_ours, present_content
from kesselton.store.workshop.sums import COMMON_PARTS, OWN_PARTS, changed, sums_held

EXCHANGE = ".exchange."
LEFT_S = 600.0
"""What lies there longer nobody is writing any more."""
FULL = 0.9
"""Of what a workshop can be, pictures and sounds take no more: entries always have room."""


class WorkshopFile:
    """An open workshop file. Use `WorkshopFile.open` or `WorkshopFile.create`."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: Lock | None) -> None:
        self.path = path
        self.read_only = lock is None
        self._db = db
        self._lock = lock
        self._kept: date | None = None  # the day whose backup is made
        self.notices: list[StoreError] = []
        """What is to be shown although all is well so far; whoever shows it clears it."""
        if lock is not None and not lock.held:
            self.notices.append(
                StoreError(
                    _(
                        "The folder of {name} cannot lock files: another window or "
                        "computer could change it unnoticed."
                    ).format(name=path.name),
                    _("Open this workshop in one window only, or move it to a local disk."),
                )
            )
        self._seen: Mark | None = None
        self._held: tuple[int, bytes] = (0, b"")
        if lock is not None:
            self._look()

    @classmethod
    def create(cls, path: Path, workshop: Workshop, contents: Iterable[bytes] = ()) -> WorkshopFile:
        """Make a new file holding `workshop`, and `contents` of pictures and sounds it names.

        Raises
        ------
        StoreError
            If there is a file already or the place cannot be written.
        """
        if path.exists() or path.is_symlink():
            raise StoreError(
                _("The file {name} exists already.").format(name=path.name),
                _("Choose another name."),
            )
        with translate_errors(path):
            try:
                os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_RDWR, new_mode(USUAL_MODE)))
            except PermissionError:
                raise StoreError(
                    _("{parent} is not writable.").format(parent=path.parent),
                    _("Choose another place."),
                ) from None
            path = Path(os.path.realpath(path))
            lock = take_lock(path)
            db: sqlite3.Connection | None = None
            try:
                if lock is None:
                    raise StoreError(
                        _("Nothing can be written in {parent}.").format(parent=path.parent),
                        _("Choose another place."),
                    )
                db = connect(path, write=True)
                migrate(db, 0)
                file = cls(path, db, lock)
                file._kept = date.today()  # there is nothing older to keep
                file.write(Workshop(""), workshop)
                for content in contents:
                    file.attach(content)
            except BaseException:
                if db is not None:
                    db.close()
                if lock is not None:
                    release_lock(lock)
                path.unlink(missing_ok=True)
                raise
        return file

    @classmethod
    def open(cls, path: Path) -> WorkshopFile:
        """Open a file. One of an older version, or with things in it that are not ours, is
        exchanged for a whole copy of what is, once that could be read; it is kept beside.

        A file or place that cannot be written opens read-only (see `read_only`).

        Raises
        ------
        LockedError
            If another window has it.
        DamagedError
            If it holds what cannot be read. It was not changed.
        StoreError
            If it is missing, no workshop, or from a newer program.
        """
        with translate_errors(path):
            if not path.is_file():
                raise StoreError(
                    _("The workshop file {path} does not exist.").format(path=path),
                    _("Check the name and the place."),
                )
            path = Path(os.path.realpath(path))
            lock = take_lock(path)
            if lock is not None:
                _clear_left(path.parent)
            db: sqlite3.Connection | None = None
            try:
                db = connect(path, write=lock is not None)
                with translate_values(path):
                    version = identify(db, path)
                    strange = not_ours(db, version)
                    if version == current_version() and not strange and not has_orphans(db):
                        return cls(path, db, lock)
                source, db = db, None
                with closing(source), translate_values(path):
                    db = present_content(source, version)
                    rows.load(db, at_once=True)  # or nothing is changed
                if lock is not None:
                    lock = _exchange(path, db, lock, version)
                    db.close()
                    db = connect(path, write=True)
                file = cls(path, db, lock)
            except BaseException:
                if db is not None:
                    db.close()
                if lock is not None:
                    release_lock(lock)
                raise
        if strange:
            file.notices.append(
                StoreError(
                    _("{name} contained foreign items, left out: {strange}.").format(
                        name=path.name, strange=", ".join(strange[:5])
                    ),
                    _("The original file is kept in the same folder."),
                )
            )
        return file

    def close(self) -> None:
        """Close the file and let others open it."""
        self._db.close()
        if self._lock is not None:
            release_lock(self._lock)
            self._lock = None

    def __enter__(self) -> WorkshopFile:
        return self

    def __exit__(self, *exc: object) -> None:
        self.close()

    def load(self, at_once: bool = False) -> Workshop:
        """Read everything; readings when they are looked at, while the file is open, or `at_once`.

        Raises
        ------
        DamagedError
            If the file is damaged or holds a value no drum can have.
        """
        with self._reading():
            return rows.load(self._db, at_once, self._reading)

    @contextmanager
    def _reading(self) -> Iterator[None]:
        with translate_errors(self.path), translate_values(self.path):
            yield

    def write(self, before: Workshop, after: Workshop) -> None:
        """Save what changed from `before` (what the file holds) to `after`, or nothing at all.

        Raises
        ------
        ReadOnlyError
            If the file was opened read-only.
        ChangedError
            If another program changed or exchanged the file: nothing is overwritten.
        StoreError
            If the disk is full or the file cannot be written; it then still holds `before`.
        """
        if self.read_only:
            raise ReadOnlyError(
                _("{name} is not writable.").format(name=self.path.name),
                _("Save a copy elsewhere."),
            )
        self._check_unchanged()
        self._keep_daily()
        with translate_errors(self.path), transaction(self._db):
            rows.write(self._db, before, after)
        self._look()

    def _look(self) -> None:
        """Note what the file is now: by this others' changes are told."""
        self._seen = mark_of(self.path)
        with translate_errors(self.path):
            self._held = (_data_version(self._db), sums_held(self._db))

    # pictures and sounds

    def attach(self, content: bytes) -> None:
        """Keep the content of a picture or sound; an entry that names it is written after it.

        Raises
        ------
        ReadOnlyError, StoreError
            As `write`.
        """
        if self.read_only:
            raise ReadOnlyError(
                _("{name} cannot be written here.").format(name=self.path.name),
                _("Save a copy in another place."),
            )
        self._check_unchanged()
        if self.path.stat().st_size + len(content) > FULL * LARGEST_BYTES:
            raise StoreError(
                _("{name} is full: it holds {largest_bytes:.1f} GB.").format(
                    name=self.path.name, largest_bytes=FULL * LARGEST_BYTES / 1e9
                ),
                _("Export drums with their logs as separate workshops, and remove old sounds."),
            )
        with translate_errors(self.path), transaction(self._db):
            attachments.put(self._db, content)
        self._look()

    def attached(self, digest: str) -> bytes:
        """The content of a picture or sound.

        Raises
        ------
        StoreError
            If it is missing or damaged.
        """
        with self._reading():
            return attachments.get(self._db, digest)

    def contents(self) -> list[bytes]:
        """All pictures and sounds."""
        with self._reading():
            return list(attachments.whole_ones(self._db))

    def let_go(self, digests: Iterable[str]) -> None:
        """Forget pictures and sounds no entry names any more.

        Raises
        ------
        ChangedError, StoreError
            As `write`.
        """
        if self.read_only:
            return
        self._check_unchanged()
        with translate_errors(self.path), transaction(self._db):
            attachments.drop(self._db, digests)
        self._look()

    # what is looked for in the logs, as the file holds them

    def with_words(self, words: str) -> list[Hit]:
        """Entries in which every word is found, the newest first."""
        with self._reading():
            return log_index.with_words(self._db, words)

    def entry_at(self, hit: Hit) -> Kept:
        """An entry that was found."""
        with self._reading():
            return log_index.entry_at(self._db, hit.drum_id, hit.position)

    def of_such_drums(self, drum: Drum, hz: float | None) -> list[tuple[Hit, Kept]]:
        """Entries of drums of the kind and size, those nearest to a note first."""
        with self._reading():
            shell = drum.shell
            return log_index.of_such_drums(self._db, drum.kind, shell.head_diameter_m, hz)

    def like_sound(self, kept: Kept) -> list[tuple[Hit, float]]:
        """Entries whose stroke is most like one, and how unlike they are."""
        with self._reading():
            return log_index.like_sound(self._db, kept)

    def played_lately(self, count: int) -> dict[int, list[Played]]:
        """By drum, what was played by its newest `count` entries. May be asked on any thread.

        Raises
        ------
        DamagedError
            If entries cannot be read.
        """
        with self._reading(), closing(connect(self.path, write=False, still=False)) as db:
            return dict(played_lately(db, count))

    def put_aside(self, things: list[tuple[str, str, str]]) -> None:
        """Keep what of another file could not be read: what, why, and what is left of it.

        Raises
        ------
        ChangedError, StoreError
            As `write`.
        """
        self._check_unchanged()
        with translate_errors(self.path), transaction(self._db):
            self._db.executemany("INSERT INTO aside VALUES (?, ?, ?)", things)
        self._look()

    def _check_unchanged(self) -> None:
        """Raise ChangedError unless the file is the one that was read, and holds what it held.

        A file that was only touched costs nothing. Where another program wrote, it is gone through
        row by row: what it holds must be what it said it held.
        """
        now = mark_of(self.path)
        if now == self._seen:
            return
        same = self._seen is not None and now[:2] == self._seen[:2]
        if same:
            with translate_errors(self.path):
                same = self._holds_the_same()
        if not same:
            raise ChangedError(
                _("{name} was changed by another program while it was open here.").format(
                    name=self.path.name
                ),
                (
                    _(
                        "Nothing was overwritten. Save a copy under another name, then "
                        "compare the two files."
                    )
                ),
            )

    def _holds_the_same(self) -> bool:
        with closing(connect(self.path, write=False)) as fresh:
            if sums_held(fresh) != self._held[1]:
                return False
            if _data_version(self._db) == self._held[0]:
                return True  # touched, no more
            identify(fresh, self.path)
            return not any(changed(fresh, part) for part in (*OWN_PARTS, *COMMON_PARTS))

    def _keep_daily(self) -> None:
        """A copy of the file before the first change of a day."""
        today = date.today()
        if today == self._kept:
            return
        self._kept = today
        try:
            keep_daily(self.path, today)
        except OSError as error:
            self.notices.append(
                StoreError(
                    _("No backup of {name} could be made today: {strerror}.").format(
                        name=self.path.name, strerror=error.strerror
                    ),
                    _("Your changes are saved. Check {backup_folder}.").format(
                        backup_folder=backup_folder(self.path)
                    ),
                )
            )


def _data_version(db: sqlite3.Connection) -> int:
    """Another number whenever another connection has changed the file."""
    return int(db.execute("PRAGMA data_version").fetchone()[0])


def _clear_left(folder: Path) -> None:
    """Remove what a program that died while it exchanged or copied a file has left there."""
    for pattern in (f"{EXCHANGE}*", f"{COPY}*"):
        for left in folder.glob(pattern):
            with contextlib.suppress(OSError):
                if abs(time.time() - left.stat().st_mtime) > LEFT_S:
                    left.unlink()


def _exchange(path: Path, content: sqlite3.Connection, lock: Lock, version: int) -> Lock:
    """Put a whole copy in the place of a file, which is kept beside; the lock on the copy.

    The old lock is given up: there is nothing behind its name any more.
    """
    keep_aside(path, version)
    handle, name = tempfile.mkstemp(prefix=EXCHANGE, dir=path.parent)
    os.close(handle)
    beside = Path(name)
    try:
        with closing(sqlite3.connect(beside)) as target:
            content.backup(target)
        beside.chmod(stat.S_IMODE(path.stat().st_mode))
        with beside.open("rb") as stream:
            os.fsync(stream.fileno())
        fresh = take_lock(beside)
        assert fresh is not None
        beside.replace(path)
    except BaseException:
        beside.unlink(missing_ok=True)
        raise
    sync_folder(path.parent)
    release_lock(lock)
    return fresh
