"""A workshop is one SQLite file, saved as you go, each gesture in one transaction."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from typing import TextIO

from kesselton.store import rows
from kesselton.store.backups import backup_folder, keep_daily, migrated_copy
from kesselton.store.connection import (
    clear_orphans,
    connect,
    identify,
    translate_errors,
    translate_values,
)
from kesselton.store.errors import ReadOnlyError, StoreError
from kesselton.store.guard import give_lock, take_lock, writable
from kesselton.store.holdings import Workshop
from kesselton.store.migrations import CURRENT_VERSION, migrate, transaction


class WorkshopFile:
    """An open workshop file. Use `WorkshopFile.open` or `WorkshopFile.create`."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: TextIO | None) -> None:
        self.path = path
        self.read_only = lock is None
        self._db = db
        self._lock = lock
        self._kept: date | None = None  # the day whose backup is made
        self.notices: list[StoreError] = []
        """What is to be shown although the work is saved; whoever shows it clears it."""

    @classmethod
    def create(cls, path: Path, workshop: Workshop) -> WorkshopFile:
        """Make a new file holding `workshop`.

        Raises
        ------
        StoreError
            If there is a file already or the place cannot be written.
        """
        if path.exists():
            raise StoreError(f"There is a file {path.name} already.", "Choose another name.")
        with translate_errors(path):
            lock = take_lock(path)
            if lock is None:
                raise StoreError(
                    f"Nothing can be written in {path.parent}.", "Choose another place."
                )
            db = connect(path, write=True)
            try:
                migrate(db, 0)
                file = cls(path, db, lock)
                file._kept = date.today()  # there is nothing older to keep
                file.write(Workshop(""), workshop)
            except BaseException:
                db.close()
                give_lock(lock)
                path.unlink(missing_ok=True)
                raise
        return file

    @classmethod
    def open(cls, path: Path) -> WorkshopFile:
        """Open a file, migrating an older version after a backup.

        A file or place that cannot be written opens read-only (see `read_only`).

        Raises
        ------
        LockedError
            If another window has it.
        StoreError
            If it is missing, no workshop, damaged, or from a newer program.
        """
        with translate_errors(path):
            if not path.is_file():
                raise StoreError(
                    f"There is no workshop file {path}.", "Check the name and the place."
                )
            lock = take_lock(path)
            db: sqlite3.Connection | None = None
            try:
                if lock is not None and not writable(path):
                    give_lock(lock)
                    lock = None
                db = connect(path, write=lock is not None)
                version = identify(db, path)
                if lock is None:
                    if version < CURRENT_VERSION:
                        source, db = db, migrated_copy(db, version)
                        source.close()
                else:
                    if version < CURRENT_VERSION:
                        shutil.copy2(path, path.with_name(f"{path.name}.v{version}.bak"))
                    clear_orphans(db)
                    migrate(db, version)
                file = cls(path, db, lock)
            except BaseException:
                if db is not None:
                    db.close()
                if lock is not None:
                    give_lock(lock)
                raise
        return file

    def close(self) -> None:
        """Close the file and let others open it."""
        self._db.close()
        if self._lock is not None:
            give_lock(self._lock)
            self._lock = None

    def __enter__(self) -> WorkshopFile:
        return self

    def __exit__(self, *exc: object) -> None:
        self.close()

    def load(self, at_once: bool = False) -> Workshop:
        """Read everything; readings when they are looked at, while the file is open, or `at_once`.

        Raises
        ------
        StoreError
            If the file is damaged or holds a value no drum can have.
        """
        with self._reading():
            return rows.load(self._db, at_once, self._reading)

    @contextmanager
    def _reading(self) -> Iterator[None]:
        remedy = "Restore an earlier state, or correct the value with an SQLite tool."
        with translate_errors(self.path), translate_values(self.path, remedy):
            yield

    def write(self, before: Workshop, after: Workshop) -> None:
        """Save what changed from `before` (what the file holds) to `after`, or nothing at all.

        Raises
        ------
        ReadOnlyError
            If the file was opened read-only.
        StoreError
            If the disk is full or the file cannot be written; it then still holds `before`.
        """
        if self.read_only:
            raise ReadOnlyError(
                f"{self.path.name} cannot be written here.", "Save a copy in another place."
            )
        self._keep_daily()
        with translate_errors(self.path), transaction(self._db):
            rows.write(self._db, before, after)

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
                    f"No backup of {self.path.name} could be made today: {error.strerror}.",
                    f"Your changes are saved. Check {backup_folder(self.path)}.",
                )
            )
