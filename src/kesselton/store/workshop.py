"""A workshop is one SQLite file, saved as you go, each gesture in one transaction."""

from __future__ import annotations

import shutil
import sqlite3
from pathlib import Path
from typing import TextIO

from kesselton.core.errors import InputError
from kesselton.core.gauge import Dial, TorqueKey
from kesselton.store.brief_file import (
    brief_from_text,
    inspected_from_text,
)
from kesselton.store.clearing_file import clearings_from_text
from kesselton.store.connection import (
    clear_orphans,
    connect,
    identify,
    transaction,
    translate_errors,
)
from kesselton.store.errors import ReadOnlyError, StoreError
from kesselton.store.fitting_file import fitting_from_text
from kesselton.store.guard import give_lock, take_lock, writable
from kesselton.store.holdings import Entry, Shelved, Workshop
from kesselton.store.migrations import APPLICATION_ID, CURRENT_VERSION, MIGRATIONS
from kesselton.store.rows import DRUM_COLUMNS, HEAD_COLUMNS, Rows


class WorkshopFile:
    """An open workshop file. Use `WorkshopFile.open` or `WorkshopFile.create`."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: TextIO | None) -> None:
        self.path = path
        self.read_only = lock is None
        self._db = db
        self._lock = lock

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
                file = cls(path, db, lock)
                file._prepare(0)
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
        if not path.is_file():
            raise StoreError(f"There is no workshop file {path}.", "Check the name and the place.")
        with translate_errors(path):
            lock = take_lock(path)
            db: sqlite3.Connection | None = None
            try:
                if lock is not None and not writable(path):
                    give_lock(lock)
                    lock = None
                db = connect(path, write=lock is not None)
                version = identify(db, path)
                file = cls(path, db, lock)
                if version < CURRENT_VERSION:
                    if lock is None:
                        raise ReadOnlyError(
                            f"{path.name} is of an older version and cannot be written here.",
                            "Copy it to a place of your own and open the copy.",
                        )
                    if version > 0:
                        shutil.copy2(path, path.with_name(f"{path.name}.v{version}.bak"))
                    file._prepare(version)
                if lock is not None:
                    clear_orphans(db)
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

    def _prepare(self, version: int) -> None:
        db = self._db
        for number, migrate in enumerate(MIGRATIONS[version:], start=version + 1):
            with transaction(db):
                migrate(db)
                db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                db.execute(f"PRAGMA user_version = {number}")

    def load(self) -> Workshop:
        """Read everything.

        Raises
        ------
        StoreError
            If the file is damaged or holds a value no drum can have.
        """
        db, rows = self._db, Rows(self._db)
        with translate_errors(self.path):
            try:
                heads = {
                    row[0]: rows.head(row)
                    for row in db.execute(f"SELECT id, {HEAD_COLUMNS} FROM head")
                }
                library = tuple(
                    heads[row[0]]
                    for row in db.execute(
                        "SELECT id FROM head WHERE library_position IS NOT NULL "
                        "ORDER BY library_position"
                    )
                )
                briefs = {
                    row[0]: brief_from_text(row[1])
                    for row in db.execute("SELECT drum_id, json FROM brief")
                }
                clearings = {
                    row[0]: clearings_from_text(row[1])
                    for row in db.execute("SELECT drum_id, json FROM clearing")
                }
                fittings = {
                    row[0]: fitting_from_text(row[1])
                    for row in db.execute("SELECT drum_id, json FROM fitting")
                }
                inspected = {
                    row[0]: inspected_from_text(row[1])
                    for row in db.execute("SELECT drum_id, json FROM inspected")
                }
                keys = tuple(
                    TorqueKey(*row)
                    for row in db.execute(
                        "SELECT name, friction, most_nm FROM torque_key ORDER BY position"
                    )
                )
                dials = tuple(
                    Dial(name, rows.pairs(number))
                    for number, name in db.execute("SELECT id, name FROM dial ORDER BY position")
                )
                shelf = tuple(
                    Shelved(name, size, stock, bool(liked))
                    for name, size, stock, liked in db.execute(
                        "SELECT head_name, size_in, stock, favourite FROM shelf "
                        "ORDER BY head_name, size_in"
                    )
                )
                entries = tuple(
                    Entry(
                        row[0],
                        rows.drum(row, heads),
                        briefs.get(row[0]),
                        rows.readings(row[0]),
                        inspected.get(row[0]),
                        fittings.get(row[0]),
                        clearings.get(row[0], ()),
                    )
                    for row in db.execute(f"SELECT id, {DRUM_COLUMNS} FROM drum ORDER BY position")
                )
                name = db.execute("SELECT name FROM workshop").fetchone()
            except (InputError, KeyError) as error:
                raise StoreError(
                    f"{self.path.name} holds a value that no drum can have: {error}",
                    "Open a backup, or correct the value with an SQLite tool.",
                ) from None
        return Workshop(name[0] if name else "", entries, library, shelf, dials, keys)

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
        db, rows = self._db, Rows(self._db)
        with translate_errors(self.path), transaction(db):
            if before.name != after.name:
                db.execute(
                    "INSERT INTO workshop (id, name) VALUES (1, ?) "
                    "ON CONFLICT (id) DO UPDATE SET name = excluded.name",
                    (after.name,),
                )
            old = {entry.id: (place, entry) for place, entry in enumerate(before.entries)}
            new = {entry.id: (place, entry) for place, entry in enumerate(after.entries)}
            for gone in old.keys() - new.keys():
                db.execute("DELETE FROM drum WHERE id = ?", (gone,))
            known = rows.known_heads()
            if before.library != after.library:
                db.execute("UPDATE head SET library_position = NULL")
                for position, head in enumerate(after.library):
                    db.execute(
                        "UPDATE head SET library_position = ? WHERE id = ?",
                        (position, rows.head_id(head, known)),
                    )
            for drum_id, placed in new.items():
                if old.get(drum_id) != placed:
                    rows.write_drum(*placed, known)
            if (before.dials, before.keys) != (after.dials, after.keys):
                rows.write_gauges(after)
            if before.shelf != after.shelf:
                db.execute("DELETE FROM shelf")
                db.executemany(
                    "INSERT INTO shelf VALUES (?, ?, ?, ?)",
                    [(s.head_name, s.size_in, s.stock, int(s.favourite)) for s in after.shelf],
                )
            db.execute(
                "DELETE FROM head WHERE library_position IS NULL "
                "AND id NOT IN (SELECT head_id FROM setting)"
            )
